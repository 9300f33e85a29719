import { keyOf, type Finding } from '../finding';

/** A use that was over already and rises by more than this share is a harm of its own. */
const WORSE_BY = 0.01;

/** What a change does to what is over. */
export interface Harm {
  /** Over now, not before. */
  newly: Finding[];
  /** Over before and still, its use up by more than 1 %, or graver than it was. */
  worse: { finding: Finding; was: Finding }[];
}

/**
 * A harm that grows is a harm: what was not over and now is, and what was over already and is made worse. One place for
 * remedies, what-ifs, headroom, layouts and interim limits, so that none of them is blind to what another one sees.
 */
export function harmOf(before: readonly Finding[], after: readonly Finding[]): Harm {
  const was = overByKey(before);
  const harm: Harm = { newly: [], worse: [] };
  for (const finding of after) {
    if (finding.verdict !== 'over') continue;
    const old = was.get(keyOf(finding));
    if (!old) harm.newly.push(finding);
    else if (isWorse(old, finding)) harm.worse.push({ finding, was: old });
  }
  return harm;
}

/** Everything that a change harms, newly over first. */
export const harmed = (before: readonly Finding[], after: readonly Finding[]): Finding[] => {
  const { newly, worse } = harmOf(before, after);
  return [...newly, ...worse.map(({ finding }) => finding)];
};

/** Of two findings that are both over: whether the second is the greater harm. */
export function isWorse(was: Finding, is: Finding): boolean {
  // Without a ratio and with one: a voltage that collapses, a limit of nothing. No figure is as bad.
  if (was.use === null && is.use === null) return (is.demand ?? 0) > (was.demand ?? 0) * (1 + WORSE_BY);
  if (is.use === null) return true;
  return was.use !== null && is.use > was.use * (1 + WORSE_BY);
}

const overByKey = (findings: readonly Finding[]) =>
  new Map(findings.filter(({ verdict }) => verdict === 'over').map((finding) => [keyOf(finding), finding]));
