import { createLedger } from '../src/ledger/ledger';
import { recordedDischarge_A } from '../src/power/discharge';
import { design_A, throughBox } from '../src/power/design';
import { dc_W, derating, isWinter, low_V, running_VA, surge_W } from '../src/power/loads';
import { namePlateDoubts } from '../src/pv/nameplate';
import { arrayCurve } from '../src/pv/array-curve';
import { noteCurve, stringCurve } from '../src/pv/curve';
import { underShade } from '../src/pv/shade';
import { coldBand } from '../src/pv/strings';
import { sunHours } from '../src/sun/tilted';
import type { Inverter, Load, ModuleType, Run, System } from '../src/index';
import { hut, MODULE, part } from './hut';

const load = (more: Partial<Load>): Load => ({
  id: 'l',
  label: 'Load',
  kind: 'ac',
  power_W: 100,
  hours_d: 1,
  overlap: 'base',
  ...more,
});
const inverter: Inverter = { id: 'inv', continuous_W: 1000 };

describe('what starts on top of what runs', () => {
  const starting = (one: Partial<Load>) => {
    const io = createLedger(hut());
    return [surge_W(io, [load(one)]), [...io.assumed].filter((path) => path !== 'l.quantity')];
  };
  test('a motor of unknown make starts with three times its watts, and that is a guess of its type', () =>
    expect(starting({})).toEqual([300, ['l.type', 'l.surge_W']]));
  test('what was read on the plate stands, whatever its type', () =>
    expect(starting({ surge_W: 640 })).toEqual([640, []]));
  test('a start below what it draws running is no start', () => expect(starting({ surge_W: 20 })).toEqual([100, []]));
  test('nothing starts where nothing runs', () => expect(surge_W(createLedger(hut()), [])).toBe(0));
  test('of two, the harder start alone comes on top', () => {
    const two = [
      load({ id: 'a', type: 'resistive', power_W: 500 }),
      load({ id: 'b', type: 'pump', power_W: 100 }),
      load({ id: 'c', type: 'universal', power_W: 100 }),
    ];
    // 700 running; the pump adds 4 x 100 - 100, the drill 2.5 x 100 - 100
    expect(surge_W(createLedger(hut()), two)).toBe(700 + 300);
  });
  test('apparent power: 100 W at .6 and 60 W unsaid are 166.7 + 60 VA', () => {
    const io = createLedger(hut());
    const both = [load({ id: 'a', powerFactor: 0.6 }), load({ id: 'b', power_W: 60 })];
    expect(running_VA(io, both)).toBeCloseTo(100 / 0.6 + 60, 9);
    expect(io.assumed.has('b.powerFactor')).toBe(true);
  });
});

describe('an inverter at its place', () => {
  const io = (change?: Parameters<typeof hut>[0]) => createLedger(hut(change));
  test('it gives up where it was set, else where it is printed, else at .875 of nominal', () => {
    const all = { ...inverter, settings: { cutoff_V: 11.4 }, lowCutoff_V: 10.2 };
    expect(low_V(io(), all)).toBe(11.4);
    expect(low_V(io(), { ...all, settings: { cutoff_V: null } })).toBe(10.2);
    expect(low_V(io(), { ...all, settings: undefined, lowCutoff_V: undefined })).toBe(10.5);
  });
  test('1 % a degree to 40 degC from where it is rated, 1.5 % a degree above, 1 % each 100 m above 2000', () => {
    const left = (recordHigh_C: number, ratedAt_C?: number, elevation_m = 0) =>
      derating(
        io((_, file) => Object.assign(file.site, { recordHigh_C, elevation_m })),
        { ...inverter, ratedAt_C },
      );
    expect(left(25)).toBe(1);
    expect(left(26)).toBeCloseTo(0.99, 9);
    expect(left(40)).toBeCloseTo(0.85, 9);
    expect(left(50)).toBeCloseTo(1 - 0.15 - 0.15, 9);
    // Rated at 40 degC: only what is above; rated at 45: from there. A rating at 20 degC promises no more at 25.
    expect(left(45, 40)).toBeCloseTo(1 - 0.075, 9);
    expect(left(50, 45)).toBeCloseTo(1 - 0.075, 9);
    expect(left(30, 20)).toBeCloseTo(0.95, 9);
    expect(left(20, undefined, 2000)).toBe(1);
    expect(left(20, undefined, 3000)).toBeCloseTo(0.9, 9);
    expect(left(150)).toBe(0);
  });
});

