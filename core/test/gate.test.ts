import { join } from 'node:path';
import { DEMO_SHELF } from '../../demo/shelf';
import {
  check,
  checkSystemFile,
  convert,
  interim,
  layouts,
  modelOf,
  overOf,
  raiseVoltage,
  remediesOf,
  specify,
  leastChanges,
  wholeConversion,
  withChecked,
  type Change,
  type Model,
  type SystemFile,
} from '../src/index';
import { eachPart } from '../src/system/parts';
import { aspectsOf } from '../src/successor/specify';
import { hut } from './hut';
import { filesIn, mutated, numbers, openedOrRefused } from './mutated-files';
import { SITES } from './open';
import { CABIN, HOUSE, VAN } from '../src/faults/made-up';
import { runs } from './runs';

/** Whatever is proposed is what a file may hold: what a person taps "Save" on is on the list afterwards. */

const folder = join(__dirname, '../../docs/format/reference');
const REFERENCE = filesIn(folder).map(([name, file]): [string, SystemFile] => [name, checkSystemFile(file).file]);

/** Read again as a file would be, and judged: no fault, no figure without an end. */
function passes(model: Model, changes: Change[]): void {
  const after = withChecked(model, changes);
  const endless = check(after).filter(({ demand, limit, use }) =>
    [demand, limit, use].some((value) => value !== null && !Number.isFinite(value)),
  );
  expect(endless).toEqual([]);
}

/** What may replace each part, made to order: the least that its specification asks for. */
const madeToOrder = (model: Model, of = eachPart(model.system)): Change[][] =>
  of.flatMap(({ kind, part }) =>
    aspectsOf(kind).flatMap((aspect) => {
      const spec = specify(model, part.id, aspect);
      return spec ? [leastChanges(model, spec, 'To be chosen')] : [];
    }),
  );

const converts = (model: Model): Change[][] => convert(model, DEMO_SHELF).options.map(({ changes }) => changes);
const raises = (model: Model): Change[][] =>
  [24, 48].flatMap((volts) => {
    const raised = raiseVoltage(model, volts);
    return raised ? [raised.changes] : [];
  });

const NAMED: [string, Model][] = [
  ...SITES,
  ...REFERENCE.map(([name, file]): [string, Model] => [name, modelOf(file)]),
  ...[CABIN, HOUSE, VAN].map((file): [string, Model] => [file.site.name, modelOf(file)]),
];

describe.each(NAMED)('%s', (_, model) => {
  test('parts made to order, conversions, steps up: each is what a file may hold', () => {
    for (const changes of [...madeToOrder(model), ...converts(model), ...raises(model)]) passes(model, changes);
  });
  test('remedies, layouts, limits', () => {
    const findings = check(model);
    for (const finding of findings)
      for (const { changes } of remediesOf(model, finding, findings)) passes(model, changes);
    for (const { changes } of layouts(model, 6) ?? []) passes(model, changes);
    passes(model, interim(model).changes);
  });
});

test('a conversion whose chargers stay to be chosen is saved whole: volts are numbers, nothing is left out', () => {
  // A shelf of packs alone: whatever else must be replaced stays to be chosen.
  const packs = DEMO_SHELF.filter(({ kind }) => kind === 'bank');
  const model = hut((system) => {
    system.nominal_V = 24;
    Object.assign(system.bank!, { chemistry: 'flooded', block_V: 6, cells: 3, series: 4 });
    system.bank!.place = { space: 'outbuilding', min_C: 8, max_C: 25, ventArea_cm2: 400 };
    system.chargers = [
      { id: 'mains', kind: 'mains', max_A: 30, profiles: ['flooded'] },
      { id: 'dcdc', kind: 'dc-dc', max_A: 20, input_V: 24, profiles: ['flooded'] },
    ];
    system.inverters = [{ id: 'inv', continuous_W: 1000, idle_W: 10, minDc_V: 21, maxDc_V: 32, lowCutoff_V: 22 }];
  });
  const answer = convert(model, packs);
  expect(answer.missing).toEqual([]);
  const [option] = answer.options;
  const whole = wholeConversion(model, option!, packs);
  expect(whole.refused).toEqual([]);
  const chosen = whole.steps.filter(({ title }) => title.includes('to be chosen')).map(({ id }) => id);
  expect(chosen).toEqual(expect.arrayContaining(['mains', 'dcdc']));
  const after = withChecked(model, whole.changes);
  expect(after.system.chargers?.map(({ output_V }) => output_V)).toEqual([24, 24]);
  expect(after.system.chargers?.find(({ id }) => id === 'dcdc')?.input_V).toBe(24);
});

/** Kinds whose specification asks few rules: what is dear to specify is specified on the named systems. */
const QUICK = new Set<string>(['chargers', 'otherBanks', 'converters', 'monitor']);

test('a thousand systems, sound or not: what is proposed for them is what a file may hold', () => {
  const next = numbers(26);
  const most = runs(1000);
  const sources = [...REFERENCE.map(([, file]) => file), ...SITES.map(([, { site, system }]) => ({ site, system }))];
  let tried = 0;
  for (let n = 0; tried < most && n < 20 * most; n++) {
    const { site, schools, system } = sources[n % sources.length] as SystemFile;
    const wild = { format: 'true-lantern', version: 1, site, schools, system: mutated(system, next) };
    const model = openedOrRefused(wild);
    if (!model) continue;
    tried++;
    // One part each: over a thousand systems every kind comes many times.
    const parts = eachPart(model.system).filter(({ kind }) => QUICK.has(kind));
    const one = parts[Math.floor(next() * parts.length)];
    for (const changes of madeToOrder(model, one ? [one] : [])) expect(() => withChecked(model, changes)).not.toThrow();
    if (tried % 200 > 0) continue;
    for (const changes of raises(model)) expect(() => withChecked(model, changes)).not.toThrow();
    if (tried % 100 > 0) continue;
    for (const changes of converts(model)) expect(() => withChecked(model, changes)).not.toThrow();
    const findings = check(model);
    for (const finding of overOf(findings).slice(0, 2))
      for (const { changes } of remediesOf(model, finding, findings)) passes(model, changes);
  }
  expect(tried).toBe(most);
});
