import { spawn, type ChildProcess } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { join } from 'node:path';
import { checkSystemFile, fleetSite, toRows, type SystemFile } from '@true-lantern/core';
import type { FleetAnswer } from '@true-lantern/wire';
import corrach from '../../demo/sites/corrach-bothy.lantern.json';
import { today } from '../src/http/today';
import { openFleet } from '../src/jobs/fleet';
import { createApp } from '../src/http/app';
import { createSite } from '../src/store/sites';
import { bundled } from './bundled';
import { bodyOf, startRig, until, Visitor, type Rig } from './site-of-two-firms';

/** Who may lose power: each site is worked out once, by whichever server takes it. */
const SITES = 12;

let rig: Rig;
beforeAll(async () => {
  rig = await startRig();
}, 60_000);
afterAll(async () => {
  await rig.close();
});

const firmOf = async (email: string) => (await rig.database.models.User.findOne({ where: { email } }))!.firmId;
const addSites = async (firmId: string, count: number) => {
  const { file } = checkSystemFile(corrach);
  for (let k = 0; k < count; k++)
    await createSite(rig.database, {
      id: randomUUID(),
      firmId,
      userId: null,
      name: `hut ${k}`,
      rows: toRows(file, randomUUID),
    });
};

test('asked for over HTTP: worked out once, what changes is stale, another firm hears nothing of it', async () => {
  const fleet = await openFleet(
    { database: rig.database, pool: rig.around.pool, log: rig.around.log, today },
    { databaseUrl: rig.url, workers: 1 },
  );
  const server = createApp(rig.config, { ...rig.around, fleet }).listen(0, '127.0.0.1');
  try {
    await new Promise((resolve) => server.once('listening', resolve));
    const address = server.address();
    const base = `http://127.0.0.1:${typeof address === 'object' ? address?.port : 0}`;
    const ann = new Visitor(base);
    await ann.signIn('ann@ours.example');
    const look = async (who = ann) => bodyOf<FleetAnswer>(await who.call('GET', '/fleet?span=week'));
    expect((await look()).sites).toMatchObject([{ name: 'ours hut', stale: true, found: null, at: null }]);
    expect((await ann.call('POST', '/fleet', { span: 'month' })).status).toBe(422);
    expect((await ann.call('POST', '/fleet', { span: 'week' })).body).toMatchObject({ asked: 1 });
    await until(async () => (await look()).sites[0]?.stale === false);
    const [site] = (await look()).sites;
    // As the core has it, from the charge that was assumed and says so.
    const expected = fleetSite(corrach as unknown as SystemFile, today(), 'week');
    expect(site!.found).toEqual(JSON.parse(JSON.stringify(expected)));
    expect(site!.found).toMatchObject({ assumed: true, soc: 0.8, days: 7 });
    expect((await ann.call('POST', '/fleet', { span: 'week' })).body).toMatchObject({ asked: 0 });
    await rig.database.pool.query('update sites set revision = revision + 1 where name = $1', ['ours hut']);
    expect((await look()).sites[0]).toMatchObject({ stale: true });
    const eve = new Visitor(base);
    await eve.signIn('eve@theirs.example');
    expect((await look(eve)).sites).toMatchObject([{ name: 'theirs hut', found: null }]);
    const rob = new Visitor(base);
    await rob.signIn('rob@ours.example');
    expect((await rob.call('POST', '/fleet', { span: 'week' })).status).toBe(403);
  } finally {
    await new Promise((resolve) => server.close(resolve));
    await fleet.close();
  }
}, 60_000);

test('three servers take the sites between them; one is killed half-way: all are worked out, none twice', async () => {
  const firmId = await firmOf('eve@theirs.example');
  await addSites(firmId, SITES);
  const ask = await openFleet(
    { database: rig.database, pool: rig.around.pool, log: rig.around.log, today },
    // The asking server says when a job counts as lost.
    { databaseUrl: rig.url, workers: 0, expires_s: 15 },
  );
  const servers: ChildProcess[] = [];
  const counts = async () =>
    (
      await rig.database.pool.query<{ done: number; most: number }>(
        `select count(*)::integer as done, coalesce(max(times), 0)::integer as most from fleet where firm_id = $1 and span = 'winter'`,
        [firmId],
      )
    ).rows[0]!;
  const program = bundled({ worker: join(__dirname, 'fleet-worker.ts') });
  try {
    for (let k = 0; k < 3; k++)
      servers.push(
        spawn(process.execPath, [join(program.folder, 'worker.mjs')], {
          stdio: 'ignore',
          env: { ...process.env, NODE_OPTIONS: '', DATABASE_URL: rig.url },
        }),
      );
    expect(await ask.ask(firmId, 'winter')).toBe(SITES + 1);
    // Asked for twice: of each site one job waits.
    await ask.ask(firmId, 'winter');
    expect(await ask.waiting(firmId, 'winter')).toBeLessThanOrEqual(SITES + 1);
    await until(async () => (await counts()).done > 0);
    servers[0]!.kill('SIGKILL');
    await until(async () => (await counts()).done === SITES + 1);
    expect((await counts()).most).toBe(1);
    await until(async () => (await ask.waiting(firmId, 'winter')) === 0);
    expect((await counts()).most).toBe(1);
  } finally {
    for (const one of servers) one.kill('SIGKILL');
    await ask.close();
    program.remove();
  }
}, 180_000);

test('what nobody has begun is taken back', async () => {
  const firmId = await firmOf('ann@ours.example');
  const ask = await openFleet(
    { database: rig.database, pool: rig.around.pool, log: rig.around.log, today },
    { databaseUrl: rig.url, workers: 0 },
  );
  try {
    await ask.ask(firmId, 'winter');
    expect(await ask.waiting(firmId, 'winter')).toBe(1);
    await ask.stop(firmId);
    expect(await ask.waiting(firmId, 'winter')).toBe(0);
  } finally {
    await ask.close();
  }
}, 30_000);
