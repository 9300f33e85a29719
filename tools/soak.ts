// `npm run soak -- MINUTES`: two thousand live values a second beside twenty technicians, while the server is killed outright
// every two minutes. What was acknowledged must be there, and nothing twice (docs/server.md).
import { spawn } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { join } from 'node:path';
import { hashPassword } from '../server/src/auth/passwords';
import { openDatabase } from '../server/src/store/database';
import { bundled } from '../server/test/bundled';
import { startPostgres } from './postgres.mjs';
import { speakingSites } from './speaking-sites';
import { freePort } from './steps.mjs';

const SITES = 80;
const A_SECOND = 2000;
const EACH = A_SECOND / SITES;
const TECHNICIANS = 20;
const KILL_EVERY_S = 120;
const PASSWORD = 'a-long-password';
const QUANTITIES = ['load_V', 'head_A', 'head_soc', 'temp_C', 'rest_V'];

const seconds = 60 * Number(process.argv[2] ?? 10);
const postgres = await startPostgres('soak-pg', { fresh: true });
postgres.ensureDatabase('soak');
const url = postgres.url('soak');
const program = bundled({
  main: join(import.meta.dirname, '../server/src/main.ts'),
  worker: join(import.meta.dirname, '../server/src/threads/worker.ts'),
});
const port = await freePort();
const address = `http://127.0.0.1:${port}/api`;
const wait = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

const database = await openDatabase(url);
const { email, sites, subject, controllerId } = await speakingSites(database, SITES, await hashPassword(PASSWORD));
let server = start();
await healthy();
const { cookie, csrf } = await signIn();

const until = performance.now() + 1000 * seconds;
const running = () => performance.now() < until;
const tally = {
  kept: 0,
  again: 0,
  slow_ms: [] as number[],
  pushed: new Set<string>(),
  push_ms: [] as number[],
  kills: 0,
};
/** Of each site how many of its values were acknowledged: value n of a site stands at the moment n. */
const acknowledged = sites.map(() => 0);
const origin = Date.now() - 3_600_000;
await Promise.all([
  ...sites.map(({ token }, k) => device(token, k)),
  ...Array.from({ length: TECHNICIANS }, (_, n) => technician(n)),
  killer(),
]);
const lost = await missing();
report();
server.kill('SIGTERM');
await new Promise((resolve) => server.once('exit', resolve));
await database.close();
program.remove();
postgres.stop();
process.exitCode = lost.values + lost.twice + lost.changes === 0 ? 0 : 1;

function start() {
  return spawn(process.execPath, [join(program.folder, 'main.mjs')], {
    cwd: join(import.meta.dirname, '..'),
    stdio: ['ignore', 'ignore', 'inherit'],
    env: {
      ...process.env,
      NODE_OPTIONS: '',
      DATABASE_URL: url,
      SESSION_SECRET: 'x'.repeat(40),
      PORT: String(port),
      LOG_LEVEL: 'silent',
    },
  });
}

async function healthy() {
  while (!(await fetch(`${address}/health`).catch(() => null))?.ok) await wait(50);
}

async function signIn() {
  const reply = await fetch(`${address}/session`, {
    method: 'POST',
    headers: { 'content-type': 'application/json', 'x-csrf-token': 'x' },
    body: JSON.stringify({ email, password: PASSWORD }),
  });
  const { csrfToken } = (await reply.json()) as { csrfToken: string };
  return { cookie: reply.headers.get('set-cookie')?.split(';')[0] ?? '', csrf: csrfToken };
}

/** What is not answered is sent again, as docs/live.md asks of a device. */
async function device(token: string, k: number) {
  await wait((900 * k) / SITES);
  for (let next = performance.now(); running();) {
    const first = acknowledged[k] ?? 0;
    // After a pause it has more to say: as much as the minute's limit lets through.
    const count = Math.min(1000, EACH * Math.max(1, Math.floor((performance.now() - next) / 1000)));
    const body = Array.from({ length: count }, (_, i) =>
      JSON.stringify({ at: origin + first + i, subject, quantity: QUANTITIES[(first + i) % 5], value: 1 }),
    ).join('\n');
    const from = performance.now();
    const reply = await fetch(`${address}/live`, {
      method: 'POST',
      headers: { authorization: `Bearer ${token}` },
      body,
    })
      .then(async (one) => (one.ok ? ((await one.json()) as { kept: number }) : null))
      .catch(() => null);
    if (reply) {
      tally.slow_ms.push(performance.now() - from);
      acknowledged[k] = first + reply.kept;
      tally.kept += reply.kept;
      next += 1000 * Math.max(1, Math.floor(count / EACH));
      await wait(Math.max(0, next - performance.now()));
    } else {
      tally.again += 1;
      await wait(500);
    }
  }
}

async function technician(n: number) {
  for (let i = 0; running(); i++) {
    const changeId = randomUUID();
    const change = {
      changeId,
      partId: controllerId,
      baseRevision: 2_147_483_647,
      set: { selfUse_W: 1 + ((n + i) % 5) },
      at: new Date().toISOString(),
      device: `soak-${n}`,
    };
    for (let done = false; !done && running();) {
      const from = performance.now();
      done = await fetch(`${address}/sites/${sites[0]?.id}/changes`, {
        method: 'POST',
        headers: { 'content-type': 'application/json', cookie, 'x-csrf-token': csrf },
        body: JSON.stringify({ changes: [change] }),
      })
        .then((reply) => reply.ok)
        .catch(() => false);
      if (done) {
        tally.push_ms.push(performance.now() - from);
        tally.pushed.add(changeId);
      } else await wait(500);
    }
    await wait(1000);
  }
}

async function killer() {
  while (running()) {
    await wait(Math.min(1000 * KILL_EVERY_S, Math.max(0, until - performance.now())));
    if (!running()) return;
    server.kill('SIGKILL');
    tally.kills += 1;
    server = start();
    await healthy();
  }
}

/** What was acknowledged and is not there, and what is there twice. */
async function missing() {
  const { rows } = await database.pool.query<{ site_id: string; n: string; unlike: string }>(
    'select site_id, count(*) as n, count(distinct (at, subject, quantity)) as unlike from live group by 1',
  );
  const there = new Map(rows.map((row) => [row.site_id, row]));
  const values = sites.reduce(
    (sum, { id }, k) => sum + Math.max(0, (acknowledged[k] ?? 0) - Number(there.get(id)?.unlike ?? 0)),
    0,
  );
  const twice = rows.reduce((sum, { n, unlike }) => sum + Number(n) - Number(unlike), 0);
  const kept = await database.pool.query<{ change_id: string }>('select change_id from changes');
  const changes = new Set(kept.rows.map(({ change_id }) => change_id));
  return { values, twice, changes: [...tally.pushed].filter((id) => !changes.has(id)).length };
}

function report() {
  const part99 = (times: number[]) =>
    Math.round([...times].sort((a, b) => a - b)[Math.floor(times.length * 0.99)] ?? 0);
  process.stdout.write(
    [
      `${tally.kept} values acknowledged in ${seconds} s (${Math.round(tally.kept / seconds)} a second), ${tally.kills} kills, ${tally.again} requests sent again`,
      `lost ${lost.values}, twice ${lost.twice}; 99 in 100 answered within ${part99(tally.slow_ms)} ms`,
      `${tally.pushed.size} pushes of ${TECHNICIANS} technicians, lost ${lost.changes}, 99 in 100 within ${part99(tally.push_ms)} ms`,
      '',
    ].join('\n'),
  );
}
