import {
  applyProposal,
  FaultError,
  nameOfRow,
  settle,
  type KitState,
  type Model,
  type PartRow,
  type Proposal,
  type System,
  type Tick,
} from '@true-lantern/core';
import { newId } from './ids';
import { rememberGone } from './gone';
import { enqueue, type NewChange } from './outbox';
import type { OpenSite } from './site';

/** How far the work of a proposal is: what was ticked, fetched, done otherwise. Field by field, so that phones merge. */

export type Ticks = Record<string, Tick & { person: string }>;

const rowOf = (site: OpenSite, proposalId: string): PartRow | undefined =>
  site.rows.find((row) => row.kind === 'proposal' && nameOfRow(row) === proposalId);

function set(site: OpenSite, proposalId: string, fields: Record<string, unknown>): void {
  const row = rowOf(site, proposalId);
  if (row) enqueue(site.id, { partId: row.id, baseRevision: row.revision, set: fields });
}

/** Each step once: of two people who ticked one, the first. */
export function ticksOf({ work }: Proposal): Ticks {
  const ticks: Ticks = {};
  for (const [key, people] of Object.entries((work?.ticks ?? {}) as Record<string, Record<string, Tick | null>>))
    for (const [person, tick] of Object.entries(people ?? {})) {
      const known = ticks[key];
      if (tick && (!known || (tick.at ?? '') < (known.at ?? ''))) ticks[key] = { ...tick, person };
    }
  return ticks;
}

/** Who ticks a step. */
export interface Who {
  id: string;
  name: string;
}

/** Ticks or skips a step; returns what takes it back. */
export function tickStep(
  site: OpenSite,
  proposalId: string,
  key: string,
  who: Who,
  tick: { state: Tick['state']; reason?: string; value?: number },
): () => void {
  const field = `work.ticks.${key}.${who.id}`;
  set(site, proposalId, { [field]: { ...tick, by: who.name, at: new Date().toISOString() } });
  return () => set(site, proposalId, { [field]: null });
}

/** Takes a tick back, whoever set it. */
export const untick = (site: OpenSite, proposal: Proposal, key: string): void =>
  set(
    site,
    proposal.id,
    Object.fromEntries(
      Object.keys((proposal.work?.ticks as Record<string, object> | null | undefined)?.[key] ?? {}).map((person) => [
        `work.ticks.${key}.${person}`,
        null,
      ]),
    ),
  );

/** A line of the kit by what it is, since its number changes with the proposal. */
export const kitKey = (what: string) => what.replace(/[./]/g, '~').slice(0, 80);
/** How it stands with a line of the kit; null: not seen to. */
export const setKit = (site: OpenSite, proposalId: string, what: string, state: KitState | null): void =>
  set(site, proposalId, { [`work.kit.${kitKey(what)}`]: state });

/** Notes that a step was done otherwise than proposed. */
export function addDeviation(site: OpenSite, proposalId: string, step: string, text: string, by: string): void {
  const id = `d-${newId().slice(0, 8)}`;
  set(site, proposalId, { [`work.deviations.${id}`]: { step, text, by, at: new Date().toISOString() } });
}

/** Proposals that are still open: neither fitted nor overtaken. */
export const openProposals = (site: OpenSite): Proposal[] =>
  (site.file.proposals ?? []).filter(({ closed }) => !closed);

/** Others that could no longer be applied once a proposal is the system as found. */
export function overtakenBy(site: OpenSite, proposalId: string, after: System): Proposal[] {
  return openProposals(site).filter((other) => {
    if (other.id === proposalId) return false;
    try {
      applyProposal({ system: after, proposals: [other] }, 0);
      return false;
    } catch (error) {
      if (error instanceof FaultError) return true;
      throw error;
    }
  });
}

/**
 * What was proposed is the system as found: each part's record becomes what was fitted, in one go, and the proposal is
 * kept as the record of it.
 */
export function becomeFound(site: OpenSite, proposal: Proposal, fitted: Model, by: string): void {
  const { added, changed, removed, nominal_V, observations } = settle(site.model, fitted);
  const after = fitted.system;
  const at = new Date().toISOString();
  const rows = new Map(site.rows.filter(({ kind }) => kind !== 'gone').map((row) => [nameOfRow(row), row]));
  const positions = new Map<string, number>();
  const change = (row: PartRow | undefined, fields: Record<string, unknown>): NewChange[] =>
    row ? [{ partId: row.id, baseRevision: row.revision, set: fields }] : [];
  const close = (one: Proposal, as: 'fitted' | 'overtaken') => change(rowOf(site, one.id), { closed: { as, at, by } });
  const nextOf = (kind: string) => {
    const position = positions.get(kind) ?? site.rows.filter((row) => row.kind === kind).length;
    positions.set(kind, position + 1);
    return position;
  };
  enqueue(
    site.id,
    ...close(proposal, 'fitted'),
    ...overtakenBy(site, proposal.id, after).flatMap((one) => close(one, 'overtaken')),
    ...removed.flatMap(({ id }) => {
      const row = rows.get(id);
      return row ? [rememberGone(site, row), ...change(row, { '/deleted': true })] : [];
    }),
    ...added.map(({ kind, body, evidence }) => ({
      partId: newId(),
      baseRevision: 0,
      create: { kind, position: nextOf(kind) },
      set: {
        ...body,
        ...Object.fromEntries(Object.entries(evidence).map(([field, entry]) => [`evidence/${field}`, entry])),
      },
    })),
    ...changed.flatMap(({ id, set: fields }) => change(rows.get(id), fields)),
    ...change(
      Object.keys(observations).length > 0 ? site.rows.find(({ kind }) => kind === 'site') : undefined,
      Object.fromEntries(Object.entries(observations).map(([name, answer]) => [`observations.${name}`, answer])),
    ),
    ...(nominal_V === undefined
      ? []
      : change(
          site.rows.find(({ kind }) => kind === 'system'),
          { nominal_V },
        )),
  );
}
