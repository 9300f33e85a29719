import { randomUUID } from 'node:crypto';
import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { join } from 'node:path';
import express from 'express';
import pg from 'pg';
import { pino } from 'pino';
import { checkSystemFile, toRows } from '@true-lantern/core';
import { benchCrowd, type Measured } from './bench-crowd';
import corrach from '../demo/sites/corrach-bothy.lantern.json';
import { hashPassword } from '../server/src/auth/passwords';
import { readConfig } from '../server/src/config';
import { createApp } from '../server/src/http/app';
import { openDatabase } from '../server/src/store/database';
import { createSite } from '../server/src/store/sites';
import { openPool } from '../server/src/threads/pool';

/** The server's own time, with beside it a bare Express and `pg` that do the least: one insert, one row. */

const RUNS = 60;

async function medianOf(act: (run: number) => Promise<unknown>, runs = RUNS): Promise<number> {
  const times: number[] = [];
  for (let run = 0; run < runs + 10; run++) {
    const from = performance.now();
    await act(run);
    // The first ten warm it up.
    if (run >= 10) times.push(performance.now() - from);
  }
  times.sort((a, b) => a - b);
  return times[Math.floor(times.length / 2)] ?? 0;
}

/** Times the server's answers over a database of its own at this address, beside a bare Express and pg. */
export async function benchServer(url: string): Promise<Measured[]> {
  const database = await openDatabase(url);
  const pool = openPool(join(import.meta.dirname, '../server/src/threads/worker.ts'));
  const config = readConfig({ DATABASE_URL: url, SESSION_SECRET: 'x'.repeat(40), LOG_LEVEL: 'silent' });
  const server = createServer(createApp(config, { database, pool, log: pino({ level: 'silent' }), firstCode: '' }));
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  const address = `http://127.0.0.1:${(server.address() as AddressInfo).port}/api`;

  const firmId = randomUUID();
  await database.models.Firm.create({ id: firmId, name: 'SpecInputs' });
  const email = 'bench@bench.example';
  const passwordHash = await hashPassword('a-long-password');
  await database.models.User.create({
    id: randomUUID(),
    firmId,
    name: 'SpecInputs',
    email,
    passwordHash,
    role: 'owner',
  });
  const { file } = checkSystemFile(corrach);
  const siteId = randomUUID();
  const rows = toRows(file, randomUUID);
  await createSite(database, { id: siteId, firmId, userId: null, name: 'SpecInputs', rows });
  const part = rows.find(({ kind }) => kind === 'controllers')!;

  let cookie = '';
  let token = 'x';
  const call = async (method: string, path: string, body?: unknown) => {
    const response = await fetch(`${address}${path}`, {
      method,
      headers: { 'content-type': 'application/json', cookie, 'x-csrf-token': token },
      ...(body === undefined ? {} : { body: JSON.stringify(body) }),
    });
    const set = response.headers.get('set-cookie');
    if (set) cookie = set.split(';')[0] ?? '';
    const text = await response.text();
    if (!response.ok) throw new Error(`${method} ${path}: ${response.status} ${text.slice(0, 200)}`);
    return text ? (JSON.parse(text) as Record<string, never>) : {};
  };
  token = ((await call('POST', '/session', { email, password: 'a-long-password' })) as unknown as { csrfToken: string })
    .csrfToken;

  const bare = await bareServer(url, rows);
  let revision = 1;
  const changes = (count: number, run: number) =>
    Array.from({ length: count }, (_, i) => ({
      changeId: randomUUID(),
      partId: part.id,
      baseRevision: revision,
      set: { maxPv_A: 20 + ((run * 7 + i) % 50) / 10 },
      at: new Date().toISOString(),
      device: 'bench',
    }));
  const push = async (count: number, run: number) => {
    const answer = await call('POST', `/sites/${siteId}/changes`, { changes: changes(count, run) });
    const { results } = answer as unknown as { results: { status: string; part?: { revision: number } }[] };
    if (results.some(({ status }) => status !== 'applied')) throw new Error('a change of the bench was not taken');
    revision = results.at(-1)?.part?.revision ?? revision;
  };
  const measured: Measured[] = [];
  const note = (what: string, ms: number, target: string) => measured.push({ what, ms, target });
  const insert = await medianOf(() => bare.post());
  const read = await medianOf(() => bare.get());
  note('a bare Express and pg: one insert', insert, '');
  note('a bare Express and pg: the rows of a site in one select', read, '');
  const list = await medianOf(() => call('GET', '/sites'));
  note(`GET /sites (${(list / read).toFixed(1)} x the bare select)`, list, 'within 3 x');
  const one = await medianOf(() => call('GET', `/sites/${siteId}`));
  note(`GET /sites/:id (${(one / read).toFixed(1)} x the bare select)`, one, 'within 3 x');
  const single = await medianOf((run) => push(1, run));
  note(`a push of one change (${(single / insert).toFixed(1)} x the bare insert)`, single, 'within 5 x');
  const fifty = await medianOf((run) => push(50, run), 20);
  note(`a push of fifty (${(fifty / single).toFixed(1)} x one)`, fifty, 'within 20 x of one');
  await database.pool.query(
    `insert into changes (change_id, firm_id, site_id, part_id, base_revision, revision, device, fields, before, made_at)
      select gen_random_uuid(), $1, $2, $3, n, n, 'old', '{"maxPv_A": 1}', '{}', now() from generate_series(1, 10000) n`,
    [firmId, siteId, part.id],
  );
  await database.sequelize.query('update parts set revision = 20000 where id = $1', { bind: [part.id] });
  revision = 20_000;
  const long = await medianOf((run) => push(1, run));
  note(`the same push with 10,000 past changes of the part (${(long / single).toFixed(1)} x)`, long, 'no growth');

  await bare.close();
  measured.push(...(await benchCrowd({ address, cookie, token, siteId, partId: part.id })));
  server.closeAllConnections();
  await new Promise((resolve) => server.close(resolve));
  await pool.close();
  await database.close();
  return measured;
}

async function bareServer(url: string, rows: object[]) {
  const pool = new pg.Pool({ connectionString: url });
  await pool.query('create table if not exists bare (id uuid primary key, body jsonb)');
  await pool.query('create table if not exists bare_rows (id serial primary key, body jsonb)');
  for (const row of rows) await pool.query('insert into bare_rows (body) values ($1)', [row]);
  const app = express();
  app.post('/', express.json(), async (request, response) => {
    await pool.query('insert into bare (id, body) values ($1, $2)', [randomUUID(), request.body]);
    response.json({});
  });
  app.get('/', async (_request, response) => {
    response.json((await pool.query('select * from bare_rows')).rows);
  });
  const server = app.listen(0, '127.0.0.1');
  await new Promise((resolve) => server.once('listening', resolve));
  const address = `http://127.0.0.1:${(server.address() as AddressInfo).port}/`;
  const headers = { 'content-type': 'application/json' };
  return {
    post: async () => (await fetch(address, { method: 'POST', headers, body: '{"a":1}' })).text(),
    get: async () => (await fetch(address)).text(),
    async close() {
      server.closeAllConnections();
      await new Promise((resolve) => server.close(resolve));
      await pool.end();
    },
  };
}
