import { FIELDS, KIND_ORDER, KINDS, readSystemFile, METRIC, shelfFields, type PartKind } from '../src/index';
import { BELONGS } from '../src/parts/words';
import { lowered, raised, said, withArticle } from '../src/parts/said';
import { written } from '../src/written/units';

/**
 * What each kind of part is, written again from the survey sheet: what there is one of, what is bought and cabled, what of
 * it can lie on a shelf, and how it is said in a line.
 */

describe('kinds', () => {
  test.each<[PartKind, word: string, goods: string, cabled: boolean, shelf: object | null]>([
    ['moduleTypes', 'Module', 'parts', false, {}],
    ['arrays', 'Array', 'parts', true, null],
    ['controllers', 'Controller', 'bought', true, {}],
    ['bank', 'Bank', 'bought', true, { series: 1, parallel: 1 }],
    ['inverters', 'Inverter', 'bought', true, {}],
    ['runs', 'Cable', 'bought', false, null],
    ['switches', 'Switch', 'bought', false, { runId: 'cable' }],
    ['loads', 'Load', 'own', true, { hours_d: 0 }],
    ['chargers', 'Charger', 'bought', true, {}],
    ['sources', 'Generator, inlet or alternator', 'bought', true, {}],
    ['distribution', 'Distribution', 'bought', true, {}],
    ['converters', 'Converter', 'bought', true, {}],
    ['monitor', 'Monitor', 'bought', false, {}],
    ['otherBanks', 'Other battery', 'bought', false, null],
    ['states', 'State', 'parts', false, null],
  ])('%s', (kind, word, goods, cabled, shelf) => {
    const of = KINDS[kind];
    expect([of.word, of.goods, of.cabled, of.shelf?.onSite ?? null]).toEqual([word, goods, cabled, shelf]);
  });
  test('there is one bank and one monitor; of everything else there may be several', () => {
    expect(KIND_ORDER.filter((kind) => KINDS[kind].single)).toEqual(['bank', 'monitor']);
  });
  // What a plate, an eye or a rule needs before anything can be said; the rest may wait.
  test.each<[PartKind, string]>([
    ['moduleTypes', 'label pmax_W voc_V isc_A vmp_V imp_A betaVoc_pct_C maxSeriesFuse_A'],
    ['arrays', 'label strings controllerId'],
    ['controllers', 'label type maxPv_V maxOutput_A maxPv_A'],
    ['bank', 'label chemistry block_V blockCapacity_Ah series parallel age_y'],
    ['inverters', 'label continuous_W surge_W waveform'],
    ['runs', 'label kind from to length_m size protection.type protection.rating_A'],
    ['switches', 'label kind runId rating_A'],
    ['loads', 'label kind power_W hours_d type'],
    ['chargers', 'label kind max_A'],
    ['sources', 'label kind power_W'],
    ['distribution', 'label slots rating_A'],
    ['converters', 'label in_V out_V max_A'],
    ['monitor', 'label shunt_A'],
    ['otherBanks', 'label role chemistry nominal_V joinedBy'],
    ['states', 'label off'],
  ])('%s: asked first', (kind, first) =>
    expect(FIELDS[kind].flatMap((field) => (field.first ? [field.path] : []))).toEqual(first.split(' ')),
  );
  test('an inverter passes on what its successor must have too: how it changes over, and its legs', () => {
    const passed = FIELDS.inverters.filter(({ passesOn, required }) => passesOn && !required);
    expect(passed.map(({ path }) => path)).toEqual(['transfer', 'legs']);
    expect(FIELDS.inverters.find(({ path }) => path === 'idle_W')?.passesOn).toBe(false);
  });
  test('how a field is entered follows from what it holds', () => {
    const entry = (kind: PartKind, path: string) => FIELDS[kind].find((field) => field.path === path);
    expect(entry('loads', 'kind')).toMatchObject({ kind: 'choice', choices: ['ac', 'dc'] });
    expect(entry('loads', 'label')).not.toHaveProperty('choices');
    expect(entry('loads', 'label')?.kind).toBe('text');
    expect(entry('loads', 'needsSine')?.kind).toBe('flag');
    expect(entry('runs', 'size')?.kind).toBe('size');
    expect(entry('runs', 'from')?.kind).toBe('part');
    expect(entry('distribution', 'circuits')?.kind).toBe('parts');
    expect(entry('arrays', 'strings')?.kind).toBe('strings');
  });
});

