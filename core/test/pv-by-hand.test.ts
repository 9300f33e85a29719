import { plateOf, underShade, type ModuleType } from '../src/index';
import { arrayCurve } from '../src/pv/array-curve';
import { groupsOf, inParallel, stringCurrent, stringCurve, type Standing } from '../src/pv/curve';
import { currentAt, fit, lit } from '../src/pv/diode';
import { restrung, shapeText } from '../src/pv/restring';
import { hut, MODULE } from './hut';

const M60: ModuleType = {
  ...MODULE,
  id: 'm60',
  pmax_W: 250,
  voc_V: 37.6,
  isc_A: 8.75,
  vmp_V: 30.6,
  imp_A: 8.17,
  cells: 60,
  betaVoc_pct_C: -0.33,
};
const M310: ModuleType = {
  ...MODULE,
  id: 'm310',
  pmax_W: 310,
  voc_V: 45.1,
  isc_A: 8.96,
  vmp_V: 36.8,
  imp_A: 8.42,
  cells: 72,
};
const at = (module: ModuleType, light = 1, cell_C = 25): Standing => ({
  module,
  irradiance_W_m2: 1000 * light,
  cell_C,
});

describe('a module’s diode meets its plate', () => {
  test.each([M60, M310])(
    '$id: the three points, a level top, and the open circuit by its coefficient at 35 degC',
    (module) => {
      const diode = fit(module);
      const one = lit(diode, 1000, 25);
      expect(diode.exact).toBe(true);
      expect(currentAt(one, 0)).toBeCloseTo(module.isc_A, 6);
      expect(currentAt(one, module.voc_V)).toBeCloseTo(0, 6);
      expect(currentAt(one, module.vmp_V)).toBeCloseTo(module.imp_A, 6);
      const power = (volts: number) => volts * currentAt(one, volts);
      const h = 0.01;
      expect(Math.abs(power(module.vmp_V + h) - power(module.vmp_V - h)) / (2 * h)).toBeLessThan(1e-3 * module.imp_A);
      const warm = lit(diode, 1000, 35);
      expect(currentAt(warm, module.voc_V * (1 + module.betaVoc_pct_C! / 10))).toBeCloseTo(0, 4);
      expect([diode.series_ohm >= 0, diode.shunt_S > 0, diode.saturation_A > 0]).toEqual([true, true, true]);
    },
  );
  test('half the light is half the light current and half the shunt; darkness is a thousandth of a sun', () => {
    const diode = fit(M60);
    const [full, half] = [lit(diode, 1000, 25), lit(diode, 500, 25)];
    expect(half.light_A).toBeCloseTo(full.light_A / 2, 9);
    expect(half.shunt_S).toBeCloseTo(full.shunt_S / 2, 12);
    expect([half.saturation_A, half.series_ohm, half.a_V]).toEqual([full.saturation_A, full.series_ohm, full.a_V]);
    expect(lit(diode, 0, 25).light_A).toBeCloseTo(full.light_A / 1000, 9);
    // The ideality goes with the absolute temperature; the light current by its coefficient, 0.05 % a degree.
    expect(lit(diode, 1000, 55).a_V / full.a_V).toBeCloseTo(328.15 / 298.15, 9);
    expect(lit(diode, 1000, 55).light_A - full.light_A).toBeCloseTo(30 * 0.0005 * M60.isc_A, 9);
  });
  test('a plate that no diode meets in all: its three points stand, the coefficient as near as may be', () => {
    const steep: ModuleType = { ...M60, id: 'steep', betaVoc_pct_C: -0.9 };
    const diode = fit(steep);
    expect(diode.exact).toBe(false);
    const one = lit(diode, 1000, 25);
    expect(currentAt(one, steep.voc_V)).toBeCloseTo(0, 4);
    expect(currentAt(one, 0)).toBeCloseTo(steep.isc_A, 4);
    expect(currentAt(one, steep.vmp_V)).toBeCloseTo(steep.imp_A, 4);
    // No five parameters come nearer than those on the edge of what a diode can be.
    const off = Math.abs(currentAt(lit(diode, 1000, 35), steep.voc_V * 0.91));
    const plain = fit(M60);
    expect(off).toBeLessThan(Math.abs(currentAt(lit(plain, 1000, 35), steep.voc_V * 0.91)));
  });
  test('a plate that no diode can have made still has a curve between its ends', () => {
    const absurd: ModuleType = { ...M60, id: 'absurd', vmp_V: 37.5, imp_A: 8.74 };
    const diode = fit(absurd);
    expect([diode.exact, diode.series_ohm]).toEqual([false, 0]);
    const one = lit(diode, 1000, 25);
    expect(currentAt(one, 0)).toBeCloseTo(absurd.isc_A, 3);
    expect(currentAt(one, absurd.voc_V)).toBeCloseTo(0, 3);
  });
});

