import { messageOf } from '@true-lantern/core';
import { randomBytes } from 'node:crypto';
import { createServer } from 'node:http';
import { fileURLToPath } from 'node:url';
import { pino } from 'pino';
import { readConfig } from './config';
import { createApp } from './http/app';
import { today } from './http/today';
import { keepBackground } from './jobs/background';
import { openFleet } from './jobs/fleet';
import { openIngest } from './live/ingest';
import { keepMqtt } from './live/mqtt';
import { keepSockets } from './live/sockets';
import { openDatabase } from './store/database';
import { openNews } from './store/news';
import { noFirmYet } from './store/firms';
import { openPool } from './threads/pool';

/** Open requests get this long to finish before the server leaves. */
const GRACE_MS = 5000;
/** After so long it leaves whatever still holds it: a thread at work, a database that does not answer. */
const LEAVE_MS = 12_000;

async function main() {
  const config = readConfig(process.env);
  const log = pino({ level: config.logLevel });
  const database = await openDatabase(config.databaseUrl, (error) =>
    log.warn({ reason: error.message }, 'an idle connection to the database was lost'),
  );
  // Bundled, the threads' program lies beside this one; run from its sources (tests), where it is written.
  const worker = import.meta.url.endsWith('.ts') ? './threads/worker.ts' : './worker.mjs';
  const pool = openPool(
    fileURLToPath(new URL(worker, import.meta.url)),
    config.fleetThreads ? { fleetThreads: config.fleetThreads } : {},
  );
  const firstCode = randomBytes(5).toString('hex');
  // Without the queue of jobs (no right to make its schema) everything else goes on.
  const fleet = await openFleet(
    { database, pool, log, today },
    { databaseUrl: config.databaseUrl, workers: config.fleetWorkers, expires_s: config.fleetExpires_s },
  ).catch((error: unknown) => {
    log.error({ reason: messageOf(error) }, 'the queue of jobs could not be opened');
    return null;
  });
  const ingest = openIngest(database);
  const news = openNews(config.databaseUrl, log);
  const app = createApp(config, { database, pool, log, firstCode, ingest, news, ...(fleet ? { fleet } : {}) });
  const server = createServer(app);
  const endSockets = keepSockets(server, ingest, log);
  const endMqtt = config.mqttUrl
    ? keepMqtt(config.mqttUrl, { pool: database.pool, ingest, log, databaseUrl: config.databaseUrl })
    : async () => undefined;
  await new Promise<void>((resolve, reject) => {
    server.once('error', reject);
    server.listen(config.port, config.host, resolve);
  });
  const address = server.address();
  log.info({ port: typeof address === 'object' ? address?.port : config.port }, 'listening');

  // For whoever keeps this server, and reads what it prints: so that no stranger makes the first firm.
  if (await noFirmYet(database))
    process.stdout.write(
      `No firm yet. Open ${config.publicUrl ?? 'the app'} and make one with this code: ${firstCode}\n`,
    );

  const endBackground = keepBackground(config, { database, pool, log, fleet });

  let leaving = false;
  const leave = () => {
    if (leaving) return;
    leaving = true;
    const ended = Promise.all([endBackground(), endMqtt()]);
    endSockets();
    app.endStreams();
    setTimeout(() => process.exit(1), LEAVE_MS).unref();
    const force = setTimeout(() => server.closeAllConnections(), GRACE_MS);
    server.closeIdleConnections();
    server.close(() => {
      clearTimeout(force);
      void Promise.all([ended, fleet?.close(), news.close()])
        .then(() => pool.close())
        .then(() => database.close())
        .then(() => process.exit(0));
    });
  };
  process.on('SIGTERM', leave);
  process.on('SIGINT', leave);
  // Started by a command of ours: when that is gone, so is the reason to run.
  if (process.env.LEAVE_WITH_PARENT) process.stdin.on('end', leave).resume();
}

main().catch((error: unknown) => {
  const { code, message } = error as NodeJS.ErrnoException;
  const sentence =
    code === 'EADDRINUSE'
      ? `Port ${process.env.PORT ?? '4280'} is taken by another program.`
      : `Cannot start: ${message}`;
  process.stderr.write(`${sentence}\n`);
  process.exit(1);
});
