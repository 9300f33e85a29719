/** Straight-line interpolation in a table of ascending x; beyond its ends the end value. */
export function between(table: readonly (readonly [x: number, y: number])[], x: number): number {
  if (Number.isNaN(x)) return x;
  const first = table[0];
  const last = table.at(-1);
  if (!first || !last) return Number.NaN;
  if (x <= first[0]) return first[1];
  if (x >= last[0]) return last[1];
  const above = table.findIndex(([at]) => at >= x);
  const [x1, y1] = table[above] ?? last;
  const [x0, y0] = table[above - 1] ?? first;
  return y0 + ((y1 - y0) * (x - x0)) / (x1 - x0);
}
