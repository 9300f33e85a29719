import { DELETED, nameOfRow, type PartRow, type RowKind } from '@true-lantern/core/base';
import { enqueue } from './outbox';
import type { OpenSite } from './site';

/** Rows of a site that are no parts: found by their name, removed and brought back. */

/** The row of a kind by the id that the file knows it by. */
export const rowNamed = (site: OpenSite, kind: RowKind, name: string | null): PartRow | undefined =>
  site.rows.find((row) => row.kind === kind && nameOfRow(row) === name);

/** Removes a row that nothing else refers to; nothing where there is none. @returns what brings it back */
export function removeRow(site: OpenSite, row: PartRow | undefined): () => void {
  if (!row) return () => undefined;
  const mark = (deleted: boolean) =>
    enqueue(site.id, { partId: row.id, baseRevision: row.revision, set: { [DELETED]: deleted } });
  mark(true);
  return () => mark(false);
}
