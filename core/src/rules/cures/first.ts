import { FaultError } from '../../system/faults';
import { type Model, withChanges } from '../../system/model';
import { mergeChanges } from '../../system/proposals';
import { check } from '../check';
import { keyOf, worstFirst, type Finding, type Remedy } from '../finding';
import { grouped } from '../groups';
import { remediesOf } from './remedies';

/** The first cure of one root, and how much of what hangs on it that one change mends. */
export interface FirstCure {
  /** `keyOf` the finding at the head of its group. */
  key: string;
  title: string;
  /** Of the findings over that share this root, so many are over no longer once it is done. */
  cures: number;
  of: number;
}

/**
 * For each root that is over or tight the first of its verified remedies. Roots without one are left out: what they need
 * is said where they are opened.
 * @param progress told how much of it is done, 0 to 1
 * @param choose leaves out those that are not to be offered, by what a year says of them
 */
export function firstCures(
  model: Model,
  findings: readonly Finding[],
  progress: (share: number) => void = () => undefined,
  choose: (model: Model, remedies: Remedy[]) => Remedy[] = (_, remedies) => remedies,
): FirstCure[] {
  const loud = [...findings].sort(worstFirst).filter(({ verdict }) => verdict === 'over' || verdict === 'tight');
  const groups = grouped(loud, model.system, findings);
  // One list for all of them: what a change harms is kept by it, and several roots try the same change.
  const before = [...findings];
  return groups.flatMap(({ head, others }, i) => {
    progress(i / groups.length);
    const [first] = choose(model, remediesOf(model, head, before));
    if (!first) return [];
    const over = [head, ...others].filter(({ verdict }) => verdict === head.verdict);
    return [{ key: keyOf(head), title: first.title, cures: curedBy(model, first.changes, over), of: over.length }];
  });
}

/** How many of these findings are no longer what they were once the changes are made. */
function curedBy(model: Model, changes: Parameters<typeof mergeChanges>[1], these: readonly Finding[]): number {
  try {
    const after = new Map(check(withChanges(model, changes)).map((finding) => [keyOf(finding), finding.verdict]));
    const better = ({ verdict }: Finding, now: Finding['verdict'] | undefined) =>
      now === undefined || now === 'holds' || now === 'note' || (verdict === 'over' && now === 'tight');
    return these.filter((finding) => better(finding, after.get(keyOf(finding)))).length;
  } catch (error) {
    if (error instanceof FaultError) return 0;
    throw error;
  }
}
