import { CLEARING, DEVICE_V } from '../../conductors/fuses';
import { networkOf } from '../../conductors/network';
import { JOINT_OHM, WARM_C, resistance_ohm_m } from '../../conductors/sizes';
import { type Model } from '../../system/model';
import { type Run } from '../../system/schema';
import { createLedger, type Ledger } from '../../ledger/ledger';
import { judge } from '../finding';
import { type Case, type Outcome } from '../rule';
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
/** True for what opens by its mechanism: it does not limit a fault for what stands behind it. */
export const isBreaker = (type: Type | null) => type === 'breaker' || type === 'thermal-breaker';
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

const isOver = (outcome: Outcome | null): boolean =>
  outcome !== null &&
  ('verdict' in outcome
    ? outcome.verdict === 'over'
    : outcome.forced === 'over' ||
      judge(outcome.ratio.demand, outcome.ratio.limit, outcome.ratio.sense, outcome.ratio.tightAbove).verdict ===
        'over');

/**
 * A verdict of a cable of the building basis of which nobody recorded whether it lies in free air: judged both ways. Over
 * in one and not in the other cannot be said before that is known; else the conduit's figures stand, the safer reading.
 * @param judged the verdict by the column asked for; undefined: as recorded
 */
export function inEitherAir(
  io: Ledger,
  run: Run,
  judged: (io: Ledger, inFreeAir: boolean | undefined) => Outcome | null,
): Outcome | null {
  const recorded = run.freeAir !== null && run.freeAir !== undefined;
  if (recorded || io.school('conductor') !== 'building') return judged(io, undefined);
  const free = judged(createLedger(io.model), true);
  const conduit = judged(io, false);
  if (isOver(free) === isOver(conduit)) {
    io.guess(`${run.id}.freeAir`);
    return conduit;
  }
  io.work('within its limit in free air, over it in conduit');
  io.miss(`${run.id}.freeAir`);
  return conduit ?? free;
}
