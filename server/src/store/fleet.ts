import type { FleetSite, FleetSpan } from '@true-lantern/core';
import type pg from 'pg';

/** What was worked out of a site, and what it rests on. */
export interface FleetRow {
  revision: number;
  /** The first day, YYYY-MM-DD. */
  on: string;
  at: Date;
  found: FleetSite;
}

/** Sites of a firm in use whose answer is not of this day and this revision. */
export async function staleSites(
  pool: pg.Pool,
  firmId: string,
  span: FleetSpan,
  on: string,
): Promise<{ id: string; revision: number }[]> {
  const { rows } = await pool.query<{ id: string; revision: number }>(
    `select s.id, s.revision from sites s
      left join fleet f on f.site_id = s.id and f.span = $2 and f.on_day = $3 and f.revision = s.revision
      where s.firm_id = $1 and s.archived_at is null and f.site_id is null order by s.name`,
    [firmId, span, on],
  );
  return rows;
}

/** True where the answer of this revision and day is there. */
export async function isWorkedOut(
  pool: pg.Pool,
  { siteId, span, revision, on }: { siteId: string; span: FleetSpan; revision: number; on: string },
): Promise<boolean> {
  const { rowCount } = await pool.query(
    'select 1 from fleet where site_id = $1 and span = $2 and revision = $3 and on_day = $4',
    [siteId, span, revision, on],
  );
  return (rowCount ?? 0) > 0;
}

/** Keeps an answer; `times` counts how often the same was worked out: once, unless something is wrong. */
export async function keepFleet(
  pool: pg.Pool,
  row: { siteId: string; firmId: string; span: FleetSpan; revision: number; on: string; found: FleetSite },
): Promise<void> {
  await pool.query(
    `insert into fleet (site_id, firm_id, span, revision, on_day, found) values ($1, $2, $3, $4, $5, $6)
      on conflict (site_id, span) do update set revision = excluded.revision, on_day = excluded.on_day,
        found = excluded.found, computed_at = now(),
        times = case when fleet.revision = excluded.revision and fleet.on_day = excluded.on_day
          then fleet.times + 1 else 1 end`,
    [row.siteId, row.firmId, row.span, row.revision, row.on, JSON.stringify(row.found)],
  );
}

/** What is known of a firm's sites, by their ids. */
export async function fleetOf(pool: pg.Pool, firmId: string, span: FleetSpan): Promise<Map<string, FleetRow>> {
  const { rows } = await pool.query<{
    site_id: string;
    revision: number;
    on_day: string;
    computed_at: Date;
    found: FleetSite;
  }>(
    `select site_id, revision, on_day::text as on_day, computed_at, found from fleet where firm_id = $1 and span = $2`,
    [firmId, span],
  );
  return new Map(
    rows.map((row) => [row.site_id, { revision: row.revision, on: row.on_day, at: row.computed_at, found: row.found }]),
  );
}

/** When each site of a firm last sent a value. */
export async function lastHeard(pool: pg.Pool, firmId: string): Promise<Map<string, Date>> {
  const { rows } = await pool.query<{ site_id: string; at: Date }>(
    'select h.site_id, h.at from live_heard h join sites s on s.id = h.site_id where s.firm_id = $1',
    [firmId],
  );
  return new Map(rows.map(({ site_id, at }) => [site_id, at]));
}
