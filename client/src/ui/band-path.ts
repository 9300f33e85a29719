import { tenth } from './tenth';

/** A band between two lines through some points, as a path. */
export function bandPath<P>(
  points: readonly P[],
  x: (i: number) => number,
  low: (point: P) => number,
  high: (point: P) => number,
): string {
  if (points.length === 0) return '';
  const line = (y: (point: P) => number) => points.map((point, i) => `${tenth(x(i))} ${tenth(y(point))}`);
  return `M${line(high).join('L')}L${line(low).reverse().join('L')}Z`;
}