test('what a field belongs to decides where it goes when the part goes', () => {
  const row = ({ anotherPart, stays, onShelf }: (typeof BELONGS)['plate']) => [anotherPart, stays, onShelf];
  expect(Object.fromEntries(Object.entries(BELONGS).map(([name, of]) => [name, row(of)]))).toEqual({
    plate: [true, false, true],
    state: [true, false, false],
    fitting: [false, false, true],
    setting: [false, true, false],
    place: [false, true, false],
    link: [false, true, false],
  });
  expect(shelfFields('bank').map(({ path }) => path)).not.toContain('age_y');
});

describe('in a line', () => {
  const fact = <K extends PartKind>(kind: K, part: Parameters<(typeof KINDS)[K]['fact']>[0], among: object = {}) =>
    KINDS[kind].fact(part as never, among, written(METRIC)).replaceAll('\u00a0', ' ');
  const module = { id: 'm', label: 'M', pmax_W: 310, voc_V: 40, isc_A: 10, vmp_V: 33, imp_A: 9.4, cells: 60 };
  test.each<[strings: string[][], text: string]>([
    [[['m']], '1 \u00d7 310 W \u00b7 alone'],
    [[['m', 'm', 'm']], '3 \u00d7 310 W \u00b7 one string'],
    [[['m', 'm'], ['m']], '3 \u00d7 310 W \u00b7 strings of 2 + 1'],
    [
      [
        ['m', 'm'],
        ['m', 'm'],
      ],
      '4 \u00d7 310 W \u00b7 2 in series, 2 strings',
    ],
    [[['m'], ['m']], '2 \u00d7 310 W \u00b7 1 in series, 2 strings'],
  ])('an array %j', (strings, text) =>
    expect(fact('arrays', { id: 'a', strings }, { moduleTypes: [module] })).toBe(text),
  );
  test('an array of two types has no watts of one', () =>
    expect(
      fact(
        'arrays',
        { id: 'a', strings: [['m', 'n']] },
        {
          moduleTypes: [module, { ...module, id: 'n', pmax_W: 200 }],
        },
      ),
    ).toMatch(/^2 \u00d7 mixed/));
  const bank = { id: 'b', chemistry: 'agm', block_V: 6, blockCapacity_Ah: 200, series: 2, parallel: 1 } as const;
  test.each([
    [{ series: 2, parallel: 1 }, '2 \u00d7 6 V 200 Ah AGM'],
    [{ series: 1, parallel: 3 }, '3 \u00d7 6 V 200 Ah AGM'],
    [{ series: 2, parallel: 3 }, '2 \u00d7 3 \u00d7 6 V 200 Ah AGM'],
    [{ series: 1, parallel: 1, age_y: 4 }, '1 \u00d7 6 V 200 Ah AGM \u00b7 4 y'],
    [{ series: 1, parallel: 1, age_y: 0 }, '1 \u00d7 6 V 200 Ah AGM'],
  ])('a bank %j', (more, text) => expect(fact('bank', { ...bank, ...more })).toBe(text));
  test('a controller says which of its plate is not read', () => {
    const of = (maxPv_V: number | null) =>
      fact('controllers', { id: 'c', type: 'mppt', maxOutput_A: 60, maxPv_V } as never);
    expect([of(150), of(null), of(0)]).toEqual([
      'MPPT 60 A \u00b7 150 V',
      'MPPT 60 A \u00b7 PV voltage?',
      'MPPT 60 A \u00b7 PV voltage?',
    ]);
  });
  test('a load says how many and how long, where that is anything', () => {
    const of = (more: object) =>
      fact('loads', { id: 'l', label: 'L', kind: 'dc', power_W: 12, hours_d: 5, ...more } as never);
    expect([of({}), of({ quantity: 1 }), of({ quantity: 3 }), of({ hours_d: 0 }), of({ hours_d: 0.5 })]).toEqual([
      '12 W \u00b7 5 h a day',
      '12 W \u00b7 5 h a day',
      '3 \u00d7 12 W \u00b7 5 h a day',
      '12 W',
      '12 W \u00b7 0.5 h a day',
    ]);
  });
  test('another battery says by what it is joined', () => {
    const of = (joinedBy: string | null) =>
      fact('otherBanks', { id: 'o', role: 'starter', chemistry: 'agm', nominal_V: 12, joinedBy } as never);
    expect([of('relay'), of('dc-dc'), of('none'), of(null)]).toEqual([
      '12 V AGM \u00b7 by relay',
      '12 V AGM \u00b7 by DC-DC',
      '12 V AGM',
      '12 V AGM',
    ]);
  });
});

