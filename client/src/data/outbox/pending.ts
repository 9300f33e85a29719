import { applyFields, toRows, type PartRow, type StoredPart } from '@true-lantern/core/base';
import { newId } from '../ids';
import type { ChangeEntry, Entry, SiteEntry } from './entries';

/** How what is waiting counts on the screen before the server has it. */

/** The rows of a site that was made here, as the server will make them. */
export function rowsOf({ file, rowIds }: Pick<SiteEntry, 'file' | 'rowIds'>): PartRow[] {
  let next = 0;
  return toRows(file, () => rowIds[next++] ?? newId());
}

/** The server's rows with what is still waiting laid over them. */
export function withPending(rows: readonly PartRow[], siteId: string, entries: readonly Entry[]): PartRow[] {
  const parts = new Map<string, StoredPart>(rows.map((row) => [row.id, { ...row, deleted: false }]));
  for (const entry of entries) {
    if (!('change' in entry) || entry.siteId !== siteId || entry.state !== 'waiting') continue;
    const { create, partId, set: fields } = entry.change;
    const part: StoredPart | undefined =
      parts.get(partId) ??
      (create ? { id: partId, ...create, body: {}, evidence: {}, revision: 0, deleted: false } : undefined);
    if (part) parts.set(partId, applyFields(part, fields));
  }
  return [...parts.values()].filter(({ deleted }) => !deleted);
}

/** Whether it must wait behind one that stepped aside: work on a site, or on a part, that the server did not take. */
export function isHeld(entry: Entry, entries: readonly Entry[]): boolean {
  return entries.some(
    (other) =>
      other !== entry &&
      other.state !== 'waiting' &&
      other.siteId === entry.siteId &&
      other.owner === entry.owner &&
      ('file' in other || ('change' in other && 'change' in entry && isMakingOf(other, entry))),
  );
}
const isMakingOf = ({ change, state }: ChangeEntry, later: ChangeEntry) =>
  state === 'refused' && change.create !== undefined && change.partId === later.change.partId;

/** What depends on this entry: given up with it. */
export const heldBy = (entry: Entry, entries: readonly Entry[]): Entry[] =>
  entries.filter((other) => other !== entry && other.state === 'waiting' && isHeld(other, [entry, other]));
