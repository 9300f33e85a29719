// `npm test`: every check there is, on a machine with nothing but Node. Ends with "N passed, N failed".
import { spawn } from 'node:child_process';
import { readFileSync, rmSync } from 'node:fs';
import { availableParallelism } from 'node:os';
import { join } from 'node:path';
import { DEMO, ensureBuilt, SERVER, SIGN_IN, WEB_ROOT } from './build.mjs';
import { startPostgres } from './postgres.mjs';
import {
  DEBIAN,
  ensureDebian,
  ensurePackages,
  freePort,
  healthy,
  launch,
  ROOT,
  runMain,
  say,
  secret,
  Sentence,
  stop,
  WORK,
} from './steps.mjs';

runMain(async () => {
  // `node tools/test.mjs e2e -g offline`: one part alone, with words for its runner.
  const only = process.argv[2];
  // Debian's packages arrive while npm's do.
  await Promise.all([ensurePackages(), ensureDebian(...Object.values(DEBIAN))]);
  const database = await startPostgres('test-pg', { throwaway: true });
  let server;
  const tally = { passed: 0, failed: 0 };
  const leave = async () => {
    if (server) await stop(server);
    database.stop();
  };
  process.on('SIGINT', () => void leave().then(() => process.exit(130)));
  const started = Date.now();
  const part = async (name, act) => {
    if (only && only !== name) return;
    const from = Date.now();
    const { passed, failed } = await act();
    tally.passed += passed;
    tally.failed += failed;
    say(`-- ${name}: ${passed} passed, ${failed} failed, ${Math.round((Date.now() - from) / 1000)} s`);
  };
  try {
    // What keeps one core busy each goes side by side; the end-to-end tests want both.
    const lanes = [
      async () => {
        await part('lint', () => oneCheck('npm', ['run', '-s', 'lint']));
        await part('format', () => oneCheck('npm', ['run', '-s', 'format:check']));
        await part('types', () => oneCheck('npm', ['run', '-s', 'types']));
        if (!only) await ensureBuilt();
      },
      async () => {
        await part('unit', async () => {
          const report = join(WORK, 'jest.json');
          rmSync(report, { force: true });
          // As many workers as cores: once the other lane is through, its core is not left idle.
          const workers = `--maxWorkers=${availableParallelism()}`;
          await run('npx', ['--no-install', 'jest', workers, '--json', `--outputFile=${report}`], {
            TEST_DATABASE_URL: database.url('postgres'),
          });
          return counted(report, ({ numPassedTests, numFailedTests, numRuntimeErrorTestSuites }) => ({
            passed: numPassedTests,
            failed: numFailedTests + numRuntimeErrorTestSuites,
          }));
        });
      },
    ];
    await Promise.all(lanes.map((lane) => lane()));
    await part('e2e', async () => {
      await ensureBuilt();
      database.ensureDatabase('e2e');
      const port = await freePort();
      const address = `http://127.0.0.1:${port}`;
      const env = {
        ...process.env,
        DATABASE_URL: database.url('e2e'),
        SESSION_SECRET: secret(),
        PORT: String(port),
        WEB_ROOT,
        DEMO_SIGN_IN: readFileSync(SIGN_IN, 'utf8'),
        LOG_LEVEL: 'warn',
      };
      const loader = launch(process.execPath, [DEMO], { env, stdio: 'inherit' });
      if ((await new Promise((resolve) => loader.once('exit', resolve))) !== 0)
        throw new Sentence('The demo data could not be loaded.');
      server = launch(process.execPath, [SERVER], { env, stdio: 'inherit' });
      if (!(await healthy(address, server))) throw new Sentence('The server did not start.');
      const report = join(WORK, 'playwright.json');
      rmSync(report, { force: true });
      await run(
        'npx',
        ['--no-install', 'playwright', 'test', '-c', 'e2e/playwright.config.ts', ...process.argv.slice(3)],
        {
          BASE_URL: address,
          PLAYWRIGHT_JSON_OUTPUT_NAME: report,
        },
      );
      return counted(report, ({ stats }) => ({ passed: stats.expected + stats.flaky, failed: stats.unexpected }));
    });
  } finally {
    await leave();
  }
  say(`took ${Math.round((Date.now() - started) / 1000)} s`);
  say(`${tally.passed} passed, ${tally.failed} failed`);
  process.exit(tally.failed === 0 && tally.passed > 0 ? 0 : 1);
});

const run = (command, args, env = {}) =>
  new Promise((resolve) => {
    spawn(command, args, { cwd: ROOT, stdio: 'inherit', env: { ...process.env, ...env } }).once('exit', resolve);
  });

async function oneCheck(command, args) {
  const failed = (await run(command, args)) === 0 ? 0 : 1;
  return { passed: 1 - failed, failed };
}

/** A runner that died without a report has failed, whatever it printed. */
function counted(report, read) {
  try {
    return read(JSON.parse(readFileSync(report, 'utf8')));
  } catch {
    return { passed: 0, failed: 1 };
  }
}