describe('strings and arrays', () => {
  test('up to forty cells two bypass diodes, above three; by the plate where it says', () => {
    expect([36, 40, 41, 60, 72].map((cells) => groupsOf({ ...M60, cells }))).toEqual([2, 2, 3, 3, 3]);
    expect(groupsOf({ ...M60, bypassDiodes: 6 })).toBe(6);
  });
  test('in series volts add, in parallel amperes', () => {
    const one = stringCurve([at(M60)]);
    const three = stringCurve([at(M60), at(M60), at(M60)]);
    expect(three.open_V).toBeCloseTo(3 * M60.voc_V, 4);
    for (const amps of [0, 4, 8.17]) expect(three.voltsAt(amps)).toBeCloseTo(3 * one.voltsAt(amps), 6);
    expect(stringCurrent(three, 3 * M60.vmp_V)).toBeCloseTo(M60.imp_A, 5);
    const two = inParallel([[at(M60)], [at(M60)]]);
    expect(two.currentAt(M60.vmp_V)).toBeCloseTo(2 * M60.imp_A, 5);
    expect([two.oneTop, two.highest_V]).toEqual([true, one.open_V]);
    // Beyond its own open circuit a string takes what the others push.
    expect(stringCurrent(three, 3 * M60.voc_V + 2)).toBeLessThan(0);
    expect(stringCurrent(stringCurve([at(M60), at(M310)]), 37.6 + 45.1 + 1)).toBeLessThan(0);
  });
  test('a curve of four hundred steps from short to open circuit, one top where all stand alike', () => {
    const curve = arrayCurve([[at(M60), at(M60)]]);
    expect(curve.points).toHaveLength(401);
    expect(curve.points[0]).toMatchObject({ v: 0 });
    expect(curve.points[0]!.i).toBeCloseTo(M60.isc_A, 5);
    expect(curve.points.at(-1)!.i).toBe(0);
    expect(curve.points.at(-1)!.v).toBeCloseTo(2 * M60.voc_V, 4);
    expect(curve.points[1]!.v).toBeCloseTo((2 * M60.voc_V) / 400, 6);
    expect(curve.maxima).toHaveLength(1);
    expect(curve.best.p).toBeCloseTo(2 * M60.vmp_V * M60.imp_A, 3);
    expect(curve.best.v).toBeCloseTo(2 * M60.vmp_V, 2);
  });
  test('one module of three in a quarter of the light: two tops; the others go past it by its bypass diodes', () => {
    const curve = arrayCurve([[at(M60), at(M60), at(M60, 0.25)]]);
    expect(curve.maxima).toHaveLength(2);
    // Two modules’ volts less three diodes of half a volt, at nearly the full current.
    expect(curve.best.v).toBeGreaterThan(2 * M60.vmp_V - 3);
    expect(curve.best.v).toBeLessThan(2 * M60.vmp_V);
    expect(curve.best.p).toBeGreaterThan(0.94 * 2 * M60.vmp_V * M60.imp_A);
    expect(Math.max(...curve.maxima.map(({ p }) => p))).toBe(curve.best.p);
    const other = curve.maxima.find(({ v }) => v > 2.5 * M60.vmp_V)!;
    expect(other.i).toBeCloseTo(0.25 * M60.imp_A, 0);
  });
  test('in the dark nothing comes, and nothing is found', () => {
    const night = arrayCurve([[at(M60, 0)]]);
    expect(night.best.p).toBeLessThan(0.5);
  });
});

const SYSTEM = hut().system;
describe('another way to string the same modules', () => {
  const array = (lengths: number[]) => ({
    id: 'a',
    strings: lengths.map((length) => Array.from({ length }, () => 'm')),
  });
  const titles = (lengths: number[], direction: 'shorter' | 'longer' | 'fewer') =>
    restrung(SYSTEM, array(lengths), direction).map(({ title }) => title);
  test('shorter, longer, fewer: those that leave none over first, then the smallest step', () => {
    expect(titles([4, 4], 'shorter')).toEqual([
      '2 in series, 4 strings',
      '8 in parallel',
      '3 in series, 2 strings, 2 left over',
    ]);
    expect(titles([2, 2, 2], 'longer')).toEqual([
      '3 in series, 2 strings',
      '6 in series',
      '5 in series, 1 left over',
      '4 in series, 2 left over',
    ]);
    expect(titles([3, 3, 3], 'fewer')).toEqual(['3 in series, 2 strings, 3 left over', '3 in series, 6 left over']);
    expect(titles([1], 'shorter')).toEqual([]);
  });
  test('the modules are counted, those left over said, mixed ones left to a person', () => {
    const [whole] = restrung(SYSTEM, array([4, 4]), 'shorter');
    expect(whole!.detail).toBe('the same 8 modules');
    expect(whole!.changes[0]!.value).toEqual({
      strings: [
        ['m', 'm'],
        ['m', 'm'],
        ['m', 'm'],
        ['m', 'm'],
      ],
    });
    expect(restrung(SYSTEM, array([4, 4]), 'shorter')[2]!.detail).toBe('uses 6 of 8 modules');
    expect(restrung(SYSTEM, { id: 'a', strings: [['m', 'n']] }, 'shorter')).toEqual([]);
    expect(restrung(SYSTEM, { id: 'a', strings: [] }, 'shorter')).toEqual([]);
  });
  test('a shape as a technician says it', () =>
    expect([shapeText(1, 1), shapeText(3, 1), shapeText(1, 4), shapeText(2, 3)]).toEqual([
      'one module',
      '3 in series',
      '4 in parallel',
      '2 in series, 3 strings',
    ]));
});

