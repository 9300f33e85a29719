import { cellsInSeries } from '../bank/bank';
import { chargingDevices, everyCharger, hasCharger, sourceOfCharger, type ChargingDevice } from '../bank/charging';
import { CHEMISTRY } from '../chemistry/chemistry';
import { sharing } from '../bank/resistance';
import { behind } from './ac';
import { chargesElsewhere, mainsSources } from '../system/model';
import { continuousDischarge_A } from './discharge';
import { inverterGroups, onRunOf } from './groups';
import { outputGroups, push_A } from '../pv/controllers';
import { modulesOf, stringImp_A, stringIscBifacial_A } from '../pv/strings';
import { figure } from '../ledger/figures';
import { createLedger, type Ledger } from '../ledger/ledger';
import { largestFuse_A } from './conductor-limits';
import { bankAmps, converterMost_A, count, loadsOf, loadsOnOutput, running_VA, unit_W } from './loads';
import type { Charger, Inverter, Load, ModuleType, Run, System } from '../system/schema';
import { atEnd, networkOf, touches } from '../conductors/network';

/** Strings that a pv run carries: those it names, else all of its array; from a combiner, those of its circuits. */
export function stringsOfRun(io: Ledger, run: Run, seen: readonly string[] = []): ModuleType[][] {
  const { system } = io.model;
  const array = atEnd(system.arrays, run);
  if (array)
    return array.strings
      .filter((_, i) => !run.strings || run.strings.includes(i))
      .map((string) => modulesOf(system, string));
  const combiner = atEnd(system.distribution, run);
  return (combiner?.circuits ?? [])
    .filter((id) => id !== run.id && !seen.includes(id))
    .flatMap((id) => {
      const circuit = system.runs?.find((other) => other.id === id);
      return circuit?.kind === 'pv' ? stringsOfRun(io, circuit, [...seen, run.id]) : [];
    });
}

/** Input volts that a dc-dc charger is designed for, a 12 V or a 24 V vehicle: by its plate, else by its alternator's. */
export const dcDcInput_V = (io: Ledger, charger: Charger) => {
  const source = sourceOfCharger(io.model.system, charger);
  const read = io.see(`${charger.id}.input_V`, charger.input_V) ?? source?.nominal_V;
  const volts = io.need(`${charger.id}.input_V`, read);
  return Number.isNaN(volts) ? volts : volts < 18 ? 12 : 24;
};

/** Volts that a charger works against at its most: the bank's absorb, or those of the other battery that it charges. */
function chargerOut_V(io: Ledger, charger: Pick<Charger, 'id' | 'output_V'>): number {
  const { system } = io.model;
  if (chargesElsewhere(system, charger)) return io.need(`${charger.id}.output_V`, charger.output_V);
  const { bank } = system;
  return bank ? cellsInSeries(io, bank) * CHEMISTRY[bank.chemistry].absorb_V : io.need('bank', null);
}

/**
 * What a dc-dc charger draws at its input, A.
 * @param output_A what it delivers: its plate for a cable, its setting where that is lower for the alternator
 */
export function dcDcInput_A(io: Ledger, charger: Charger, output_A = charger.max_A): number {
  const efficiency = io.or(`${charger.id}.efficiency_pct`, charger.efficiency_pct, 88) / 100;
  return (output_A * chargerOut_V(io, charger)) / (dcDcInput_V(io, charger) * efficiency);
}

/** What flows through a run: towards the bank, and from it. */
interface Flow {
  sources: number;
  loads: number;
}
const NOTHING: Flow = { sources: 0, loads: 0 };
const added = (a: Flow, b: Flow): Flow => ({ sources: a.sources + b.sources, loads: a.loads + b.loads });

/** The current a run is designed for, A. Missing ends are noted and give NaN. */
export function design_A(io: Ledger, run: Run): number {
  if (run.kind === 'pv') {
    const strings = stringsOfRun(io, run);
    if (strings.length === 0) return io.need(`${run.id}.from`, null);
    return 1.25 * strings.reduce((sum, modules) => sum + stringIscBifacial_A(modules), 0);
  }
  if (run.kind === 'ac') return acDesign_A(io, run);
  const { system } = io.model;
  if (networkOf(system).isBatteryLink(run)) return linkDesign_A(io);
  const { sources, loads } = flowOf(io, run, []);
  return Math.max(sources, loads);
}

