import { check } from '../rules/check';
import { keyOf, type Finding } from '../rules/finding';
import { remediesOf } from '../rules/cures/remedies';
import { harmed } from '../rules/cures/worse';
import { withChanges, type Model } from '../system/model';
import type { Change } from '../system/schema';
import type { Specification } from './specify';
import { leastChanges } from './swap';

/** A part replaced by the least that serves, with what must follow it: cables, fuses, settings. */
export interface Followed {
  changes: Change[];
  /** Ids of the other parts that the swap touches, whether or not something cures what it does to them. */
  touches: string[];
}

/** More than so many that follow and the swap is another job. */
const MOST = 8;

/** The least part that serves, in its place, and what is newly over or worse because of it put right, the gravest first. */
export function followed(model: Model, spec: Specification): Followed {
  const before = check(model);
  const changes = leastChanges(model, spec);
  const touches = new Set<string>();
  if (changes.length === 0) return { changes, touches: [] };
  const hopeless = new Set<string>();
  for (let round = 0; round < MOST; round++) {
    const now = withChanges(model, changes);
    const after = check(now);
    const [next] = harmed(before, after).filter((finding: Finding) => !hopeless.has(keyOf(finding)));
    if (!next) break;
    if (next.subject !== spec.partId) touches.add(next.subject);
    // The part itself was chosen: what follows is what hangs on it.
    const cure = remediesOf(now, next, after).find((remedy) => remedy.changes.every(({ id }) => id !== spec.partId));
    if (!cure) {
      hopeless.add(keyOf(next));
      continue;
    }
    for (const { id, at } of cure.changes) touches.add(id ?? at);
    changes.push(...cure.changes);
  }
  return { changes, touches: [...touches].sort() };
}
