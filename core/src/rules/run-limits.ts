import {
  ENGINE_SPACE_FACTOR,
  MATERIAL_FACTOR,
  SMALL_BUILDING_FUSE_A,
  bundleFactor,
  tabulated_A,
} from '../conductors/ampacity';
import { CLEARING, DEVICE_V, FUSES_A } from '../conductors/fuses';
import { networkOf } from '../conductors/network';
import { JOINT_OHM, WARM_C, resistance_ohm_m } from '../conductors/sizes';
import { type Model } from '../system/model';
import { type Run } from '../system/schema';
import { figure } from '../ledger/figures';
import { type Ledger } from '../ledger/ledger';
import { type Case } from './rule';
import { isFuse } from './string-own';

/** What the rules of cables and fuses share: where they apply, resistance of the way, limits of a conductor. */

/** Every run as a case. */
export const runCases = (model: Model): Case<Run>[] =>
  (model.system.runs ?? []).map((run) => ({ subject: run.id, about: run }));
/** The runs as cases that are such. */
export const having = (wanted: (run: Run, model: Model) => boolean) => (model: Model) =>
  runCases(model).filter(({ about }) => wanted(about, model));
export type Type = keyof typeof CLEARING;
/** The type of the fuse or breaker of a run; null where it has none. */
export const deviceOf = ({ protection }: Run): Type | null =>
  protection?.type && protection.type !== 'none' ? protection.type : null;
/** True for a run with a fuse or breaker. */
export const hasDevice = (run: Run) => deviceOf(run) !== null;
/** A run that the bank feeds (directly, through a distribution, from a device's posts), or a converter does. */
export const onSource = (run: Run, { system }: Pick<Model, 'system'>) =>
  networkOf(system).feedersOf(run) !== null || networkOf(system).converterOf(run) !== null;
/** The board from which a run starts, where nothing that is recorded feeds that board; null otherwise. */
export function unfedBoard(run: Run, { system }: Pick<Model, 'system'>): string | null {
  const network = networkOf(system);
  if (!system.bank || onSource(run, { system })) return null;
  const source = network.sourceEnd(run);
  const board = (system.distribution ?? []).find(({ id }) => id === source);
  const charging = run.kind === 'controller-battery' || run.kind === 'charger' || run.kind === 'converter';
  return board && !charging ? board.id : null;
}

/** ohm of a run there and back, with its joints where asked. */
export function runBothWays_ohm(io: Ledger, run: Run, conductor_C: number, joints: boolean): number {
  const perPole = io.or(`${run.id}.perPole`, run.perPole, 1);
  const material = io.word(`${run.id}.material`, run.material, 'copper');
  io.see(`${run.id}.length_m`, run.length_m);
  io.see(`${run.id}.size`, run.size);
  const cable = (2 * run.length_m * resistance_ohm_m(run.size, material, conductor_C)) / perPole;
  return cable + (joints ? io.or(`${run.id}.joints`, run.joints, 0) * JOINT_OHM : 0);
}

/** Fuses, breakers and switches in a run, ohm: each 50 mV at its rating; what has no rating read adds nothing. */
export function devices_ohm(io: Ledger, run: Run): number {
  const switches = (io.model.system.switches ?? []).filter(({ runId }) => runId === run.id);
  const fuses = [run.protection, run.farProtection].filter(isFuse);
  return [...fuses, ...switches].reduce((sum, device) => sum + (device?.rating_A ? DEVICE_V / device.rating_A : 0), 0);
}

/** Runs with their joints and devices, and the shunt once: the way from the bank as sag and a far fault see it. */
export function path_ohm(io: Ledger, run: Run, feeders: readonly Run[], share = 1): number {
  let sum = 0;
  for (const each of feeders) sum += runBothWays_ohm(io, each, WARM_C, true) + devices_ohm(io, each);
  // A run that carries its share of the current drops its share of the volts.
  sum += share * (runBothWays_ohm(io, run, WARM_C, true) + devices_ohm(io, run));
  const shunt = io.model.system.monitor?.shunt_A;
  if (shunt && run.negativeThroughShunt !== false) sum += DEVICE_V / shunt;
  return sum;
}

/** The ampacities of a conductor, A. */
export interface Limits {
  /** (i): the column at the terminals' temperature, no derating. */
  column_A: number;
  /** (ii): derated for air and bundle. */
  derated_A: number;
  awg: number | null;
}

/** The two limits of a conductor; both NaN where the book knows none. */
export function limitsOf(io: Ledger, run: Run): Limits {
  const { site } = io.model;
  const basis = io.school('conductor');
  const vehicle = basis === 'vehicle';
  const insulation = io.or(`${run.id}.insulation_C`, run.insulation_C, vehicle ? 105 : 90);
  const terminal = io.or(`${run.id}.terminal_C`, run.terminal_C, 75);
  const perPole = io.or(`${run.id}.perPole`, run.perPole, 1);
  const ambient =
    run.ambient_C ??
    (run.kind === 'pv'
      ? io.need('site.recordHigh_C', site.recordHigh_C) + 25
      : io.or(`${run.id}.ambient_C`, run.ambient_C, 30));
  if (run.ambient_C === null || run.ambient_C === undefined) io.guess(`${run.id}.ambient_C`);
  const bundled = io.or(`${run.id}.bundled`, run.bundled, 2 * perPole);
  const freeAir = basis === 'building' && io.flag(`${run.id}.freeAir`, run.freeAir);
  const own = tabulated_A(basis, run.size, insulation, freeAir);
  const plain = vehicle ? own : tabulated_A(basis, run.size, Math.min(insulation, terminal), freeAir);
  if (!own || !plain) {
    io.miss(`${run.id}.${own ? 'terminal_C' : 'insulation_C'}`);
    return { column_A: Number.NaN, derated_A: Number.NaN, awg: null };
  }
  if (own.converted) io.work(`${run.size} takes the table's ${own.converted}`);
  const always =
    MATERIAL_FACTOR[io.word(`${run.id}.material`, run.material, 'copper')] *
    perPole *
    (vehicle && io.flag(`${run.id}.engineSpace`, run.engineSpace) ? ENGINE_SPACE_FACTOR : 1);
  const heat = ambient >= own.column_C ? 0 : Math.sqrt((own.column_C - ambient) / (own.column_C - 30));
  const bundle = bundleFactor(basis, bundled);
  io.work(
    `column ${plain.column_C} degC: ${figure(plain.amps)} A x ${figure(always)} = ${figure(plain.amps * always)} A`,
  );
  io.work(
    `derated: ${figure(own.amps)} A x ${figure(heat)} (air ${figure(ambient)} degC) x ${figure(bundle)} (bundle) x ${figure(always)} = ${figure(own.amps * heat * bundle * always)} A`,
  );
  return { column_A: plain.amps * always, derated_A: own.amps * heat * bundle * always, awg: own.awg };
}

/** The largest fuse that protects a conductor, A. */
export function largestFuse_A(io: Ledger, run: Run): number {
  const { column_A, derated_A, awg } = limitsOf(io, run);
  const ampacity = Math.min(column_A, derated_A);
  if (Number.isNaN(ampacity)) return ampacity;
  const basis = io.school('conductor');
  if (basis === 'metric') return FUSES_A.filter((amps) => amps <= ampacity + 1e-9).at(-1) ?? 0;
  const next = FUSES_A.find((amps) => amps >= ampacity - 1e-9) ?? ampacity;
  const cap = basis === 'building' && awg !== null ? SMALL_BUILDING_FUSE_A[awg] : undefined;
  return cap === undefined ? next : Math.min(next, cap);
}
