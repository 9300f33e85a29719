import { check, cheapestLives, specify, type ShelfItem, type SpecLine, type System } from '../src/index';
import { BANK, hut } from './hut';

/** Replacement spec, each figure worked by hand from the hut's own plates (practice, section B). */

const lineOf = (
  change: (system: System) => void,
  id: string,
  field: string,
  test: SpecLine['test'],
  aspect?: 'module',
) => specify(hut(change), id, aspect)?.lines.find((line) => line.field === field && line.test === test);
const AC = { ac_V: 230 } as const;

describe('a module in a string of two of 6.1 A, 16.4 V', () => {
  const two = (system: System) =>
    void (system.arrays![0]!.strings = [
      ['m', 'm'],
      ['m', 'm'],
    ]);
  test('its current is within a twentieth of those that stay: 5.8 to 6.4 A, rounded inwards', () => {
    expect(lineOf(() => undefined, 'a', 'imp_A', 'least', 'module')).toMatchObject({
      value: 5.8,
      rule: 'pv.series-match',
    });
    expect(lineOf(() => undefined, 'a', 'imp_A', 'least', 'module')?.exact).toBeCloseTo(5.795, 9);
    expect(lineOf(() => undefined, 'a', 'imp_A', 'most', 'module')).toMatchObject({ value: 6.4 });
    expect(lineOf(() => undefined, 'a', 'imp_A', 'most', 'module')?.exact).toBeCloseTo(6.405, 9);
  });
  test('beside another string of 32.8 V its own brings that string within a twentieth: 14.76 to 18.04 V', () => {
    expect(lineOf(two, 'a', 'vmp_V', 'least', 'module')).toMatchObject({ value: 14.8, rule: 'pv.parallel-match' });
    expect(lineOf(two, 'a', 'vmp_V', 'least', 'module')?.exact).toBeCloseTo(31.16 - 16.4, 9);
    expect(lineOf(two, 'a', 'vmp_V', 'most', 'module')).toMatchObject({ value: 18 });
    expect(lineOf(two, 'a', 'vmp_V', 'most', 'module')?.exact).toBeCloseTo(34.44 - 16.4, 9);
    // Alone there is nothing to match.
    expect(lineOf(() => undefined, 'a', 'vmp_V', 'least', 'module')).toBeUndefined();
  });
  test('where its size is known the new one fits the old rails; one side alone says nothing', () => {
    const sized = (more: object) => (system: System) => void Object.assign(system.moduleTypes![0]!, more);
    const lines = (more: object) =>
      specify(hut(sized(more)), 'a', 'module')!.lines.filter(
        ({ field }) => field === 'length_mm' || field === 'width_mm',
      );
    expect(lines({ length_mm: 1200, width_mm: 540 }).length).toBeGreaterThan(0);
    expect(lines({ length_mm: 1200 })).toEqual([]);
  });
});

describe('a generator for one charger of 30 A', () => {
  // 30 A at the 14.58 V of a flooded absorb, over .8 efficient and a power factor of .5: 1,093.5 VA.
  const with_ = (source: object) => (system: System) => {
    system.sources = [{ id: 'g', ...AC, ...source } as never];
    system.chargers = [
      { id: 'ch', kind: 'mains', max_A: 30, sourceId: 'g', efficiency_pct: 80, powerFactor: 0.5 } as never,
    ];
  };
  test('carries it for hours at four fifths of its rating, and is not run to that edge: 1,709 W, 2,000 sold', () => {
    const line = lineOf(with_({ kind: 'generator', power_W: 900 }), 'g', 'power_W', 'least');
    expect(line).toMatchObject({ value: 2000, rule: 'charger.input' });
    expect(line?.exact).toBeCloseTo(1093.5 / 0.8 / 0.8, 6);
  });
  test('an inlet for the same: 4.75 A over .8, an inlet of 6 A', () => {
    const line = lineOf(with_({ kind: 'inlet', inlet_A: 10 }), 'g', 'inlet_A', 'least');
    expect(line).toMatchObject({ value: 6, unit: 'A' });
    expect(line?.exact).toBeCloseTo(1093.5 / 230 / 0.8, 6);
  });
  test('two of them want twice as much', () => {
    const two = (system: System) => {
      with_({ kind: 'inlet', inlet_A: 10 })(system);
      system.chargers!.push({ ...system.chargers![0]!, id: 'ch2' });
    };
    expect(lineOf(two, 'g', 'inlet_A', 'least')).toMatchObject({ value: 16 });
  });
  test('one that feeds no charger is replaced by its like', () =>
    expect(
      specify(
        hut((system) => void (system.sources = [{ id: 'g', kind: 'generator', power_W: 900, ...AC } as never])),
        'g',
      )?.lines[0],
    ).toMatchObject({ test: 'eyes' }));
});

describe('a mains charger for 200 Ah of flooded lead', () => {
  const charger = (system: System) => void (system.chargers = [{ id: 'ch', kind: 'mains', max_A: 30 } as never]);
  test('a tenth of the capacity at least, whatever stands on it now', () =>
    expect(lineOf(charger, 'ch', 'max_A', 'least')).toMatchObject({ rule: 'bank.charge-min', missing: [] }));
  test('with the controller\u2019s 16.7 A no more than the bank takes', () => {
    const line = lineOf(charger, 'ch', 'max_A', 'most');
    expect(line?.rule).toBe('bank.charge-max');
    expect(line!.value).toBeLessThan(30);
  });
});

