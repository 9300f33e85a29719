import fc from 'fast-check';
import { between } from '../src/numeric/between';
import { kept } from '../src/numeric/kept';
import { solveLinear } from '../src/numeric/linear';
import { bisect, firstHolding, largestWhole, lastHolding, newton, newtonWithin, topOf } from '../src/numeric/roots';

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
