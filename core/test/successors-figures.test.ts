import { candidates, judgeSpec, specify, swapChanges, type Model, type SpecLine } from '../src/index';
import { judgeLine } from '../src/successor/line';
import { wattsWith } from '../src/successor/module';
import { MODULE, part, sunny, wired } from './hut';

/** Replacement spec, figure by figure: a hut of 12 V with an inverter, its cables and two modules of 100 W. */

type Aspect = Parameters<typeof specify>[2];
const lineOf = (model: Model, id: string, field: string | null, test: SpecLine['test'], aspect?: Aspect) =>
  specify(model, id, aspect)!.lines.find((line) => line.field === field && line.test === test);
const labelled = (model: Model, id: string, aspect?: Aspect) =>
  specify(model, id, aspect)!.lines.map(({ label }) => label);

describe('a DC-DC charger stays on the vehicle that is there', () => {
  const of = (input_V: number | null) =>
    lineOf(
      wired((system) => void (system.chargers = [{ id: 'd', kind: 'dc-dc', max_A: 30, input_V }])),
      'd',
      'input_V',
      'one-of',
    )!;
  test.each<[number, string, string[]]>([
    [12, '12', ['12', '12.8', '13', '13.6', '14']],
    [24, '24', ['24', '25.6', '27', '28']],
  ])('of %d V', (volts, value, words) =>
    expect(of(volts)).toMatchObject({ value, words, label: 'Input for a vehicle of', missing: [] }),
  );
  test('of volts that nobody read: a question, no figure', () =>
    expect(of(null)).toMatchObject({ value: null, words: [], missing: ['d.input_V'] }));
  test('where no bound is known there is none: no current is too large for what nobody knows', () => {
    const line = lineOf(
      wired((system) => void (system.chargers = [{ id: 'd', kind: 'dc-dc', max_A: 30, input_V: 12 }])),
      'd',
      'max_A',
      'most',
    )!;
    expect(line).toMatchObject({ value: null, must: false });
  });
});

describe('a mains charger beside the sun', () => {
  const model = wired((system) => void (system.chargers = [{ id: 'ch', kind: 'mains', max_A: 30 }]));
  test('at least the tenth that flooded lead wants, at most what the bank takes with the sun on it: each binds', () => {
    expect(lineOf(model, 'ch', 'max_A', 'least')).toMatchObject({
      value: 25,
      exact: 25,
      rule: 'bank.charge-min',
      must: true,
    });
    expect(lineOf(model, 'ch', 'max_A', 'most')).toMatchObject({ value: 20, rule: 'bank.charge-max', must: true });
  });
});

describe('an inverter\\u2019s idling', () => {
  const idle = (idle_W: number | null, sun = true) => {
    const model = wired((system) => void (system.inverters![0]!.idle_W = idle_W));
    return lineOf(sun ? sunny(model) : model, 'i', 'idle_W', 'most');
  };
  test('no more than the old one, nor than a fifth of the sun\\u2019s: whichever is less', () => {
    // 24 h of a watt against a mean harvest of 1,082 Wh a day: 0.2 x 1,082 / 24 = 9.0 W.
    expect(idle(20)!.exact).toBeCloseTo(9.01, 1);
    expect(idle(20)!.value).toBe(9);
    expect(idle(20)!.why[0]).toMatch(/^over 24 h a day/);
    expect(idle(2)).toMatchObject({ exact: 2, value: 2, why: ['no more than the old one'] });
    expect(idle(null)!.exact).toBeCloseTo(idle(20)!.exact!, 9);
  });
  test('without a sun to weigh it against, as the one that goes; of nothing nothing is said', () => {
    expect(idle(5, false)).toMatchObject({ exact: 5, why: ['no more than the old one'] });
    expect(idle(null, false)).toBeUndefined();
  });
});

describe('an inverter\\u2019s ceiling', () => {
  test('what its cable carries: 16 mm2 for its currents, none above', () => {
    expect(lineOf(wired(), 'i', 'continuous_W', 'most')).toMatchObject({
      value: 300,
      rule: 'run.ampacity',
      must: false,
    });
  });
  test('where the way to it is not known, or nothing gives out, there is none', () => {
    expect(
      lineOf(
        wired((system) => void (system.runs = [])),
        'i',
        'continuous_W',
        'most',
      )?.rule,
    ).not.toBe('run.ampacity');
  });
});

describe('the window of volts', () => {
  test('an inverter takes what the bus reaches; a controller what its sensor adds in the cold as well', () => {
    expect(lineOf(wired(), 'i', 'maxDc_V', 'least')!.exact).toBeCloseTo(15.48, 9);
    // 6 x (2.58 V + 5 mV x 23 K): from 25 to 2 degC.
    expect(lineOf(wired(), 'c', 'maxBattery_V', 'least')!.exact).toBeCloseTo(6 * (2.58 + 0.005 * 23), 9);
  });
  test('on lithium nothing is lifted: 4 x 3.55 V', () => {
    const model = wired((system) =>
      Object.assign(system.bank!, { chemistry: 'lfp', block_V: 12.8, maxDischarge_A: 100, maxCharge_A: 50 }),
    );
    expect(lineOf(model, 'i', 'maxDc_V', 'least')!.exact).toBeCloseTo(14.2, 9);
    expect(lineOf(model, 'c', 'maxBattery_V', 'least')!.exact).toBeCloseTo(14.2, 9);
  });
});

