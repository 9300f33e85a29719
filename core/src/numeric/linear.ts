/**
 * Solves a square system of linear equations given with its right side as the last column, by Gauss-Jordan elimination
 * with the largest pivot of each column. The rows are used up.
 */
export function solveLinear(rows: Float64Array[]): number[] {
  const n = rows.length;
  for (let column = 0; column < n; column++) {
    let best = column;
    for (let row = column + 1; row < n; row++)
      if (Math.abs(rows[row]?.[column] ?? 0) > Math.abs(rows[best]?.[column] ?? 0)) best = row;
    const pivot = rows[best];
    const swapped = rows[column];
    if (!pivot || !swapped) continue;
    rows[best] = swapped;
    rows[column] = pivot;
    for (let row = 0; row < n; row++) {
      const target = rows[row];
      if (row === column || !target) continue;
      const factor = (target[column] ?? 0) / (pivot[column] ?? 1);
      if (factor !== 0) for (let k = column; k <= n; k++) target[k] = (target[k] ?? 0) - factor * (pivot[k] ?? 0);
    }
  }
  return rows.map((row, i) => (row[n] ?? 0) / (row[i] ?? 1));
}
