import { messageOf } from '@true-lantern/core';
import type pg from 'pg';
import type { Logger } from 'pino';

/**
 * Work that one server of several does, again and again: the one that holds a lock of the database. When it is gone, another
 * takes over with its next look.
 * @param lock any number; all servers of one database must agree on it
 * @returns what ends it
 */
export function keepAlone(
  pool: pg.Pool,
  lock: number,
  log: Logger,
  every_ms: number,
  work: () => Promise<void>,
): () => Promise<void> {
  let ended = false;
  let holder: pg.PoolClient | null = null;
  let held = false;
  let busy: Promise<void> = Promise.resolve();
  let working = false;

  const look = async () => {
    if (ended) return;
    if (!held) {
      holder ??= await pool.connect();
      const { rows } = await holder.query<{ ours: boolean }>('select pg_try_advisory_lock($1) as ours', [lock]);
      held = rows[0]?.ours ?? false;
    } else await holder?.query('select 1');
    if (held && !ended) await work();
  };
  const tried = () => {
    if (working) return;
    working = true;
    busy = look()
      .catch((error: unknown) => {
        log.warn({ reason: messageOf(error) }, 'work that one server does was interrupted');
        holder?.release(true);
        [holder, held] = [null, false];
      })
      .finally(() => {
        working = false;
      });
  };
  tried();
  const timer = setInterval(tried, every_ms);
  return async () => {
    ended = true;
    clearInterval(timer);
    await busy;
    holder?.release(true);
    holder = null;
  };
}
