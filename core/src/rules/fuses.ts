import { hasCharger } from '../bank/charging';
import { cellsInSeries, emf_V, top_V } from '../bank/bank';
import { CHEMISTRY } from '../chemistry/chemistry';
import { faultBank_ohm, half_V, sagBank_ohm } from '../bank/resistance';
import { SMALL_BUILDING_FUSE_A } from '../conductors/ampacity';
import { dcDcInput_V, design_A, stringsOfRun } from '../power/design';
import { CLEARING, FUSES_A, interrupt_A, ratingsSold } from '../conductors/fuses';
import { atEnd, networkOf, touches } from '../conductors/network';
import { COLD_C } from '../conductors/sizes';
import { coldString_V } from '../pv/strings';
import { type Model } from '../system/model';
import { type Run } from '../system/schema';
import { figure, round } from '../ledger/figures';
import { type Ledger } from '../ledger/ledger';
import { rule, type Candidate, type Ratio } from './rule';
import { deviceOf, hasDevice, having, limitsOf, onSource, path_ohm, runBothWays_ohm, sizeUp } from './run-limits';

/** The same kind of device with another rating, as far as it is sold. */
const fuseOf = (run: Run, rating_A: number): Candidate[] => {
  const type = deviceOf(run);
  if (type && !ratingsSold(type).includes(rating_A)) return [];
  return [
    {
      title: `A fuse of ${rating_A} A`,
      detail: 'of a type that breaks the fault here',
      changes: [{ op: 'set', at: 'runs', id: run.id, value: { protection: { rating_A } } }],
    },
  ];
};

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

/** The nearest feeder upstream that has a fuse, or an unrecorded one on the way. */
export function upstreamFuse(model: Model, run: Run): { rating_A: number; run: Run } | 'unknown' | null {
  for (const feeder of [...(networkOf(model.system).feedersOf(run) ?? [])].reverse()) {
    const { protection } = feeder;
    if (!protection?.type) return 'unknown';
    if (protection.type === 'none') continue;
    return protection.rating_A ? { rating_A: protection.rating_A, run: feeder } : 'unknown';
  }
  return null;
}

const fuseProtects = rule<Run>({
  id: 'run.fuse-protects',
  title: 'Fuse protects the cable',
  consequence: 'danger',
  bearsOn: ['fuse'],
  school: 'conductor',
  cautions: ['dcRated', 'bankAmps'],
  cases: having((run, model) => (run.kind !== 'pv' && run.kind !== 'link' && onSource(run, model)) || hasDevice(run)),
  evaluate(io, run) {
    const { protection } = run;
    if (!protection?.type) {
      io.miss(`${run.id}.protection.type`);
      return { verdict: 'over' };
    }
    const largest = largestFuse_A(io, run);
    if (protection.type === 'none') {
      const upstream = upstreamFuse(io.model, run);
      if (upstream === 'unknown') {
        io.miss(`${run.id}.protection.type`);
        return { verdict: 'over' };
      }
      if (upstream && upstream.rating_A <= largest + 1e-9) return null;
      io.work(
        upstream
          ? `no fuse; ${upstream.rating_A} A upstream, the cable allows ${figure(largest)} A`
          : 'no fuse between the bank and this cable',
      );
      return { verdict: 'over' };
    }
    const rating = io.need(`${run.id}.protection.rating_A`, protection.rating_A);
    io.work(`fuse ${figure(rating)} A; largest for this cable ${figure(largest)} A`);
    return { ratio: { demand: rating, limit: largest, unit: 'A', sense: 'max', tightAbove: 1 } };
  },
  sentence({ demand, limit, verdict }) {
    if (verdict === 'unknown') return 'The fuse of this cable was not seen.';
    if (demand === null) return 'Nothing protects this cable.';
    return `A ${figure(demand)} A fuse on a cable for at most ${figure(limit ?? NaN)} A.`;
  },
  remedies(model, run, { limit }) {
    const fuses = limit ? [...FUSES_A].reverse().filter((amps) => amps <= limit) : [];
    return [...fuses.flatMap((amps) => fuseOf(run, amps)), ...sizeUp(model, run)];
  },
});

const fuseCarries = rule<Run>({
  id: 'run.fuse-carries',
  title: 'Fuse carries the current',
  consequence: 'outage',
  bearsOn: ['load', 'fuse'],
  curedByLimit: 'load',
  cases: having(hasDevice),
  evaluate(io, run) {
    const design = design_A(io, run);
    const rating = io.need(`${run.id}.protection.rating_A`, run.protection?.rating_A);
    io.work(`wanted 1.25 x ${figure(design)} A = ${figure(1.25 * design)} A; fuse ${figure(rating)} A`);
    return { ratio: { demand: rating, limit: 1.25 * design, unit: 'A', sense: 'min', tightAbove: 1 } };
  },
  sentence: ({ demand, limit, verdict }) =>
    verdict === 'unknown'
      ? 'Whether the fuse carries the current cannot be said yet.'
      : `A ${figure(demand ?? NaN)} A fuse where ${round(limit ?? NaN)} A is wanted.`,
  remedies: (_, run, { limit }) =>
    limit ? FUSES_A.filter((amps) => amps >= limit).flatMap((amps) => fuseOf(run, amps)) : [],
});

