import { freezes_C, PRECHARGE_UF_W } from '../src/rules/tables';
import {
  bundleFactor,
  ENGINE_SPACE_FACTOR,
  MATERIAL_FACTOR,
  SMALL_BUILDING_FUSE_A,
  tabulated_A,
} from '../src/conductors/ampacity';
import { CLEARING, DEVICE_V, FUSES_A, interrupt_A, ratingsSold, SOLD_V } from '../src/conductors/fuses';
import {
  area_mm2,
  AWG_SIZES,
  COLD_C,
  JOINT_OHM,
  LUGS_OHM,
  METRIC_SIZES,
  resistance_ohm_m,
  stepOfSize,
  toCut_m,
  WARM_C,
} from '../src/conductors/sizes';
import {
  cellsPerBlock,
  CHEMISTRIES,
  CHEMISTRY,
  familyOf,
  isLithium,
  serves,
  takes,
  type ChemistryTable,
} from '../src/chemistry/chemistry';
import { BIFACIAL_GAIN, coldBand } from '../src/pv/strings';
import { cell_C, MOUNTING_K } from '../src/pv/temperature';
import { SURGE, SURGE_UNTYPED, MICROWAVE } from '../src/power/loads';

/**
 * The tables of the engine, restated from the book (docs/engine.md) figure by figure: a constant that slips is a verdict
 * that lies. Columns are in the book's own order, so that the two can be laid side by side.
 */

