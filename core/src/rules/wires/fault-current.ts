import { cellsInSeries, emf_V } from '../../bank/bank';
import { faultBank_ohm, faultString_ohm, half_V, isTableResistance, sagBank_ohm } from '../../bank/resistance';
import { CLEARING, interrupt_A } from '../../conductors/fuses';
import { atEnd, networkOf } from '../../conductors/network';
import { COLD_C, resistance_ohm_m } from '../../conductors/sizes';
import { chargesElsewhere, type Model } from '../../system/model';
import { type Bank, type Run } from '../../system/schema';
import { apart, figure } from '../../ledger/figures';
import { createLedger, type Ledger } from '../../ledger/ledger';
import type { Finding } from '../finding';
import { byCopper, cableAndFuse, fuseCures, stringFuses } from '../cures/wires';
import { partName } from '../../conductors/names';
import { rule, type Outcome } from '../rule';
import { deviceOf, hasDevice, having, isBreaker, path_ohm, runBothWays_ohm, unfedBoard, type Type } from './run-limits';
import { cableName, fusePath, isFuse, STRING, withStrings } from './string-own';
import { fuseSaid, withArticle } from '../../parts/said';

/** What a short circuit brings: whether a fuse breaks it where it sits, and clears it at the far end. */

/** Devices that a fault from the bank reaches. */
export const faultReaches = (run: Run, model: Model) => hasDevice(run) && bankFaultReaches(run, model);

/** Runs that a fault from the bank reaches, whatever is on them. */
export function bankFaultReaches(run: Run, model: Pick<Model, 'system'>): boolean {
  if (run.kind === 'pv' || run.kind === 'ac') return false;
  const network = networkOf(model.system);
  if (network.isBatteryLink(run)) return false;
  if (run.kind === 'converter' || run.kind === 'charger') {
    const side = network.side(run);
    if (run.kind === 'converter' && side === 'output') return false;
    const charger = run.kind === 'charger' ? atEnd(model.system.chargers, run) : undefined;
    if (charger && chargesElsewhere(model.system, charger)) return side === 'input';
    if (charger?.kind === 'dc-dc' && side === 'input') return false;
  }
  return network.converterVolts(run) === null;
}

/** Feeders of a run; where the record does not say how the bank reaches it, that is missing. */
function feeders(io: Ledger, run: Run): Run[] {
  const found = networkOf(io.model.system).feedersOf(run);
  if (!io.model.system.bank) io.miss('bank');
  else if (!found) {
    const board = unfedBoard(run, io.model);
    io.miss(board ? `${board}.run` : `${run.id}.from`);
  }
  return found ?? [];
}

const farFault = rule<Run>({
  id: 'run.far-fault',
  title: 'Fault at the far end',
  consequence: 'danger',
  sizeDoes: 'lets a far fault blow its fuse',
  bearsOn: ['fuse'],
  cases: having(faultReaches),
  evaluate(io, run) {
    const { bank } = io.model.system;
    const type = deviceOf(run) ?? 'blade';
    const demand = CLEARING[type] * io.need(`${run.id}.protection.rating_A`, run.protection?.rating_A);
    const way = feeders(io, run);
    if (!bank) return { verdict: 'over' };
    const ohm = sagBank_ohm(io, bank, false) + path_ohm(io, run, way);
    const volts = cellsInSeries(io, bank) * half_V(bank);
    io.work(`${figure(volts)} V through ${figure(ohm * 1000)} mohm = ${figure(volts / ohm)} A at the far end`);
    io.work(`${withArticle(fuseSaid(type))} wants ${CLEARING[type]} x its rating = ${figure(demand)} A to clear`);
    return { ratio: { demand, limit: volts / ohm, unit: 'A', sense: 'max', tightAbove: 0.8 } };
  },
  sentence({ demand, limit, verdict, subject }, model) {
    const what = partName(model, subject);
    if (verdict === 'unknown') return `Whether the fuse of ${what} clears a fault at the far end is not known yet.`;
    const { there, allowed } = apart(demand, limit);
    return `A short at the far end of ${what} draws ${allowed} A; its fuse needs ${there} A to clear it.`;
  },
  remedies: (model, run) => [...fuseCures(model, run), ...byCopper(model, run)],
});