/** Devices that a fault from the bank reaches. */
export const faultReaches = (run: Run, model: Model) => {
  if (!hasDevice(run) || run.kind === 'pv' || run.kind === 'link') return false;
  if (run.kind === 'converter' || run.kind === 'charger') {
    const side = networkOf(model.system).side(run);
    if (run.kind === 'converter' && side === 'output') return false;
    if (run.kind === 'charger' && side === 'input' && atEnd(model.system.chargers, run)?.kind === 'dc-dc') return false;
  }
  return networkOf(model.system).converterVolts(run) === null;
};

/** Feeders of a run; where the record does not say how the bank reaches it, that is missing. */
function feeders(io: Ledger, run: Run): Run[] {
  const found = networkOf(io.model.system).feedersOf(run);
  if (!io.model.system.bank) io.miss('bank');
  else if (!found) io.miss(`${run.id}.from`);
  return found ?? [];
}

const farFault = rule<Run>({
  id: 'run.far-fault',
  title: 'Fuse clears a fault at the far end',
  consequence: 'danger',
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
    io.work(`a ${type} wants ${CLEARING[type]} x its rating = ${figure(demand)} A to clear`);
    return { ratio: { demand, limit: volts / ohm, unit: 'A', sense: 'max', tightAbove: 0.8 } };
  },
  sentence: ({ demand, limit, verdict }) =>
    verdict === 'unknown'
      ? 'Whether the fuse clears a far fault cannot be said yet.'
      : `A fault at the far end brings ${round(limit ?? NaN)} A; the fuse wants ${round(demand ?? NaN)} A to clear it.`,
  remedies: (model, run) => [
    ...[...FUSES_A]
      .reverse()
      .filter((amps) => amps < (run.protection?.rating_A ?? 0))
      .flatMap((amps) => fuseOf(run, amps)),
    ...sizeUp(model, run),
  ],
});

/** Fault current at a run's device, A. */
function faultAt_A(io: Ledger, run: Run): number {
  const { bank } = io.model.system;
  if (!bank) return io.need('bank', null);
  const way = feeders(io, run);
  const from = io.or(`${run.id}.protection.fromSource_m`, run.protection?.fromSource_m, 0);
  const perMetre = runBothWays_ohm(io, { ...run, length_m: 1 }, COLD_C, false);
  const ohm =
    faultBank_ohm(io, bank) +
    way.reduce((sum, each) => sum + runBothWays_ohm(io, each, COLD_C, false), 0) +
    from * perMetre;
  io.work(`${figure(1000 * ohm)} mohm from the bank to the device`);
  return emf_V(io, bank) / ohm;
}
const breaks_A = (io: Ledger, run: Run) => {
  const recorded = io.see(`${run.id}.protection.interrupt_A`, run.protection?.interrupt_A);
  const { bank } = io.model.system;
  return recorded ?? interrupt_A(deviceOf(run) ?? 'blade', bank ? emf_V(io, bank) : Number.NaN);
};

const interrupt = rule<Run>({
  id: 'run.interrupt',
  title: 'Fuse can break the fault',
  consequence: 'danger',
  bearsOn: ['fuse'],
  cautions: ['dcRated', 'bankAmps'],
  cases: having(faultReaches),
  evaluate(io, run) {
    const fault = faultAt_A(io, run);
    const limit = breaks_A(io, run);
    io.work(
      `fault here ${figure(fault)} A x 1.1 = ${figure(1.1 * fault)} A; the ${deviceOf(run)} breaks ${figure(limit)} A`,
    );
    // A current-limiting fuse upstream that can break its own fault lets through less than the device here fears.
    const behind = (networkOf(io.model.system).feedersOf(run) ?? []).some((feeder) => {
      const type = deviceOf(feeder);
      return (type === 'class-t' || type === 'nh') && 1.1 * faultAt_A(io, feeder) <= breaks_A(io, feeder) + 1e-9;
    });
    if (behind) io.work('a current-limiting fuse upstream stands before it');
    return { ratio: { demand: 1.1 * fault, limit, unit: 'A', sense: 'max', tightAbove: 0.9, softened: behind } };
  },
  sentence: ({ demand, limit, verdict, subject }, model) =>
    verdict === 'unknown'
      ? 'Whether the fuse can break the fault current cannot be said yet.'
      : `A short circuit brings ${round((demand ?? NaN) / 1000)} kA; the device of ${runLabel(model, subject)} breaks ${round((limit ?? NaN) / 1000)} kA.`,
  remedies(_, run) {
    const rating = run.protection?.rating_A;
    if (!rating) return [];
    // A type that is not sold at this rating is offered at the next one up; the nearest rating comes first.
    return (['class-t', 'nh'] as const)
      .flatMap((type) => {
        const rating_A = ratingsSold(type).find((amps) => amps >= rating);
        return rating_A ? [{ type, rating_A, voltage_V: type === 'nh' ? 250 : 125 }] : [];
      })
      .sort((x, y) => x.rating_A - y.rating_A)
      .map(({ type, rating_A, voltage_V }): Candidate => ({
        title: `${type === 'nh' ? 'An NH' : 'A class T'} fuse of ${rating_A} A`,
        detail: type === 'nh' ? 'breaks 25 kA up to 250 V' : 'breaks 20 kA up to 125 V',
        changes: [
          {
            op: 'set',
            at: 'runs',
            id: run.id,
            value: { protection: { type, rating_A, voltage_V, dcRated: true, interrupt_A: null } },
          },
        ],
      }));
  },
});

