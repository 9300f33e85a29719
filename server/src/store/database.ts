import pg from 'pg';
import { Sequelize } from 'sequelize';
import { defineModels, type Models } from './models';
import { migrate } from './migrations';

/** The open database: its models, its pool, and how it is closed. */
export interface Database {
  sequelize: Sequelize;
  models: Models;
  /** For sessions and rate limits, whose packages speak to `pg` directly. */
  pool: pg.Pool;
  close(): Promise<void>;
}

/**
 * Connects, brings the schema up to date under a lock, and returns what the rest of the server works with.
 * `onLost` hears of idle connections that died.
 */
export async function openDatabase(url: string, onLost: (error: Error) => void = () => undefined): Promise<Database> {
  const sequelize = new Sequelize(url, { dialect: 'postgres', logging: false, pool: { max: 10, idle: 10_000 } });
  const models = defineModels(sequelize);
  await migrate(sequelize);
  const pool = new pg.Pool({ connectionString: url, max: 10 });
  // An idle connection that dies must not take the server with it: it is said, and the next query opens another.
  pool.on('error', onLost);
  return {
    sequelize,
    models,
    pool,
    async close() {
      await pool.end();
      await sequelize.close();
    },
  };
}
