import type { Trip } from '@true-lantern/wire';
import type pg from 'pg';

/** Every query of this file takes the firm: a row of another firm does not exist. */

/** The firm's trips, those without a day first, then the latest. */
export async function tripsOf(pool: pg.Pool, firmId: string): Promise<Trip[]> {
  const { rows } = await pool.query<{ id: string; body: Omit<Trip, 'id'> }>(
    `select id, body from trips where firm_id = $1 and deleted_at is null
      order by (body->>'day' = '') desc, body->>'day' desc, updated_at desc`,
    [firmId],
  );
  return rows.map(({ id, body }) => ({ ...body, id }));
}

/** Sites of the list that are not this firm's. */
export async function strangeSites(pool: pg.Pool, firmId: string, sites: readonly string[]): Promise<string[]> {
  const { rows } = await pool.query<{ id: string }>(
    'select id from sites where firm_id = $1 and id = any($2::uuid[])',
    [firmId, sites],
  );
  const ours = new Set(rows.map(({ id }) => id));
  return sites.filter((id) => !ours.has(id));
}

/** Keeps a trip, new or in the place of the one with that id; false where the id is another firm's. */
export async function putTrip(pool: pg.Pool, firmId: string, { id, ...body }: Trip): Promise<boolean> {
  const { rowCount } = await pool.query(
    `insert into trips (id, firm_id, body) values ($1, $2, $3)
      on conflict (id) do update set body = excluded.body, updated_at = now(), deleted_at = null
        where trips.firm_id = excluded.firm_id`,
    [id, firmId, JSON.stringify(body)],
  );
  return (rowCount ?? 0) > 0;
}

/** Takes a trip off the list. */
export const removeTrip = (pool: pg.Pool, firmId: string, id: string) =>
  pool.query('update trips set deleted_at = now() where firm_id = $1 and id = $2', [firmId, id]);
