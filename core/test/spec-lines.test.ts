import { judgeLine, leftAs, since, specify, check, type Finding, type SpecLine, type System } from '../src/index';
import { apart, counted, figure, round } from '../src/ledger/figures';
import { isWorse, harmOf } from '../src/rules/cures/worse';
import { hut } from './hut';

const spec = (more: Partial<SpecLine>): SpecLine => ({
  field: 'maxPv_V',
  label: '',
  test: 'least',
  value: 150,
  exact: 149.2,
  unit: 'V',
  words: [],
  rule: null,
  why: [],
  missing: [],
  assumed: [],
  must: true,
  ...more,
});

describe('one figure of a sheet against its line', () => {
  test('at least: as rounded, or as exact; a whisker of arithmetic is no fault, a tenth is', () => {
    expect(judgeLine(spec({}), 150)).toBe('pass');
    expect(judgeLine(spec({}), 149.2)).toBe('pass');
    expect(judgeLine(spec({}), 149.1)).toBe('fail');
    expect(judgeLine(spec({ value: 0.3, exact: null }), 0.1 + 0.2)).toBe('pass');
    expect(judgeLine(spec({ value: 0.1 + 0.2, exact: null }), 0.3)).toBe('pass');
    expect(judgeLine(spec({ exact: null }), 149.9)).toBe('fail');
  });
  test('at most, the other way round', () => {
    const most = (more: Partial<SpecLine> = {}) => spec({ test: 'most', value: 30, exact: 30.4, unit: 'A', ...more });
    expect(judgeLine(most(), 30)).toBe('pass');
    expect(judgeLine(most(), 30.4)).toBe('pass');
    expect(judgeLine(most(), 30.5)).toBe('fail');
    expect(judgeLine(most({ exact: null }), 30.1)).toBe('fail');
    expect(judgeLine(most({ value: 0.3, exact: null }), 0.1 + 0.2)).toBe('pass');
  });
  test('a blank, words for a figure, a figure for words: not stated, never a pass', () => {
    for (const stated of [null, undefined, '', '150', true]) expect(judgeLine(spec({}), stated)).toBe('not-stated');
    expect(judgeLine(spec({ test: 'size', value: '16mm2' }), 25)).toBe('not-stated');
    expect(judgeLine(spec({ test: 'size', value: 16 }), '25mm2')).toBe('not-stated');
    expect(judgeLine(spec({ test: 'true', value: null }), 'yes')).toBe('not-stated');
    expect(judgeLine(spec({ test: 'includes', words: ['lfp'] }), 'lfp')).toBe('not-stated');
  });
  test('what itself rests on something unknown passes nothing', () =>
    expect(judgeLine(spec({ missing: ['roof.strings'] }), 1000)).toBe('not-stated'));
  test('sizes by area, one system against the other; lists by a word; flags', () => {
    const size = spec({ test: 'size', value: '16mm2' });
    expect(['16mm2', '25mm2', '4AWG', '6AWG', '10mm2'].map((each) => judgeLine(size, each))).toEqual([
      'pass',
      'pass',
      'pass',
      'fail',
      'fail',
    ]);
    expect(judgeLine(spec({ test: 'one-of', words: ['12', '24'] }), 24)).toBe('pass');
    expect(judgeLine(spec({ test: 'one-of', words: ['12', '24'] }), 48)).toBe('fail');
    expect(judgeLine(spec({ test: 'includes', words: ['lfp', 'custom'] }), ['agm', 'custom'])).toBe('pass');
    expect(judgeLine(spec({ test: 'includes', words: ['lfp'] }), ['agm'])).toBe('fail');
    expect([true, false].map((each) => judgeLine(spec({ test: 'true' }), each))).toEqual(['pass', 'fail']);
    expect([true, false].map((each) => judgeLine(spec({ test: 'false' }), each))).toEqual(['fail', 'pass']);
  });
});