/** Where a fault is looked at: at a run's own device, at a switch by one of its ends, or behind the whole of it. */
interface Spot {
  run: Run;
  fromSource_m: number;
}

/** Fault current at a spot, A; `doubled` with twice the resistance that the table has for a block. */
export function faultAt_A(io: Ledger, { run, fromSource_m }: Spot, doubled = false): number {
  const { bank } = io.model.system;
  if (!bank) return io.need('bank', null);
  const way = feeders(io, run);
  const perMetre = runBothWays_ohm(io, { ...run, length_m: 1 }, COLD_C, false);
  const ohm =
    faultBank_ohm(io, bank, doubled) +
    way.reduce((sum, each) => sum + runBothWays_ohm(io, each, COLD_C, false), 0) +
    fromSource_m * perMetre;
  if (!doubled) io.work(`${figure(1000 * ohm)} mohm from the bank to the device`);
  return emf_V(io, bank) / ohm;
}
const ownSpot = (io: Ledger, run: Run): Spot => ({
  run,
  fromSource_m: io.or(`${run.id}.protection.fromSource_m`, run.protection?.fromSource_m, 0),
});
const breaks_A = (io: Ledger, path: string, type: Type, recorded_A: number | null | undefined) => {
  const recorded = io.see(`${path}.interrupt_A`, recorded_A);
  const { bank } = io.model.system;
  return recorded ?? interrupt_A(type, bank ? emf_V(io, bank) : Number.NaN);
};

/** Up to three times its capacity a small blade's element clears before the peak; planning value. */
const SMALL_BLADE_A = 30;
const SMALL_BLADE_TIMES = 3;

/**
 * Whether a device breaks the fault where it sits. What the table says of a block's resistance, or of a type's capacity,
 * is known to a factor of two: over only where it is over at twice the resistance as well, else tight, with what to read.
 */
export function interruptOutcome(
  io: Ledger,
  path: string,
  device: { type: Type; rating_A: number | null | undefined; interrupt_A: number | null | undefined },
  fault_A: (doubled: boolean) => number,
  behind: Run | 'strings' | null,
): Outcome {
  const { bank } = io.model.system;
  const fault = fault_A(false);
  const limit = breaks_A(io, path, device.type, device.interrupt_A);
  const byType = device.interrupt_A === null || device.interrupt_A === undefined;
  const byTable = bank ? isTableResistance(bank) : true;
  io.work(
    `fault here ${figure(fault)} A x 1.1 = ${figure(1.1 * fault)} A; the ${fuseSaid(device.type)} breaks ${figure(limit)} A`,
  );
  if (byType) io.guess(`${path}.interrupt_A`);
  if (byTable && bank) io.guess(`${bank.id}.internal_mohm`);
  const over = exceeds(1.1 * fault, limit);
  let softened = false;
  if (over && behind) {
    io.work(
      behind === 'strings'
        ? 'the fuses at the posts, upstream, interrupt it'
        : `the fuse of ${partName(io.model, behind.id)}, upstream, interrupts it`,
    );
    softened = true;
  }
  if (over && (byType || byTable)) {
    const doubled = 1.1 * fault_A(true);
    if (!exceeds(doubled, limit)) {
      io.work(
        `at twice the bank's resistance ${figure(doubled)} A, which it interrupts; check its data sheet and the bank’s`,
      );
      softened = true;
    }
    const blade = device.type === 'blade' && (device.rating_A ?? Infinity) <= SMALL_BLADE_A;
    if (blade && !exceeds(doubled, SMALL_BLADE_TIMES * limit)) {
      io.work('a small blade fuse clears before the peak; check its data sheet');
      softened = true;
    }
  }
  return { ratio: { demand: 1.1 * fault, limit, unit: 'A', sense: 'max', tightAbove: 0.9, softened } };
}
const exceeds = (amps: number, limit: number) => amps > limit * (1 + 1e-9);

/**
 * The fuse upstream (not a breaker) that itself breaks its own fault: what lies behind it is let off.
 * @param itself whether the run's own fuse is one of them: for what sits at its far end
 */
