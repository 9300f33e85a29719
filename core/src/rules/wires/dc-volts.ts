import { raised } from '../../parts/said';
import { hasCharger } from '../../bank/charging';
import { cellsInSeries, top_V } from '../../bank/bank';
import { floatCell_V } from '../../chemistry/chemistry';
import { dcDcInput_V, stringsOfRun } from '../../power/design';
import { atEnd, networkOf, touches } from '../../conductors/network';
import { coldString_V } from '../../pv/strings';
import { arraysOf, chargesElsewhere, type Model } from '../../system/model';
import { type Charger, type Run } from '../../system/schema';
import { apart, figure } from '../../ledger/figures';
import { type Ledger } from '../../ledger/ledger';
import { cableAndFuse, fuseCures, stringFuses } from '../cures/wires';
import { rule, type Case, type Outcome } from '../rule';
import { deviceOf, hasDevice, having } from './run-limits';
import { arrayRun, cableName, fusePath, isFuse, STRING, withStrings } from './string-own';

/** Volts and direction of direct current at a fuse, a breaker or a switch. */

/** What interrupts the current, as its plate has it. */
interface Device {
  /** Where it is recorded: `r1.protection`, `sw1`. */
  path: string;
  /** Breakers and switches are made for one or the other; a fuse is taken to be made for DC. */
  asks: boolean;
  dcRated: boolean | null | undefined;
  polarised: boolean | null | undefined;
  voltage_V: number | null | undefined;
}

/** Strings on the controller input that a pv run leads to, whatever array they are of. */
const stringsOnInput = ({ system }: Model, run: Run): number => {
  const array = atEnd(system.arrays, run);
  const controller =
    atEnd(system.controllers, run) ?? (system.controllers ?? []).find(({ id }) => id === array?.controllerId);
  return controller
    ? arraysOf(system, controller.id).reduce((sum, { strings }) => sum + strings.length, 0)
    : (array?.strings.length ?? 0);
};

/** Whether a device is made for the direct volts of its run, and for current that may flow both ways. */
export function dcVolts(io: Ledger, run: Run, { path, asks, dcRated, polarised, voltage_V }: Device): Outcome {
  const { system } = io.model;
  const known = dcRated !== null && dcRated !== undefined;
  if (asks && !known) io.miss(`${path}.dcRated`);
  if (asks || known) io.see(`${path}.dcRated`, dcRated);
  else io.guess(`${path}.dcRated`);
  // A device that is not made for DC, or the wrong way round, is over whether or not its volts were read.
  if (dcRated === false) {
    io.work('not made for DC');
    return { verdict: 'over' };
  }
  const both =
    touches(run, system.bank?.id) ||
    (system.inverters ?? []).some((inverter) => hasCharger(inverter) && touches(run, inverter.id)) ||
    (run.kind === 'pv' && Math.max(stringsOfRun(io, run).length, stringsOnInput(io.model, run)) > 1);
  if (both && io.flag(`${path}.polarised`, polarised)) {
    io.work('polarised, where current flows both ways');
    return { verdict: 'over' };
  }
  const limit = io.need(`${path}.voltage_V`, voltage_V);
  const { demand, floatBelow } = voltsAt(io, run, limit);
  io.work(`${figure(demand)} V on a device for ${figure(limit)} V DC`);
  return { ratio: { demand, limit, unit: 'V', sense: 'max', tightAbove: 1, softened: floatBelow } };
}

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
    if (charger?.kind === 'dc-dc' && !chargesElsewhere(system, charger))
      return { demand: dcDcInput_V(io, charger) === 12 ? 15 : 30, floatBelow: false };
  }
  const elsewhere = run.kind === 'charger' && network.side(run) === 'output' ? atEnd(system.chargers, run) : undefined;
  if (elsewhere && chargesElsewhere(system, elsewhere))
    return { demand: elsewhere_V(io, elsewhere), floatBelow: false };
  if (!bank) return { demand: io.need('bank', null), floatBelow: false };
  const resting = cellsInSeries(io, bank) * floatCell_V(bank.chemistry);
  return { demand: top_V(io, bank), floatBelow: resting <= limit };
}

/** Above its label a battery that nobody described is charged by so much; planning value. */
const CHARGED_ABOVE = 1.2;
/** The highest volts at a charger of another battery: as it is set, else a planning value, V. */
function elsewhere_V(io: Ledger, { id, output_V, settings }: Charger): number {
  const set = [settings?.absorb_V, settings?.equalise_V].filter((volts): volts is number => Boolean(volts));
  return set.length > 0 ? Math.max(...set) : CHARGED_ABOVE * io.need(`${id}.output_V`, output_V);
}

/** What a verdict on volts says of a device. */
export function voltsSentence(
  what: string,
  {
    demand,
    limit,
    verdict,
    working,
  }: { demand: number | null; limit: number | null; verdict: string; working: string[] },
): string {
  if (verdict === 'unknown') return `Whether ${what} is rated for DC here is not recorded.`;
  if (working.includes('not made for DC')) return `${what} is not rated for DC.`;
  if (working.some((line) => line.startsWith('polarised')))
    return `${what} is polarised, where current flows both ways.`;
  const { there, allowed } = apart(demand, limit);
  return `${raised(what)} is at ${there} V; it is rated for ${allowed} V DC.`;
}

const arrayCases = (model: Model): Case<Run>[] =>
  (model.system.arrays ?? [])
    .filter(({ stringProtection }) => isFuse(stringProtection))
    .map((array) => ({ subject: array.id, quantity: STRING, about: arrayRun(array) }));

/** Why volts above a rating are tight and not over. */
export const BOOST_ONLY = 'only during absorption; at float it is within its rating';

const dcRating = rule<Run>({
  id: 'run.dc-rating',
  letOff: BOOST_ONLY,
  title: 'DC voltage rating',
  consequence: 'danger',
  bearsOn: ['fuse'],
  cautions: ['dcRated'],
  cases: (model) => [...withStrings(having((run) => hasDevice(run) && run.kind !== 'ac'))(model), ...arrayCases(model)],
  evaluate(io, run, quantity) {
    const { protection } = run;
    const type = deviceOf(run) ?? 'blade';
    return dcVolts(io, run, {
      path: fusePath(run, quantity),
      asks: type === 'breaker' || type === 'thermal-breaker',
      dcRated: protection?.dcRated,
      polarised: protection?.polarised,
      voltage_V: protection?.voltage_V,
    });
  },
  sentence: (finding, model) =>
    voltsSentence(`the fuse of ${cableName(model, finding.subject, finding.quantity)}`, finding),
  remedies: (model, run, { quantity, subject }) =>
    quantity !== STRING
      ? [...fuseCures(model, run), ...cableAndFuse(model, run)]
      : subject === model.system.bank?.id
        ? stringFuses(model)
        : [],
  needs:
    'Needs the same class of device, rated for DC at that voltage and for current both ways. Its data sheet must say so.',
});

/** Rules of what breaks DC. */
export const dcRules = [dcRating];
