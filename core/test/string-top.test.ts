import fc from 'fast-check';
import type { ModuleType } from '../src/index';
import { bendsOf, acrossLine, groundOf } from '../src/roof/free';
import { wattsOf } from '../src/pv/array-power';
import { groupsApart, inParallel, stringCurrent, stringCurve, type Standing } from '../src/pv/curve';
import { topOfString } from '../src/pv/top';
import { MODULE } from './hut';

const M60: ModuleType = {
  ...MODULE,
  id: 'm60',
  pmax_W: 250,
  voc_V: 37.6,
  isc_A: 8.75,
  vmp_V: 30.6,
  imp_A: 8.17,
  cells: 60,
};
const at = (light: number, cell_C = 25): Standing => ({ module: M60, irradiance_W_m2: light, cell_C });

/** By brute force: a thousand volts one after the other, each with the current that the string gives there. */
function bruteWatts(string: readonly Standing[], from_V: number): number {
  const curve = stringCurve(string);
  let best = 0;
  for (let k = 0; k < 1000; k++) {
    const volts = from_V + ((curve.open_V - from_V) * k) / 1000;
    best = Math.max(best, volts * stringCurrent(curve, volts));
  }
  return best;
}

describe('the best point of one string', () => {
  test('modules that stand alike: so many times the plate’s watts', () => {
    const { v, i } = topOfString(stringCurve([at(1000), at(1000), at(1000)]), 20);
    expect(v).toBeCloseTo(3 * 30.6, 1);
    expect(i).toBeCloseTo(8.17, 1);
    expect(v * i).toBeCloseTo(3 * 30.6 * 8.17, 3);
  });
  test('one of three at a fifth of the light: the other two without it give more than all three', () => {
    const { v, i } = topOfString(stringCurve([at(1000), at(1000), at(200)]), 20);
    expect(v).toBeGreaterThan(55);
    expect(v).toBeLessThan(62);
    expect(i).toBeGreaterThan(8);
  });
  test('where the controller works no lower than those two come, all three at the weak one’s current', () => {
    const { v, i } = topOfString(stringCurve([at(1000), at(1000), at(200)]), 75);
    expect(v).toBeGreaterThanOrEqual(75);
    expect(i).toBeLessThan(1.8);
    expect(i).toBeGreaterThan(1.5);
  });
  test('a string that does not come to the volts gives nothing', () => {
    expect(topOfString(stringCurve([at(1000)]), 50).i).toBe(0);
    expect(wattsOf([[at(1000)], [at(1000)]], { type: 'mppt', volts: 50, worth_V: 48 })).toBe(0);
  });
  test('two alike side by side are twice one', () => {
    const one = [at(900), at(300)];
    const mppt = { type: 'mppt', volts: 20, worth_V: 19 } as const;
    expect(wattsOf([one, one], mppt)).toBeCloseTo(2 * wattsOf([one], mppt), 9);
  });
  test('any light on any module or group of cells: never below what a thousand volts find, and no more than they miss', () => {
    const light = fc.integer({ min: 1, max: 1100 });
    fc.assert(
      fc.property(
        fc.array(fc.oneof(light, fc.tuple(light, light, light)), { minLength: 1, maxLength: 4 }),
        fc.integer({ min: -20, max: 80 }),
        fc.double({ min: 0.05, max: 0.9, noNaN: true }),
        (lights, cell_C, share) => {
          const string = lights.flatMap((one) =>
            typeof one === 'number' ? [at(one, cell_C)] : groupsApart(at(1000, cell_C), one),
          );
          const from_V = share * stringCurve(string).open_V;
          const { v, i } = topOfString(stringCurve(string), from_V);
          const brute = bruteWatts(string, from_V);
          expect(v).toBeGreaterThanOrEqual(from_V - 1e-6);
          expect(v * i).toBeGreaterThan(brute * (1 - 1e-5) - 1e-6);
          expect(v * i).toBeLessThan(brute * 1.0005 + 1e-3);
        },
      ),
      { numRuns: 60, seed: 7 },
    );
  });
});