describe('seasons', () => {
  test('winter is October to March in the north, April to September in the south', () => {
    const months = Array.from({ length: 12 }, (_, m) => m + 1);
    expect(months.filter((month) => isWinter(50, month))).toEqual([1, 2, 3, 10, 11, 12]);
    expect(months.filter((month) => isWinter(-50, month))).toEqual([4, 5, 6, 7, 8, 9]);
  });
  test('a plane toward the equator gains most in the month of the lowest sun', () => {
    const gain = (month: number) => sunHours({ latitude_deg: 46.5, tilt_deg: 60, azimuth_deg: 180 }, month, 2) / 2;
    const best = Array.from({ length: 12 }, (_, m) => m + 1).reduce((a, b) => (gain(b) > gain(a) ? b : a));
    expect(best).toBe(12);
    expect(gain(6)).toBeLessThan(1);
  });
});

describe('currents for cables', () => {
  const run = (more: Partial<Run>): Run => ({
    id: 'r',
    kind: 'dc-load',
    from: 'b',
    to: 'l',
    length_m: 3,
    size: '6mm2',
    ...more,
  });
  const amps = (change: (system: System) => void, id = 'r') => {
    const model = hut(change);
    return design_A(
      createLedger(model),
      model.system.runs!.find((one) => one.id === id)!,
    );
  };
  const feeding = (more: Partial<Load>) =>
    amps((system) => {
      system.loads = [load({ kind: 'dc', power_W: 84, ...more })];
      system.runs = [run({})];
    });
  test('constant power draws most from a low bank: 84 W at 10.5 V, resistance at 12', () => {
    expect(feeding({ type: 'electronic' })).toBeCloseTo(8, 9);
    expect(feeding({ type: 'compressor' })).toBeCloseTo(8, 9);
    expect(feeding({ type: 'resistive' })).toBeCloseTo(7, 9);
    expect(feeding({})).toBeCloseTo(7, 9);
    expect(feeding({ type: 'electronic', quantity: 3 })).toBeCloseTo(24, 9);
  });
  const box = (system: System) => {
    system.distribution = [{ id: 'box', circuits: ['up', 'cb', 'ch', 'l1', 'l2'] }];
    system.loads = [load({ id: 'l1', kind: 'dc', power_W: 60 }), load({ id: 'l2', kind: 'dc', power_W: 120 })];
    system.chargers = [{ id: 'x', kind: 'mains', max_A: 25 }];
    system.runs = [
      run({ id: 'up', kind: 'dc-load', from: 'b', to: 'box' }),
      run({ id: 'cb', kind: 'controller-battery', from: 'c', to: 'box' }),
      run({ id: 'ch', kind: 'charger', from: 'x', to: 'box' }),
      run({ id: 'l1', from: 'box', to: 'l1' }),
      run({ id: 'l2', from: 'box', to: 'l2' }),
    ];
  };
  test('through a box: 200 W of sun at 12 V and 25 A of charger in, 5 A and 10 A of loads out; the larger sizes its cable', () => {
    const model = hut(box);
    expect(throughBox(createLedger(model), model.system.distribution![0]!, ['up'])).toEqual({
      sources: 200 / 12 + 25,
      loads: 15,
    });
    expect(amps(box, 'up')).toBeCloseTo(200 / 12 + 25, 9);
  });
  test('a combiner adds its strings: two of 6.5 A at 1.25 make 16.25 A', () => {
    const combiner = (system: System) => {
      system.arrays = [{ id: 'a', strings: [['m'], ['m']], mounting: 'raised', controllerId: 'c' }];
      system.distribution = [{ id: 'box', circuits: ['s'] }];
      system.runs = [run({ id: 's', kind: 'pv', from: 'a', to: 'box' })];
    };
    const model = hut(combiner);
    const { sources, loads } = throughBox(createLedger(model), model.system.distribution![0]!);
    expect([sources, loads]).toEqual([2 * 6.5 * 1.25, 0]);
  });
  test('recorded peaks: AC through the inverter at its cut-off, DC at nominal; none recorded is nothing known', () => {
    const peak = (loads: Load[]) =>
      recordedDischarge_A(
        createLedger(
          hut((system) => {
            system.inverters = [{ ...inverter, efficiency_pct: 80, lowCutoff_V: 10 }];
            system.loads = loads;
          }),
        ),
      );
    const ac = load({ id: 'a', recordedPeak_W: 400 });
    const dc = load({ id: 'd', kind: 'dc', recordedPeak_W: 60 });
    expect(peak([ac, dc])).toBeCloseTo(400 / (0.8 * 10) + 60 / 12, 9);
    expect(peak([ac])).toBeCloseTo(50, 9);
    expect(peak([dc, load({ id: 'q' })])).toBeCloseTo(5, 9);
    expect(peak([load({ id: 'q' })])).toBeNull();
  });
  test('a converter takes 100/92 of what it gives, guessed; 100/80 where it was read', () => {
    const model = (efficiency_pct?: number) =>
      hut((system) => (system.converters = [{ id: 'k', in_V: 24, out_V: 12, max_A: 10, efficiency_pct }]));
    const one = load({ kind: 'dc', converterId: 'k' });
    expect(dc_W(createLedger(model()), one)).toBeCloseTo(100 / 0.92, 9);
    expect(dc_W(createLedger(model(80)), one)).toBeCloseTo(125, 9);
    expect(dc_W(createLedger(hut()), load({ kind: 'dc' }))).toBe(100);
  });
});

