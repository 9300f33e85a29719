import { nameOfRow, partTitle, type PartRow } from '@true-lantern/core/base';
import { newId } from './ids';
import type { NewChange } from './outbox';
import type { OpenSite } from './site';

/** What keeps the name of a part that leaves, so that its readings and entries still say of what they are. */
export function rememberGone(site: OpenSite, row: PartRow): NewChange & { partId: string } {
  const id = nameOfRow(row);
  return {
    partId: newId(),
    baseRevision: 0,
    create: { kind: 'gone', position: site.rows.filter(({ kind }) => kind === 'gone').length },
    set: { id, label: partTitle(site.model.system, id) ?? id, at: new Date().toISOString() },
  };
}