const dcRating = rule<Run>({
  id: 'run.dc-rating',
  title: 'Fuse is made for DC at this voltage',
  consequence: 'danger',
  bearsOn: ['fuse'],
  cautions: ['dcRated'],
  cases: having(hasDevice),
  evaluate(io, run) {
    const { system } = io.model;
    const { protection } = run;
    const type = deviceOf(run) ?? 'blade';
    const path = `${run.id}.protection`;
    const rated =
      type === 'breaker' || type === 'thermal-breaker'
        ? io.see(`${path}.dcRated`, protection?.dcRated)
        : io.word(
            `${path}.dcRated`,
            protection?.dcRated === undefined || protection.dcRated === null ? null : String(protection.dcRated),
            'true',
          ) === 'true';
    if (rated === null || rated === undefined) io.miss(`${path}.dcRated`);
    // A device that is not made for DC is over whether or not its volts were read.
    const volts = io.see(`${path}.voltage_V`, protection?.voltage_V);
    if (rated === false && (volts === null || volts === undefined)) {
      io.work('not made for DC');
      return { verdict: 'over' };
    }
    const limit = io.need(`${path}.voltage_V`, volts);
    const { demand, floatBelow } = voltsAt(io, run, limit);
    io.work(`${figure(demand)} V on a device for ${figure(limit)} V DC`);
    const both =
      touches(run, system.bank?.id) ||
      (system.inverters ?? []).some((inverter) => hasCharger(inverter) && touches(run, inverter.id)) ||
      (run.kind === 'pv' && stringsOfRun(io, run).length > 1);
    const wrongWay = io.flag(`${path}.polarised`, protection?.polarised) && both;
    if (wrongWay) io.work('polarised, where current flows both ways');
    if (rated === false) io.work('not made for DC');
    const ratio: Ratio = { demand, limit, unit: 'V', sense: 'max', tightAbove: 1, softened: floatBelow };
    return rated === false || wrongWay ? { ratio: { ...ratio, softened: false }, forced: 'over' } : { ratio };
  },
  sentence({ demand, limit, verdict, working }) {
    if (verdict === 'unknown') return 'Whether the device is made for DC here was not read.';
    if (working.includes('not made for DC')) return 'A device not made for DC on a DC cable.';
    if (working.some((line) => line.startsWith('polarised')))
      return 'A polarised device where current flows both ways.';
    return `${round(demand ?? NaN)} V on a device for ${round(limit ?? NaN)} V DC.`;
  },
});

/** The highest volts at a run's device, and whether only the boost stage goes above its rating. */
function voltsAt(io: Ledger, run: Run, limit: number): { demand: number; floatBelow: boolean } {
  const { system } = io.model;
  const { bank } = system;
  if (run.kind === 'pv') {
    const strings = stringsOfRun(io, run);
    const demand =
      strings.length > 0
        ? Math.max(...strings.map((string) => coldString_V(io, string)))
        : io.need(`${run.id}.from`, null);
    return { demand, floatBelow: false };
  }
  const network = networkOf(system);
  const converted = network.converterVolts(run);
  if (converted !== null) return { demand: converted, floatBelow: false };
  if (run.kind === 'charger' && network.side(run) === 'input') {
    const charger = atEnd(system.chargers, run);
    if (charger?.kind === 'dc-dc') return { demand: dcDcInput_V(io, charger) === 12 ? 15 : 30, floatBelow: false };
  }
  if (!bank) return { demand: io.need('bank', null), floatBelow: false };
  const table = CHEMISTRY[bank.chemistry];
  const resting = cellsInSeries(io, bank) * (table.float_V ?? table.absorb_V);
  return { demand: top_V(io, bank), floatBelow: resting <= limit };
}

export const fuseRules = [fuseProtects, fuseCarries, farFault, interrupt, dcRating];

const runLabel = ({ system }: Model, id: string) => system.runs?.find((run) => run.id === id)?.label ?? 'this cable';