describe('an inverter of 500 W for 300 W', () => {
  const inverter = (system: System, more: object = {}) => {
    system.inverters = [{ id: 'i', continuous_W: 500, surge_W: 1000, idle_W: 9, ...more }];
    system.loads = [{ id: 'l', label: 'L', kind: 'ac', power_W: 300, hours_d: 2, inverterId: 'i' } as never];
    system.runs = [{ id: 'r', kind: 'battery-inverter', from: 'b', to: 'i', length_m: 2, size: '35mm2' } as never];
    system.bank = { ...BANK, internal_mohm: 5, age_y: 0, place: { min_C: 25 } };
  };
  test('300 W over .8 and .95: 395 W, 500 sold', () => {
    const line = lineOf(inverter, 'i', 'continuous_W', 'least');
    expect(line).toMatchObject({ value: 500, rule: 'inverter.continuous' });
    expect(line?.exact).toBeCloseTo(300 / 0.8 / 0.95, 6);
  });
  test('it stands the volts of charging, and runs down to an empty bank: 15.48 and 11.52 V', () => {
    expect(lineOf(inverter, 'i', 'maxDc_V', 'least')?.exact).toBeCloseTo(6 * 2.58, 9);
    expect(lineOf(inverter, 'i', 'minDc_V', 'most')?.exact).toBeCloseTo(6 * 1.92, 9);
  });
  test('its cut-off: the 11.45 V that a start leaves at it, less three in a hundred and 0.3 V', () => {
    const sag = check(hut(inverter)).filter(({ rule }) => rule === 'system.sag');
    const lowest = Math.min(...sag.map(({ demand }) => demand!));
    expect(lowest).toBeCloseTo(11.45, 2);
    const line = lineOf(inverter, 'i', 'lowCutoff_V', 'most');
    expect(line?.exact).toBeCloseTo(lowest * 0.97 - 0.3, 9);
    expect(line?.value).toBe(10.8);
    // A flooded bank is not to fall below 6 x 1.92 V: no inverter's cut-off cures that sag, and it is said.
    expect(line).toMatchObject({ must: false });
    expect(line?.why.join('\n')).toContain('not below 11.52 V');
  });
  test('without a bank, or without a system voltage, there is no cut-off to give', () => {
    const without = (change: (system: System) => void) => (system: System) => {
      inverter(system);
      change(system);
    };
    for (const change of [
      (system: System) => void (system.bank = null),
      (system: System) => void (system.nominal_V = null),
    ])
      expect(lineOf(without(change), 'i', 'lowCutoff_V', 'most')).toBeUndefined();
  });
  test('above the trip of a lithium bank by 0.2 V a cell: 4 x (2.9 + 0.2) = 12.4 V, and no inverter helps below that', () => {
    const lithium = (system: System) => {
      inverter(system);
      system.bank = {
        ...BANK,
        chemistry: 'lfp',
        block_V: 12.8,
        internal_mohm: 5,
        age_y: 0,
        place: { min_C: 25 },
        protection: { lowTrip_V_cell: 2.9 },
      };
    };
    const line = lineOf(lithium, 'i', 'lowCutoff_V', 'most');
    expect(line?.why.join('\n')).toContain('not below 12.4 V');
    expect(line?.must).toBe(line!.exact! >= 12.4);
  });
  test('it idles no more than the old one', () =>
    expect(lineOf(inverter, 'i', 'idle_W', 'most')).toMatchObject({ value: 9, must: false }));
});

describe('whole lives of banks on the shelf', () => {
  const item = (blockCapacity_Ah: number, price: number, more: object = {}): ShelfItem => ({
    kind: 'bank',
    label: `${blockCapacity_Ah} Ah`,
    price,
    currency: 'GBP',
    body: { chemistry: 'flooded', block_V: 12, blockCapacity_Ah, rate_h: 20, ...more },
  });
  const model = hut((system, file) => {
    system.bank = { ...BANK, place: { min_C: 25 } };
    system.loads = [{ id: 'l', label: 'L', kind: 'dc', power_W: 40, hours_d: 10 } as never];
    file.schools = { ...file.schools, autonomy_d: 2, leadDepth: 0.5 };
  });
  const count = (items: ShelfItem[]) => cheapestLives(model, items, 15)[0]?.count;
  test('half the capacity takes twice the strings, and never less than is wanted', () => {
    const whole = count([item(100, 100)])!;
    const half = count([item(50, 50)])!;
    expect(whole).toBeGreaterThan(1);
    expect([2 * whole, 2 * whole - 1]).toContain(half);
    // 400 Wh a day for two days to half: 1,600 Wh, 133 Ah at 12 V and what the small print adds.
    expect(whole * 100).toBeGreaterThanOrEqual(134);
  });
  test('6 V blocks stand two in series', () => {
    const single = count([item(200, 100)])!;
    expect(count([item(200, 100, { block_V: 6 })])).toBe(2 * single);
  });
  test('more strings than its maker allows is no bank', () =>
    expect(count([item(20, 10, { maxParallel: 2 })])).toBeUndefined());
  test('without a price there is nothing to compare', () => {
    const { price: _, ...unpriced } = item(100, 1);
    expect(count([unpriced])).toBeUndefined();
  });
  test('of one chemistry the one that costs least over the years', () => {
    const [best, ...more] = cheapestLives(model, [item(100, 300), item(101, 100)], 15);
    expect([best?.item.label, more.length]).toEqual(['101 Ah', 0]);
  });
});
