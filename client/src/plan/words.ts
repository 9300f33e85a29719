import type { Comparison } from '@true-lantern/core';

const NUMBERS = ['none', 'one', 'two', 'three', 'four', 'five', 'six', 'seven', 'eight', 'nine'];
const word = (count: number) => NUMBERS[count] ?? String(count);

/** "Cures two, breaks none, makes one worse, leaves one over." */
export function comparisonText({
  cured,
  broken,
  worse,
  hidden,
  remaining,
}: Pick<Comparison, 'cured' | 'broken' | 'worse' | 'hidden' | 'remaining'>): string {
  const harm = worse.length > 0 ? `, makes ${word(worse.length)} worse` : '';
  const open = hidden.length > 0 ? `, leaves ${word(hidden.length)} that cannot be said any more` : '';
  const left = remaining.length > 0 ? `, leaves ${word(remaining.length)} over` : '';
  return `Cures ${word(cured.length)}, breaks ${word(broken.length)}${harm}${left}${open}.`;
}
