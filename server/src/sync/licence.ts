import { fromRows, nameOfRow, type Fault, type StoredPart } from '@true-lantern/core';
import { isUuid, type PushAnswer } from '@true-lantern/wire';
import { QueryTypes } from 'sequelize';
import { tooBusy } from '../problem';
import type { Database } from '../store/database';
import type { Pool } from '../threads/pool';
import { linksIn } from './astray';
import { Moved, previewOf, push } from './push';
import { doneBy } from './rights';
import type { Pusher } from './as-stored';

/** So often it is asked again where others write to the same site meanwhile. */
const MOST_ASKED = 4;

/** Takes a device's changes, each only if this person may make it. Null where the site is not this firm's. */
export async function pushAsAllowed(
  database: Database,
  pool: Pool,
  who: Pusher,
  given: readonly unknown[],
): Promise<PushAnswer | null> {
  for (let n = 0; n < MOST_ASKED; n++)
    try {
      const { barred, revision } = await unlicensedTicks(database, pool, who, given);
      return await push(database, who, given, barred, { asked: revision, links: linksIn(pool) });
    } catch (error) {
      if (!(error instanceof Moved)) throw error;
    }
  throw tooBusy();
}

/**
 * Changes after which a step that the law leaves to a licensed person would be done by this one, who has no licence: by
 * their ids, each with its fault. What would be so afterwards is asked, so that a tick hidden in a branch, in a new
 * proposal, or set before its proposal grew that step is found alike. The order is worked out in a thread, and only where
 * somebody without a licence has ticked something in a proposal that the push touches.
 */
async function unlicensedTicks(
  database: Database,
  pool: Pool,
  who: Pusher,
  given: readonly unknown[],
): Promise<{ barred: ReadonlyMap<string, Fault[]>; revision: number | null }> {
  const none = { barred: new Map<string, Fault[]>(), revision: null };
  if (who.licensed || !(await touchesProposal(database, who, given))) return none;
  const preview = await previewOf(database, who, given);
  if (!preview) return none;
  const [was, is] = await Promise.all([licensedIn(pool, preview.before, who), licensedIn(pool, preview.after, who)]);
  const barred = new Map<string, Fault[]>();
  for (const { changeId, before, after } of preview.log) {
    const done = new Set(before ? doneBy(before, who.userId) : []);
    const [old, now] = [was(after), is(after)];
    const step = doneBy(after, who.userId).find((key) =>
      // What has no order just now may have one later: nobody without a licence begins to tick in it. A step that was
      // done and licensed before is none of this push's making.
      now === null ? !done.has(key) : now.has(key) && !(done.has(key) && (old === null || old.has(key))),
    );
    if (step !== undefined && !after.deleted)
      barred.set(changeId, [
        { path: `work.ticks.${step}`, message: 'is licensed work, expected a tick by a licensed person' },
      ]);
  }
  return { barred, revision: preview.revision };
}

/** Of each proposal in which this person has ticked something the keys of its licensed steps; null where it has no order. */
async function licensedIn(pool: Pool, rows: readonly StoredPart[], { userId }: Pusher) {
  const names = rows.flatMap((row) => (doneBy(row, userId).length > 0 ? (nameOfRow(row) ?? []) : []));
  const keys = names.length > 0 ? await pool.run('licensed', { file: fromRows([...rows]), proposals: names }) : {};
  return (row: StoredPart): ReadonlySet<string> | null => {
    const name = nameOfRow(row) ?? '';
    if (!names.includes(name)) return new Set();
    const known = keys[name];
    return known ? new Set(known) : null;
  };
}

async function touchesProposal({ sequelize }: Database, who: Pusher, given: readonly unknown[]): Promise<boolean> {
  const changes = given as readonly ({ partId?: unknown; create?: { kind?: unknown } } | null)[];
  if (changes.some((change) => change?.create?.kind === 'proposal')) return true;
  const ids = changes.flatMap((change) =>
    typeof change?.partId === 'string' && isUuid(change.partId) ? [change.partId] : [],
  );
  if (ids.length === 0) return false;
  const [found] = await sequelize.query<{ one: number }>(
    `select 1 as one from parts where firm_id = $1 and site_id = $2 and kind = 'proposal' and id = any($3::uuid[]) limit 1`,
    { bind: [who.firmId, who.siteId, [...new Set(ids)]], type: QueryTypes.SELECT },
  );
  return found !== undefined;
}
