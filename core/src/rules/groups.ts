import type { System } from '../system/schema';
import type { Finding } from './finding';

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
  const roots = new Set([...(system.runs ?? []), ...(system.arrays ?? [])].map(({ id }) => id));
  const sagging = new Map(
    (system.inverters ?? []).flatMap(({ id }) => {
      const thin = (system.runs ?? []).find(
        (run) =>
          (run.from === id || run.to === id) &&
          findings.some(
            ({ rule, subject, verdict }) => rule === 'run.drop' && subject === run.id && verdict === 'over',
          ),
      );
      return thin ? [[id, thin.id] as const] : [];
    }),
  );
  const groups: Group[] = [];
  const byRoot = new Map<string, Group>();
  for (const finding of findings) {
    const sag = finding.rule === 'system.sag' ? sagging.get(finding.subject) : undefined;
    const root = sag ?? (roots.has(finding.subject) ? finding.subject : null);
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
