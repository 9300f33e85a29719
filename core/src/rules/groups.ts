import { touches } from '../conductors/network';
import type { System } from '../system/schema';
import type { Finding } from './finding';
import { ruleOf } from './index';

/** Findings with one root: the first is the one to read, the others come of the same cable or string. */
export interface Group {
  head: Finding;
  others: Finding[];
}

/**
 * Groups what one cable or one array brings about under its worst finding, in the order given. One thin cable drops
 * volts, gets hot and lets the inverter sag: that is one thing to mend, not three.
 */
export function grouped(findings: readonly Finding[], system: System): Group[] {
  const runs = system.runs ?? [];
  const roots = new Set([...runs, ...(system.arrays ?? [])].map(({ id }) => id));
  const rootOf = ({ rule, subject }: Finding): string | null => {
    const { comesOf } = ruleOf(rule);
    const cause =
      comesOf &&
      findings.find(
        (one) =>
          one.rule === comesOf &&
          one.verdict === 'over' &&
          runs.some((run) => run.id === one.subject && touches(run, subject)),
      );
    return cause ? cause.subject : roots.has(subject) ? subject : null;
  };
  const groups: Group[] = [];
  const byRoot = new Map<string, Group>();
  for (const finding of findings) {
    const root = rootOf(finding);
    const known = root === null ? undefined : byRoot.get(root);
    if (known) {
      known.others.push(finding);
      continue;
    }
    const group: Group = { head: finding, others: [] };
    groups.push(group);
    if (root !== null) byRoot.set(root, group);
  }
  return groups;
}
