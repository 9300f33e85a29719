import type { LogEntry } from '@true-lantern/core';
import { newId } from './ids';
import { enqueue } from './outbox';
import { nextPosition } from './parts';
import { rowNamed } from './rows';
import type { OpenSite } from './site';

/** The log of a site: entries are added and struck out, never changed. */

/** The id of an entry that is being written: what is photographed meanwhile belongs to it. */
export const newEntryId = (): string => `l-${newId().slice(0, 8)}`;

/** Writes an entry; returns what strikes it out again: nothing of a log is erased. */
export function addEntry(
  site: OpenSite,
  by: string,
  entry: Omit<LogEntry, 'id' | 'at' | 'by'>,
  id = newEntryId(),
): () => void {
  const partId = newId();
  enqueue(site.id, {
    partId,
    baseRevision: 0,
    create: { kind: 'log', position: nextPosition(site, 'log') },
    set: { id, at: new Date().toISOString(), by, ...entry },
  });
  return () => enqueue(site.id, { partId, baseRevision: 1, set: { struckOut: true } });
}

/** Strikes an entry out: it stays to be read, and settles nothing. Returns the way back. */
export function strikeOut(site: OpenSite, entryId: string): () => void {
  const row = rowNamed(site, 'log', entryId);
  if (!row) return () => undefined;
  const put = (struckOut: boolean | null) =>
    enqueue(site.id, { partId: row.id, baseRevision: row.revision, set: { struckOut } });
  put(true);
  return () => put(null);
}