describe('chemistry, per cell', () => {
  const ORDER = ['flooded', 'tubular', 'agm', 'gel', 'lfp', 'nmc'] as const;
  type Row = readonly [keyof ChemistryTable, ...(number | null | boolean | string)[]];
  const ROWS: readonly Row[] = [
    ['nominal_V', 2.0, 2.0, 2.0, 2.0, 3.2, 3.7],
    ['absorb_V', 2.43, 2.4, 2.42, 2.36, 3.55, 4.1],
    ['float_V', 2.25, 2.25, 2.27, 2.28, 3.375, null],
    ['equalise_V', 2.58, 2.6, null, null, null, null],
    ['neverAbove_V', 2.67, 2.67, 2.47, 2.4, 3.65, 4.2],
    ['full_V', 2.122, 2.085, 2.14, 2.14, 3.35, 4.08],
    ['half_V', 2.017, 2.017, 2.017, 2.017, 3.25, 3.7],
    ['cutoff_V', 1.92, 1.92, 1.92, 1.92, 3.0, 3.3],
    ['restart_V', null, null, null, null, 3.3, null],
    ['empty_V', 1.75, 1.8, 1.75, 1.75, 2.5, 3.0],
    ['compensation_mV_K', -5, -5, -4, -4, 0, 0],
    ['chargeMin', 0.1, 0.1, 0.1, 0.08, 0.05, 0.05],
    ['chargeMax', 0.2, 0.15, 0.3, 0.2, 0.2, 0.2],
    ['alwaysC10', false, true, false, false, false, false],
    ['dischargeMax', 0.2, 0.2, 0.5, 0.3, 0.5, 0.3],
    ['peukert', 1.25, 1.2, 1.1, 1.13, 1.03, 1.03],
    ['efficiency', 0.75, 0.75, 0.85, 0.82, 0.95, 0.95],
    ['depth', 0.5, 0.5, 0.5, 0.5, 0.8, 0.7],
    ['cyclesAt50', 800, 1500, 600, 700, 6000, 1500],
    ['cyclesAt80', 400, 800, 350, 400, 3500, 900],
    ['sag_ohmAh', 0.12, 0.25, 0.08, 0.14, 0.09, 0.08],
    ['fault_ohmAh', 0.1, 0.16, 0.045, 0.08, 0.045, 0.03],
    ['calendar_y', 6, 14, 8, 8, 15, 8],
    ['selfDischarge_pct_month', 5, 3, 3, 2, 2, 2],
    ['gassing_mA_Ah', 28, 20, 8, 8, 0, 0],
    ['lowestCharge_C', -20, -20, -20, -20, 0, 0],
    ['highest_C', 40, 40, 40, 40, 45, 45],
    ['step12_V', 12, 12, 12, 12, 12.8, 12.95],
    ['inLivingSpace', 'over', 'over', 'tight', 'tight', 'note', 'over'],
    ['gassesFreely', true, true, false, false, false, false],
    ['family', 'lead', 'lead', 'lead', 'lead', 'lithium', 'lithium'],
  ];
  test('is the list that the format knows', () => expect(CHEMISTRIES).toEqual([...ORDER]));
  for (const [name, ...figures] of ROWS)
    test(name, () => expect(ORDER.map((each) => CHEMISTRY[each][name])).toEqual(figures));
  test('a cell by its label lies between these', () =>
    expect(ORDER.map((each) => CHEMISTRY[each].usual_V)).toEqual([
      [1.9, 2.2],
      [1.9, 2.2],
      [1.9, 2.2],
      [1.9, 2.2],
      [2.9, 3.5],
      [3.4, 4.1],
    ]));

  test.each([
    ['lfp', 3.2, 1, false],
    ['lfp', 12, 4, false],
    ['lfp', 12.8, 4, false],
    ['lfp', 24, 8, true],
    ['lfp', 25.6, 8, false],
    ['lfp', 36, 12, true],
    ['lfp', 38.4, 12, false],
    ['lfp', 48, 16, true],
    ['lfp', 51.2, 16, false],
    ['lfp', 50, null, false],
    ['nmc', 3.6, 1, false],
    ['nmc', 3.7, 1, false],
    ['nmc', 22.2, 6, false],
    ['nmc', 25.9, 7, false],
    ['nmc', 44.4, 12, false],
    ['nmc', 51.8, 14, false],
    ['flooded', 2, 1, false],
    ['agm', 12, 6, false],
    ['gel', 13, null, false],
  ] as const)('a %s block of %d V has %p cells (a guess: %p)', (chemistry, block_V, cells, assumed) =>
    expect(cellsPerBlock({ chemistry, block_V })).toEqual({ cells, assumed }),
  );
  test('a count that was read is no guess', () =>
    expect(cellsPerBlock({ chemistry: 'lfp', block_V: 48, cells: 15 })).toEqual({ cells: 15, assumed: false }));

  test('lead loses 0.8 % of capacity a kelvin below 25, two fifths stay; lithium 10 % to freezing, 30 % to -20', () => {
    const at = (chemistry: 'agm' | 'lfp') =>
      [30, 25, 20, 15, 0, -10, -20, -60].map((t) => Number(familyOf(chemistry).coldCapacity(t).toFixed(4)));
    expect(at('agm')).toEqual([1, 1, 0.96, 0.92, 0.8, 0.72, 0.64, 0.4]);
    expect(at('lfp')).toEqual([1, 1, 1, 0.975, 0.9, 0.8, 0.7, 0.7]);
  });
  test('resistance in the cold: lead 1.5 % a kelvin; lithium twice at 0, 3.5 times at -10, six times at -20', () => {
    const at = (chemistry: 'gel' | 'nmc') =>
      [30, 25, 5, 0, -5, -10, -20, -30].map((t) => Number(familyOf(chemistry).coldResistance(t).toFixed(4)));
    expect(at('gel')).toEqual([1, 1, 1.3, 1.375, 1.45, 1.525, 1.675, 1.825]);
    expect(at('nmc')).toEqual([1, 1, 1.8, 2, 2.75, 3.5, 6, 6]);
  });
  test('families: setpoints, depth school, density, heat', () => {
    expect([familyOf('gel').setpointOff_V, familyOf('lfp').setpointOff_V]).toEqual([0.075, 0.1]);
    expect([familyOf('gel').depthSchool, familyOf('nmc').depthSchool]).toEqual(['leadDepth', 'lithiumDepth']);
    expect([familyOf('agm').overDensity_V, familyOf('lfp').overDensity_V]).toEqual([0.845, null]);
    expect([familyOf('agm').halvesInHeat, familyOf('lfp').halvesInHeat]).toEqual([true, false]);
    expect([isLithium('tubular'), isLithium('nmc')]).toEqual([false, true]);
  });
  test('flooded serves tubular and nothing else does; one own profile serves by being set', () => {
    expect(serves(['flooded'], 'tubular')).toBe(true);
    expect(serves(['tubular'], 'flooded')).toBe(false);
    expect(serves(['agm', 'gel'], 'lfp')).toBe(false);
    expect([
      takes(['custom'], 'lfp'),
      takes(['flooded'], 'tubular'),
      takes(['flooded'], 'lfp'),
      takes(null, 'lfp'),
    ]).toEqual([true, true, false, false]);
  });
});

