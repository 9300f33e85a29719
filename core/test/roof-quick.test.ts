import type { LitHour } from '../src/roof/light';
import { yieldOf, type Input } from '../src/roof/kept';
import { quickScore } from '../src/roof/quick';
import { regrouped } from '../src/roof/regroup';
import type { ModuleType } from '../src/system/schema';
import { numbers } from './mutated-files';

const M280 = {
  id: 'm280',
  pmax_W: 280,
  voc_V: 39,
  isc_A: 9.4,
  vmp_V: 31.7,
  imp_A: 8.83,
  cells: 60,
  betaVoc_pct_C: -0.31,
  alphaIsc_pct_C: 0.05,
  gammaPmax_pct_C: -0.4,
  bypassDiodes: 3,
} as ModuleType;

/** Strings of equal length, module by module as they lie on the roof. */
const inputOf = (count: number, length: number, type: 'mppt' | 'pwm', volts: number): Input => ({
  type,
  volts,
  worth_V: volts - 1,
  heat_K_m2_W: 0.03,
  strings: Array.from({ length: count }, (_, s) =>
    Array.from({ length }, (_x, m) => ({ module: M280, face: s * length + m, array: 'a' })),
  ),
});
const hourOf = (hour: number, beam: number, lit: readonly number[]): LitHour => ({
  month: 5,
  hour,
  days: 30,
  air_C: 18,
  beam,
  sky: 120,
  ground: 0,
  sunny: true,
  lit: Float64Array.from(lit),
  groups: lit.map((share) => new Float64Array(3).fill(share)),
});
const skies = (count: number) => Array.from({ length: count }, () => 0.95);
const shuffled = <T>(list: readonly T[], next: () => number): T[] =>
  list
    .map((one) => ({ one, at: next() }))
    .sort((a, b) => a.at - b.at)
    .map(({ one }) => one);
const rewired = (input: Input, next: () => number): Input['strings'] => {
  const all = shuffled(input.strings.flat(), next);
  let from = 0;
  return input.strings.map(({ length }) => all.slice(from, (from += length)));
};

describe('wirings compared quickly', () => {
  test.each(['mppt', 'pwm'] as const)('%s: what tables say of a wiring is within 1 %% of its curves', (type) => {
    const next = numbers(71);
    const input = inputOf(2, 3, type, type === 'pwm' ? 60 : 14);
    const hours = Array.from({ length: 6 }, (_, h) =>
      hourOf(
        9 + h,
        300 + 90 * h,
        Array.from({ length: 6 }, () => Math.min(1, 1.6 * next())),
      ),
    );
    const score = quickScore(input, hours, skies(6));
    for (let k = 0; k < 12; k++) {
      const strings = rewired(input, next);
      const exact = yieldOf({ ...input, strings }, hours, skies(6), false).kept;
      expect(score(strings) / exact).toBeGreaterThan(0.99);
      expect(score(strings) / exact).toBeLessThan(1.01);
    }
  });

  test('an hour counts as often as it comes in the year', () => {
    const input = inputOf(2, 2, 'mppt', 14);
    const [once] = [hourOf(12, 600, [1, 0.3, 1, 0.3])];
    const twice = { ...once, days: 60 };
    expect(quickScore(input, [twice], skies(4))(input.strings)).toBeCloseTo(
      2 * quickScore(input, [once], skies(4))(input.strings),
      6,
    );
  });

  test('three strings of four: the shaded row belongs in one string, whoever lies where', () => {
    const next = numbers(5);
    for (let k = 0; k < 3; k++) {
      const input = inputOf(3, 4, 'mppt', 50);
      const weak = new Set(
        shuffled(
          Array.from({ length: 12 }, (_, i) => i),
          next,
        ).slice(0, 4),
      );
      const lit = Array.from({ length: 12 }, (_, i) => (weak.has(i) ? 0.2 : 1));
      const hours = [hourOf(9, 500, lit), hourOf(10, 700, lit)];
      const best = regrouped(input, hours, skies(12), yieldOf(input, hours, skies(12)));
      const faces = (best?.strings ?? input.strings).map((string) => string.map(({ face }) => face!));
      const shaded = faces.filter((string) => string.every((face) => weak.has(face)));
      expect(shaded).toHaveLength(1);
    }
  });

  test('no wiring of all that there are gives more than 0.2 % above the one that was chosen', () => {
    const next = numbers(19);
    for (let k = 0; k < 6; k++) {
      const input = inputOf(2, 2, 'mppt', 30);
      const hours = Array.from({ length: 5 }, (_, h) =>
        hourOf(
          9 + h,
          400 + 60 * h,
          Array.from({ length: 4 }, () => Math.min(1, 1.5 * next())),
        ),
      );
      const wired = yieldOf(input, hours, skies(4));
      const [a, b, c, d] = input.strings.flat() as [Slot, Slot, Slot, Slot];
      const ways = [
        [
          [a, b],
          [c, d],
        ],
        [
          [a, c],
          [b, d],
        ],
        [
          [a, d],
          [b, c],
        ],
      ];
      const most = Math.max(...ways.map((strings) => yieldOf({ ...input, strings }, hours, skies(4)).kept));
      const got = regrouped(input, hours, skies(4), wired)?.sums.kept ?? wired.kept;
      expect(got).toBeGreaterThan(0.998 * most);
    }
  });
});
type Slot = Input['strings'][number][number];
