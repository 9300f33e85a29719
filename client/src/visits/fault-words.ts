import { lowered, type Ranked } from '@true-lantern/core';

/** A cause at one part, over the places of it that nothing tells apart. */
export interface Grouped {
  key: string;
  best: Ranked;
  places: number;
  chance: number;
}
/** A cause at a part. */
export const keyOf = ({ hypothesis, subject }: Pick<Ranked, 'hypothesis' | 'subject'>) => `${hypothesis} ${subject}`;

/** Causes at their parts, the likeliest first. */
export function grouped(ranking: readonly Ranked[]): Grouped[] {
  const groups = new Map<string, Grouped>();
  for (const one of ranking) {
    const key = one.and ? `${keyOf(one)} ${keyOf(one.and)}` : keyOf(one);
    const known = groups.get(key);
    if (known) {
      known.chance += one.probability;
      known.places += 1;
    } else groups.set(key, { key, best: one, places: 1, chance: one.probability });
  }
  return [...groups.values()].sort((a, b) => b.chance - a.chance);
}

/** "43 %", "under 1 %". */
export const percent = (share: number) => (share < 0.01 ? 'under 1 %' : `${Math.round(100 * share)} %`);
/** From here on a cause is said, below it is one among several. */
const SURE = 0.7;

/** What the readings come to. */
export function leadOf([first, second]: readonly Grouped[], count: number): string {
  if (!first || count === 0) return 'No readings yet. Take the one below first: it tells you most per minute.';
  const said = (cause: Grouped) => `${titleOf(cause)}: ${percent(cause.chance)}.`;
  if (first.chance >= SURE) return said(first);
  if (first.chance < LIKELY || !second) return 'Not clear yet. The reading below tells you most per minute.';
  return `${said(first)} Or ${lowered(titleOf(second))}: ${percent(second.chance)}.`;
}
/** Below this nothing is named: it would be a guess. */
const LIKELY = 0.35;

/** With its place, where only one place of it is in question. */
export const titleOf = ({ best, places }: Grouped) =>
  places === 1 && best.place ? `${best.title}, ${best.place}` : best.title;