describe('conductors', () => {
  // ASTM B258, mm2.
  test.each([
    ['18AWG', 0.823],
    ['14AWG', 2.081],
    ['10AWG', 5.261],
    ['6AWG', 13.3],
    ['1AWG', 42.41],
    ['1/0AWG', 53.49],
    ['2/0AWG', 67.43],
    ['4/0AWG', 107.2],
    ['35mm2', 35],
  ])('%s is %d mm2', (size, area) => expect(area_mm2(size) / area).toBeCloseTo(1, 3));
  // IEC 60228, class 5, mohm/m at 20 degC.
  const CLASS_5: [string, number][] = [
    ['0.5', 39],
    ['0.75', 26],
    ['1', 19.5],
    ['1.5', 13.3],
    ['2.5', 7.98],
    ['4', 4.95],
    ['6', 3.3],
    ['10', 1.91],
    ['16', 1.21],
    ['25', 0.78],
    ['35', 0.554],
    ['50', 0.386],
    ['70', 0.272],
    ['95', 0.206],
    ['120', 0.161],
    ['150', 0.129],
    ['185', 0.106],
    ['240', 0.0801],
  ];
  test.each(CLASS_5)('%s mm2: %d mohm/m', (mm2, mohm) => {
    const at = (material: 'copper' | 'aluminium' | 'cca', t = 20) => 1000 * resistance_ohm_m(`${mm2}mm2`, material, t);
    expect(at('copper')).toBeCloseTo(mohm, 9);
    expect(at('aluminium')).toBeCloseTo(mohm * 1.64, 9);
    expect(at('cca')).toBeCloseTo(mohm * 1.6, 9);
    expect(at('copper', 50)).toBeCloseTo(mohm * 1.1179, 9);
    expect(at('aluminium', 50)).toBeCloseTo(mohm * 1.64 * 1.1209, 9);
  });
  test('10 AWG by resistivity: 1.7241e-8 x 1.02 / 5.2612 mm2 = 3.3425 mohm/m; 240 mm2 and above by it too', () => {
    expect(1000 * resistance_ohm_m('10AWG', 'copper', 20)).toBeCloseTo(3.3425, 3);
    expect(1000 * resistance_ohm_m('10AWG', 'aluminium', 20)).toBeCloseTo(5.4796, 3);
    expect(1000 * resistance_ohm_m('10AWG', 'cca', 20)).toBeCloseTo(5.348, 3);
    expect(1000 * resistance_ohm_m('300mm2', 'copper', 20)).toBeCloseTo(0.058619, 6);
  });
  test('warm, cold, joints, lugs', () =>
    expect([WARM_C, COLD_C, JOINT_OHM, LUGS_OHM]).toEqual([50, 20, 0.25e-3, 0.1e-3]));
  test('sizes that are sold', () => {
    expect(METRIC_SIZES).toEqual(CLASS_5.map(([mm2]) => `${mm2}mm2`));
    expect(AWG_SIZES).toEqual(
      ['20', '18', '16', '14', '12', '10', '8', '6', '4', '3', '2', '1', '1/0', '2/0', '3/0', '4/0'].map(
        (each) => `${each}AWG`,
      ),
    );
    expect([
      stepOfSize('16mm2', 1),
      stepOfSize('16mm2', -1),
      stepOfSize('240mm2', 1),
      stepOfSize('1AWG', 1),
      stepOfSize('0.5mm2', -1),
    ]).toEqual(['25mm2', '10mm2', '240mm2', '1/0AWG', '0.5mm2']);
    // 20 mm2 lies between two that are sold.
    expect([stepOfSize('20mm2', 1), stepOfSize('20mm2', -1)]).toEqual(['25mm2', '16mm2']);
  });
  test('3.5 m one way, two a pole: 2 x 3.5 x 2 x 1.1 = 15.4 m', () =>
    expect(toCut_m({ length_m: 3.5, perPole: 2 })).toBeCloseTo(15.4, 9));

  const awg = (text: string) => text.split(' ').map((size) => `${size}AWG`);
  const BUILDING = awg('14 12 10 8 6 4 3 2 1 1/0 2/0 3/0 4/0');
  const VEHICLE = awg('18 16 14 12 10 8 6 4 2 1 1/0 2/0 3/0 4/0');
  const METRIC = '1.5 2.5 4 6 10 16 25 35 50 70 95 120 150 185 240'.split(' ').map((mm2) => `${mm2}mm2`);
  test.each([
    ['building', 60, BUILDING, [15, 20, 30, 40, 55, 70, 85, 95, 110, 125, 145, 165, 195]],
    ['building', 75, BUILDING, [20, 25, 35, 50, 65, 85, 100, 115, 130, 150, 175, 200, 230]],
    ['building', 90, BUILDING, [25, 30, 40, 55, 75, 95, 115, 130, 145, 170, 195, 225, 260]],
    ['vehicle', 75, VEHICLE, [10, 15, 20, 25, 40, 65, 95, 125, 170, 195, 230, 265, 310, 360]],
    ['vehicle', 90, VEHICLE, [20, 25, 30, 40, 55, 70, 100, 135, 180, 210, 245, 285, 330, 385]],
    ['vehicle', 105, VEHICLE, [20, 25, 35, 45, 60, 80, 120, 160, 210, 245, 285, 330, 385, 445]],
    ['metric', 70, METRIC, [19.5, 27, 36, 46, 63, 85, 112, 138, 168, 213, 258, 299, 344, 392, 461]],
    ['metric', 90, METRIC, [24, 33, 45, 58, 80, 107, 138, 171, 209, 269, 328, 382, 441, 506, 599]],
  ] as const)('ampacity, %s at %d degC', (basis, column, sizes, amps) => {
    expect(sizes.map((size) => tabulated_A(basis, size, column)?.amps)).toEqual(amps);
    expect(tabulated_A(basis, sizes[3] ?? '', column)).toMatchObject({ converted: null, column_C: column });
  });
  test.each([
    [60, [25, 30, 40, 60, 80, 105, 120, 140, 165, 195, 225, 260, 300]],
    [75, [30, 35, 50, 70, 95, 125, 145, 170, 195, 230, 265, 310, 360]],
    [90, [35, 40, 55, 80, 105, 140, 165, 190, 220, 260, 300, 350, 405]],
  ])('ampacity in free air, building code, at %d degC; the other bases know no such table', (column, amps) => {
    expect(BUILDING.map((size) => tabulated_A('building', size, column, true)?.amps)).toEqual(amps);
    expect(tabulated_A('vehicle', '6AWG', 75, true)?.amps).toBe(95);
    expect(tabulated_A('metric', '6mm2', 70, true)?.amps).toBe(46);
  });
  test('between columns the lower counts; below the first nothing does', () => {
    expect(tabulated_A('building', '6AWG', 89)?.amps).toBe(65);
    expect(tabulated_A('building', '6AWG', 59)).toBeNull();
    expect(tabulated_A('vehicle', '6AWG', 74)).toBeNull();
    expect(tabulated_A('metric', '6mm2', 69)).toBeNull();
    expect(tabulated_A('metric', '6mm2', 105)?.amps).toBe(58);
  });
  test('a size of the other system takes the largest of no larger area, and says so', () => {
    expect(tabulated_A('building', '16mm2', 75)).toMatchObject({ amps: 65, converted: '6 AWG' });
    expect(tabulated_A('metric', '6AWG', 90)).toMatchObject({ amps: 80, converted: '10 mm2' });
    expect(tabulated_A('vehicle', '120mm2', 105)).toMatchObject({ amps: 445, converted: '4/0 AWG' });
  });
  test('small sizes have figures of their own on every basis', () => {
    for (const basis of ['building', 'vehicle', 'metric'] as const)
      expect(['0.5mm2', '0.75mm2', '1mm2'].map((size) => tabulated_A(basis, size, 105)?.amps)).toEqual([6, 9, 12]);
    expect(['1.5mm2', '16AWG', '18AWG'].map((size) => tabulated_A('building', size, 75)?.amps)).toEqual([15, 13, 10]);
    expect(tabulated_A('building', '20AWG', 75)).toBeNull();
  });
  test('bundles, by current-carrying conductors', () => {
    const at = (basis: 'building' | 'vehicle' | 'metric', counts: number[]) =>
      counts.map((count) => bundleFactor(basis, count));
    expect(at('building', [1, 3, 4, 6, 7, 9, 10, 20, 21, 30, 31, 40, 41])).toEqual([
      1, 1, 0.8, 0.8, 0.7, 0.7, 0.5, 0.5, 0.45, 0.45, 0.4, 0.4, 0.35,
    ]);
    expect(at('vehicle', [1, 2, 3, 4, 6, 7, 24, 25])).toEqual([1, 1, 0.7, 0.6, 0.6, 0.5, 0.5, 0.4]);
    expect(at('metric', [1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12, 13, 18, 19])).toEqual([
      1, 1, 0.8, 0.8, 0.7, 0.7, 0.65, 0.65, 0.6, 0.6, 0.57, 0.57, 0.5, 0.5, 0.45,
    ]);
  });
  test('aluminium and clad carry 0.78; the engine space costs 15 %', () => {
    expect(MATERIAL_FACTOR).toEqual({ copper: 1, aluminium: 0.78, cca: 0.78 });
    expect(ENGINE_SPACE_FACTOR).toBe(0.85);
  });
});

