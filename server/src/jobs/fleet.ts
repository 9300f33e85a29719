import { dateOf, dayFrom, type FleetSpan } from '@true-lantern/core';
import PgBoss from 'pg-boss';
import type { Logger } from 'pino';
import type { Database } from '../store/database';
import { isWorkedOut, keepFleet, staleSites } from '../store/fleet';
import { fileOf, findSite } from '../store/sites';
import type { Pool } from '../threads/pool';

/**
 * Who may lose power, worked out site by site by any number of servers on one database: each takes jobs that nobody else
 * has (pg-boss), works them out in its threads and keeps the answer with the revision that it rests on. A server that is
 * killed loses its jobs to the others once their time is up.
 */
export interface Fleet {
  /** Asks for every site of a firm that has no answer of today. @returns how many */
  ask(firmId: string, span: FleetSpan): Promise<number>;
  /** Jobs of a firm that are not done. */
  waiting(firmId: string, span: FleetSpan): Promise<number>;
  /** Takes back what nobody has begun. */
  stop(firmId: string): Promise<void>;
  close(): Promise<void>;
}

interface FleetJob {
  firmId: string;
  siteId: string;
  span: FleetSpan;
  /** YYYY-MM-DD. */
  on: string;
}

const SITES = 'fleet-sites';
const NIGHT = 'fleet-night';
const SCHEMA = 'pgboss';
/** Four in the afternoon, local: while there is light to do something about the night. */
const DAILY = '0 16 * * *';
/** At once per server: enough that a question to the database holds up no thread. */
const BATCH = 8;
const POLL_S = 0.5;
/** What a killed server left is looked for so often, and given to another after so long, s. */
const SUPERVISED_S = 5;
const EXPIRES_S = 60;
const RETRIES = 3;

/** @param workers jobs are taken by this server so many times side by side; 0: it only asks */
export async function openFleet(
  { database, pool, log, today }: { database: Database; pool: Pool; log: Logger; today(): number },
  { databaseUrl, workers, expires_s = EXPIRES_S }: { databaseUrl: string; workers: number; expires_s?: number },
): Promise<Fleet> {
  const boss = new PgBoss({
    connectionString: databaseUrl,
    schema: SCHEMA,
    max: 3,
    maintenanceIntervalSeconds: SUPERVISED_S,
    deleteAfterDays: 1,
  });
  boss.on('error', (error) => log.error({ reason: error.message }, 'the queue of jobs'));
  await boss.start();
  // Of one site and span one job waits at most, however often it is asked for.
  await boss.createQueue(SITES, { name: SITES, policy: 'short' });
  await boss.createQueue(NIGHT, { name: NIGHT, policy: 'short', retryLimit: 1 });

  const ask = async (firmId: string, span: FleetSpan): Promise<number> => {
    const on = dateOf(today());
    const sites = await staleSites(database.pool, firmId, span, on);
    if (sites.length > 0)
      await boss.insert(
        sites.map(({ id }) => ({
          name: SITES,
          data: { firmId, siteId: id, span, on } satisfies FleetJob,
          singletonKey: `${id} ${span}`,
          expireInSeconds: expires_s,
          retryLimit: RETRIES,
        })),
      );
    return sites.length;
  };

  const workOut = async ({ firmId, siteId, span, on }: FleetJob): Promise<void> => {
    const site = await findSite(database, firmId, siteId);
    if (!site || site.archivedAt) return;
    const { revision } = site;
    if (await isWorkedOut(database.pool, { siteId, span, revision, on })) return;
    const file = await fileOf(database, firmId, siteId);
    const found = await pool.run('fleet', { file, on: dayFrom(on) ?? today(), span });
    await keepFleet(database.pool, { siteId, firmId, span, revision, on, found });
  };

  for (let k = 0; k < workers; k++)
    await boss.work<FleetJob>(SITES, { batchSize: BATCH, pollingIntervalSeconds: POLL_S }, async (given) => {
      await Promise.all(given.map(({ data }) => workOut(data)));
    });
  if (workers > 0) {
    await boss.work(NIGHT, { pollingIntervalSeconds: 30 }, async () => {
      const { rows } = await database.pool.query<{ id: string }>('select id from firms');
      for (const { id } of rows) for (const span of ['week', 'winter'] as const) await ask(id, span);
    });
    await boss.schedule(NIGHT, DAILY, {}, { tz: Intl.DateTimeFormat().resolvedOptions().timeZone });
  }

  return {
    ask,
    async waiting(firmId, span) {
      const { rows } = await database.pool.query<{ count: number }>(
        `select count(*)::integer as count from ${SCHEMA}.job where name = $1 and state < 'completed'
          and data->>'firmId' = $2 and data->>'span' = $3`,
        [SITES, firmId, span],
      );
      return rows[0]?.count ?? 0;
    },
    async stop(firmId) {
      const { rows } = await database.pool.query<{ id: string }>(
        `select id from ${SCHEMA}.job where name = $1 and state < 'active' and data->>'firmId' = $2`,
        [SITES, firmId],
      );
      if (rows.length > 0)
        await boss.cancel(
          SITES,
          rows.map(({ id }) => id),
        );
    },
    close: () => boss.stop({ graceful: false, wait: true, close: true }),
  };
}
