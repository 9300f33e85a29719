import { BEFORE_MS, type LiveStep, type LiveValue, type Reading } from '@true-lantern/core';
import type { LiveSeries, LiveSpan } from '@true-lantern/wire';
import type pg from 'pg';

/** Live values (docs/live.md): every one of them in partitions of a month, then steps of five minutes and of a day. */

const DAY_MS = 24 * 3_600_000;
/** Seconds of a step that is kept. */
const FINE_S = 300;
const DAILY_S = 86_400;
/**
 * Values themselves are kept as long as late ones may come, so that a step is always made of all of them; five-minute steps
 * a year; days for good.
 */
const RAW_D = 92;
const FINE_D = 366;
/** Days of which readings are told: trends go over years. */
const READINGS_D = 5 * 366;

/** Partitions that this server knows to be there, by database. */
const known = new WeakMap<pg.Pool, Set<string>>();

/** The partition of a month, made where it is not there yet. */
async function ensureMonth(pool: pg.Pool, at: number): Promise<void> {
  const day = new Date(at);
  const [year, month] = [day.getUTCFullYear(), day.getUTCMonth()];
  const name = `live_${year}_${String(month + 1).padStart(2, '0')}`;
  const mine = known.get(pool) ?? new Set<string>();
  known.set(pool, mine);
  if (mine.has(name)) return;
  const iso = (ms: number) => new Date(ms).toISOString();
  // Names and moments are our own arithmetic: nothing of what somebody sent is in this text.
  await pool
    .query(
      `create table if not exists ${name} partition of live for values from ('${iso(Date.UTC(year, month, 1))}') to ('${iso(Date.UTC(year, month + 1, 1))}')`,
    )
    .catch((error: unknown) => {
      // Two servers that make it in the same moment: one of them has.
      if (!['42P07', '23505'].includes((error as { code?: string }).code ?? '')) throw error;
    });
  mine.add(name);
}

/** The ids of a site's parts: what a device names beside them is kept nowhere. */
export async function partIds(pool: pg.Pool, siteId: string): Promise<Set<string>> {
  const { rows } = await pool.query<{ id: string }>(
    "select body->>'id' as id from parts where site_id = $1 and deleted_at is null and body ? 'id'",
    [siteId],
  );
  return new Set(rows.map(({ id }) => id));
}

/** Keeps values in one statement; what is there already, late or twice, changes nothing. Kept once this resolves. */
export async function keepLive(pool: pg.Pool, siteId: string, values: readonly LiveValue[]): Promise<void> {
  if (values.length === 0) return;
  for (const month of monthsOf(values)) await ensureMonth(pool, month);
  // What is named again and again goes once, and figures as one text each: half of the time went into writing and reading lists.
  const places = new Map<string, number>();
  const pairs: Pick<LiveValue, 'subject' | 'quantity'>[] = [];
  const place = ({ subject, quantity }: LiveValue): number => {
    const key = `${quantity} ${subject}`;
    const known = places.get(key) ?? pairs.push({ subject, quantity });
    places.set(key, known);
    return known;
  };
  const list = (figure: (one: LiveValue) => number) => `{${values.map(figure).join(',')}}`;
  const placed = list(place);
  await pool.query(
    `with given as (
       insert into live (site_id, subject, quantity, at, value)
       select $1, ($2::text[])[place], ($3::text[])[place], to_timestamp(at / 1000.0), value
         from unnest($4::integer[], $5::double precision[], $6::double precision[]) as t(place, at, value)
       on conflict do nothing
       returning at
     ), heard as (
       insert into live_heard (site_id, at) select $1::uuid, max(at) from given having count(*) > 0
       on conflict (site_id) do update set at = greatest(live_heard.at, excluded.at), came_at = now()
     )
     insert into live_touched (site_id, day) select distinct $1::uuid, (at at time zone 'UTC')::date from given
     on conflict do nothing`,
    [
      siteId,
      pairs.map(({ subject }) => subject),
      pairs.map(({ quantity }) => quantity),
      placed,
      list(({ at }) => at),
      list(({ value }) => value),
    ],
  );
}

