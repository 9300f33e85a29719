import { pino } from 'pino';
import { today } from '../src/http/today';
import { openFleet } from '../src/jobs/fleet';
import { openDatabase } from '../src/store/database';
import { jobs } from '../src/threads/jobs';
import type { Pool } from '../src/threads/pool';

/** A server that does nothing but the jobs of the fleet: a process of its own, so that it can be killed. */
const databaseUrl = process.env.DATABASE_URL ?? '';
const database = await openDatabase(databaseUrl);
const pool: Pool = {
  run: async (job, input) => (await jobs[job](input as never)) as never,
  close: async () => undefined,
};
await openFleet({ database, pool, log: pino({ level: 'silent' }), today }, { databaseUrl, workers: 1 });