describe('fuses', () => {
  test('sizes sold', () =>
    expect(FUSES_A).toEqual([
      1, 2, 3, 5, 6, 7.5, 10, 12, 15, 16, 20, 25, 30, 32, 35, 40, 50, 60, 63, 70, 80, 90, 100, 110, 125, 150, 160, 175,
      200, 225, 250, 300, 315, 350, 400, 500, 600,
    ]));
  test.each([
    ['blade', 1, 40],
    ['strip', 30, 300],
    ['terminal', 30, 300],
    ['class-t', 60, 600],
    ['nh', 16, 400],
    ['pv', 1, 32],
    ['breaker', 6, 250],
    ['thermal-breaker', 30, 200],
  ] as const)('%s is sold from %d to %d A', (type, from, to) =>
    expect([ratingsSold(type)[0], ratingsSold(type).at(-1)]).toEqual([from, to]),
  );
  test.each([
    ['blade', [1, 2, 3, 4, 5, 7.5, 10, 15, 20, 25, 30, 40]],
    ['strip', [30, 40, 50, 60, 70, 80, 100, 125, 150, 175, 200, 250, 300]],
    ['terminal', [30, 40, 50, 60, 75, 80, 90, 100, 125, 150, 175, 200, 225, 250, 300]],
    ['pv', [1, 2, 3, 4, 5, 6, 8, 10, 12, 15, 16, 20, 25, 30, 32]],
    ['breaker', [6, 10, 15, 16, 20, 25, 30, 32, 40, 50, 63, 80, 100, 125, 150, 175, 200, 250]],
    ['thermal-breaker', [30, 40, 50, 60, 80, 100, 120, 150, 200]],
  ] as const)('%s in the steps in which it is sold', (type, steps) => expect(ratingsSold(type)).toEqual(steps));
  test('nh in its own steps', () =>
    expect(ratingsSold('nh')).toEqual([16, 20, 25, 35, 40, 50, 63, 80, 100, 125, 160, 200, 250, 315, 400]));
  // A: up to this emf, and just above it.
  test.each([
    ['blade', 32, 1000, 0],
    ['strip', 32, 2000, 0],
    ['terminal', 14, 10_000, 5000],
    ['terminal', 32, 5000, 2000],
    ['terminal', 58, 2000, 0],
    ['class-t', 125, 20_000, 0],
    ['nh', 250, 25_000, 0],
    ['pv', 1000, 20_000, 0],
    ['breaker', 60, 3000, 0],
    ['thermal-breaker', 14, 3000, 1500],
    ['thermal-breaker', 28, 1500, 1000],
    ['thermal-breaker', 42, 1000, 0],
  ] as const)('a %s at %d V breaks %d A, above it %d', (type, volts, amps, above) =>
    expect([interrupt_A(type, volts), interrupt_A(type, volts + 0.01)]).toEqual([amps, above]),
  );
  test('times its rating that clears it', () =>
    expect(CLEARING).toEqual({
      blade: 3,
      strip: 3,
      terminal: 3,
      'class-t': 4,
      nh: 4,
      pv: 4,
      'thermal-breaker': 4,
      breaker: 5,
    }));
  test('the three smallest building columns have a largest fuse of their own', () =>
    expect(SMALL_BUILDING_FUSE_A).toEqual({ 14: 15, 12: 20, 10: 30 }));
  test('50 mV over a device; volts that they are sold for', () => {
    expect(DEVICE_V).toBe(0.05);
    expect(SOLD_V).toEqual({
      blade: 32,
      strip: 32,
      terminal: 58,
      'class-t': 125,
      nh: 250,
      pv: 1000,
      breaker: 60,
      'thermal-breaker': 42,
    });
  });
});

