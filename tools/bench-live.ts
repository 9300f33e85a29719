import { execFileSync } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { availableParallelism, tmpdir } from 'node:os';
import { join } from 'node:path';
import { monitorEventLoopDelay } from 'node:perf_hooks';
import { pino } from 'pino';
import { MOST_LINES, readSystemFile } from '@true-lantern/core';
import { elementAt } from '../core/src/numeric/element';
import { readConfig } from '../server/src/config';
import { createApp } from '../server/src/http/app';
import { openDatabase } from '../server/src/store/database';
import { liveOf, rollUp } from '../server/src/store/live';
import { openPool } from '../server/src/threads/pool';
import type { Measured } from './bench-crowd';
import { speakingSites } from './speaking-sites';
import { bundled } from '../server/test/bundled';

/** Live values: how fast they are kept, beside a bare COPY of the same rows; a steady stream; a year drawn; a fleet worked out. */

const SITES = 40;
const AT_ONCE = 8;
/** A steady stream: values a second, for so long. */
const STEADY_A_S = 2000;
const STEADY_S = Number(process.env.STEADY_S ?? 20);
/** As many as the target speaks of: over fewer, most of the time goes into threads that have compiled nothing yet. */
const FLEET = Number(process.env.FLEET ?? 1000);

/** @param psql the program, for the bare COPY */
export async function benchLive(url: string, psql: string): Promise<Measured[]> {
  const database = await openDatabase(url);
  // As it is shipped: in one file, not compiled anew in each thread.
  const program = bundled({ worker: join(import.meta.dirname, '../server/src/threads/worker.ts') });
  const pool = openPool(join(program.folder, 'worker.mjs'), { fleetThreads: availableParallelism() });
  const config = readConfig({ DATABASE_URL: url, SESSION_SECRET: 'x'.repeat(40), LOG_LEVEL: 'silent' });
  const server = createServer(createApp(config, { database, pool, log: pino({ level: 'silent' }), firstCode: '' }));
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  const address = `http://127.0.0.1:${(server.address() as AddressInfo).port}/api/live`;
  const measured: Measured[] = [];

  const folder = join(import.meta.dirname, '../demo/sites');
  const fleet = readdirSync(folder).map((name) => readSystemFile(readFileSync(join(folder, name), 'utf8')).file);
  const { sites, subject } = await speakingSites(database, SITES, '');
  const [tokens, ids] = [sites.map(({ token }) => token), sites.map(({ id }) => id)];
  const QUANTITIES = ['load_V', 'head_A', 'head_soc', 'temp_C'];
  const start = Date.now() - 3_600_000;
  /** Lines of one request, each a value that was not there. */
  const linesFrom = (first: number, count: number) =>
    Array.from({ length: count }, (_, i) =>
      JSON.stringify({
        at: start + 250 * Math.floor((first + i) / QUANTITIES.length),
        subject,
        quantity: QUANTITIES[(first + i) % QUANTITIES.length],
        value: 0.5,
      }),
    ).join('\n');
  const post = async (token: string, text: string) => {
    const reply = await fetch(address, { method: 'POST', headers: { authorization: `Bearer ${token}` }, body: text });
    const answer = (await reply.json()) as { kept: number };
    if (!reply.ok) throw new Error(`${reply.status}`);
    return answer.kept;
  };

  // The threads are up before anything is timed.
  await Promise.all(
    Array.from({ length: 4 }, () => pool.run('fleet', { file: elementAt(fleet, 0), on: 20_000, span: 'week' })),
  );

  // As many as fit within the minute's limit of each site.
  const jobs = tokens.flatMap((token) => [
    { token, text: linesFrom(0, MOST_LINES) },
    { token, text: linesFrom(MOST_LINES, MOST_LINES - 200) },
  ]);
  const from = performance.now();
  let kept = 0;
  const queue = [...jobs];
  await Promise.all(
    Array.from({ length: AT_ONCE }, async () => {
      for (let job = queue.pop(); job; job = queue.pop()) {
        const count = await post(job.token, job.text);
        kept += count;
      }
    }),
  );
  const ours = kept / ((performance.now() - from) / 1000);
  const bare = copied(url, psql, kept);
  measured.push({
    what: `live values kept a second, by HTTP (${(ours / bare).toFixed(2)} of a bare COPY of the same rows)`,
    ms: ours,
    target: 'at least half of a bare COPY; values a second',
  });

  // A steady stream beside it: how long an answer takes, and whether the server's own thread is free.
  await database.pool.query("delete from limits where key like 'live%'").catch(() => undefined);
  const delay = monitorEventLoopDelay({ resolution: 5 });
  delay.enable();
  const times: number[] = [];
  const EACH = STEADY_A_S / SITES;
  for (let second = 0; second < STEADY_S; second++) {
    const began = performance.now();
    await Promise.all(
      tokens.map(async (token, k) => {
        const sent = performance.now();
        // Spread over the second, as devices are.
        await new Promise((resolve) => setTimeout(resolve, (900 * k) / SITES));
        const at = performance.now();
        await post(token, linesFrom(3000 + second * EACH, EACH)).catch(() => undefined);
        times.push(performance.now() - at);
        return sent;
      }),
    );
    await new Promise((resolve) => setTimeout(resolve, Math.max(0, 1000 - (performance.now() - began))));
  }
  delay.disable();
  times.sort((a, b) => a - b);
  measured.push({
    what: `${STEADY_A_S} live values a second for ${STEADY_S} s: slowest answer of a hundred (event loop ${(delay.percentile(99) / 1e6).toFixed(0)} ms)`,
    ms: times[Math.floor(times.length * 0.99)] ?? 0,
    target: 'under 1 s',
  });

  // A year of it, drawn.
  await database.pool.query(
    `insert into live_steps (site_id, subject, quantity, step_s, at, least, mean, most, count)
      select $1, $2, q, 86400, date_trunc('day', now()) - n * interval '1 day', 1, 2, 3, 100
        from generate_series(1, 366) n, unnest($3::text[]) q on conflict do nothing`,
    [ids[0], subject, [...QUANTITIES, 'out_A', 'pv_V', 'pv_A', 'absorb_V', 'rest_V', 'ac_V']],
  );
  await rollUp(database.pool);
  const drawn = performance.now();
  for (let k = 0; k < 10; k++) await liveOf(database.pool, ids[0] ?? '', 'year');
  measured.push({
    what: 'a year of a site’s live values',
    ms: (performance.now() - drawn) / 10,
    target: 'under 200 ms',
  });

  // A device that reports often: a day of a hundred thousand values of one quantity, drawn as so many steps as a screen has room for.
  const often = ids[1] ?? '';
  await database.pool.query(
    `insert into live (site_id, subject, quantity, at, value)
      select $1, $2, 'pv_A', now() - n * interval '0.8 s', 5 + sin(n / 900.0) from generate_series(1, 100000) n on conflict do nothing`,
    [often, subject],
  );
  await database.pool.query(
    `insert into live_touched (site_id, day) select $1, (now() - n * interval '1 day')::date from generate_series(0, 1) n
      on conflict do nothing`,
    [often],
  );
  await rollUp(database.pool);
  const looked = performance.now();
  for (let k = 0; k < 5; k++) await liveOf(database.pool, often, 'day');
  measured.push({
    what: 'a day of 100,000 values of one quantity, rolled up, as it is drawn',
    ms: (performance.now() - looked) / 5,
    target: 'under 100 ms',
  });

  // The firm's risk of power cuts, as the jobs do it.
  const on = Math.floor(Date.now() / 86_400_000);
  for (const [span, count, target] of [
    ['week', FLEET, '1,000 sites in 30 s: 30 ms a site'],
    ['winter', FLEET / 5, '1,000 sites in 4 minutes: 240 ms a site'],
  ] as const) {
    const begun = performance.now();
    let next = 0;
    await Promise.all(
      Array.from({ length: availableParallelism() }, async () => {
        for (; next < count;) {
          next += 1;
          await pool.run('fleet', { file: elementAt(fleet, next % fleet.length), on, span });
        }
      }),
    );
    measured.push({
      what: `risk of power cuts, ${span === 'week' ? '7 days' : 'to the end of winter'}, a site on ${availableParallelism()} cores`,
      ms: (performance.now() - begun) / count,
      target,
    });
  }
  server.closeAllConnections();
  server.close();
  await pool.close();
  program.remove();
  await database.close();
  return measured;
}

/** Rows a second of a bare COPY of as many rows into a table without anything. */
function copied(url: string, psql: string, count: number): number {
  const folder = mkdtempSync(join(tmpdir(), 'copy-'));
  try {
    const path = join(folder, 'rows.csv');
    const site = randomUUID();
    writeFileSync(
      path,
      Array.from(
        { length: count },
        (_, i) => `${site},bank,load_V,2026-01-01T00:00:${(i % 60).toString().padStart(2, '0')}Z,${i}`,
      ).join('\n'),
    );
    const run = (sql: string) => execFileSync(psql, [url, '-qc', sql], { stdio: ['ignore', 'ignore', 'inherit'] });
    run(
      'create table bare_copy (site_id uuid, subject text, quantity text, at timestamptz, value double precision, primary key (site_id, value))',
    );
    const from = performance.now();
    run(`\\copy bare_copy from '${path}' csv`);
    return count / ((performance.now() - from) / 1000);
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}