describe('a bank', () => {
  test('no larger than the sun can keep full: rounded down to what is sold', () => {
    // In proportion to the sun's watts, with the room that the rule of the least charge asks for.
    const most = lineOf(wired(), 'b', 'blockCapacity_Ah', 'most')!;
    expect(most.exact).toBeCloseTo(100, 9);
    const odd = lineOf(
      wired((system) => {
        part.module(system).pmax_W = 107;
      }),
      'b',
      'blockCapacity_Ah',
      'most',
    )!;
    expect(odd.exact).toBeCloseTo(107, 9);
    expect(odd.value).toBe(105);
  });
});

describe('a module beside strings of other volts', () => {
  const model = wired((system) => {
    system.moduleTypes!.push({ ...MODULE, id: 'n', vmp_V: 17 }, { ...MODULE, id: 'o', vmp_V: 16 });
    part.array(system).strings = [
      ['m', 'm'],
      ['n', 'n'],
      ['o', 'o'],
    ];
  });
  test('within a twentieth of the highest and of the lowest: .95 x 34 - 16.4 and 1.05 x 32 - 16.4', () => {
    expect(lineOf(model, 'a', 'vmp_V', 'least', 'module')!.exact).toBeCloseTo(0.95 * 34 - 16.4, 9);
    expect(lineOf(model, 'a', 'vmp_V', 'most', 'module')!.exact).toBeCloseTo(1.05 * 32 - 16.4, 9);
    // Rounded inwards, to a tenth.
    expect(lineOf(model, 'a', 'vmp_V', 'least', 'module')!.value).toBe(15.9);
    expect(lineOf(model, 'a', 'vmp_V', 'most', 'module')!.value).toBe(17.2);
  });
  test('the fuse that it stands: what two strings push back, 1.25 x 13 A', () =>
    expect(lineOf(model, 'a', 'maxSeriesFuse_A', 'least', 'module')!.why[0]).toBe(
      'the other strings can push back 1.25 x 13 A = 16.25 A',
    ));
  test('the coldest morning leaves it so many volts: 95 V less the other\\u2019s 22.4, by 1.12', () =>
    expect(lineOf(model, 'a', 'voc_V', 'most', 'module')!.exact).toBeCloseTo((95 - 22.4) / 1.12, 6));
  test('what a string gives with it: its watts at 25 degC in full sun', () => {
    const watts = wattsWith(wired(), part.array(wired().system), 0, MODULE);
    // The plate's own two points are 16.4 V x 6.1 A = 100.04 W a module.
    expect(watts).toBeCloseTo(2 * 16.4 * 6.1, 0);
  });
});

describe('a fuse', () => {
  test('of the bank\\u2019s cable: carries, protects, clears a far fault, breaks the fault, is for current both ways', () => {
    const fuse = (field: string, test: SpecLine['test']) => lineOf(wired(), 'r1', field, test, 'fuse');
    // 1,000 W at 10 V through 90 % is 111.1 A.
    expect(fuse('protection.rating_A', 'least')!.exact).toBeCloseTo((1.25 * 1000) / 10 / 0.9, 9);
    expect(fuse('protection.rating_A', 'least')!.value).toBe(150);
    expect(fuse('protection.rating_A', 'most')!.value).toBe(70);
    expect(fuse('protection.voltage_V', 'least')!.exact).toBeCloseTo(15.48, 9);
    expect(fuse('protection.interrupt_A', 'least')).toMatchObject({ value: 3000 });
    expect(fuse('protection.polarised', 'false')).toBeDefined();
    expect(labelled(wired(), 'r1', 'fuse').some((label) => label.startsWith('Sits within 0.18 m'))).toBe(true);
  });
  test('of the modules\\u2019 cable: wherever it sits, for the coldest volts', () => {
    expect(lineOf(wired(), 'r3', 'protection.voltage_V', 'least', 'fuse')!.exact).toBeCloseTo(44.8, 9);
    expect(lineOf(wired(), 'r3', 'protection.rating_A', 'least', 'fuse')!.exact).toBeCloseTo(1.25 * 1.25 * 6.5, 9);
    expect(labelled(wired(), 'r3', 'fuse').some((label) => label.startsWith('Sits within'))).toBe(false);
    // A branch's sits at its board.
    const branch = wired((system) => {
      system.distribution = [{ id: 'box', circuits: ['br'] }];
      system.loads!.push({ id: 'lamp', label: 'Lamp', kind: 'dc', power_W: 10, hours_d: 1 });
      system.runs!.push(
        { id: 'feed', kind: 'dc-load', from: 'b', to: 'box', length_m: 1, size: '6mm2' },
        { id: 'br', kind: 'dc-load', from: 'box', to: 'lamp', length_m: 3, size: '2.5mm2' },
      );
    });
    const sits = (id: string) => labelled(branch, id, 'fuse').some((label) => label.startsWith('Sits within'));
    expect([sits('feed'), sits('br')]).toEqual([true, true]);
    const [types] = specify(wired(), 'r3', 'fuse')!.lines;
    expect(types!.value).toBe('pv 12 A, 15 A, 16 A; breaker 15 A, 16 A, 20 A');
  });
});

