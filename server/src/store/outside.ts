import { randomUUID } from 'node:crypto';
import { NOW_MS, type Heard, type Outside, type Watched } from '@true-lantern/core';
import type pg from 'pg';
import { newestOf } from './live';

/** What is out of range at the sites that are heard, and who wants to be told of it. */

/** A site with values that nobody has looked at. */
export interface HeardSite {
  siteId: string;
  firmId: string;
  revision: number;
  /** When its newest value came, to the microsecond as the database has it. */
  came: string;
}

/** Sites that sent since they were looked at, those first that wait longest. */
export async function unwatched(pool: pg.Pool, most: number): Promise<HeardSite[]> {
  const { rows } = await pool.query<HeardSite>(
    `select h.site_id as "siteId", s.firm_id as "firmId", s.revision, h.came_at::text as came
      from live_heard h join sites s on s.id = h.site_id
      where s.archived_at is null and (h.watched_at is null or h.watched_at < h.came_at)
        and h.at > now() - interval '1 hour' order by h.watched_at nulls first limit $1`,
    [most],
  );
  return rows;
}

/** The newest value of each quantity, as far as it is of now. */
export async function heardNow(pool: pg.Pool, siteId: string): Promise<Heard[]> {
  const since = Date.now() - NOW_MS;
  const newest = await newestOf(pool, siteId);
  return newest.flatMap((one) => (one.at.getTime() > since ? [{ ...one, at: one.at.getTime() }] : []));
}

/** Stands beside what is out of range: the whole system is no longer heard. */
const SILENT = 'silent';
/** A router that starts again, a signal that is gone for a while: nobody is told of less, h. */
const SILENT_H = 1;
/**
 * So many times its usual pause of the day before: a device that reports twice a day is not silent at noon. Usual is what
 * four in five stay within: one outage does not make it a device that pauses.
 */
const SILENT_TIMES = 3;
/** What has not been heard for so long was put away, days. */
const FORGOTTEN_D = 7;
/** Looked at in one go. */
const MOST_SILENT = 50;

/**
 * Notes which systems have fallen silent, once each, and which are heard again.
 * @returns how many fell silent
 */
export async function noteSilence(pool: pg.Pool): Promise<number> {
  await pool.query(
    `delete from live_outside o using live_heard h where o.site_id = h.site_id and o.quantity = $1 and h.at > o.since`,
    [SILENT],
  );
  const { rows } = await pool.query<{ siteId: string; at: Date }>(
    `select h.site_id as "siteId", h.at from live_heard h join sites s on s.id = h.site_id
      where s.archived_at is null and h.at < now() - $1 * interval '1 hour' and h.at > now() - $2 * interval '1 day'
        and not exists (select 1 from live_outside o where o.site_id = h.site_id and o.quantity = $3)
        and now() - h.at > $4 * coalesce((
          select percentile_disc(0.8) within group (order by pause) from (
            select at - lag(at) over (order by at) as pause from live
              where site_id = h.site_id and at > h.at - interval '1 day'
          ) pauses), interval '0')
      order by h.at limit $5`,
    [SILENT_H, FORGOTTEN_D, SILENT, SILENT_TIMES, MOST_SILENT],
  );
  for (const { siteId, at } of rows)
    await pool.query(
      `insert into live_outside (site_id, subject, quantity, since, sentence, entry)
        values ($1, 'site', $2, $3, $4, $5) on conflict do nothing`,
      [siteId, SILENT, at, silentSentence(at), randomUUID()],
    );
  return rows.length;
}

const silentSentence = (at: Date): string =>
  `Nothing heard since ${at.toISOString().slice(0, 16).replace('T', ' ')} UTC: the device that sends, its network or the system may be off.`;

interface Row {
  subject: string;
  quantity: Outside['quantity'];
  since: Date;
  inside_since: Date | null;
}

/** What stood at the last look. */
export async function outsideOf(pool: pg.Pool, siteId: string): Promise<Outside[]> {
  const { rows } = await pool.query<Row>(
    'select subject, quantity, since, inside_since from live_outside where site_id = $1 and quantity <> $2',
    [siteId, SILENT],
  );
  return rows.map(({ subject, quantity, since, inside_since }) => ({
    subject,
    quantity,
    since: since.getTime(),
    insideSince: inside_since?.getTime() ?? null,
  }));
}

