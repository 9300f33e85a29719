import { cellsInSeries } from '../../bank/bank';
import {
  AS_SET,
  acVolts,
  charging_A,
  continuous_A,
  dcDcInput_V,
  design_A,
  impOfRun_A,
  stringsOfRun,
} from '../../power/design';
import { atEnd, networkOf } from '../../conductors/network';
import { JOINT_OHM, WARM_C } from '../../conductors/sizes';
import { stringVmp_V } from '../../pv/strings';
import { chargesElsewhere, type Model } from '../../system/model';
import { type Charger, type Run } from '../../system/schema';
import type { Finding } from '../finding';
import { apart, figure } from '../../ledger/figures';
import { type Ledger } from '../../ledger/ledger';
import { partName } from '../../conductors/names';
import { governing, rule } from '../rule';
import { jointsAway, sizeUp } from '../cures/wires';
import { limitsOf } from '../../power/conductor-limits';
import { having, inEitherAir, runBothWays_ohm, runCases } from './run-limits';

/** Volts that a drop is a percentage of. */
function dropBase_V(io: Ledger, run: Run): number {
  const { system } = io.model;
  if (run.kind === 'pv') {
    const strings = stringsOfRun(io, run);
    return strings.length > 0 ? Math.min(...strings.map(stringVmp_V)) : io.need(`${run.id}.from`, null);
  }
  if (run.kind === 'ac') return acVolts(io, run);
  const network = networkOf(system);
  if (run.kind === 'converter') {
    const converter = atEnd(system.converters, run);
    if (converter) return network.side(run) === 'input' ? converter.in_V : converter.out_V;
  }
  const charger = dcDcInputOf(system, run);
  if (charger) return dcDcInput_V(io, charger);
  const elsewhere = run.kind === 'charger' ? atEnd(system.chargers, run) : undefined;
  if (elsewhere && chargesElsewhere(system, elsewhere)) return io.need(`${elsewhere.id}.output_V`, elsewhere.output_V);
  // What hangs behind a converter lives on its volts: a 12 V lamp feels a drop against 12 V, the safer reading.
  return network.converterVolts(run) ?? io.need('system.nominal_V', system.nominal_V);
}

/** The dc-dc charger whose input a run is; undefined for every other run. */
function dcDcInputOf(system: Model['system'], run: Run): Charger | undefined {
  if (run.kind !== 'charger' || networkOf(system).side(run) !== 'input') return undefined;
  const charger = atEnd(system.chargers, run);
  return charger?.kind === 'dc-dc' ? charger : undefined;
}

const ALLOWED = {
  pv: ['pv', 3],
  'controller-battery': ['battery', 2],
  'battery-inverter': ['battery', 2],
  charger: ['battery', 2],
  converter: ['dc', 3],
  'dc-load': ['dc', 3],
  link: ['dc', 3],
} as const;
/** The mains: what the wiring rules of most places ask; planning value. */
const AC_DROP_PCT = 3;
/** A dc-dc charger works from what arrives: planning values of its cable, and of the vehicle's bus with its engine running. */
const DCDC_DROP_PCT = 6;
const ENGINE_V: Record<12 | 24, number> = { 12: 13.8, 24: 27.6 };

/** Percent that may be lost along a run. */
function allowedDrop_pct(io: Ledger, run: Run): number {
  if (run.kind === 'ac') return AC_DROP_PCT;
  const charger = dcDcInputOf(io.model.system, run);
  if (charger) {
    const input = dcDcInput_V(io, charger);
    const least = io.or(`${charger.id}.inputMin_V`, charger.inputMin_V, input);
    const left = (100 * ((input === 24 ? ENGINE_V[24] : ENGINE_V[12]) - least)) / input;
    io.work(
      `of ${input === 24 ? ENGINE_V[24] : ENGINE_V[12]} V with the engine running the charger needs ${figure(least)} V: ${figure(left)} % may be lost`,
    );
    return Math.max(0, Math.min(DCDC_DROP_PCT, left));
  }
  const [school, fallback] = ALLOWED[run.kind];
  const limit = io.or(`schools.drop_pct.${school}`, io.model.schools.drop_pct?.[school], fallback);
  io.bySchool(`${limit} %`);
  return limit;
}

/** The school that says how much a run may drop. */
const dropSchool = ({ system }: Model, { subject }: Finding): string | null => {
  const kind = system.runs?.find(({ id }) => id === subject)?.kind;
  return kind && kind !== 'ac' ? `drop_pct.${ALLOWED[kind][0]}` : null;
};