describe('a size is judged by its copper', () => {
  const size = (stated: string, value: string) =>
    judgeLine(
      { field: 'size', label: '', test: 'size', value, must: true, missing: [] as string[] } as unknown as SpecLine,
      stated,
    );
  test.each([
    ['4mm2', '4mm2', 'pass'],
    ['6mm2', '4mm2', 'pass'],
    // 2.08 mm2 against 2.5, 5.26 against 5.5.
    ['14AWG', '2.5mm2', 'fail'],
    ['10AWG', '5.5mm2', 'fail'],
    ['2.5mm2', '14AWG', 'pass'],
  ])('%s where %s is wanted: %s', (stated, value, verdict) => expect(size(stated, value)).toBe(verdict));
});

test('an inlet or a generator is asked for what it feeds, and a part that is blank states nothing', () => {
  const spec = specify(wired(), 'c')!;
  const judged = judgeSpec(spec, {});
  expect(judged.every(({ verdict }) => verdict === 'not-stated')).toBe(true);
});

describe('what is allowed to stand together', () => {
  const lithium = (series: number) =>
    wired((system) => {
      system.nominal_V = 12 * series;
      Object.assign(system.bank!, { chemistry: 'lfp', block_V: 12.8, series, maxDischarge_A: 100, maxCharge_A: 50 });
      Object.assign(part.controller(system), { maxBattery_V: 64 });
    });
  test('two lithium blocks in series must be allowed by their maker; one is not asked', () => {
    expect(lineOf(lithium(2), 'b', 'maxSeries', 'least')).toMatchObject({ value: 2, rule: 'bank.series-count' });
    expect(lineOf(lithium(1), 'b', 'maxSeries', 'least')).toBeUndefined();
  });
  const strung = (strings: number, more: object = {}) =>
    wired((system) => {
      Object.assign(part.module(system), more);
      part.array(system).strings = Array.from({ length: strings }, () => ['m', 'm']);
    });
  const fuse = (strings: number, more: object = {}) =>
    lineOf(strung(strings, more), 'a', 'maxSeriesFuse_A', 'least', 'module');
  test('one string alone pushes nothing back; two push 8.1 A; where the old one stood more, so does the new', () => {
    expect(fuse(1)).toBeUndefined();
    expect(fuse(2)!.exact).toBe(15);
    expect(fuse(2, { maxSeriesFuse_A: null })!.exact).toBeCloseTo(1.25 * 6.5, 9);
  });
  test('where even those that stay do not stand it, it is the strings that want fuses: the new one as they are', () => {
    // Three strings: 1.25 x 2 x 6.5 A = 16.25 A against the 15 A of each.
    expect(fuse(3)!.exact).toBe(15);
  });
});

test('blocks of a shelf are grouped up to as many strings as their maker allows, four where he is silent, eight at most', () => {
  const model = wired();
  const strings = (maxParallel: number | null) => {
    const item = {
      kind: 'bank' as const,
      label: 'Small',
      price: 10,
      currency: 'GBP',
      body: { chemistry: 'flooded', block_V: 12, blockCapacity_Ah: 20, rate_h: 20, cells: 6, maxParallel },
    };
    const { meet, nearly } = candidates(model, { ...specify(model, 'b')!, lines: [] }, [item]);
    return [...meet, ...nearly][0]?.grouping?.parallel ?? null;
  };
  // 20 Ah are never enough for the 617 that are wanted: the most that may stand together are tried.
  expect([2, null, 20].map(strings)).toEqual([2, 4, 8]);
});

test('a converter keeps its output, and takes what the bus reaches: 11.52 to 15.48 V', () => {
  const model = wired((system) => void (system.converters = [{ id: 'v', in_V: 12, out_V: 24, max_A: 10 }]));
  expect(lineOf(model, 'v', 'out_V', 'one-of')).toMatchObject({ value: '24', words: ['24'] });
  expect(labelled(model, 'v')).toContain('Input from 11.5 V to 15.5 V');
});

test('modules that are fitted one after the other are each of a type of their own', () => {
  const model = wired((system) =>
    system.moduleTypes!.push({ ...MODULE, id: 'new-module' }, { ...MODULE, id: 'new-module-2' }),
  );
  const [added] = swapChanges(model, specify(model, 'a', 'module')!, { pmax_W: 100 });
  expect(added).toMatchObject({ op: 'add', at: 'moduleTypes', value: { id: 'new-module-3' } });
});
