import { check } from '../rules/check';
import { keyOf, overOf, worstFirst, type Finding, type Verdict } from '../rules/finding';
import { harmOf } from '../rules/cures/worse';
import type { Model } from '../system/model';

/** What a proposal does to the findings of the system as found. */
export interface Comparison {
  /** Over before; judged, and not over now (or gone). */
  cured: Finding[];
  /** Over before, and not to be judged any more: nothing is cured by not knowing. */
  hidden: Finding[];
  /** Over now, not over before. */
  broken: Finding[];
  /** Over before and still, and worse than it was: a harm that grows is a harm. */
  worse: Finding[];
  /** Over before and still, no worse. */
  remaining: Finding[];
  after: Finding[];
}

/** What a proposal cures, breaks, makes worse and leaves over. */
export function compare(before: readonly Finding[], proposed: Model): Comparison {
  const after = check(proposed);
  const { newly, worse } = harmOf(before, after);
  const isOver = new Set(overOf(after).map(keyOf));
  const unknown = new Set(after.filter(({ verdict }) => verdict === 'unknown').map(keyOf));
  const gone = overOf(before)
    .filter((finding) => !isOver.has(keyOf(finding)))
    .sort(worstFirst);
  const harmed = new Set([...newly, ...worse.map(({ finding }) => finding)]);
  return {
    cured: gone.filter((finding) => !unknown.has(keyOf(finding))),
    hidden: gone.filter((finding) => unknown.has(keyOf(finding))),
    broken: newly.sort(worstFirst),
    worse: worse.map(({ finding }) => finding).sort(worstFirst),
    remaining: overOf(after)
      .filter((finding) => !harmed.has(finding))
      .sort(worstFirst),
    after,
  };
}

/** A finding whose verdict is another than it was. */
export interface Turned {
  finding: Finding;
  /** Null: it was not judged at all. */
  was: Verdict | null;
}

/** Verdicts that are others than before, the gravest first; what is no longer judged at all is left out. */
export function turned(before: readonly Finding[], after: readonly Finding[]): Turned[] {
  const were = new Map(before.map((finding) => [keyOf(finding), finding.verdict]));
  return [...after]
    .sort(worstFirst)
    .map((finding) => ({ finding, was: were.get(keyOf(finding)) ?? null }))
    .filter(({ finding, was }) => finding.verdict !== was);
}
