import type { Comparison } from '@true-lantern/core';

const NUMBERS = ['none', 'one', 'two', 'three', 'four', 'five', 'six', 'seven', 'eight', 'nine'];
const word = (count: number) => NUMBERS[count] ?? String(count);

/** "Cures two, breaks none, leaves one over." */
export function comparisonText({
  cured,
  broken,
  remaining,
}: Pick<Comparison, 'cured' | 'broken' | 'remaining'>): string {
  const left = remaining.length > 0 ? `, leaves ${word(remaining.length)} over` : '';
  return `Cures ${word(cured.length)}, breaks ${word(broken.length)}${left}.`;
}