export function fuseBefore(io: Ledger, run: Run, itself = false): Run | 'strings' | null {
  // Asked in a ledger of its own: what it rests on is not what this verdict rests on.
  const apartFrom = createLedger(io.model);
  const way = [...(networkOf(io.model.system).feedersOf(run) ?? []), ...(itself ? [run] : [])];
  const found = way.reverse().find((feeder) => {
    const type = deviceOf(feeder);
    if (!type || isBreaker(type)) return false;
    const limit = breaks_A(apartFrom, `${feeder.id}.protection`, type, feeder.protection?.interrupt_A);
    return !exceeds(1.1 * faultAt_A(apartFrom, ownSpot(apartFrom, feeder)), limit);
  });
  if (found) return found;
  const { bank } = io.model.system;
  const type = bank?.stringFuse?.type;
  if (!bank || !type || type === 'none' || isBreaker(type)) return null;
  const limit = breaks_A(apartFrom, `${bank.id}.stringFuse`, type, bank.stringFuse?.interrupt_A);
  // On a fault behind the bus each of them carries its own string alone.
  return !exceeds(1.1 * ownString_A(apartFrom, bank), limit) ? 'strings' : null;
}

/** There and back along the lead of one string to its bus bar, ohm; 0 where it is not tapped so or nobody recorded it. */
function lead_ohm({ tapping, link }: Bank): number {
  if (tapping !== 'busbar' || !link?.size || link.length_m === null || link.length_m === undefined) return 0;
  return 2 * link.length_m * resistance_ohm_m(link.size, 'copper', COLD_C);
}

/** What the other strings push through the fuse of one that is shorted, A: each by its own lead, together by the faulty one's. */
function stringFault_A(io: Ledger, bank: Bank, doubled: boolean): number {
  const lead = lead_ohm(bank);
  const others = Math.max(1, bank.parallel - 1);
  if (lead > 0) io.work(`the lead of a string, there and back: ${figure(1000 * lead)} mohm`);
  return emf_V(io, bank) / ((faultString_ohm(io, bank, doubled) + lead) / others + lead);
}

/** What one string gives through its own post fuse into a fault on the bus, A. */
const ownString_A = (io: Ledger, bank: Bank): number => emf_V(io, bank) / (faultString_ohm(io, bank) + lead_ohm(bank));

/** Whether a device was let off for the fuse before it, as its working says. */
export const stoodBefore = ({ working }: Pick<Finding, 'working'>) =>
  working.some((line) => line.includes('before it'));

/** Why a device that the fault is too much for by its figures is tight and not over. */
export const interruptLetOff = (finding: Finding) =>
  stoodBefore(finding) ? 'the fuse upstream of it interrupts the fault' : 'by table values only; check its data sheet';

const interrupt = rule<Run>({
  id: 'run.interrupt',
  letOff: interruptLetOff,
  title: 'Breaking capacity',
  consequence: 'danger',
  gravity: 2,
  bearsOn: ['fuse'],
  cautions: ['dcRated', 'bankAmps'],
  cases: withStrings(having(faultReaches)),
  evaluate(io, run, quantity) {
    const { bank } = io.model.system;
    const device = {
      type: deviceOf(run) ?? 'blade',
      rating_A: run.protection?.rating_A,
      interrupt_A: run.protection?.interrupt_A,
    };
    if (quantity === STRING && bank)
      return interruptOutcome(io, fusePath(run, quantity), device, (doubled) => stringFault_A(io, bank, doubled), null);
    const spot = ownSpot(io, run);
    return interruptOutcome(
      io,
      fusePath(run, quantity),
      device,
      (doubled) => faultAt_A(io, spot, doubled),
      fuseBefore(io, run),
    );
  },
  sentence({ demand, limit, verdict, subject, quantity }, model) {
    const what = cableName(model, subject, quantity);
    if (verdict === 'unknown') return `Whether the fuse of ${what} can interrupt the fault current is not known yet.`;
    const { there, allowed } = apart((demand ?? NaN) / 1000, (limit ?? NaN) / 1000);
    return `The fuse of ${what} can interrupt ${allowed} kA; a short circuit there reaches ${there} kA.`;
  },
  remedies(model, run, { quantity }) {
    if (quantity === STRING) return stringFuses(model);
    const { bank } = model.system;
    // What stands at the posts stands before every fuse of this bank: one cure for all of them.
    const first = bank && !isFuse(bank.stringFuse) ? stringFuses(model) : [];
    return [...first, ...fuseCures(model, run), ...cableAndFuse(model, run)];
  },
});

/** Rules of the bank's short circuit. */
export const faultRules = [farFault, interrupt];
