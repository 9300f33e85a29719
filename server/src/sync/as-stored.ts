import {
  type FaultError,
  type FieldConflict,
  type PartChange,
  type PastChange,
  type StoredPart,
} from '@true-lantern/core';
import { QueryTypes, type Transaction } from 'sequelize';
import type { Database } from '../store/database';
import type { Actor } from './rights';

/** Changes that are not this person's to make, by their ids. */
export type Barred = ReadonlyMap<string, FaultError['faults']>;

/** Who sends changes, and to which site. */
export interface Pusher extends Actor {
  firmId: string;
  siteId: string;
}

/** The site as it stands while its row is locked, and what this push makes of it. */
export interface Standing {
  database: Database;
  who: Pusher;
  site: LockedSite;
  transaction: Transaction;
  parts: Map<string, StoredPart>;
  /** The changes of this push, as they read. */
  given: readonly PartChange[];
  /** Each part's revision as it is stored, before this push. */
  storedRevisions: ReadonlyMap<string, number>;
  /** Ids among those of this push that a part of another site has. */
  elsewhere: ReadonlySet<string>;
  /** Of each part that was asked about, what others had set: asked once a push. */
  past: Map<string, Promise<PastChange[]>>;
  /** Of the device, the part that stands for the one that it made: the second bank of two phones. */
  renamed: Map<string, string>;
  made: Set<string>;
  touched: Set<string>;
  log: Logged[];
  /** Changes that are not this person's to make, with what is wrong, by their ids. */
  barred: Barred;
  /** Bytes of all its parts; null as long as nobody asked. */
  bytes: number | null;
}

/** A change that was taken: what it set, what stood there, what somebody else had set meanwhile. */
export interface Logged {
  change: PartChange;
  /** The part before it; null of one that is new. */
  was: StoredPart | null;
  part: StoredPart;
  set: Record<string, unknown>;
  before: Record<string, unknown>;
  conflicts: FieldConflict[];
}

interface LockedSite {
  name: string;
  revision: number;
}

/**
 * Holds the site until the transaction ends: two pushes to it come one after the other. Null: another firm's, or
 * none.
 */
export async function lockSite(
  { sequelize }: Database,
  who: Pusher,
  transaction: Transaction,
): Promise<LockedSite | null> {
  const [site] = await sequelize.query<LockedSite>(
    'select name, revision from sites where id = $1 and firm_id = $2 for update',
    { bind: [who.siteId, who.firmId], type: QueryTypes.SELECT, transaction },
  );
  return site ?? null;
}

/** What became of a change that was sent before. */
export interface Known {
  firmId: string;
  partId: string;
  conflicts: FieldConflict[];
}

/** The parts that stand, those taken away that are spoken of, and the changes that were sent before: in one query. */
export async function pictureOf(
  { sequelize }: Database,
  who: Pusher,
  changes: readonly PartChange[],
  transaction: Transaction,
): Promise<{ parts: Map<string, StoredPart>; known: Map<string, Known>; elsewhere: Set<string> }> {
  const [row] = await sequelize.query<{
    parts: StoredPart[];
    known: (Known & { changeId: string })[];
    elsewhere: string[];
  }>(
    `select
      (select coalesce(json_agg(json_build_object('id', id, 'kind', kind, 'body', body, 'evidence', evidence,
          'position', position, 'revision', revision, 'deleted', deleted_at is not null)), '[]')
        from parts where firm_id = $1 and site_id = $2 and (deleted_at is null or id = any($3::uuid[]))) as parts,
      (select coalesce(json_agg(json_build_object('changeId', change_id, 'firmId', firm_id, 'partId', part_id,
          'conflicts', conflicts)), '[]')
        from changes where change_id = any($4::uuid[])) as known,
      (select coalesce(json_agg(id), '[]') from parts
        where id = any($3::uuid[]) and (firm_id <> $1 or site_id <> $2)) as elsewhere`,
    {
      bind: [
        who.firmId,
        who.siteId,
        [...new Set(changes.map(({ partId }) => partId))],
        changes.map(({ changeId }) => changeId),
      ],
      type: QueryTypes.SELECT,
      transaction,
    },
  );
  return {
    parts: new Map((row?.parts ?? []).map((part) => [part.id, part])),
    known: new Map((row?.known ?? []).map(({ changeId, ...known }) => [changeId, known])),
    elsewhere: new Set(row?.elsewhere),
  };
}
