import { faultsOfChanges, withWas, type Change, type Proposal } from '@true-lantern/core';
import { newId } from './ids';
import { enqueue } from './outbox';
import { removeRow, rowNamed } from './rows';
import type { OpenSite } from './site';

/**
 * Saves a list of changes as a proposal of the site and returns its id, or says why no file could hold it: what was
 * tapped is on the list afterwards, or nothing is. The system as found is not touched; what each change replaces is
 * written beside it, so that a later survey can be told from this one.
 */
export function addProposal(site: OpenSite, title: string, changes: Change[]): { id: string } | { fault: string } {
  const [fault] = faultsOfChanges(site.model, changes);
  if (fault) return { fault: `${fault.path.replace(/^.*> /, '')} ${fault.message}` };
  const id = `p-${newId().slice(0, 8)}`;
  const position = site.rows.filter(({ kind }) => kind === 'proposal').length;
  enqueue(site.id, {
    partId: newId(),
    baseRevision: 0,
    create: { kind: 'proposal', position },
    set: { id, title, changes: withWas(site.model.system, changes) },
  });
  return { id };
}

const rowOf = (site: OpenSite, proposalId: string) => rowNamed(site, 'proposal', proposalId);

/** Takes a proposal off the list; the change log keeps it. Returns what brings it back. */
export const removeProposal = (site: OpenSite, proposalId: string): (() => void) =>
  removeRow(site, rowOf(site, proposalId));

/** Another list of changes, or another title, for a proposal that is there. */
export function setProposal(site: OpenSite, proposalId: string, set: { changes?: Change[]; title?: string }): void {
  const row = rowOf(site, proposalId);
  if (row) enqueue(site.id, { partId: row.id, baseRevision: row.revision, set });
}

/** Keeps that the customer accepted it, with the whole offer. It stands from then on. */
export function acceptProposal(site: OpenSite, proposalId: string, accepted: NonNullable<Proposal['accepted']>): void {
  const row = rowOf(site, proposalId);
  if (row) enqueue(site.id, { partId: row.id, baseRevision: row.revision, set: { accepted } });
}