/** The beginnings of the months that some values are of, ms since 1970. */
function monthsOf(values: readonly LiveValue[]): Set<number> {
  const months = new Set<number>();
  for (const day of new Set(values.map(({ at }) => Math.floor(at / DAY_MS)))) {
    const first = new Date(day * DAY_MS);
    months.add(Date.UTC(first.getUTCFullYear(), first.getUTCMonth(), 1));
  }
  return months;
}

/** A day of a site of which something came. */
export interface TouchedDay {
  siteId: string;
  /** YYYY-MM-DD, UTC. */
  day: string;
}

/** Steps of what came since the last time, late values too; then what is too old is dropped. The same run twice is one. */
export async function rollUp(pool: pg.Pool, now = Date.now()): Promise<TouchedDay[]> {
  const client = await pool.connect();
  try {
    await client.query('begin');
    // Days are taken one by one server: another that looks in the same moment finds the others.
    const { rows } = await client.query<{ site_id: string; day: string }>(
      `delete from live_touched where (site_id, day) in
         (select site_id, day from live_touched order by day limit 2000 for update skip locked)
       returning site_id, day::text`,
    );
    for (const { site_id, day } of rows)
      for (const step of [FINE_S, DAILY_S])
        await client.query(
          `insert into live_steps (site_id, subject, quantity, step_s, at, least, mean, most, count)
           select site_id, subject, quantity, $3::integer,
                  date_bin($3 * interval '1 second', at, '2000-01-01T00:00:00Z'), min(value), avg(value), max(value), count(*)
             from live where site_id = $1 and at >= $2::date::timestamp at time zone 'UTC'
              and at < ($2::date + 1)::timestamp at time zone 'UTC'
            group by site_id, subject, quantity, 5
           on conflict (site_id, step_s, subject, quantity, at)
           do update set least = excluded.least, mean = excluded.mean, most = excluded.most, count = excluded.count`,
          [site_id, day, step],
        );
    await client.query('delete from live_steps where step_s = $1 and at < to_timestamp($2)', [
      FINE_S,
      (now - FINE_D * DAY_MS) / 1000,
    ]);
    await client.query('commit');
    await dropOld(client, now);
    return rows.map(({ site_id, day }) => ({ siteId: site_id, day }));
  } catch (error) {
    await client.query('rollback');
    throw error;
  } finally {
    client.release();
  }
}

/** Whole months of values that are older than they are kept: a partition is dropped, no row is looked at. */
async function dropOld(client: pg.PoolClient, now: number): Promise<void> {
  const oldest = new Date(now - RAW_D * DAY_MS);
  const last = `live_${oldest.getUTCFullYear()}_${String(oldest.getUTCMonth() + 1).padStart(2, '0')}`;
  const { rows } = await client.query<{ name: string }>(
    `select c.relname as name from pg_inherits i join pg_class c on c.oid = i.inhrelid
      where i.inhparent = 'live'::regclass and c.relname < $1`,
    [last],
  );
  for (const { name } of rows) await client.query(`drop table if exists ${name}`);
}

const SPANS: Readonly<Record<LiveSpan, { back_ms: number; step_s: number }>> = {
  day: { back_ms: DAY_MS, step_s: FINE_S },
  month: { back_ms: 31 * DAY_MS, step_s: 3 * 3600 },
  year: { back_ms: 366 * DAY_MS, step_s: DAILY_S },
};

interface Step {
  subject: string;
  quantity: LiveSeries['quantity'];
  at: Date;
  least: number;
  mean: number;
  most: number;
}

/** From index entry to index entry: a site that reports every second has millions of values, and each look at the screen asks. */
const NEWEST = `
  with recursive pairs as (
    (select subject, quantity from live where site_id = $1 order by subject, quantity limit 1)
    union all
    select next.* from pairs, lateral (
      select subject, quantity from live
       where site_id = $1 and (live.subject, live.quantity) > (pairs.subject, pairs.quantity)
       order by subject, quantity limit 1) as next
  )
  select subject, quantity, newest.at, newest.value from pairs, lateral (
    select at, value from live
     where site_id = $1 and live.subject = pairs.subject and live.quantity = pairs.quantity
     order by at desc limit 1) as newest
   order by 1, 2`;

/** A quantity of a site with its newest value. */
interface Newest {
  subject: string;
  quantity: LiveSeries['quantity'];
  at: Date;
  value: number;
}