/**
 * The current that a run carries for hours, A: on DC 1.25 times its design; on the mains its design. An array's design has
 * the bright sun in it already (1.25 Isc): the building code asks the hours on top of it, the others do not.
 */
export const continuous_A = (io: Ledger, { kind }: Pick<Run, 'kind'>, design: number): number =>
  kind === 'ac' || (kind === 'pv' && io.school('conductor') !== 'building') ? design : 1.25 * design;

/** What one link of a bank carries: the continuous discharge by the string that works hardest, A. */
export function linkDesign_A(io: Ledger): number {
  const { bank } = io.model.system;
  if (!bank) return io.need('bank', null);
  return (continuousDischarge_A(io) * sharing(io, bank).worst) / bank.parallel;
}

/** A run's device with what is tapped from its posts; a board's circuits. */
function flowOf(io: Ledger, run: Run, seen: readonly string[]): Flow {
  const { system } = io.model;
  const network = networkOf(system);
  const own = network.ownEnd(run);
  const box = (system.distribution ?? []).find(({ id }) => id === own);
  if (box && (run.kind === 'dc-load' || run.kind === 'link')) return throughBox(io, box, [...seen, run.id]);
  const input =
    (run.kind === 'converter' || run.kind === 'charger') &&
    network.side(run) === (run.kind === 'converter' ? 'output' : 'input');
  const mine = ownFlow(io, run);
  // What is tapped hangs on the side that the bank feeds.
  if (!own || input) return mine;
  return network
    .tappedFrom(own)
    .filter(({ id }) => id !== run.id && !seen.includes(id))
    .reduce((sum, each) => added(sum, flowOf(io, each, [...seen, run.id])), mine);
}

/** What a run's own device brings or takes, A. */
function ownFlow(io: Ledger, run: Run): Flow {
  const { system } = io.model;
  const network = networkOf(system);
  const lost = (end: string): Flow => ({ sources: io.need(`${run.id}.${end}`, null), loads: Number.NaN });
  switch (run.kind) {
    case 'controller-battery': {
      const controller = atEnd(system.controllers, run);
      const group = outputGroups(system).find(({ members }) => controller && members.includes(controller));
      if (!group || !controller) return lost('from');
      const { first } = group;
      const most = Math.min(first.maxOutput_A, push_A(io, group));
      const sources = asSet_A(io, run, first.id, most, first.settings, first.type === 'mppt');
      const onOutput = loadsOnOutput(system, controller.id);
      return { sources, loads: onOutput.reduce((sum, load) => sum + load_A(io, load, null), 0) };
    }
    case 'battery-inverter': {
      const inverter = atEnd(system.inverters, run);
      if (!inverter) return lost('to');
      return onRunOf(system, inverter).reduce<Flow>(
        (sum, one) =>
          added(sum, {
            sources: hasCharger(one)
              ? asSet_A(
                  io,
                  run,
                  `${one.id}.charger`,
                  io.need(`${one.id}.charger.max_A`, one.charger?.max_A),
                  one.charger?.settings,
                  true,
                )
              : 0,
            loads: bankAmps(io, one, one.continuous_W),
          }),
        NOTHING,
      );
    }
    case 'charger': {
      const charger = atEnd(system.chargers, run);
      if (charger) {
        const amps = asSet_A(
          io,
          run,
          charger.id,
          charger.max_A,
          charger.settings,
          charger.kind !== 'alternator-direct',
        );
        const input = charger.kind === 'dc-dc' && network.side(run) === 'input';
        const flow = input ? dcDcInput_A(io, charger, amps) : amps;
        // What charges another battery from this one is a load of it.
        return input && chargesElsewhere(system, charger) ? { sources: 0, loads: flow } : { sources: flow, loads: 0 };
      }
      const inside = chargingDevices(system).find(({ at, id }) => at === 'inverters' && touches(run, id));
      if (!inside) return lost('from');
      const plate = io.need(`${inside.path}.max_A`, inside.rating_A);
      return { sources: asSet_A(io, run, inside.path, plate, inside.settings, true), loads: 0 };
    }
    case 'converter': {
      const converter = atEnd(system.converters, run);
      if (!converter) return lost('to');
      const amps = converterMost_A(io, converter);
      if (network.side(run) === 'output') return { sources: amps, loads: 0 };
      const efficiency = io.or(`${converter.id}.efficiency_pct`, converter.efficiency_pct, 92) / 100;
      return { sources: 0, loads: (amps * converter.out_V) / (converter.in_V * efficiency) };
    }
    default: {
      const load = (system.loads ?? []).find(({ id }) => id === network.ownEnd(run));
      return load ? { sources: 0, loads: load_A(io, load, network.converterVolts(run)) } : lost('to');
    }
  }
}