const ampacity = rule<Run>({
  id: 'run.ampacity',
  title: 'Cable current',
  consequence: 'danger',
  sizeDoes: 'carries its current',
  bearsOn: ['load', 'cable'],
  school: 'conductor',
  curedByLimit: 'load',
  cases: runCases,
  evaluate: (io, run) =>
    inEitherAir(io, run, (own, inFreeAir) => {
      const design = design_A(own, run);
      const limits = limitsOf(own, run, inFreeAir);
      const continuous = own.school('conductor') === 'vehicle' ? design : continuous_A(own, run, design);
      own.work(`design ${figure(design)} A, continuous ${figure(continuous)} A`);
      const base = { unit: 'A', sense: 'max', tightAbove: 1 } as const;
      return {
        ratio: governing([
          { ...base, demand: continuous, limit: limits.column_A },
          { ...base, demand: design, limit: limits.derated_A },
        ]),
      };
    }),
  sentence({ demand, limit, verdict, subject, working }, model) {
    const what = partName(model, subject);
    if (verdict === 'unknown') return `How much ${what} can carry is not known yet.`;
    const { there, allowed } = apart(demand, limit);
    const set = working.some((line) => line.startsWith(AS_SET)) ? ', as set: label the device' : '';
    return `${what} carries ${there} A${set}; its limit is ${allowed} A.`;
  },
  remedies: sizeUp,
});

const drop = rule<Run>({
  id: 'run.drop',
  title: 'Voltage drop',
  consequence: 'loss',
  sizeDoes: 'keeps the voltage drop',
  bearsOn: ['load', 'cable'],
  school: dropSchool,
  cases: having((run, { system }) => !networkOf(system).isBatteryLink(run)),
  evaluate(io, run) {
    const current = run.kind === 'pv' ? impOfRun_A(io, run) : design_A(io, run);
    const ohm = runBothWays_ohm(io, run, WARM_C, true);
    const base = dropBase_V(io, run);
    const volts = current * ohm;
    const limit = allowedDrop_pct(io, run);
    io.work(
      `there and back ${figure(ohm * 1000)} mohm x ${figure(current)} A = ${figure(volts)} V, ${figure(volts * current)} W lost`,
    );
    io.work(`${figure(volts)} V of ${figure(base)} V = ${figure((100 * volts) / base)} %`);
    return { ratio: { demand: (100 * volts) / base, limit, unit: '%', sense: 'max', tightAbove: 0.8 } };
  },
  sentence({ demand, limit, verdict, subject }, model) {
    const what = partName(model, subject);
    if (verdict === 'unknown') return `The voltage drop of ${what} is not known yet.`;
    const { there, allowed } = apart(demand, limit);
    return `The voltage drop of ${what} is ${there} %; the limit is ${allowed} %.`;
  },
  remedies: (model, run) => [...jointsAway(run), ...sizeUp(model, run)],
  needs: 'Needs a thicker or shorter cable, or less current in it.',
});

/** A cable of a charger that charges another battery. */
const isElsewhere = (system: Model['system'], run: Run) => {
  const charger = run.kind === 'charger' ? atEnd(system.chargers, run) : undefined;
  return charger !== undefined && chargesElsewhere(system, charger);
};

const chargeSense = rule<Run>({
  id: 'run.charge-sense',
  title: 'Charger voltage sensing',
  consequence: 'life',
  sizeDoes: 'lets the charger sense the bank',
  bearsOn: ['cable'],
  cases: having(
    (run, { system }) =>
      !run.remoteSense &&
      !isElsewhere(system, run) &&
      (run.kind === 'controller-battery' || (run.kind === 'charger' && networkOf(system).side(run) === 'output')),
  ),
  evaluate(io, run) {
    const { bank } = io.model.system;
    if (!bank) io.miss('bank');
    io.flag(`${run.id}.remoteSense`, run.remoteSense);
    const volts = charging_A(io, run) * runBothWays_ohm(io, run, WARM_C, true);
    const cells = bank ? cellsInSeries(io, bank) : Number.NaN;
    io.work(`${figure(volts)} V at full current over ${cells} cells = ${figure(volts / cells)} V a cell`);
    return { ratio: { demand: volts / cells, limit: 0.05, unit: 'V/cell', sense: 'max', tightAbove: 0.8 } };
  },
  sentence: ({ demand, verdict }) =>
    verdict === 'unknown'
      ? 'How far off the charger reads the bank voltage is not known yet.'
      : `At full current the charger reads ${figure(demand ?? NaN, 2)} V a cell too high.`,
  remedies: (model, run) => [
    {
      title: 'Fit separate voltage sense wires to the bank',
      detail: 'thin, fused at the posts; only if the device has sense terminals',
      changes: [{ op: 'set' as const, at: 'runs', id: run.id, value: { remoteSense: true } }],
    },
    ...jointsAway(run),
    ...sizeUp(model, run),
  ],
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
  // The last line is the joints' own; what comes before it is how the current was found.
  sentence: ({ working }) => `This cable has more joints than it needs: ${working.at(-1) ?? ''}.`,
});

/** Rules of cables. */
export const runRules = [ampacity, drop, chargeSense, joints];
