import { existsSync } from 'node:fs';
import type { Logger } from 'pino';
import type { Config } from '../config';
import { postOf } from '../http/mail';
import { today } from '../http/today';
import { keepModbus } from '../live/modbus';
import type { Database } from '../store/database';
import type { Pool } from '../threads/pool';
import { keepDigest } from './digest';
import type { Fleet } from './fleet';
import { keepNights } from './nights';
import { keepRolling } from './rolling';
import { keepWatch } from './watch';

interface Around {
  database: Database;
  pool: Pool;
  log: Logger;
  fleet: Fleet | null;
}

/**
 * What a server does without being asked: backups, steps of live values, the watch over them, the day's list, devices.
 * @returns what ends all of it
 * @throws Error where BACKUP_DIR is no folder
 */
export function keepBackground(config: Config, { database, pool, log, fleet }: Around): () => Promise<void> {
  const { backupDir, databaseUrl, publicUrl, modbusAllow } = config;
  if (backupDir && !existsSync(backupDir)) throw new Error(`BACKUP_DIR ${backupDir} is no folder`);
  const post = postOf(config, (error) => log.error({ err: { message: error.message } }, 'a mail was not sent'));
  const ends: (() => unknown)[] = [
    keepRolling({ database, pool, log }),
    keepWatch({ database, pool, log, post, publicUrl }),
    ...(backupDir ? [keepNights(database.pool, databaseUrl, backupDir, log)] : []),
    ...(post && publicUrl && fleet ? [keepDigest({ database, fleet, log, post, publicUrl, today })] : []),
    ...(modbusAllow ? [keepModbus(modbusAllow, { pool: database.pool, log })] : []),
  ];
  return async () => void (await Promise.all(ends.map((end) => end())));
}
