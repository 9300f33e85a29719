import type { Logger } from 'pino';
import type pg from 'pg';
import { rollUp } from '../store/live';

const EVERY_MS = 5 * 60_000;

/** Puts live values into their steps while the server runs; of several servers each takes the days that are left. */
export function keepRolling(pool: pg.Pool, log: Logger): () => void {
  const look = () =>
    rollUp(pool).catch((error: unknown) =>
      log.error({ reason: (error as Error).message }, 'live values could not be rolled up'),
    );
  const timer = setInterval(() => void look(), EVERY_MS);
  return () => clearInterval(timer);
}
