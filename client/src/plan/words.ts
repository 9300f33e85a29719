import type { Comparison } from '@true-lantern/core';

/** "Fixes 2 · causes 6 new · 1 made worse · 20 still over": what a change does to the findings, in the order that counts. */
export function comparisonText({
  cured,
  broken,
  worse,
  hidden,
  remaining,
}: Pick<Comparison, 'cured' | 'broken' | 'worse' | 'hidden' | 'remaining'>): string {
  return [
    `Fixes ${cured.length}`,
    broken.length > 0 ? `causes ${broken.length} new` : 'causes none',
    ...(worse.length > 0 ? [`${worse.length} made worse`] : []),
    ...(remaining.length > 0 ? [`${remaining.length} still over`] : []),
    ...(hidden.length > 0 ? [`${hidden.length} can no longer be judged`] : []),
  ].join(' \u00b7 ');
}