describe('under a shade', () => {
  const model = hut((system) => {
    system.moduleTypes = [{ ...M60, id: 'm' }];
    system.arrays![0]!.strings = [
      ['m', 'm'],
      ['m', 'm'],
    ];
  });
  const ask = (light: number[][]) => underShade(model, { arrayId: 'a', irradiance_W_m2: 1000, cell_C: 25, light })!;
  test('every even wiring of the same modules; the one it has is marked', () => {
    const { wirings, best, unshaded_W } = ask([
      [1, 1],
      [1, 1],
    ]);
    expect(wirings.map(({ title, series, parallel, present }) => [title, series, parallel, present])).toEqual([
      ['4 in parallel', 1, 4, false],
      ['2 in series, 2 strings', 2, 2, true],
      ['4 in series', 4, 1, false],
    ]);
    for (const { best_W } of wirings) expect(best_W).toBeCloseTo(4 * M60.vmp_V * M60.imp_A, 1);
    expect(unshaded_W).toBeCloseTo(best.p, 3);
  });
  test('the shaded modules stay where they are: both of one string dark is worse in one long string than both of two', () => {
    const row = ask([
      [1, 1],
      [0.1, 0.1],
    ]);
    const of = (answer: typeof row, series: number) => answer.wirings.find((one) => one.series === series)!.best_W;
    // One whole string is left: its two modules, and a tenth of the others beside it.
    expect(of(row, 2)).toBeGreaterThan(2 * M60.vmp_V * M60.imp_A);
    expect(of(row, 2)).toBeLessThan(2.2 * M60.vmp_V * M60.imp_A);
    // A shaded one in each string holds both back.
    const column = ask([
      [1, 0.1],
      [1, 0.1],
    ]);
    expect(of(column, 2)).toBeLessThan(of(row, 2));
    // Read off string by string: in four of one each it does not matter which are dark.
    expect(of(column, 1)).toBeCloseTo(of(row, 1), 1);
    expect(row.unshaded_W).toBeCloseTo(4 * M60.vmp_V * M60.imp_A, 1);
    expect(underShade(model, { arrayId: 'nobody', irradiance_W_m2: 1000, cell_C: 25, light: [] })).toBeNull();
  });
});

describe('a plate’s five figures in any order', () => {
  test('watts within three in a hundred of volts times amperes; more is no plate', () => {
    // 30.6 x 8.17 = 250.0
    expect(plateOf([8.17, 250, 37.6, 30.6, 8.75])).toEqual({
      pmax_W: 250,
      voc_V: 37.6,
      isc_A: 8.75,
      vmp_V: 30.6,
      imp_A: 8.17,
    });
    expect(plateOf([257, 37.6, 8.75, 30.6, 8.17])).not.toBeNull();
    expect(plateOf([258, 37.6, 8.75, 30.6, 8.17])).toBeNull();
    expect(plateOf([243, 37.6, 8.75, 30.6, 8.17])).not.toBeNull();
    expect(plateOf([242, 37.6, 8.75, 30.6, 8.17])).toBeNull();
  });
  test('shares as crystalline silicon has them; four figures, or a nought, are none', () => {
    // 27.8 of 37.6 V is 0.74, 27.8 x 8.17 = 227.
    expect(plateOf([227, 37.6, 8.75, 27.9, 8.17])).not.toBeNull();
    expect(plateOf([225, 37.6, 8.75, 27.6, 8.17])).toBeNull();
    expect(plateOf([8.17, 250, 37.6, 30.6])).toBeNull();
    expect(plateOf([8.17, 250, 37.6, 30.6, 0])).toBeNull();
    // More amperes than volts: no module.
    expect(plateOf([40, 5, 9, 4.5, 8.8])).toBeNull();
  });
});
