import { lastHolding, topOf } from '../numeric/roots';
import { inParallel, type Point, type Standing } from './curve';

/** The whole curve of an array, for drawing it. */

/** A point of a curve with its watts. */
export interface PowerPoint extends Point {
  p: number;
}
/** The curve of an array: points from 0 V to open circuit, every top, the best of them. */
export interface ArrayCurve {
  points: Point[];
  maxima: PowerPoint[];
  best: PowerPoint;
  currentAt(volts: number): number;
}

const POINTS = 400;

/** The curve of strings in parallel, from 0 V to open circuit, with every local maximum of its power. */
export function arrayCurve(strings: readonly (readonly Standing[])[]): ArrayCurve {
  const { currentAt: sumAt, highest_V: highest } = inParallel(strings);
  // Open circuit of the whole: strings of unequal volts settle between their own.
  const open = lastHolding((volts) => sumAt(volts) > 0, 0, highest, 1e-10 * highest);
  const points = Array.from({ length: POINTS + 1 }, (_, k) => {
    const v = (open * k) / POINTS;
    return { v, i: k === POINTS ? 0 : sumAt(v) };
  });
  const maxima: PowerPoint[] = [];
  for (let k = 1; k < POINTS; k++) {
    const [before, here, after] = [points[k - 1], points[k], points[k + 1]];
    if (!before || !here || !after) continue;
    const p = here.v * here.i;
    if (p > before.v * before.i && p >= after.v * after.i) maxima.push(peak(sumAt, before.v, after.v));
  }
  const nothing: PowerPoint = { v: 0, i: points[0]?.i ?? 0, p: 0 };
  const best = maxima.reduce((a, b) => (b.p > a.p ? b : a), nothing);
  return { points, maxima, best, currentAt: sumAt };
}

/** The top between two voltages, by golden section. */
function peak(currentAt: (v: number) => number, from: number, to: number): PowerPoint {
  const v = topOf((volts) => volts * currentAt(volts), from, to);
  const i = currentAt(v);
  return { v, i, p: v * i };
}