describe('plates of modules', () => {
  const doubts = (more: Partial<ModuleType>) =>
    namePlateDoubts({ ...MODULE, ...more }).map((text) => text.split(' = ')[0]);
  test('watts that are not volts by amperes, beyond 3 %', () => {
    expect(doubts({ pmax_W: 100 })).toEqual([]);
    expect(doubts({ pmax_W: 16.4 * 6.1 * 1.029 })).toEqual([]);
    expect(doubts({ pmax_W: 16.4 * 6.1 * 1.033 })).toEqual(['Vmp x Imp']);
    expect(doubts({ pmax_W: (16.4 * 6.1) / 1.032 })).toEqual(['Vmp x Imp']);
  });
  test('an operating current or voltage at or above the extreme', () => {
    expect(doubts({ imp_A: 6.5, pmax_W: 6.5 * 16.4 })).toEqual(['Imp 6.5 A is not below Isc 6.5 A']);
    expect(doubts({ vmp_V: 20, pmax_W: 122 })).toEqual(['Vmp 20 V is not below Voc 20 V']);
  });
  test.each([
    ['Imp/Isc', 0.9, 0.97, (ratio: number) => ({ imp_A: 6.5 * ratio, pmax_W: 6.5 * ratio * 16.4 })],
    ['Vmp/Voc', 0.76, 0.87, (ratio: number) => ({ vmp_V: 20 * ratio, pmax_W: 20 * ratio * 6.1 })],
    ['Voc per cell', 0.55, 0.76, (ratio: number) => ({ voc_V: 20, cells: 20 / ratio })],
  ] as const)('%s from %f to %f', (name, low, high, plate) => {
    expect([low - 0.001, low + 0.001, high - 0.001, high + 0.001].map((ratio) => doubts(plate(ratio)))).toEqual([
      [name],
      [],
      [],
      [name],
    ]);
  });
  test('half-cut cells are printed twice: 20 V over 64 half cells is .625 V a cell; unread cells are not doubted', () => {
    expect(doubts({ cells: 64, halfCut: true })).toEqual([]);
    expect(doubts({ cells: 64 })).toEqual(['Voc per cell']);
    expect(doubts({ cells: null })).toEqual([]);
  });
});

