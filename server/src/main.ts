import { createServer } from 'node:http';
import { pino } from 'pino';
import { readConfig } from './config';
import { createApp } from './http/app';
import { openDatabase } from './store/database';

/** Open requests get this long to finish before the server leaves. */
const GRACE_MS = 5000;

async function main() {
  const config = readConfig(process.env);
  const log = pino({ level: config.logLevel });
  const database = await openDatabase(config.databaseUrl, (error) =>
    log.warn({ reason: error.message }, 'an idle connection to the database was lost'),
  );
  const server = createServer(createApp(config, database, log));
  await new Promise<void>((resolve, reject) => {
    server.once('error', reject);
    server.listen(config.port, config.host, resolve);
  });
  const address = server.address();
  log.info({ port: typeof address === 'object' ? address?.port : config.port }, 'listening');

  let leaving = false;
  const leave = () => {
    if (leaving) return;
    leaving = true;
    const force = setTimeout(() => server.closeAllConnections(), GRACE_MS);
    server.closeIdleConnections();
    server.close(() => {
      clearTimeout(force);
      void database.close().then(() => process.exit(0));
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
