import { blocksOf, isEven } from '../src/layouts/groupings';
import { layouts, presentModules, type Layout, type ShelfItem, type System } from '../src/index';
import { CONTROLLER, hut, MODULE } from './hut';

/** Groupings of 100 W modules of 20 V, each fact worked by hand. */

const roomy = (change: (system: System) => void = () => undefined) =>
  hut((system) => {
    system.controllers = [{ ...CONTROLLER, maxPv_V: 250, maxPv_A: 100, maxOutput_A: 100 }];
    system.bank = { ...system.bank!, blockCapacity_Ah: 2000, place: { min_C: 10 } };
    change(system);
  });
const shape = ({ controllers }: Layout) =>
  controllers.map(({ series, parallel }) => `${parallel} x ${series}`).join(' + ');
const all = (count: number, model = roomy()) => layouts(model, count)!;
const named = (count: number, name: string, model = roomy()) => all(count, model).find((one) => shape(one) === name);

test('even groupings of four give the same watts, four times one, and lose nothing to each other', () => {
  const one = named(1, '1 x 1')!.watts;
  // 100 W at 25 degC; at 45 degC a few per cent less.
  expect(one).toBeGreaterThan(88);
  expect(one).toBeLessThan(98);
  for (const name of ['4 x 1', '2 x 2', '1 x 4']) {
    const found = named(4, name)!;
    expect(found.watts / one).toBeCloseTo(4, 2);
    expect(found.unused).toBe(0);
  }
});

test('the odd one is left over rather than strung unevenly, and the layout says so', () => {
  const five = all(5);
  expect(shape(five[0]!)).toMatch(/^(5 x 1|1 x 5)$/);
  const left = five.find(({ unused }) => unused === 1);
  if (left) expect(left.watts).toBeLessThan(five[0]!.watts);
});

test('even strings of so many modules, in each even way', () => {
  const shapes = (size: number) =>
    blocksOf('m', size)
      .filter(isEven)
      .map(({ lengths }) => lengths.join());
  expect(shapes(4)).toEqual(['4', '2,2', '1,1,1,1']);
  expect(shapes(12).map((shape) => shape.split(',').length)).toEqual([1, 2, 3, 4, 6, 12]);
});

test('the type that most of the arrays are made of, and how many there are', () => {
  const mixed = roomy((system) => {
    system.moduleTypes!.push({ ...MODULE, id: 'n' });
    system.arrays = [
      { id: 'a', strings: [['m', 'm']], controllerId: 'c' },
      { id: 'a2', strings: [['n', 'n', 'n']], controllerId: 'c' },
    ];
  });
  expect(presentModules(mixed)).toEqual({ type: 'n', count: 3 });
  expect(presentModules(roomy((system) => void (system.arrays = [])))).toBeNull();
});

test('of two controllers alike but in price the cheaper stands first', () => {
  const item = (label: string, price: number): ShelfItem => {
    const { id: _, ...body } = { ...CONTROLLER, maxPv_V: 250, maxPv_A: 100, maxOutput_A: 100 };
    return { kind: 'controllers', label, price, currency: 'GBP', body };
  };
  const none = roomy((system) => {
    system.controllers = [];
    system.arrays = [];
  });
  const found = layouts(
    none,
    Array.from({ length: 4 }, () => ({ type: 'm', light: 1 })),
    [item('Dear', 300), item('Cheap', 100)],
  )!;
  const ofShape = (name: string) => found.filter((one) => shape(one) === name).map(({ cost }) => cost);
  expect(ofShape('2 x 2')).toEqual([100, 300]);
});

test('a module in half the light costs its string; by itself it costs itself alone', () => {
  const pool = (lights: number[]) => lights.map((light) => ({ type: 'm', light }));
  const best = (lights: number[], name: string) => layouts(roomy(), pool(lights))!.find((one) => shape(one) === name)!;
  const one = named(1, '1 x 1')!.watts;
  const series = best([1, 0.5], '1 x 2');
  const parallel = best([1, 0.5], '2 x 1');
  // In a string the dark one holds the bright one back or is bypassed: at most about half of the two is left.
  expect(series.watts).toBeLessThan(1.3 * one);
  expect(parallel.watts).toBeGreaterThan(series.watts);
  expect(parallel.watts).toBeLessThan(1.55 * one);
  expect(best([1, 1], '1 x 2').watts / one).toBeCloseTo(2, 2);
});

test('two dark ones share a string, wherever they stand on the roof', () => {
  const lights = [0.5, 1, 0.5, 1];
  const found = layouts(
    roomy(),
    lights.map((light) => ({ type: 'm', light })),
  )!.find((one) => shape(one) === '2 x 2')!;
  const bright = named(2, '1 x 2')!.watts;
  // A bright string whole and a dark one of about half: three quarters of all four in the sun.
  expect(found.watts / bright).toBeGreaterThan(1.4);
});
