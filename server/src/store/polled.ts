import type { Feed } from '@true-lantern/core';
import type { PolledState } from '@true-lantern/wire';
import type pg from 'pg';

/** Devices that the server asks (Modbus), and what came of it the last time. */

/** A device of a site. `key`: of this device as it is written; another address is another device. */
export type PolledFeed = Feed & { partId: string; siteId: string; key: string };

/** Every device of every site that is not archived. */
export async function feedsOf(pool: pg.Pool): Promise<PolledFeed[]> {
  const { rows } = await pool.query<{ part_id: string; site_id: string; revision: number; body: Feed }>(
    `select p.id as part_id, p.site_id, p.revision, p.body from parts p join sites s on s.id = p.site_id
      where p.kind = 'feed' and p.deleted_at is null and s.archived_at is null order by p.id`,
  );
  return rows.map(({ part_id, site_id, revision, body }) => ({
    ...body,
    partId: part_id,
    siteId: site_id,
    key: `${part_id} ${revision}`,
  }));
}

/** Notes what a device said, or why nothing was heard of it. */
export async function notePolled(
  pool: pg.Pool,
  { partId, siteId }: PolledFeed,
  { at, why, kept, dropped }: { at: number; why: string | null; kept: number; dropped: number },
): Promise<void> {
  await pool.query(
    `insert into polled (part_id, site_id, asked_at, heard_at, why, kept, dropped)
      values ($1, $2, to_timestamp($3), case when $5::int > 0 then to_timestamp($3) end, $4, $5, $6)
     on conflict (part_id) do update set asked_at = excluded.asked_at,
      heard_at = coalesce(excluded.heard_at, polled.heard_at), why = excluded.why,
      kept = polled.kept + excluded.kept, dropped = polled.dropped + excluded.dropped`,
    [partId, siteId, at / 1000, why, kept, dropped],
  );
}

/** By the id that the file knows a device by: when it was asked and heard, and what was wrong. */
export async function polledOf(pool: pg.Pool, siteId: string): Promise<Record<string, PolledState>> {
  const { rows } = await pool.query<{
    id: string;
    asked_at: Date;
    heard_at: Date | null;
    why: string | null;
    dropped: string;
  }>(
    `select p.body->>'id' as id, o.asked_at, o.heard_at, o.why, o.dropped from polled o join parts p on p.id = o.part_id
      where o.site_id = $1 and p.deleted_at is null`,
    [siteId],
  );
  return Object.fromEntries(
    rows.map(({ id, asked_at, heard_at, why, dropped }) => [
      id,
      { asked: asked_at.toISOString(), heard: heard_at?.toISOString() ?? null, why, dropped: Number(dropped) },
    ]),
  );
}