describe('what a successor must be, at the edges', () => {
  const lines = (change: (system: System) => void, id: string) => specify(hut(change), id)?.lines ?? [];
  const field = (all: readonly SpecLine[], name: string) => all.filter((line) => line.field === name);
  const inverter =
    (more: object = {}) =>
    (system: System) =>
      void (system.inverters = [{ id: 'i', continuous_W: 500, ...more }]);
  test('a modified wave only where every load is known to be content with it', () => {
    const wave = (loads: object[]) =>
      field(
        lines((system) => {
          inverter()(system);
          system.loads = loads.map((more, i) => ({
            id: `l${i}`,
            label: `L${i}`,
            kind: 'ac',
            power_W: 50,
            hours_d: 1,
            inverterId: 'i',
            ...more,
          }));
        }, 'i'),
        'waveform',
      )[0]?.words;
    expect(wave([])).toEqual(['sine']);
    expect(wave([{ needsSine: false }])).toContain('modified');
    expect(wave([{ needsSine: false }, {}])).toEqual(['sine']);
    expect(wave([{ needsSine: true }])).toEqual(['sine']);
  });
  test('one that passes the mains on, by a switch of its own or beside it, is followed by one that can', () => {
    const transfer = (more: object) => field(lines(inverter(more), 'i'), 'transfer').length;
    expect([{ transfer: 'built-in' }, { transfer: 'external' }, { feeds: 'building' }].map(transfer)).toEqual([
      1, 1, 1,
    ]);
    expect(transfer({ transfer: 'none' })).toBe(0);
  });
  test('of two sources the smaller says how far down the input must be set: .8 of 1,000 W at 230 V is 3.4 A', () => {
    const limit = (sources: object[]) =>
      field(
        lines((system) => {
          inverter({ transfer: 'built-in', charger: { max_A: 40 } })(system);
          system.sources = sources as never;
        }, 'i'),
        'inputLimit_A',
      )[0];
    expect(limit([{ id: 'g', kind: 'generator', power_W: 1000, ac_V: 230 }])).toMatchObject({ test: 'most', value: 3 });
    expect(
      limit([
        { id: 'g', kind: 'generator', power_W: 5000 },
        { id: 'in', kind: 'inlet', inlet_A: 6 },
      ]),
    ).toMatchObject({
      value: 6,
    });
    expect(limit([{ id: 'in', kind: 'inlet', power_W: 1000, ac_V: 100 }])).toMatchObject({ value: 8 });
    expect(limit([{ id: 'in', kind: 'inlet', power_W: 1000, inlet_A: 10, ac_V: 100 }])).toMatchObject({ value: 10 });
    expect(limit([])).toBeUndefined();
  });
  test('lead wants no proof of stopping in the cold; lithium does, unless it is heated or stands warm', () => {
    const cold = (bank: object) =>
      field(
        lines((system) => void Object.assign(system.bank!, bank), 'b'),
        'lowTemperatureProtection',
      ).length;
    expect(cold({})).toBe(0);
    expect(cold({ chemistry: 'lfp' })).toBe(1);
    expect(cold({ chemistry: 'lfp', heated: true })).toBe(0);
    expect(cold({ chemistry: 'lfp', place: { space: 'living', min_C: 10 } })).toBe(0);
  });
});