describe('the best point of strings side by side', () => {
  const lit = (lights: readonly number[], cell_C: number) => lights.map((light) => at(light, cell_C));
  const watts = (strings: Standing[][], volts: number) => wattsOf(strings, { type: 'mppt', volts, worth_V: volts });
  /** By brute force, as for one string. */
  const brute = (strings: Standing[][], from_V: number) => {
    const { currentAt, highest_V } = inParallel(strings);
    let best = 0;
    for (let k = 0; k < 1000; k++) {
      const volts = from_V + ((highest_V - from_V) * k) / 1000;
      best = Math.max(best, volts * currentAt(volts));
    }
    return best;
  };
  test('any light on any module of up to four strings: never below what a thousand volts find, and no more than they miss', () => {
    const string = fc.array(fc.integer({ min: 1, max: 1100 }), { minLength: 2, maxLength: 3 });
    fc.assert(
      fc.property(
        fc.array(string, { minLength: 2, maxLength: 4 }),
        fc.integer({ min: -20, max: 80 }),
        fc.double({ min: 5, max: 60, noNaN: true }),
        (lights, cell_C, from_V) => {
          const strings = lights.map((one) => lit(one, cell_C));
          const found = brute(strings, from_V);
          expect(watts(strings, from_V)).toBeGreaterThan(found * (1 - 1e-5) - 1e-6);
          expect(watts(strings, from_V)).toBeLessThan(found * 1.0005 + 1e-3);
        },
      ),
      { numRuns: 80, seed: 11 },
    );
  });
  test('each string in its own even light: no bypass diode conducts, one top', () => {
    const strings = [lit([1000, 1000], 40), lit([700, 700], 40), lit([150, 150], 40)];
    expect(watts(strings, 20) / brute(strings, 20)).toBeCloseTo(1, 5);
    // From above the top, the power at the least volts that are asked.
    expect(watts(strings, 66)).toBeCloseTo(66 * inParallel(strings).currentAt(66), 4);
  });
  test('two tops, the lower volts the better and the higher the better', () => {
    const dim = [lit([1000, 120], 25), lit([1000, 120], 25), lit([1000, 1000], 25)];
    const bright = [lit([1000, 800], 25), lit([1000, 800], 25), lit([900, 1000], 25)];
    for (const strings of [dim, bright]) expect(watts(strings, 15) / brute(strings, 15)).toBeCloseTo(1, 5);
    expect(watts(dim, 15)).toBeGreaterThan(watts(dim, 45) * 1.1);
    expect(watts(bright, 15)).toBeCloseTo(watts(bright, 45), 3);
  });
});

describe('what lines across a roof leave', () => {
  test('where nothing is said to bend, one line bars what the line before it barred', () => {
    const point = fc.tuple(fc.integer({ min: 0, max: 400 }), fc.integer({ min: 0, max: 400 }));
    fc.assert(
      fc.property(
        point,
        point,
        point,
        fc.integer({ min: 0, max: 60 }),
        fc.integer({ min: 5, max: 60 }),
        (a, b, c, edge, r) => {
          const { fixed } = groundOf(
            [
              [0, 0],
              [400, 0],
              [400, 400],
              [0, 400],
            ],
            edge,
            [
              { outline: [a, b, c], clearance: 30 },
              { circle: [b[0], c[1], r], clearance: 0 },
            ],
          );
          const bends = bendsOf(fixed);
          const barred = (y: number) => JSON.stringify(fixed.map((one) => acrossLine(one, y)));
          for (let y = 1; y < 400; y++) if (!bends(y - 0.5, y + 0.5)) expect(barred(y + 0.5)).toBe(barred(y - 0.5));
        },
      ),
      { numRuns: 40, seed: 3 },
    );
  });
});
