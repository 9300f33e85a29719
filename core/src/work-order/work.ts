import { cellsInSeries, fullCell_V } from '../bank/bank';
import { restCell_V } from '../bank/rest';
import { CHEMISTRY, isLithium } from '../chemistry/chemistry';
import { partName } from '../conductors/names';
import { createLedger } from '../ledger/ledger';
import { CONDITIONS } from '../readings/conditions';
import { expectedTests } from '../readings/expect';
import type { ExpectedTest } from '../readings/row';
import { arrayAt } from '../readings/sun-at';
import { check } from '../rules/check';
import type { Finding } from '../rules/finding';
import type { StoredItem } from '../shelf/item';
import { mainsSources, type Model } from '../system/model';
import { coilsOf, cutsOf, type Coil, type Cut } from './cuts';
import { differences } from './difference';
import { kitOf, type KitLine } from './parts-list';
import { removedOf, type Removed } from './removed';
import { stepsOf } from './steps';
import type { Step } from './order';

/** What is fetched, cut, taken out, written on labels, and done, so that one system becomes another. */
export interface Work {
  kit: KitLine[];
  cuts: Cut[];
  coils: Coil[];
  removed: Removed[];
  tools: string[];
  labels: Label[];
  steps: Step[];
}
/** A label to be written, and where it goes. */
export interface Label {
  text: string;
  where: string;
}

/**
 * The work of a proposal (docs/work-orders-and-readings.md), by comparing the system as found with the one proposed; the same
 * answer every time.
 * @param findings of the proposed system, where they are at hand
 */
export function workOf(
  before: Model,
  after: Model,
  shelf: readonly StoredItem[] = [],
  findings?: readonly Finding[],
): Work {
  const works = differences(before.system, after.system);
  if (works.length === 0) return { kit: [], cuts: [], coils: [], removed: [], tools: [], labels: [], steps: [] };
  const handled = works.some(({ strip, fit }) => strip || fit);
  const judgedAll = findings ?? check(after);
  const steps = stepsOf(
    before,
    after,
    works,
    whateverTheWeather(after, expectedTests(after, {}, (quantity) => EXPECTED.has(quantity)).tests),
    judgedAll,
  );
  const cuts = cutsOf(works, after.system);
  const coils = coilsOf(cuts);
  const labels = handled ? labelsOf(after) : [];
  // Fuses that nobody chose to the end are asked for by what the rules demand of them.
  const judged = works.some(({ fuses }) => fuses.some(({ device }) => !device.voltage_V || !device.interrupt_A))
    ? judgedAll
    : [];
  return {
    kit: kitOf(works, {
      before: before.system,
      after: after.system,
      cuts,
      coils,
      labels: labels.length,
      findings: judged,
      shelf,
    }),
    cuts,
    coils,
    removed: removedOf(works, before.system, after.system),
    tools: [...new Set(steps.flatMap(({ tool }) => tool?.split(', ') ?? []))].sort(),
    labels,
    steps,
  };
}

/** What the steps of an order look at. */
const EXPECTED: ReadonlySet<string> = new Set(['rest_V', 'stringVoc_V', 'idle_A', 'minDc_V']);

/**
 * An order is worked whatever the light and the charge: what its steps expect of the bank and of the strings is as wide
 * as those may be, and still tells a wrong polarity, a block or a module too few or too many.
 */
function whateverTheWeather(model: Model, tests: readonly ExpectedTest[]): ExpectedTest[] {
  const { system } = model;
  const io = createLedger(model);
  const extremes = [DIM_AND_HOT, BRIGHT_AND_COLD].map((at) => ({ ...CONDITIONS, ...at }));
  const wide = new Map<string, (string: number) => [number, number]>();
  for (const array of system.arrays ?? []) {
    const found = extremes.map((at) => arrayAt(io, array, at, () => null).strings.map(({ voc_V }) => voc_V));
    wide.set(array.id, (s) => [found[0]?.[s] ?? Number.NaN, found[1]?.[s] ?? Number.NaN]);
  }
  return tests.map((test) => {
    const { bank } = system;
    if (test.quantity === 'rest_V' && bank && test.subject === bank.id) {
      const cells = cellsInSeries(io, bank);
      const low = cells * restCell_V(bank.chemistry, 0, fullCell_V(io, bank));
      return { ...test, low, high: cells * CHEMISTRY[bank.chemistry].neverAbove_V };
    }
    const bounds = test.quantity === 'stringVoc_V' ? wide.get(test.subject)?.(test.position?.string ?? 0) : undefined;
    if (!bounds) return test;
    const { cannotTell: _, ...rest } = test;
    return {
      ...rest,
      low: Math.min(bounds[0], test.low ?? bounds[0]),
      high: Math.max(bounds[1], test.high ?? bounds[1]),
    };
  });
}
const DIM_AND_HOT = { irradiance_W_m2: 100, ambient_C: 40 };
const BRIGHT_AND_COLD = { irradiance_W_m2: 1100, ambient_C: -10 };

/** What the cautions ask to be written where. */
function labelsOf(model: Model): Label[] {
  const { system } = model;
  const { bank, arrays, inverters, chargers } = system;
  const labels: Label[] = [];
  const supplies = mainsSources(system);
  if ((inverters ?? []).length > 0 && supplies.length > 0)
    labels.push({ text: 'Two supplies: isolate both', where: 'at the AC board and at every point of isolation' });
  for (const { id } of arrays ?? [])
    labels.push({
      text: 'PV: live in daylight',
      where: `at the isolator and the cable of ${partName(model, id)}`,
    });
  if (bank && isLithium(bank.chemistry)) {
    labels.push({ text: 'Lithium: no lead charger', where: `at ${partName(model, bank.id)}` });
    for (const { id } of chargers ?? [])
      labels.push({ text: 'Set for lithium: do not change', where: `at ${partName(model, id)}` });
  }
  if (bank)
    labels.push({
      text: 'Off: loads, AC sources, inverter, engine, PV, then the bank. On: in reverse order',
      where: 'at the bank\u2019s isolator',
    });
  if ((chargers ?? []).some(({ kind, onInverterOutput }) => kind === 'mains' && onInverterOutput))
    labels.push({ text: 'Never with the inverter on', where: 'at the mains charger' });
  return labels;
}
