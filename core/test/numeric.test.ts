import fc from 'fast-check';
import { median } from '../src/service/fit';
import { between } from '../src/numeric/between';
import { kept } from '../src/numeric/kept';
import { solveLinear } from '../src/numeric/linear';
import {
  bisect,
  straddled,
  firstHolding,
  largestWhole,
  lastHolding,
  newton,
  newtonWithin,
  secant,
  topOf,
} from '../src/numeric/roots';

describe('roots', () => {
  test('the root of x^2 - 2 is 1.41421356 by halving and by Newton, from either side', () => {
    const f = (x: number) => x * x - 2;
    expect(bisect(f, 0, 2)).toBeCloseTo(Math.SQRT2, 12);
    expect(bisect((x) => -f(x), 0, 2)).toBeCloseTo(Math.SQRT2, 12);
    const at = (x: number, out: { value: number; slope: number }) => {
      out.value = f(x);
      out.slope = 2 * x;
    };
    expect(newton(at, 5, 1e-12)).toBeCloseTo(Math.SQRT2, 12);
  });
  test('a coarse width ends early, and no nearer', () => {
    let asked = 0;
    const root = bisect((x) => (asked++, x - 1 / 3), 0, 1, 0.1);
    expect(Math.abs(root - 1 / 3)).toBeLessThan(0.1);
    expect(asked).toBeLessThan(8);
  });
  describe('between two points of unlike sign', () => {
    const counted = (f: (x: number) => number) => {
      let asked = 0;
      return { f: (x: number) => (asked++, f(x)), asked: () => asked };
    };
    test.each<[string, (x: number) => number, number, number, number]>([
      ['straight', (x) => 3 - 2 * x, 0, 10, 1.5],
      ['a knee, as of a bank at its absorb', (x) => Math.min(5, 20 - 4 * x) - x, 0, 20, 4],
      ['steep at one end, flat at the other', (x) => Math.exp(-20 * x) - 0.01, 0, 5, Math.log(100) / 20],
      ['flat, then steep', (x) => 1 - x ** 40, 0, 1.5, 1],
      ['upwards', (x) => x ** 3 - 2, 0, 2, Math.cbrt(2)],
      ['the first point itself', (x) => -x, 0, 3, 0],
      ['the last point itself', (x) => x - 3, 0, 3, 3],
    ])('%s', (_, f, from, to, root) => {
      const { f: g, asked } = counted(f);
      expect(Math.abs(straddled(g, from, to, 1e-9) - root)).toBeLessThan(1e-8);
      expect(asked()).toBeLessThan(40);
    });
    test('eight questions for what halving asks thirty', () => {
      const { f, asked } = counted((x) => 50 / (1 + x / 30) - x);
      straddled(f, 0, 50, 1e-6);
      expect(asked()).toBeLessThan(10);
    });
  });
  test('a root that is hit is the answer', () => expect(bisect((x) => x - 0.5, 0, 1)).toBe(0.5));
  test('within bounds: a falling function with a kink a thousand times as steep', () => {
    const f = (x: number) => (x < 1 ? 1 - x + 1 : 1000 * (1.001 - x));
    let steps = 0;
    const root = newtonWithin(
      (x, out) => {
        steps++;
        out.value = f(x);
        out.slope = x < 1 ? -1 : -1000;
      },
      { low: -10, high: 10, start: -9, close: 1e-12 },
    );
    expect(root).toBeCloseTo(1.001, 9);
    expect(steps).toBeLessThan(60);
  });
  test('a slope of nothing is halved out of', () =>
    expect(
      newtonWithin(
        (x, out) => {
          out.value = 0.3 - x;
          out.slope = 0;
        },
        { low: 0, high: 1, start: 0.9, close: 1e-10 },
      ),
    ).toBeCloseTo(0.3, 8));
  test('Newton within bounds stops when two steps are near, absolute below 1 and relative above', () => {
    const steps = (root: number, close: number) => {
      let asked = 0;
      const found = newtonWithin(
        (x, out) => {
          asked++;
          out.value = root ** 3 - x ** 3;
          out.slope = -3 * x * x;
        },
        { low: root / 4, high: root * 4, start: root * 2, close },
      );
      expect(Math.abs(found / root - 1)).toBeLessThan(1e-9);
      return asked;
    };
    // The cube root of 1e18 is found to the last figure that a number has room for; it can only end by a relative step.
    expect(steps(1e6, 1e-12)).toBeLessThan(12);
    expect(steps(0.5, 1e-12)).toBeLessThan(12);
    // 1e-3 of a metre is no step of 1e-3: an answer near in absolute terms may be had sooner.
    expect(steps(1e6, 1e-12)).toBeGreaterThan(steps(1e6, 1e-4));
  });
  test('by the secant: an affine function in one step, x^3 + x - 10 at 2 in few, and it says so where it is level', () => {
    let asked = 0;
    expect(secant((x) => (asked++, 3 * x - 12), 0, 1, 1e-9)).toBeCloseTo(4, 9);
    expect(asked).toBe(3);
    expect(secant((x) => x ** 3 + x - 10, 1, 3, 1e-9)).toBeCloseTo(2, 9);
    expect(secant(() => 5, 1, 2, 1e-9)).toBe(2);
    asked = 0;
    expect(secant((x) => (asked++, x), 1, 0, 1e-9)).toBe(0);
    expect(asked).toBe(2);
  });
  test('each step of a golden section costs one question', () => {
    let asked = 0;
    topOf((x) => (asked++, -x * x), -1, 1, 12);
    expect(asked).toBe(14);
  });
  test('the top of a parabola', () => {
    expect(topOf((x) => -((x - 0.7) ** 2), 0, 3)).toBeCloseTo(0.7, 6);
    expect(topOf((x) => -((x - 2.9) ** 2), 0, 3)).toBeCloseTo(2.9, 6);
  });
});