/**
 * What a charging device brings into a run, A: by its plate; by its setting where that is lower, where somebody read it off
 * the device and the run's own fuse protects the run whatever becomes of the setting (engine, section 5).
 */
function asSet_A(
  io: Ledger,
  run: Run,
  path: string,
  plate_A: number,
  settings: { maxCharge_A?: number | null | undefined } | null | undefined,
  canBeSet: boolean,
): number {
  const set = settings?.maxCharge_A;
  if (!canBeSet || set === null || set === undefined || set >= plate_A) return plate_A;
  if (!readOff(io, `${path}.settings.maxCharge_A`) || !fusedWithin(io, run)) return plate_A;
  io.work(`${AS_SET}: ${figure(set)} A instead of ${figure(plate_A)} A; a label at the device says so`);
  return set;
}
/** How the working of a cable begins that is judged by a setting of its device. */
export const AS_SET = 'as set';

const READ_OFF = new Set<string | null | undefined>(['measured', 'nameplate', 'datasheet', 'stated']);
/** True where a value was read by somebody, and is no guess. */
const readOff = (io: Ledger, path: string) => READ_OFF.has(io.model.evidence[path]?.grade);

/** True where a run has a fuse of its own that its conductor allows. */
function fusedWithin(io: Ledger, run: Run): boolean {
  const { protection } = run;
  if (!protection?.type || protection.type === 'none' || !protection.rating_A) return false;
  const largest = largestFuse_A(createLedger(io.model), run);
  return protection.rating_A <= largest * (1 + 1e-9);
}

/** What a run's own device charges with, A: what others draw from its posts is not what it misreads the bank by. */
export const charging_A = (io: Ledger, run: Run): number =>
  // By the plate: without a fuse of the run's own no setting counts.
  ownFlow(io, { ...run, protection: null }).sources;

/** What a DC load draws, A: a load of constant power most when the bank is lowest; behind a converter its volts stand still. */
export function load_A(io: Ledger, load: Load, converted_V: number | null, watts = unit_W(load)): number {
  const constant = load.type === 'electronic' || load.type === 'compressor';
  const nominal = () => io.need('system.nominal_V', io.model.system.nominal_V) * (constant ? 0.875 : 1);
  return (watts * count(io, load)) / (converted_V ?? nominal());
}

/**
 * What a distribution's sources bring and its loads take, A: its circuits, and what else starts from it. What joins it to
 * the bank, to a source, to the converter that feeds it or, of a combiner, to its controller is neither.
 */
export function throughBox(
  io: Ledger,
  box: { id: string; circuits?: readonly string[] | null | undefined },
  seen: readonly string[] = [],
): Flow {
  const { system } = io.model;
  let sum = NOTHING;
  for (const run of system.runs ?? []) {
    const listed = box.circuits?.includes(run.id) ?? false;
    if (seen.includes(run.id) || !(listed || touches(run, box.id)) || feedsBox(system, run, box.id)) continue;
    if (run.kind === 'pv') {
      if (listed) sum = added(sum, { sources: design_A(io, run), loads: 0 });
    } else sum = added(sum, run.kind === 'ac' ? { sources: 0, loads: design_A(io, run) } : flowOf(io, run, seen));
  }
  return sum;
}

/** What joins a board to what feeds it, or a combiner to its controller. */
function feedsBox(system: System, run: Run, boxId: string): boolean {
  if (run.kind === 'pv') return atEnd(system.controllers, run) !== undefined;
  // Runs of the mains are written from source to load.
  if (run.kind === 'ac') return run.to === boxId;
  const network = networkOf(system);
  if (atEnd(system.sources, run) ?? atEnd(system.otherBanks, run)) return touches(run, boxId);
  if (run.kind === 'converter') return touches(run, boxId) && network.side(run) === 'output';
  return network.ownEnd(run) === boxId;
}

/**
 * What the loads and chargers behind a run of the mains draw at once, VA.
 * @param asSet chargers and input limits as somebody read them set, where the run's own fuse protects it all the same
 */