/** The newest value of each quantity of a site, by subject and quantity. */
export const newestOf = async (pool: pg.Pool, siteId: string): Promise<Newest[]> =>
  (await pool.query<Newest>(NEWEST, [siteId])).rows;

/** The newest value of each quantity and its steps over a span; values that are not rolled up yet are counted in. */
export async function liveOf(
  pool: pg.Pool,
  siteId: string,
  span: LiveSpan,
  now = Date.now(),
): Promise<{ from: number; step_s: number; series: LiveSeries[] }> {
  const { back_ms, step_s } = SPANS[span];
  const step_ms = step_s * 1000;
  const from = Math.floor((now - back_ms) / step_ms) * step_ms;
  const newest = await newestOf(pool, siteId);
  const kept = `from live_steps
    where site_id = $1 and step_s = ${span === 'year' ? DAILY_S : FINE_S} and subject = pair.subject and quantity = pair.quantity`;
  // Of a day what was rolled up is taken from its steps, the rest from the values: its last step may have got more since.
  const source =
    span === 'day'
      ? `with last as materialized (select coalesce(max(at), '-infinity') as at ${kept})
         select at, least, mean, most, count ${kept} and at >= to_timestamp($2) and at < (select at from last)
         union all
         select at, value, value, value, 1 from live
          where site_id = $1 and subject = pair.subject and quantity = pair.quantity
            and at >= greatest(to_timestamp($2), (select at from last))`
      : `select at, least, mean, most, count ${kept} and at >= to_timestamp($2)`;
  const steps = await pool.query<Step>(
    `select subject, quantity, date_bin($3 * interval '1 second', at, '2000-01-01T00:00:00Z') as at,
            min(least) as least, sum(mean * count) / sum(count) as mean, max(most) as most
       from unnest($4::text[], $5::text[]) as pair(subject, quantity), lateral (
         ${source}
       ) as of_pair group by 1, 2, 3`,
    [siteId, from / 1000, step_s, newest.map(({ subject }) => subject), newest.map(({ quantity }) => quantity)],
  );
  const length = Math.ceil((now - from) / step_ms);
  const key = ({ subject, quantity }: Pick<LiveSeries, 'subject' | 'quantity'>) => JSON.stringify([subject, quantity]);
  const courses = new Map(
    newest.map((row) => [key(row), Array.from({ length }, (): LiveSeries['steps'][number] => null)]),
  );
  for (const step of steps.rows) {
    const place = Math.floor((step.at.getTime() - from) / step_ms);
    const course = courses.get(key(step));
    if (course && place >= 0 && place < length) course[place] = [step.least, step.mean, step.most];
  }
  const series = newest.map(({ at, ...row }): LiveSeries => ({
    ...row,
    at: at.toISOString(),
    steps: courses.get(key(row)) ?? [],
  }));
  return { from, step_s, series };
}

/** The five-minute steps of one day, as means, and of the hours before it that its sun may have begun in. */
export async function stepsOf(pool: pg.Pool, { siteId, day }: TouchedDay): Promise<LiveStep[]> {
  const { rows } = await pool.query<Omit<LiveStep, 'at'> & { at: Date }>(
    `select subject, quantity, at, mean from live_steps where site_id = $1 and step_s = $3
        and at >= ($2::date::timestamp at time zone 'UTC') - $4 * interval '1 ms'
        and at < ($2::date + 1)::timestamp at time zone 'UTC' order by at`,
    [siteId, day, FINE_S, BEFORE_MS],
  );
  return rows.map((row) => ({ ...row, at: row.at.getTime() }));
}

/** Keeps what a day comes to as readings, in the place of what it came to before. */
export const keepReadings = (pool: pg.Pool, { siteId, day }: TouchedDay, readings: readonly Reading[]) =>
  pool.query(
    `insert into live_readings (site_id, day, readings) values ($1, $2, $3)
      on conflict (site_id, day) do update set readings = excluded.readings`,
    [siteId, day, JSON.stringify(readings)],
  );

/** The readings of each day of the last five years, the oldest first. */
export async function liveReadings(pool: pg.Pool, siteId: string): Promise<Reading[]> {
  const { rows } = await pool.query<{ readings: Reading[] }>(
    "select readings from live_readings where site_id = $1 and day > now() - $2 * interval '1 day' order by day",
    [siteId, READINGS_D],
  );
  return rows.flatMap(({ readings }) => readings);
}