describe('where something stops holding', () => {
  test('from below and from above', () => {
    expect(lastHolding((x) => x <= 7.3, 0, 10, 1e-6)).toBeCloseTo(7.3, 5);
    expect(firstHolding((x) => x >= 7.3, 0, 10, 1e-6)).toBeCloseTo(7.3, 5);
    expect(lastHolding((x) => x <= 7.3, 0, 10, 1e-6)).toBeLessThanOrEqual(7.3);
    expect(firstHolding((x) => x >= 7.3, 0, 10, 1e-6)).toBeGreaterThanOrEqual(7.3);
  });
  test('whole numbers: any limit from any start is found to one', () =>
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 5000 }), fc.integer({ min: 0, max: 100_000 }), (from, more) => {
        const limit = from + more;
        expect(largestWhole((value) => value <= limit, from, 1_000_000)).toBe(limit);
      }),
    ));
  test('a limit far off is found with few questions', () => {
    let asked = 0;
    expect(largestWhole((value) => (asked++, value <= 70_000), 0, 1_000_000)).toBe(70_000);
    expect(asked).toBeLessThan(35);
    asked = 0;
    expect(largestWhole((value) => (asked++, value <= 3), 0, 1_000_000)).toBe(3);
    expect(asked).toBeLessThan(10);
  });
  test('not even the start, and all the way', () => {
    expect(largestWhole(() => false, 5, 100)).toBe(4);
    expect(largestWhole(() => true, 5, 100)).toBeNull();
    expect(largestWhole((value) => value < 100, 5, 100)).toBe(99);
  });
});

describe('tables and equations', () => {
  const TABLE = [
    [0, 10],
    [10, 20],
    [30, 0],
  ] as const;
  test('straight between the points, the end values beyond', () =>
    expect([-5, 0, 5, 10, 20, 30, 99].map((x) => between(TABLE, x))).toEqual([10, 10, 15, 20, 10, 0, 0]));
  test('what is not known stays unknown', () => {
    expect(between(TABLE, Number.NaN)).toBeNaN();
    expect(between([], 3)).toBeNaN();
  });
  test('between two points far from the origin', () =>
    expect(
      between(
        [
          [10, 1],
          [14, 3],
        ],
        11,
      ),
    ).toBe(1.5));
  test('an empty first column wants another row; the largest pivot keeps a thousandth of a millionth from spoiling it', () => {
    const solved = (...rows: number[][]) => solveLinear(rows.map((row) => Float64Array.from(row)));
    expect(solved([1e-20, 1, 1], [1, 1, 2]).map((x) => Number(x.toFixed(12)))).toEqual([1, 1]);
    expect(solved([0, 2, 4], [3, 0, 9])).toEqual([3, 2]);
    expect(solved([2, -1, 0], [-4, 1, 4])).toEqual([-2, -4]);
    expect(solved([5, 10])).toEqual([2]);
  });
  test('three equations by hand: x + y + z = 6, 2y + 5z = -4, 2x + 5y - z = 27: 5, 3, -2', () => {
    const rows = [
      [0, 2, 5, -4],
      [1, 1, 1, 6],
      [2, 5, -1, 27],
    ].map((row) => Float64Array.from(row));
    expect(solveLinear(rows).map((x) => Number(x.toFixed(9)))).toEqual([5, 3, -2]);
  });
  test('an answer is kept until too many are', () => {
    const memory = kept<number, number>(2);
    let made = 0;
    const ask = (key: number) => memory(key, () => (made++, key * key));
    expect([ask(3), ask(3), ask(4), ask(3)]).toEqual([9, 9, 16, 9]);
    expect(made).toBe(2);
    ask(5);
    ask(3);
    expect(made).toBe(4);
  });
});

test('the median is the middle of the sorted figures, whatever their order and however often one comes', () => {
  expect(median([])).toBeNaN();
  expect(median([3, 1, 2])).toBe(2);
  expect(median([4, 1, 3, 2])).toBe(2.5);
  expect(median([5, 5, 5, 5])).toBe(5);
  fc.assert(
    fc.property(fc.array(fc.integer({ min: -20, max: 20 }), { minLength: 1, maxLength: 60 }), (values) => {
      const sorted = [...values].sort((a, b) => a - b);
      const [low, high] = [sorted[(values.length - 1) >> 1]!, sorted[values.length >> 1]!];
      expect(median(values)).toBe((low + high) / 2);
    }),
  );
});
