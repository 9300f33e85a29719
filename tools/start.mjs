// `npm run demo` and `npm run dev`: installs what is missing, starts the database and the app, stops both on Ctrl-C.
import { existsSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { ensureBuilt, DEMO, SERVER, SIGN_IN, WEB_ROOT } from './build.mjs';
import { startDemoFeed } from './demo-feed.mjs';
import { startPostgres } from './postgres.mjs';
import {
  DEBIAN,
  ensureDebian,
  ensurePackages,
  healthy,
  launch,
  portIsFree,
  ROOT,
  runMain,
  say,
  secret,
  Sentence,
  stop,
  WORK,
} from './steps.mjs';

const RUN = join(WORK, 'run.json');

runMain(async () => {
  const [mode = 'demo', ...flags] = process.argv.slice(2);
  const wrong = flags.find((flag) => flag !== '--fresh');
  if (wrong)
    throw new Sentence(`"${wrong}" is not an option; "--fresh" is the only one: it starts over with the demo data.`);
  const port = Number(process.env.PORT ?? 4280);
  if (!Number.isInteger(port) || port < 1 || port > 65_535)
    throw new Sentence(`PORT=${process.env.PORT} is no port, expected 1 to 65535.`);

  const other = alreadyRunning();
  if (other) throw new Sentence(`True Lantern already runs at ${other}; stop it there with Ctrl-C first.`);
  if (!(await portIsFree(port)))
    throw new Sentence(`Port ${port} is taken by another program; choose one with "PORT=4290 npm run ${mode}".`);
  writeFileSync(RUN, JSON.stringify({ pid: process.pid, address: `http://localhost:${port}` }));
  process.on('exit', () => rmSync(RUN, { force: true }));

  // A Ctrl-C while things are being built or started must not leave anything behind.
  let leave = () => process.exit(130);
  process.on('SIGINT', () => leave());
  process.on('SIGTERM', () => leave());

  // The database's packages arrive while npm's do.
  await Promise.all([ensurePackages(), ensureDebian(DEBIAN.postgres)]);
  await ensureBuilt();
  const database = await startPostgres('pg', { fresh: flags.includes('--fresh') });
  leave = () => {
    database.stop();
    process.exit(0);
  };
  try {
    database.ensureDatabase('lantern');
    const env = {
      ...process.env,
      DATABASE_URL: database.url('lantern'),
      SESSION_SECRET: sessionSecret(),
      PORT: String(port),
      WEB_ROOT,
      DEMO_SIGN_IN: readFileSync(SIGN_IN, 'utf8'),
      LEAVE_WITH_PARENT: '1',
      LOG_LEVEL: process.env.LOG_LEVEL ?? 'warn',
    };
    const loader = launch(process.execPath, [DEMO], { env, stdio: ['ignore', 'inherit', 'inherit'] });
    const code = await new Promise((resolve) => loader.once('exit', resolve));
    if (code !== 0) throw new Sentence('The demo data could not be loaded; "npm run demo -- --fresh" starts over.');
    const server = launch(process.execPath, mode === 'dev' ? ['--watch', SERVER] : [SERVER], {
      env,
      // An open pipe that the server watches: should this process be killed outright, the server leaves too.
      stdio: ['pipe', 'inherit', 'inherit'],
      // Its own group: Ctrl-C reaches this process, which then stops the server and the database in that order.
      detached: true,
    });
    let leaving = false;
    let feed = null;
    leave = async () => {
      if (leaving) return;
      leaving = true;
      if (feed) await stop(feed);
      await stop(server);
      database.stop();
      process.exit(0);
    };
    if (!(await healthy(`http://127.0.0.1:${port}`, server))) {
      await stop(server);
      throw new Sentence('The server did not start; its own words are above.');
    }
    server.once('exit', () => {
      if (leaving) return;
      process.stderr.write('The server ended by itself; its own words are above.\n');
      void leave();
    });
    if (mode === 'demo') feed = await startDemoFeed(`http://127.0.0.1:${port}`).catch(() => null);
    const { email, password } = JSON.parse(readFileSync(SIGN_IN, 'utf8'));
    say(`\nTrue Lantern is at http://localhost:${port}`);
    say(`Sign in as ${email} with ${password} (one tap on the sign-in screen). Ctrl-C stops everything.`);
    if (mode === 'dev') await watchSources();
  } catch (error) {
    database.stop();
    throw error;
  }
});

/** In development: rebuild when a source changes; the server restarts by itself, the page wants a reload. */
async function watchSources() {
  const { watch } = await import('node:fs');
  let timer;
  for (const place of ['core/src', 'wire/src', 'server/src', 'client/app', 'client/src'])
    watch(join(ROOT, place), { recursive: true }, () => {
      clearTimeout(timer);
      timer = setTimeout(() => {
        ensureBuilt()
          .then(() => say('Built again.'))
          .catch((error) => say(error.message));
      }, 300);
    });
  say('Watching the sources; reload the page after "Built again."');
}

function alreadyRunning() {
  if (!existsSync(RUN)) return null;
  try {
    const { pid, address } = JSON.parse(readFileSync(RUN, 'utf8'));
    process.kill(pid, 0);
    return readFileSync(`/proc/${pid}/cmdline`, 'utf8').includes('start.mjs') ? address : null;
  } catch {
    return null;
  }
}

/** Kept between runs, so that a restart signs nobody out. */
function sessionSecret() {
  const file = join(WORK, 'session-secret');
  if (!existsSync(file)) writeFileSync(file, secret(), { mode: 0o600 });
  return readFileSync(file, 'utf8').trim();
}
