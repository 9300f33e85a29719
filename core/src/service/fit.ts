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
  const slopes: number[] = [];
  points.forEach((a, i) => {
    for (const b of points.slice(i + 1)) if (a.day !== b.day) slopes.push((b.z - a.z) / (b.day - a.day));
  });
  const slope = slopes.length > 0 ? median(slopes) : 0;
  const level = median(points.map(({ day, z }) => z - slope * day));
  const off = points.map(({ day, z }) => Math.abs(z - level - slope * day));
  const usual = median(off);
  return off.map((distance) => distance > FAR && distance > FAR_TIMES * usual);
}

/** The middle one of some figures, or between the middle two; of none NaN. */
export function median(values: readonly number[]): number {
  const sorted = Float64Array.from(values).sort();
  const middle = Math.floor(sorted.length / 2);
  const upper = sorted[middle] ?? Number.NaN;
  return sorted.length % 2 === 1 ? upper : ((sorted[middle - 1] ?? Number.NaN) + upper) / 2;
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
