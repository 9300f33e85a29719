import type { Ledger } from '../ledger/ledger';
import type { Converter, Inverter, Load, System } from '../system/schema';
import { onlySourcesOf } from './ac';
import { groupOf, inverterGroups } from './groups';

/** Starting watts over running watts by kind of load, where no surge was recorded; planning values. */
export const SURGE: Record<NonNullable<Load['type']>, number> = {
  compressor: 5,
  induction: 5,
  pump: 4,
  universal: 2.5,
  'inverter-driven': 1.2,
  resistive: 1,
  electronic: 1,
  microwave: 1,
  other: 1,
};
/** How many times its watts a load of unknown type is taken to start with; planning value of the book. */
export const SURGE_UNTYPED = 3;
/** A microwave oven draws half as much again as the label's output. */
export const MICROWAVE = 1.5;

/** What one of a load draws, W; a microwave oven's plate says what cooks. */
export const unit_W = ({ power_W, type }: Load) => power_W * (type === 'microwave' ? MICROWAVE : 1);
/** How many of a load there are. */
export const count = (io: Ledger, { id, quantity }: Load) => io.or(`${id}.quantity`, quantity, 1);

/**
 * Loads of an inverter, or of the group that it works in: a load names its inverter where there are several; without a
 * name it is the first's, unless the mains alone feed it.
 */
export function loadsOf(system: System, inverter: Inverter): Load[] {
  const members = new Set(groupOf(system, inverter).members.map(({ id }) => id));
  const first = system.inverters?.[0]?.id ?? '';
  return (system.loads ?? []).filter(
    (load) =>
      load.kind === 'ac' &&
      (load.inverterId ? members.has(load.inverterId) : members.has(first) && onlySourcesOf(system, load) === null),
  );
}
/** DC loads that hang on a controller's own output. */
export const loadsOnOutput = (system: System, controllerId: string) =>
  dcLoads(system).filter((load) => load.controllerId === controllerId);
/** What converters side by side give at most, A. */
export const converterMost_A = (io: Ledger, { id, max_A, quantity }: Converter) =>
  max_A * io.or(`${id}.quantity`, quantity, 1);
/** Loads that run on DC. */
export const dcLoads = (system: System) => (system.loads ?? []).filter(({ kind }) => kind === 'dc');

/** Sum of what may run together: base and may, and the largest of each group that runs alone. */
export function together(io: Ledger, loads: readonly Load[], measure: (load: Load) => number): number {
  let sum = 0;
  const alone = new Map<string, number>();
  for (const load of loads) {
    const value = measure(load) * count(io, load);
    if (io.word(`${load.id}.overlap`, load.overlap, 'may') === 'alone') {
      const group = load.group ?? '';
      alone.set(group, Math.max(alone.get(group) ?? 0, value));
    } else sum += value;
  }
  for (const value of alone.values()) sum += value;
  return sum;
}

/** What loads draw together at their most, W. */
export const running_W = (io: Ledger, loads: readonly Load[]) => together(io, loads, unit_W);
/** What loads draw together at their most, VA. */
export const running_VA = (io: Ledger, loads: readonly Load[]) =>
  together(io, loads, (load) => unit_W(load) / io.or(`${load.id}.powerFactor`, load.powerFactor, 1));

/** A soft start, built in or fitted: the most it starts with, times its running watts; planning value. */
export const SOFT_START = 2;

/** What one of a load starts with, W: recorded, else by its type; with a soft start no more than that lets through. */
export function start_W(io: Ledger, load: Load, byType: (load: Load) => number = startFactor): number {
  const running = unit_W(load);
  const start = io.or(`${load.id}.surge_W`, load.surge_W, byType(load) * running);
  return io.see(`${load.id}.softStart`, load.softStart) ? Math.min(start, SOFT_START * running) : start;
}
/** True for a load that draws more to start than to run. */
export const startsHard = (io: Ledger, load: Load): boolean => start_W(io, load) > unit_W(load);
const startFactor = ({ type }: Load) => (type ? SURGE[type] : SURGE_UNTYPED);

/** Peak running and the hardest start of any one unit on top of it, W. */
export function surge_W(io: Ledger, loads: readonly Load[]): number {
  const starts = loads.map((load) => {
    if (!load.type && (load.surge_W === null || load.surge_W === undefined)) io.guess(`${load.id}.type`);
    return Math.max(0, start_W(io, load) - unit_W(load));
  });
  return running_W(io, loads) + Math.max(0, ...starts);
}

/** Watts drawn from the bank's side for a DC load: behind a converter its losses count. */
export function dc_W(io: Ledger, load: Load): number {
  const converter = io.model.system.converters?.find(({ id }) => id === load.converterId);
  return unit_W(load) / (converter ? io.or(`${converter.id}.efficiency_pct`, converter.efficiency_pct, 92) / 100 : 1);
}

/** Share of what an inverter takes that comes out, 0 to 1. */
export const inverterEfficiency = (io: Ledger, { id, efficiency_pct }: Inverter) =>
  io.or(`${id}.efficiency_pct`, efficiency_pct, 90) / 100;

