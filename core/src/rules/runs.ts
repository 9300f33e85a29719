import { cellsInSeries } from '../bank/bank';
import { dcDcInput_V, design_A, impOfRun_A, stringsOfRun } from '../power/design';
import { atEnd, networkOf } from '../conductors/network';
import { JOINT_OHM, WARM_C } from '../conductors/sizes';
import { stringVmp_V } from '../pv/strings';
import type { Model } from '../system/model';
import { type Run } from '../system/schema';
import type { Finding } from './finding';
import { figure, round } from '../ledger/figures';
import { type Ledger } from '../ledger/ledger';
import { governing, rule } from './rule';
import { having, limitsOf, runBothWays_ohm, runCases, sizeUp } from './run-limits';

/** Volts that a drop is a percentage of. */
function dropBase_V(io: Ledger, run: Run): number {
  const { system } = io.model;
  if (run.kind === 'pv') {
    const strings = stringsOfRun(io, run);
    return strings.length > 0 ? Math.min(...strings.map(stringVmp_V)) : io.need(`${run.id}.from`, null);
  }
  const network = networkOf(system);
  if (run.kind === 'converter') {
    const converter = atEnd(system.converters, run);
    if (converter) return network.side(run) === 'input' ? converter.in_V : converter.out_V;
  }
  if (run.kind === 'charger' && network.side(run) === 'input') {
    const charger = atEnd(system.chargers, run);
    if (charger?.kind === 'dc-dc') return dcDcInput_V(io, charger);
  }
  // What hangs behind a converter lives on its volts: a 12 V lamp feels a drop against 12 V, the safer reading.
  return network.converterVolts(run) ?? io.need('system.nominal_V', system.nominal_V);
}

const ALLOWED = {
  pv: ['pv', 3],
  'controller-battery': ['battery', 2],
  'battery-inverter': ['battery', 2],
  charger: ['battery', 2],
  converter: ['dc', 3],
  'dc-load': ['dc', 3],
} as const;

/** The school that says how much a run may drop. */
const dropSchool = ({ system }: Model, { subject }: Finding): string | null => {
  const kind = system.runs?.find(({ id }) => id === subject)?.kind;
  return kind && kind !== 'link' ? `drop_pct.${ALLOWED[kind][0]}` : null;
};

const ampacity = rule<Run>({
  id: 'run.ampacity',
  title: 'Cable carries its current',
  consequence: 'danger',
  bearsOn: ['load', 'cable'],
  school: 'conductor',
  curedByLimit: 'load',
  cases: runCases,
  evaluate(io, run) {
    const design = design_A(io, run);
    const limits = limitsOf(io, run);
    const vehicle = io.school('conductor') === 'vehicle';
    const continuous = vehicle ? design : 1.25 * design;
    io.work(`design ${figure(design)} A, continuous ${figure(continuous)} A`);
    const base = { unit: 'A', sense: 'max', tightAbove: 1 } as const;
    return {
      ratio: governing([
        { ...base, demand: continuous, limit: limits.column_A },
        { ...base, demand: design, limit: limits.derated_A },
      ]),
    };
  },
  sentence: ({ demand, limit, verdict }) =>
    verdict === 'unknown'
      ? 'What this cable may carry cannot be said yet.'
      : `The cable is asked for ${round(demand ?? NaN)} A and may carry ${round(limit ?? NaN)} A.`,
  remedies: sizeUp,
});

const drop = rule<Run>({
  id: 'run.drop',
  title: 'Voltage lost along the cable',
  consequence: 'loss',
  bearsOn: ['load', 'cable'],
  school: dropSchool,
  cases: having(({ kind }) => kind !== 'link'),
  evaluate(io, run) {
    const current = run.kind === 'pv' ? impOfRun_A(io, run) : design_A(io, run);
    const ohm = runBothWays_ohm(io, run, WARM_C, true);
    const base = dropBase_V(io, run);
    const volts = current * ohm;
    if (run.kind === 'link') return null;
    const [school, fallback] = ALLOWED[run.kind];
    const limit = io.or(`schools.drop_pct.${school}`, io.model.schools.drop_pct?.[school], fallback);
    io.bySchool(`${limit} %`);
    io.work(
      `there and back ${figure(ohm * 1000)} mohm x ${figure(current)} A = ${figure(volts)} V, ${figure(volts * current)} W lost`,
    );
    io.work(`${figure(volts)} V of ${figure(base)} V = ${figure((100 * volts) / base)} %`);
    return { ratio: { demand: (100 * volts) / base, limit, unit: '%', sense: 'max', tightAbove: 0.8 } };
  },
  sentence: ({ demand, limit, verdict }) =>
    verdict === 'unknown'
      ? 'What is lost along this cable cannot be said yet.'
      : `${round(demand ?? NaN)} % is lost along the cable; ${round(limit ?? NaN)} % is allowed.`,
  remedies: sizeUp,
});

const chargeSense = rule<Run>({
  id: 'run.charge-sense',
  title: 'Charger sees the bank, not the cable',
  consequence: 'life',
  bearsOn: ['cable'],
  cases: having(
    (run, { system }) =>
      !run.remoteSense &&
      (run.kind === 'controller-battery' || (run.kind === 'charger' && networkOf(system).side(run) === 'output')),
  ),
  evaluate(io, run) {
    const { bank } = io.model.system;
    if (!bank) io.miss('bank');
    io.flag(`${run.id}.remoteSense`, run.remoteSense);
    const volts = design_A(io, run) * runBothWays_ohm(io, run, WARM_C, true);
    const cells = bank ? cellsInSeries(io, bank) : Number.NaN;
    io.work(`${figure(volts)} V at full current over ${cells} cells = ${figure(volts / cells)} V a cell`);
    return { ratio: { demand: volts / cells, limit: 0.05, unit: 'V/cell', sense: 'max', tightAbove: 0.8 } };
  },
  sentence: ({ demand, verdict }) =>
    verdict === 'unknown'
      ? 'How far the charger misreads the bank cannot be said yet.'
      : `At full current the charger reads ${figure(demand ?? NaN, 2)} V a cell too high.`,
  remedies: sizeUp,
});

const joints = rule<Run>({
  id: 'run.joints',
  title: 'Joints in the cable',
  consequence: 'loss',
  bearsOn: ['cable'],
  cases: having(({ joints: count }) => (count ?? 0) > 2),
  evaluate(io, run) {
    const current = run.kind === 'pv' ? impOfRun_A(io, run) : design_A(io, run);
    const watts = io.or(`${run.id}.joints`, run.joints, 0) * JOINT_OHM * current * current;
    io.work(`${run.joints} joints of 0.25 mohm at ${figure(current)} A: ${figure(watts)} W of heat`);
    return { verdict: 'note' };
  },
  sentence: ({ working }) => `More joints than this cable needs: ${working[0] ?? ''}.`,
});

export const runRules = [ampacity, drop, chargeSense, joints];
