import { student95 } from '../numeric/student';
import { YEAR_D } from './days';

/** A straight line through what was read over the years, and how far it can be trusted (docs/service.md). */

/** A value on a day. */
export interface Dated {
  day: number;
  z: number;
}

/** The line, its 95 % band, both on any day. */
export interface Fit {
  perYear: number;
  perYear95: [low: number, high: number];
  on(day: number): number;
  /** How far the line itself may lie from that, up and down, 95 %. */
  doubt(day: number): number;
}

/** Readings scatter at least so much, whatever a few of them say. */
const LEAST_SCATTER = 0.15;
/** Left out: further from the others' line than this, and than so many times the usual distance. */
const FAR = 1;
const FAR_TIMES = 6;

/** By day, which are too far from the line of the others to be of the same thing: a slipped probe, a wrong figure. */
export function strays(points: readonly Dated[]): boolean[] {
  if (points.length < 3) return points.map(() => false);
  const slope = middleSlope(points);
  const level = median(points.map(({ day, z }) => z - slope * day));
  const off = points.map(({ day, z }) => Math.abs(z - level - slope * day));
  const usual = median(off);
  return off.map((distance) => distance > FAR && distance > FAR_TIMES * usual);
}

/** The median of the slopes between any two (Theil and Sen): a few wrong points do not turn it. 0 where there is none. */
function middleSlope(points: readonly Dated[]): number {
  const slopes = new Float64Array((points.length * (points.length - 1)) / 2);
  let count = 0;
  points.forEach((a, i) => {
    for (let k = i + 1; k < points.length; k++) {
      const b = points[k] ?? a;
      if (a.day !== b.day) slopes[count++] = (b.z - a.z) / (b.day - a.day);
    }
  });
  return count > 0 ? middleOf(slopes.subarray(0, count)) : 0;
}

/** The middle one of some figures, or between the middle two; of none NaN. */
export const median = (values: readonly number[]): number => middleOf(Float64Array.from(values));

/** The same of figures that may be put in another order: found by parting (Hoare), which asks for no full sorting. */
function middleOf(values: Float64Array): number {
  if (values.length === 0) return Number.NaN;
  const middle = values.length >> 1;
  const upper = nth(values, middle);
  if (values.length % 2 === 1) return upper;
  // All before it are no larger by now.
  let lower = -Infinity;
  for (let i = 0; i < middle; i++) lower = Math.max(lower, values[i] ?? lower);
  return (lower + upper) / 2;
}

/** The n-th smallest; what is smaller stands before it afterwards, what is larger behind. */
function nth(values: Float64Array, n: number): number {
  let [left, right] = [0, values.length - 1];
  while (left < right) {
    const pivot = values[(left + right) >> 1] ?? 0;
    let [i, k] = [left, right];
    while (i <= k) {
      while ((values[i] ?? pivot) < pivot) i++;
      while ((values[k] ?? pivot) > pivot) k--;
      if (i > k) break;
      const one = values[i] ?? pivot;
      values[i++] = values[k] ?? pivot;
      values[k--] = one;
    }
    if (n <= k) right = k;
    else if (n >= i) left = i;
    else break;
  }
  return values[n] ?? Number.NaN;
}

/** Least squares of z on time; for three days and more. */
export function straight(points: readonly Dated[]): Fit {
  const n = points.length;
  const mean = (of: (point: Dated) => number) => points.reduce((sum, point) => sum + of(point), 0) / n;
  const middle = mean(({ day }) => day);
  const height = mean(({ z }) => z);
  const years = (day: number) => (day - middle) / YEAR_D;
  const spread = points.reduce((sum, { day }) => sum + years(day) ** 2, 0);
  const slope = points.reduce((sum, { day, z }) => sum + years(day) * (z - height), 0) / spread;
  const on = (day: number) => height + slope * years(day);
  const squares = points.reduce((sum, { day, z }) => sum + (z - on(day)) ** 2, 0);
  const scatter = Math.max(LEAST_SCATTER, Math.sqrt(squares / (n - 2)));
  const t = student95(n - 2);
  const doubt = (t * scatter) / Math.sqrt(spread);
  return {
    perYear: slope,
    perYear95: [slope - doubt, slope + doubt],
    on,
    doubt: (day) => t * scatter * Math.sqrt(1 / n + years(day) ** 2 / spread),
  };
}