describe('curves', () => {
  const bare = { ...MODULE, betaVoc_pct_C: undefined, alphaIsc_pct_C: undefined };
  test('coefficients that nobody read: -.30 and +.05 %/K, and the finding says that they are guesses', () => {
    const at = (module: ModuleType) => arrayCurve([[{ module, irradiance_W_m2: 800, cell_C: 65 }]]);
    const [guessed, read] = [at(bare), at({ ...bare, betaVoc_pct_C: -0.3, alphaIsc_pct_C: 0.05 })];
    expect(guessed.best).toEqual(read.best);
    // 40 K above standard: Isc x .8 x 1.02
    expect(guessed.currentAt(0)).toBeCloseTo(6.5 * 0.8 * 1.02, 2);
    const io = createLedger(hut());
    noteCurve(io, [bare]);
    expect([...io.assumed]).toEqual(expect.arrayContaining(['m.betaVoc_pct_C', 'm.alphaIsc_pct_C']));
  });
  test('hotter, a module gives fewer volts by its coefficient: 20 V less 9 % at 55 degC', () =>
    expect(stringCurve([{ module: bare, irradiance_W_m2: 1000, cell_C: 55 }]).open_V).toBeCloseTo(20 * 0.91, 1));
  test('a curve starts at the short circuit, ends at the open one, and falls all the way', () => {
    const { points, best } = arrayCurve([[{ module: MODULE, irradiance_W_m2: 1000, cell_C: 25 }]]);
    expect(points[0]).toEqual({ v: 0, i: expect.closeTo(6.5, 4) });
    expect(points.at(-1)).toEqual({ v: expect.closeTo(20, 4), i: 0 });
    expect(points.every(({ i }, k) => k === 0 || i < points[k - 1]!.i)).toBe(true);
    expect(best.p).toBeCloseTo(16.4 * 6.1, 2);
  });
  test('in the dark there is less than a thousandth', () =>
    expect(arrayCurve([[{ module: MODULE, irradiance_W_m2: 0, cell_C: 25 }]]).best.p).toBeLessThan(0.1));
  test('a short string beside a long one: together they open between the two, and the short takes current in', () => {
    const lit = { module: MODULE, irradiance_W_m2: 1000, cell_C: 25 };
    const { points, currentAt } = arrayCurve([[lit], [lit, lit]]);
    const open_V = points.at(-1)!.v;
    expect(open_V).toBeGreaterThan(20);
    expect(open_V).toBeLessThan(30);
    expect(currentAt(open_V)).toBeCloseTo(0, 3);
    expect(currentAt(0)).toBeCloseTo(13, 3);
  });
});

describe('other wirings under shade', () => {
  const answer = (strings: string[][], light = strings.map((string) => string.map(() => 1))) =>
    underShade(
      hut((system) => {
        part.array(system).strings = strings;
        system.moduleTypes!.push({ ...MODULE, id: 'n' });
      }),
      { arrayId: 'a', irradiance_W_m2: 1000, cell_C: 25, light },
    )!;
  const shapes = (strings: string[][]) => answer(strings).wirings.map(({ series, present }) => [series, present]);
  test('six modules: every even grouping, the present one marked', () =>
    expect(
      shapes([
        ['m', 'm', 'm'],
        ['m', 'm', 'm'],
      ]),
    ).toEqual([
      [1, false],
      [2, false],
      [3, true],
      [6, false],
    ]));
  test('uneven strings and mixed types are not rewired', () => {
    expect(shapes([['m', 'm'], ['m']])).toEqual([]);
    expect(shapes([['m', 'n']])).toEqual([]);
  });
  test('one module in the dark costs its string half, side by side only itself', () => {
    const { best, wirings, unshaded_W } = answer(
      [
        ['m', 'm'],
        ['m', 'm'],
      ],
      [
        [1, 0.0],
        [1, 1],
      ],
    );
    const beside = wirings.find(({ series }) => series === 1)!;
    expect(unshaded_W).toBeCloseTo(4 * 16.4 * 6.1, 1);
    expect(beside.best_W / unshaded_W).toBeCloseTo(0.75, 2);
    expect(best.p / unshaded_W).toBeLessThan(0.56);
  });
});

describe('cold bands', () => {
  test('a tenth of a degree below each edge is the next band', () =>
    expect([24.9, 19.9, 14.9, 9.9, 4.9, -0.1, -5.1, -10.1, -15.1, -20.1, -25.1, -30.1, -35.1].map(coldBand)).toEqual([
      1.02, 1.04, 1.06, 1.08, 1.1, 1.12, 1.14, 1.16, 1.18, 1.2, 1.21, 1.23, 1.25,
    ]));
});
