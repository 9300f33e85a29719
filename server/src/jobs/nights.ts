import { messageOf } from '@true-lantern/core';
import type { Logger } from 'pino';
import type pg from 'pg';
import { nightly } from './backup';

const HOUR_MS = 3_600_000;
/** Any number; of several servers of one database one makes the night's backup. */
const LOCK = 7_215_003;

/** Sees to a backup a day while the server runs: looked for every hour, so that no night is missed for having been off. */
export function keepNights(pool: pg.Pool, databaseUrl: string, folder: string, log: Logger): () => void {
  const look = async () => {
    const client = await pool.connect();
    try {
      // Held to the end of the transaction: behind a pooler the next statement may meet another connection.
      await client.query('begin');
      const { rows } = await client.query<{ ours: boolean }>('select pg_try_advisory_xact_lock($1) as ours', [LOCK]);
      if (rows[0]?.ours) await nightly(databaseUrl, folder, new Date());
    } catch (error) {
      log.error({ reason: messageOf(error) }, 'the backup of this day could not be made');
    } finally {
      await client.query('rollback').catch(() => undefined);
      client.release();
    }
  };
  void look();
  const timer = setInterval(() => void look(), HOUR_MS);
  return () => clearInterval(timer);
}
