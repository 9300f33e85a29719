import { check } from '../rules/check';
import { keyOf, overOf, worstFirst, type Finding } from '../rules/finding';
import type { Model } from '../system/model';

/** What a proposal does to the findings of the system as found. */
export interface Comparison {
  /** Over before, not over now (or gone). */
  cured: Finding[];
  /** Over now, not over before. */
  broken: Finding[];
  /** Over before and still. */
  remaining: Finding[];
  after: Finding[];
}

export function compare(before: readonly Finding[], proposed: Model): Comparison {
  const after = check(proposed);
  const wasOver = new Set(overOf(before).map(keyOf));
  const isOver = new Set(overOf(after).map(keyOf));
  return {
    cured: overOf(before)
      .filter((finding) => !isOver.has(keyOf(finding)))
      .sort(worstFirst),
    broken: overOf(after)
      .filter((finding) => !wasOver.has(keyOf(finding)))
      .sort(worstFirst),
    remaining: overOf(after)
      .filter((finding) => wasOver.has(keyOf(finding)))
      .sort(worstFirst),
    after,
  };
}
