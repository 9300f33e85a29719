import type { System } from '../system/schema';
import { isInterrupt, type Finding } from './finding';
import { causeOf } from './cause';

/** Findings with one root: the first is the one to read, the others come of the same cable, string or bank. */
export interface Group {
  head: Finding;
  others: Finding[];
  /** What they have in common, in a sentence, where the head's own would name but one of many. */
  title: string | null;
}

/** One bank, one root. */
const INTERRUPT = 'the fault current of the bank';

/**
 * Groups what one cable, one array or one bank brings about under its worst finding, in the order given. One thin cable
 * drops volts, gets hot and lets the inverter sag: that is one thing to mend, not three. Seven fuses that one strong bank
 * is too much for are one as well.
 * @param all every finding of the system, for "5 of 7"
 */
export function grouped(findings: readonly Finding[], system: System, all: readonly Finding[] = findings): Group[] {
  const runs = system.runs ?? [];
  const roots = new Set([...runs, ...(system.arrays ?? [])].map(({ id }) => id));
  const rootOf = (finding: Finding): string | null => {
    const { subject } = finding;
    if (isInterrupt(finding) && finding.verdict !== 'holds' && finding.verdict !== 'unknown') return INTERRUPT;
    const cause = causeOf(finding, findings, system);
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
    const group: Group = { head: finding, others: [], title: null };
    groups.push(group);
    if (root !== null) byRoot.set(root, group);
  }
  const short = byRoot.get(INTERRUPT);
  if (short && short.others.length > 0) {
    const judged = all.filter((one) => isInterrupt(one) && one.verdict !== 'unknown').length;
    const over = [short.head, ...short.others].filter(({ verdict }) => verdict === 'over').length;
    const close = short.others.length + 1 - over;
    short.title =
      over > 0
        ? `${over} of ${judged} fuses cannot interrupt a short circuit of the bank${close > 0 ? `; check ${close} more` : ''}.`
        : `${close} of ${judged} fuses may not interrupt a short circuit of the bank: check them.`;
  }
  return groups;
}
