import { applyFields, toRows, type PartRow, type StoredPart } from '@true-lantern/core';
import { newId } from '../ids';
import type { Entry, SiteEntry } from './entries';

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
