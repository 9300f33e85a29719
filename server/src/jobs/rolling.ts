import { messageOf } from '@true-lantern/core';
import type { SystemFile } from '@true-lantern/core';
import type { Logger } from 'pino';
import type { Database } from '../store/database';
import { keepReadings, rollUp, stepsOf, type TouchedDay } from '../store/live';
import { fileOf } from '../store/sites';
import type { Pool } from '../threads/pool';

const EVERY_MS = 5 * 60_000;

/**
 * Puts live values into their steps while the server runs, and each day into the readings that it comes to; of several
 * servers each takes the days that are left.
 */
export function keepRolling(
  { database, pool, log }: { database: Database; pool: Pool; log: Logger },
  every_ms = EVERY_MS,
): () => void {
  const look = () =>
    rollUp(database.pool)
      .then((days) => readDays(database, pool, days, log))
      .catch((error: unknown) => log.error({ reason: messageOf(error) }, 'live values could not be rolled up'));
  const timer = setInterval(() => void look(), every_ms);
  return () => clearInterval(timer);
}

/** What each day comes to as readings, by the system as it is now; a site that cannot be read holds up no other. */
export async function readDays(
  database: Database,
  pool: Pool,
  days: readonly TouchedDay[],
  log: Logger,
): Promise<void> {
  const files = new Map<string, SystemFile>();
  for (const day of days)
    try {
      const file = files.get(day.siteId) ?? (await siteFile(database, day.siteId));
      if (!file) continue;
      files.set(day.siteId, file);
      const steps = await stepsOf(database.pool, day);
      await keepReadings(database.pool, day, await pool.run('liveDay', { file, day: day.day, steps }));
    } catch (error) {
      log.warn({ site: day.siteId, reason: messageOf(error) }, 'a day of live values could not be read');
    }
}

async function siteFile(database: Database, siteId: string): Promise<SystemFile | null> {
  const site = await database.models.Site.findByPk(siteId);
  return site ? fileOf(database, site.firmId, siteId) : null;
}
