import { nameOfRow, type Change } from '@true-lantern/core';
import { newId } from './ids';
import { enqueue } from './outbox';
import type { OpenSite } from './site';

/** Saves a list of changes as a proposal of the site and returns its id. The system as found is not touched. */
export function addProposal(site: OpenSite, title: string, changes: Change[]): string {
  const id = `p-${newId().slice(0, 8)}`;
  const position = site.rows.filter(({ kind }) => kind === 'proposal').length;
  enqueue(site.id, {
    partId: newId(),
    baseRevision: 0,
    create: { kind: 'proposal', position },
    set: { id, title, changes },
  });
  return id;
}

/** Takes a proposal off the list; the change log keeps it. */
export function removeProposal(site: OpenSite, proposalId: string): void {
  const row = site.rows.find((candidate) => candidate.kind === 'proposal' && nameOfRow(candidate) === proposalId);
  if (row) enqueue(site.id, { partId: row.id, baseRevision: row.revision, set: { '/deleted': true } });
}