export function acDrawn_VA(io: Ledger, run: Run, asSet = false): number {
  const { system } = io.model;
  const reached = new Set(behind(system, run));
  const loads = (system.loads ?? []).filter(({ id, kind }) => kind === 'ac' && reached.has(id));
  const chargers = everyCharger(system).filter(({ id, occasion }) => occasion === 'mains' && reached.has(id));
  const charging_VA = (devices: readonly ChargingDevice[]) =>
    devices.reduce((sum, device) => sum + charger_VA(io, device, asSet ? plateOrSet_A(io, run, device) : undefined), 0);
  const passing = inverterGroups(system).filter(
    ({ first, members }) => first.transfer === 'built-in' && members.some(({ id }) => reached.has(id)),
  );
  const held = asSet && fusedWithin(io, run) ? passing.filter(({ members }) => members.every(limitRead(io))) : [];
  const passed = passing.filter((group) => !held.includes(group)).flatMap(({ first }) => loadsOf(system, first));
  const inHeld = (device: ChargingDevice) =>
    device.at === 'inverters' && held.some(({ members }) => members.includes(device.part));
  const limited = held.reduce((sum, { first, members }) => {
    const running = running_VA(io, loadsOf(system, first));
    const part = running + charging_VA(chargers.filter((one) => inHeld(one) && members.includes(one.part as Inverter)));
    const most = members.reduce((total, { inputLimit_A }) => total + (inputLimit_A ?? 0), 0) * acVolts(io, run);
    if (part > most) io.work(`${AS_SET}: the input limit of ${figure(most)} VA; a label at the inverter says so`);
    return (
      sum + (members.every(({ assist }) => assist) ? Math.min(part, most) : Math.max(Math.min(part, most), running))
    );
  }, 0);
  return (
    limited +
    running_VA(io, [...new Set([...loads, ...passed])]) +
    charging_VA(chargers.filter((device) => !inHeld(device)))
  );
}

/** True for an inverter whose input limit somebody read off it. */
const limitRead =
  (io: Ledger) =>
  ({ id, inputLimit_A }: Inverter) =>
    inputLimit_A !== null && inputLimit_A !== undefined && readOff(io, `${id}.inputLimit_A`);

const plateOrSet_A = (io: Ledger, run: Run, { path, rating_A, settings }: ChargingDevice): number =>
  asSet_A(io, run, path, io.need(`${path}.max_A`, rating_A), settings, true);

/**
 * VA of a charger on the mains.
 * @param output_A what it delivers; absent: its plate, as a cable has to expect
 */
export function charger_VA(io: Ledger, device: ChargingDevice, output_A?: number): number {
  const { path, rating_A, efficiency_pct, powerFactor } = device;
  const volts = chargerOut_V(io, device.at === 'chargers' ? device.part : { id: device.id });
  const share =
    (io.or(`${path}.efficiency_pct`, efficiency_pct, 88) / 100) * io.or(`${path}.powerFactor`, powerFactor, 0.95);
  return ((output_A ?? io.need(`${path}.max_A`, rating_A)) * volts) / share;
}

/** Volts of the mains at a run: of the source at its end, else of the first; 230 V where nobody said. */
export function acVolts(io: Ledger, run: Run): number {
  const source = atEnd(mainsSources(io.model.system), run) ?? mainsSources(io.model.system)[0];
  return source ? io.or(`${source.id}.ac_V`, source.ac_V, 230) : 230;
}

function acDesign_A(io: Ledger, run: Run): number {
  const { system } = io.model;
  const volts = acVolts(io, run);
  const drawn = acDrawn_VA(io, run, true) / volts;
  const inverter = (system.inverters ?? []).find(({ id }) => id === run.from);
  const source = mainsSources(system).find(({ id }) => id === run.from);
  let least = 0;
  if (inverter)
    least = (io.see(`${inverter.id}.continuous_VA`, inverter.continuous_VA) ?? inverter.continuous_W) / volts;
  else if (source?.kind === 'inlet') least = io.need(`${source.id}.inlet_A`, source.inlet_A);
  else if (source) least = io.need(`${source.id}.power_W`, source.power_W) / volts;
  const amps = Math.max(drawn, least);
  const rating =
    run.protection?.type === 'none' ? null : io.see(`${run.id}.protection.rating_A`, run.protection?.rating_A);
  return rating ? Math.min(amps, rating) : amps;
}

/** Current for the drop of a pv run: what flows at full power, not what must be withstood. */
export const impOfRun_A = (io: Ledger, run: Run) =>
  stringsOfRun(io, run).reduce((sum, modules) => sum + stringImp_A(modules), 0);