describe('modules, loads, frost', () => {
  test('cold bands: the multiplier of Voc by the whole degree below', () => {
    const bands: [number, number | null][] = [
      [30, 1],
      [25, 1],
      [24.9, 1.02],
      [20, 1.02],
      [15, 1.04],
      [10, 1.06],
      [5, 1.08],
      [0, 1.1],
      [-0.1, 1.12],
      [-5, 1.12],
      [-10, 1.14],
      [-15, 1.16],
      [-20, 1.18],
      [-25, 1.2],
      [-30, 1.21],
      [-35, 1.23],
      [-36, 1.25],
      [-40, 1.25],
      [-40.1, null],
    ];
    expect(bands.map(([t]) => [t, coldBand(t)])).toEqual(bands);
  });
  test('cell temperature by its mounting: 30 degC of air, 1000 W/m2, NOCT 45: 61.25 and more', () => {
    expect(MOUNTING_K).toEqual({ bonded: 22, flush: 12, raised: 5, rack: 0, ground: 0, portable: 0 });
    expect(cell_C(30, 1000, 45, 0)).toBeCloseTo(61.25, 9);
    expect(cell_C(20, 800, 45, 22)).toBeCloseTo(62.6, 9);
    expect(BIFACIAL_GAIN).toBe(1.1);
  });
  test('starting over running watts, by type', () => {
    expect(SURGE).toEqual({
      compressor: 5,
      induction: 5,
      pump: 4,
      universal: 2.5,
      'inverter-driven': 1.2,
      resistive: 1,
      electronic: 1,
      microwave: 1,
      other: 1,
    });
    expect([SURGE_UNTYPED, MICROWAVE]).toEqual([3, 1.5]);
  });
  test('lead freezes by its charge: full -58, half -23, empty -8 degC', () =>
    expect([1, 0.8, 0.7, 0.6, 0.5, 0.4, 0.2, 0].map((charge) => freezes_C(charge))).toEqual([
      -58, -40, -34, -28, -23, -19, -13, -8,
    ]));
  test('capacitors of an inverter, uF a watt: 10 at 12 V, 4 at 24 V, 1.5 at 48 V', () =>
    expect([12, 24, 48].map((volts) => PRECHARGE_UF_W.find(([upTo]) => volts <= upTo)?.[1])).toEqual([10, 4, 1.5]));
});
