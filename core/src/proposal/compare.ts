import { check } from '../rules/check';
import { keyOf, overOf, worstFirst, type Finding } from '../rules/finding';
import { harmOf } from '../rules/worse';
import type { Model } from '../system/model';

/** What a proposal does to the findings of the system as found. */
export interface Comparison {
  /** Over before, not over now (or gone). */
  cured: Finding[];
  /** Over now, not over before. */
  broken: Finding[];
  /** Over before and still, and worse than it was: a harm that grows is a harm. */
  worse: Finding[];
  /** Over before and still, no worse. */
  remaining: Finding[];
  after: Finding[];
}

export function compare(before: readonly Finding[], proposed: Model): Comparison {
  const after = check(proposed);
  const { newly, worse } = harmOf(before, after);
  const isOver = new Set(overOf(after).map(keyOf));
  const harmed = new Set([...newly, ...worse.map(({ finding }) => finding)]);
  return {
    cured: overOf(before)
      .filter((finding) => !isOver.has(keyOf(finding)))
      .sort(worstFirst),
    broken: newly.sort(worstFirst),
    worse: worse.map(({ finding }) => finding).sort(worstFirst),
    remaining: overOf(after)
      .filter((finding) => !harmed.has(finding))
      .sort(worstFirst),
    after,
  };
}