/** Keeps a look: what began, what stands, what is over; and that the site was looked at. */
export async function keepLook(
  pool: pg.Pool,
  { siteId, came }: HeardSite,
  before: readonly Outside[],
  { began, standing }: Watched,
): Promise<void> {
  const is = new Map(standing.map((one) => [`${one.subject} ${one.quantity}`, one]));
  for (const one of before) {
    const now = is.get(`${one.subject} ${one.quantity}`);
    if (!now)
      await pool.query('delete from live_outside where site_id = $1 and subject = $2 and quantity = $3', [
        siteId,
        one.subject,
        one.quantity,
      ]);
    else if (now.insideSince !== one.insideSince)
      await pool.query(
        'update live_outside set inside_since = to_timestamp($4) where site_id = $1 and subject = $2 and quantity = $3',
        [siteId, one.subject, one.quantity, now.insideSince === null ? null : now.insideSince / 1000],
      );
  }
  for (const { subject, quantity, since, sentence } of began)
    await pool.query(
      `insert into live_outside (site_id, subject, quantity, since, sentence, entry)
        values ($1, $2, $3, to_timestamp($4), $5, $6) on conflict do nothing`,
      [siteId, subject, quantity, since / 1000, sentence, randomUUID()],
    );
  await pool.query('update live_heard set watched_at = $2::timestamptz where site_id = $1', [siteId, came]);
}

/** What is out of range and stands in no log yet. `entry`: the id of its entry, the same however often it is tried. */
export interface Unlogged {
  siteId: string;
  firmId: string;
  site: string;
  subject: string;
  quantity: string;
  since: Date;
  sentence: string;
  entry: string;
  /** Its place in the log. */
  position: number;
}

/** What began and is not in the log: the entry of one that could not be written is tried again. */
export async function unlogged(pool: pg.Pool): Promise<Unlogged[]> {
  const { rows } = await pool.query<Unlogged>(
    `select o.site_id as "siteId", s.firm_id as "firmId", s.name as site, o.subject, o.quantity, o.since, o.sentence, o.entry,
        (select coalesce(max(position), -1) + 1 from parts p where p.site_id = o.site_id and p.kind = 'log') as position
      from live_outside o join sites s on s.id = o.site_id where o.logged_at is null order by o.since limit 200`,
  );
  return rows;
}

/** It stands in the log. */
export const noteLogged = (pool: pg.Pool, { siteId, subject, quantity }: Unlogged) =>
  pool.query('update live_outside set logged_at = now() where site_id = $1 and subject = $2 and quantity = $3', [
    siteId,
    subject,
    quantity,
  ]);

/** Somebody who asked for mail, and what they were not told of. */
export interface Untold {
  userId: string;
  email: string;
  quietFrom: number;
  quietTo: number;
  zone: string;
  firm: string;
  siteId: string;
  site: string;
  sentence: string;
  entry: string;
}

/** What stands, and who asked for mail and has none of it yet. */
export async function untold(pool: pg.Pool): Promise<Untold[]> {
  const { rows } = await pool.query<Untold>(
    `select u.id as "userId", u.email, a.quiet_from as "quietFrom", a.quiet_to as "quietTo", a.zone, f.name as firm,
        s.id as "siteId", s.name as site, o.sentence, o.entry
      from live_outside o join sites s on s.id = o.site_id join firms f on f.id = s.firm_id
      join users u on u.firm_id = s.firm_id and u.removed_at is null join alerts a on a.user_id = u.id and a.mail
      where o.logged_at is not null and o.inside_since is null
        and not exists (select 1 from alerts_sent t where t.user_id = u.id and t.entry = o.entry)
      order by u.id, o.since limit 1000`,
  );
  return rows;
}

/** Told, so that nobody is told twice. @returns false where another server was first */
export async function claimTold(pool: pg.Pool, userId: string, entry: string): Promise<boolean> {
  const { rowCount } = await pool.query(
    'insert into alerts_sent (user_id, entry) values ($1, $2) on conflict do nothing',
    [userId, entry],
  );
  return (rowCount ?? 0) > 0;
}
/** The mail server refused it: it will be sent again. */
export const unclaimTold = (pool: pg.Pool, userId: string, entry: string) =>
  pool.query('delete from alerts_sent where user_id = $1 and entry = $2', [userId, entry]);
