import { nameOfRow, type PartRow, type Visit } from '@true-lantern/core';
import { newId } from './ids';
import { enqueue } from './outbox';
import { nextPosition } from './parts';
import type { OpenSite } from './site';

/** Visits of a site: who came, why, what was done, what was proved and signed. */

const moment = ({ at }: Visit) => at ?? '';

/** The latest first. */
export const visitsOf = (site: OpenSite): Visit[] =>
  [...(site.file.visits ?? [])].sort((a, b) => moment(b).localeCompare(moment(a)));

/** True once anybody has signed: a signed visit is not written to again. */
export const isSigned = ({ signed }: Visit) => Object.keys(signed ?? {}).length > 0;

const WEEK_MS = 7 * 86_400_000;

/** The visit that is on: begun within a week, not signed; of one proposal, of none (null), or of any (not said). */
export const visitNow = (site: OpenSite, proposalId?: string | null, now = Date.now()): Visit | null =>
  visitsOf(site).find(
    (visit) =>
      !isSigned(visit) &&
      now - Date.parse(moment(visit)) < WEEK_MS &&
      (proposalId === undefined || (visit.proposalId ?? null) === proposalId),
  ) ?? null;

const rowOf = (site: OpenSite, visitId: string): PartRow | undefined =>
  site.rows.find((row) => row.kind === 'visit' && nameOfRow(row) === visitId);

/** Begins a visit and returns its id. */
export function beginVisit(
  site: OpenSite,
  people: string,
  proposalId: string | null,
  fields: Record<string, unknown> = {},
): string {
  const partId = newId();
  const id = `v-${partId.slice(0, 8)}`;
  enqueue(site.id, {
    partId,
    baseRevision: 0,
    create: { kind: 'visit', position: nextPosition(site, 'visit') },
    set: { id, at: new Date().toISOString(), people, ...(proposalId ? { proposalId } : {}), ...fields },
  });
  return id;
}

/** Fields of a visit, by path. */
export function setVisit(site: OpenSite, visitId: string, fields: Record<string, unknown>): void {
  const row = rowOf(site, visitId);
  if (row) enqueue(site.id, { partId: row.id, baseRevision: row.revision, set: fields });
}

/** Writes a correction beside a signed record: with name and day, and for good. */
export const addAddendum = (site: OpenSite, visitId: string, text: string, who: { id: string; name: string }): void =>
  setVisit(site, visitId, {
    [`addenda.a-${newId().slice(0, 8)}`]: { text, by: who.name, person: who.id, at: new Date().toISOString() },
  });
