import type { Alerts } from '@true-lantern/wire';
import type pg from 'pg';

/** What a person wants to be told of by mail, and when not. */

/** For somebody who has not chosen anything: no mail at all. */
export const NO_ALERTS: Alerts = { mail: false, digest: false, quietFrom: 22, quietTo: 7, zone: 'UTC' };

/** What a person has chosen. */
export async function alertsOf(pool: pg.Pool, userId: string): Promise<Alerts> {
  const { rows } = await pool.query<Alerts>(
    `select mail, digest, quiet_from as "quietFrom", quiet_to as "quietTo", zone from alerts where user_id = $1`,
    [userId],
  );
  return rows[0] ?? NO_ALERTS;
}

/** Keeps what a person has chosen. */
export const keepAlerts = (pool: pg.Pool, userId: string, { mail, digest, quietFrom, quietTo, zone }: Alerts) =>
  pool.query(
    `insert into alerts (user_id, mail, digest, quiet_from, quiet_to, zone) values ($1, $2, $3, $4, $5, $6)
      on conflict (user_id) do update set mail = excluded.mail, digest = excluded.digest,
        quiet_from = excluded.quiet_from, quiet_to = excluded.quiet_to, zone = excluded.zone`,
    [userId, mail, digest, quietFrom, quietTo, zone],
  );

/** Somebody who wants the day's list by mail and has not had it. */
export interface Reader {
  userId: string;
  firmId: string;
  email: string;
  firm: string;
}

/** Who wants the list of this day, and has not had it. */
export async function digestReaders(pool: pg.Pool, on: string): Promise<Reader[]> {
  const { rows } = await pool.query<Reader>(
    `select u.id as "userId", u.firm_id as "firmId", u.email, f.name as firm
      from alerts a join users u on u.id = a.user_id join firms f on f.id = u.firm_id
      where a.digest and u.removed_at is null and (a.digest_on is null or a.digest_on < $1::date) order by u.firm_id`,
    [on],
  );
  return rows;
}

/** The list of a day is on its way to somebody. @returns false where another server was first */
export async function claimDigest(pool: pg.Pool, userId: string, on: string): Promise<boolean> {
  const { rowCount } = await pool.query(
    'update alerts set digest_on = $2::date where user_id = $1 and (digest_on is null or digest_on < $2::date)',
    [userId, on],
  );
  return (rowCount ?? 0) > 0;
}