describe('figures as a person writes them', () => {
  test('about four digits, none of them noise', () => {
    expect(
      [0, 0.00004, 0.12345, 1.5, 12.345, 123.456, 12_345.6, -0.5, Number.NaN, Infinity].map((value) => figure(value)),
    ).toEqual(['0', '0', '0.1235', '1.5', '12.35', '123.5', '12346', '-0.5', '?', '?']);
    expect(figure(26.6449, 3)).toBe('26.6');
  });
  test('in a sentence whole numbers from 20, one decimal below', () => {
    expect([19.94, 19.96, 20, 20.4, 20.6, -19.94, -25.4, 3, Number.NaN].map(round)).toEqual([
      '19.9',
      '20',
      '20',
      '20',
      '21',
      '-19.9',
      '-25',
      '3',
      '?',
    ]);
  });
  test('two that differ are written apart, two that are alike are not', () => {
    expect(apart(32.3, 32)).toEqual({ there: '32.3', allowed: '32' });
    expect(apart(32, 32)).toEqual({ there: '32', allowed: '32' });
    expect(apart(150, 90)).toEqual({ there: '150', allowed: '90' });
    expect(apart(100.04, 100)).toEqual({ there: '100.04', allowed: '100' });
    expect(apart(null, 90)).toEqual({ there: '?', allowed: '90' });
  });
  test('one of a thing, many of it', () => {
    expect([counted(1, 'test'), counted(0, 'test'), counted(2, 'test'), counted(2, 'day or so', 'days or so')]).toEqual(
      ['1 test', '0 tests', '2 tests', '2 days or so'],
    );
  });
});

describe('what is worse', () => {
  const over = (use: number | null, demand: number | null = null): Finding =>
    ({
      rule: 'r',
      subject: 's',
      quantity: null,
      verdict: 'over',
      consequence: 'danger',
      use,
      demand,
    }) as unknown as Finding;
  test('a use up by more than a hundredth; a voltage that collapses above any figure; deeper, where none has a figure', () => {
    expect(isWorse(over(1.5), over(1.514))).toBe(false);
    expect(isWorse(over(1.5), over(1.516))).toBe(true);
    expect(isWorse(over(9), over(null))).toBe(true);
    expect(isWorse(over(null), over(9))).toBe(false);
    expect(isWorse(over(null, 100), over(null, 100.9))).toBe(false);
    expect(isWorse(over(null, 100), over(null, 101.1))).toBe(true);
    expect(isWorse(over(null, 100), over(null, 99))).toBe(false);
  });
  test('newly over and grown are told apart; what is not over any more is no harm', () => {
    const harm = harmOf([over(1.5)], [over(2)]);
    expect([harm.newly.length, harm.worse.length]).toEqual([0, 1]);
    expect(harmOf([], [over(2)]).newly).toHaveLength(1);
    expect(harmOf([over(2)], [{ ...over(0.5), verdict: 'holds' }])).toEqual({ newly: [], worse: [] });
  });
});

describe('since it was left', () => {
  const set = (absorb_V: number | null) =>
    hut(
      (system) =>
        void Object.assign(system.controllers![0]!, { settings: absorb_V === null ? {} : { absorb_V, float_V: 13.5 } }),
    );
  const left = (model: ReturnType<typeof set>) => leftAs(model.system, check(model));
  test('nothing was touched: nothing is said', () => {
    const model = set(14.4);
    expect(since(left(model), model.system, check(model))).toEqual({ newly: [], mended: 0, set: [] });
  });
  test('a setting that somebody changed, and one that nobody had read', () => {
    const now = set(14.8);
    expect(since(left(set(14.4)), now.system, check(now)).set).toEqual([
      { device: 'Controller', setting: 'absorb_V', before: '14.4', after: '14.8' },
    ]);
    expect(since(left(set(null)), now.system, check(now)).set).toEqual([
      { device: 'Controller', setting: 'absorb_V', before: null, after: '14.8' },
      { device: 'Controller', setting: 'float_V', before: null, after: '13.5' },
    ]);
  });
  test('what is over now and was not, and how many were mended', () => {
    const sound = set(14.4);
    // Six in series: 120 V at 25 degC into a controller of 100 V.
    const broken = hut((system) => void (system.arrays![0]!.strings = [['m', 'm', 'm', 'm', 'm', 'm']]));
    expect(since(left(sound), broken.system, check(broken)).newly.map(({ rule }) => rule)).toContain('pv.cold-voltage');
    expect(since(left(broken), sound.system, check(sound)).mended).toBeGreaterThan(0);
    expect(since(left(broken), broken.system, check(broken))).toMatchObject({ newly: [], mended: 0 });
  });
});