describe('words', () => {
  test.each([
    ['AGM bank', 'an AGM bank'],
    ['NH fuse', 'an NH fuse'],
    ['inverter', 'an inverter'],
    ['class T fuse', 'a class T fuse'],
    ['DC breaker', 'a DC breaker'],
    ['Load', 'a Load'],
  ])('%s', (words, withIt) => expect(withArticle(words)).toBe(withIt));
  test('a first letter large or small, but signs stay signs', () => {
    expect([raised('the fuse'), raised(''), raised('x')]).toEqual(['The fuse', '', 'X']);
    expect([
      lowered('The fuse'),
      lowered('DC fuse'),
      lowered('Voc in the cold'),
      lowered('Voltage'),
      lowered('a'),
    ]).toEqual(['the fuse', 'DC fuse', 'Voc in the cold', 'voltage', 'a']);
  });
  test('what the format writes with strokes', () =>
    expect([said('thermal-breaker'), said('class-t'), said('cca'), said('flooded')]).toEqual([
      'thermal breaker',
      'class T',
      'copper-clad aluminium',
      'flooded',
    ]));
});

describe('what a field may hold', () => {
  const faults = (system: object): string[] => {
    try {
      readSystemFile(JSON.stringify({ format: 'true-lantern', version: 1, site: { name: 'S' }, system }));
      return [];
    } catch (error) {
      return (error as { faults: { path: string; message: string }[] }).faults.map(
        ({ path, message }) => `${path}: ${message}`,
      );
    }
  };
  const run = (size: unknown) => faults({ runs: [{ id: 'r', kind: 'link', length_m: 1, size }] });
  test.each(['0.1mm2', '5000mm2', '1AWG', '40AWG', '4/0AWG', '2.5mm2'])('%s is a size', (size) =>
    expect(run(size)).toEqual([]),
  );
  test.each(['0.09mm2', '5001mm2', '41AWG'])('%s is none that is sold', (size) =>
    expect(run(size)).toEqual([`system.runs[0].size: is "${size}", expected 0.1 to 5000 mm2, or 40 to 4/0 AWG`]),
  );
  test.each(['5/0AWG', '6', 'thick', '6 mm2', ''])('"%s" is no size', (size) =>
    expect(run(size)).toEqual([`system.runs[0].size: is "${size}", expected a size like "6mm2", "10AWG" or "2/0AWG"`]),
  );
  test('what is wrong is quoted, but no more of it than is read', () => {
    expect(run(7)[0]).toBe('system.runs[0].size: is 7, expected a size like "6mm2", "10AWG" or "2/0AWG"');
    const long = run('x'.repeat(100))[0]!;
    expect(long).toContain(`is "${'x'.repeat(56)}...", expected`);
    const just = run('x'.repeat(58))[0]!;
    expect(just).toContain(`is "${'x'.repeat(58)}", expected`);
    expect(run([1])[0]).toContain('is a list, expected');
    expect(run({})[0]).toContain('is an object, expected');
    expect(run(undefined)[0]).toMatch(/^system\.runs\[0\]\.size: is missing, expected/);
  });
  test('a list may have 5,000 members and no more', () => {
    const loads = (count: number) =>
      faults({
        loads: Array.from({ length: count }, (_, i) => ({
          id: `l${i}`,
          label: 'L',
          kind: 'dc',
          power_W: 1,
          hours_d: 1,
        })),
      });
    expect(loads(5001)).toEqual([expect.stringMatching(/^system\.loads: /)]);
    expect(loads(5000)).toEqual([]);
  });
});