/** Amperes that watts ask of the bank through an inverter; of a group its first one's efficiency and cut-off count. */
export function bankAmps(io: Ledger, inverter: Inverter, ac_W: number): number {
  const { first } = groupOf(io.model.system, inverter);
  return ac_W / (inverterEfficiency(io, first) * low_V(io, first));
}

/** Volts at which an inverter gives up: as set, as printed, else 0.875 of nominal. */
export function low_V(io: Ledger, { id, settings, lowCutoff_V }: Inverter): number {
  const set = io.see(`${id}.settings.cutoff_V`, settings?.cutoff_V);
  if (set !== null && set !== undefined) return set;
  return io.or(`${id}.lowCutoff_V`, lowCutoff_V, 0.875 * io.need('system.nominal_V', io.model.system.nominal_V));
}

/** What remains of an inverter's rating at the place's heat and height. */
export function derating(io: Ledger, { id, ratedAt_C }: Inverter): number {
  const hot = io.need('site.recordHigh_C', io.model.site.recordHigh_C);
  const from = Math.max(25, io.see(`${id}.ratedAt_C`, ratedAt_C) ?? 25);
  const mild = Math.max(0, Math.min(hot, 40) - from);
  const fierce = Math.max(0, hot - Math.max(40, from));
  const elevation = io.or('site.elevation_m', io.model.site.elevation_m, 0);
  return Math.max(0, 1 - 0.01 * mild - 0.015 * fierce) * Math.max(0, 1 - (0.01 * Math.max(0, elevation - 2000)) / 100);
}

/** October to March in the north, April to September in the south. */
export const isWinter = (latitude_deg: number, month: number) => {
  const northern = month >= 10 || month <= 3;
  return latitude_deg < 0 ? !northern : northern;
};

/** Wh a day at the bank: AC through the inverter, DC through its converter, idle, and the controllers' own use. */
export function daily_Wh(io: Ledger, winter: boolean): number {
  const { system } = io.model;
  const hours = (load: Load) =>
    (winter ? io.see(`${load.id}.winterHours_d`, load.winterHours_d) : null) ?? load.hours_d;
  const energy = (load: Load) => count(io, load) * hours(load);
  let sum = 0;
  for (const { first, members } of inverterGroups(system)) {
    const ac = loadsOf(system, first).reduce((total, load) => total + energy(load) * unit_W(load), 0);
    sum += ac / inverterEfficiency(io, first);
    for (const inverter of members) sum += idle_Wh(io, inverter);
  }
  for (const load of dcLoads(system)) sum += energy(load) * dc_W(io, load);
  return sum + controllers_W(io) * 24;
}

/** The worse season's day, Wh at the bank. */
export const worseDay_Wh = (io: Ledger) => Math.max(daily_Wh(io, true), daily_Wh(io, false));

/** What an inverter draws by being on, Wh a day. */
export const idle_Wh = (io: Ledger, { id, idle_W, idleHours_d }: Inverter) =>
  io.need(`${id}.idle_W`, idle_W) * io.or(`${id}.idleHours_d`, idleHours_d, 24);
/**
 * Idle draw where nobody read it, W: a hundredth of the rating and 5 W; planning value of the year (docs/year.md, section 1).
 * Check does not use it: what an inverter idles on decides too much there to be guessed in silence.
 */
const assumedIdle_W = ({ continuous_W }: Inverter) => 0.01 * continuous_W + 5;
/** As `idle_Wh`, by the planning value where its idle draw was not read; Wh a day. */
export const idleOrAssumed_Wh = (io: Ledger, inverter: Inverter) =>
  io.or(`${inverter.id}.idle_W`, inverter.idle_W, assumedIdle_W(inverter)) *
  io.or(`${inverter.id}.idleHours_d`, inverter.idleHours_d, 24);
/** A system whose every inverter has an idle draw, and the paths of those that had none. */
export function withIdleAssumed(system: System): { system: System; assumed: string[] } {
  const lacking = (system.inverters ?? []).filter(({ idle_W }) => idle_W === null || idle_W === undefined);
  if (lacking.length === 0) return { system, assumed: [] };
  const inverters = (system.inverters ?? []).map((one) =>
    lacking.includes(one) ? { ...one, idle_W: assumedIdle_W(one) } : one,
  );
  return { system: { ...system, inverters }, assumed: lacking.map(({ id }) => `${id}.idle_W`) };
}

/** Runs in months in which nobody is there: as recorded, else what is always on, all day. */
export const runsUnattended = ({ unattended, overlap, hours_d }: Load): boolean =>
  unattended ?? (overlap === 'base' && hours_d >= 24);

/** What all controllers draw for themselves, W. */
export const controllers_W = (io: Ledger) =>
  (io.model.system.controllers ?? []).reduce(
    (sum, { id, selfUse_W }) => sum + io.or(`${id}.selfUse_W`, selfUse_W, 0),
    0,
  );
