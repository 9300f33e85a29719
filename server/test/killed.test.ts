import { spawn, type ChildProcess } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { connect } from 'node:net';
import { join } from 'node:path';
import type { PartRow } from '@true-lantern/core';
import { bundled } from './bundled';
import { change, freePort, startRig, Visitor, type Rig } from './site-of-two-firms';

/**
 * The server is killed outright, three times, while a device sends: what the device was told is there, what it was not
 * told it sends again, and nothing stands twice. (500 changes under 20 kills are run by hand; the same loop.)
 */
const CHANGES = 60;
const KILLS = 3;

const src = join(__dirname, '../src');
let rig: Rig;
let program: ReturnType<typeof bundled>;
beforeAll(async () => {
  program = bundled({ main: join(src, 'main.ts'), worker: join(src, 'threads/worker.ts') });
  rig = await startRig();
}, 60_000);
afterAll(async () => {
  await rig.close();
  program.remove();
});

/** A server of its own on a free port, as `npm start` runs it. */
async function served() {
  const port = await freePort();
  const start = (): ChildProcess =>
    spawn(process.execPath, [join(program.folder, 'main.mjs')], {
      cwd: join(__dirname, '../..'),
      stdio: 'ignore',
      env: {
        ...process.env,
        NODE_OPTIONS: '',
        DATABASE_URL: rig.url,
        SESSION_SECRET: 'x'.repeat(40),
        PORT: String(port),
        LOG_LEVEL: 'silent',
      },
    });
  const healthy = async () => {
    for (;;) {
      const up = await fetch(`http://127.0.0.1:${port}/api/health`).catch(() => null);
      if (up?.ok) return;
      await new Promise((resolve) => setTimeout(resolve, 50));
    }
  };
  return { port, start, healthy };
}

test('told to stop, it stops within fifteen seconds, whatever it is at', async () => {
  const { port, start, healthy } = await served();
  const server = start();
  const ended = new Promise<'ended'>((resolve) => server.once('exit', () => resolve('ended')));
  // Somebody whose body never comes, and somebody who waits for the row that another holds.
  const slow = connect(port, '127.0.0.1').on('error', () => undefined);
  const holder = await rig.database.pool.connect();
  try {
    await healthy();
    const ann = new Visitor(`http://127.0.0.1:${port}`);
    await ann.signIn('ann@ours.example');
    slow.write(
      'POST /api/session HTTP/1.1\r\nHost: x\r\nContent-Type: application/json\r\nContent-Length: 5000\r\n\r\n{',
    );
    await holder.query('begin');
    await holder.query('select 1 from sites where id = $1 for update', [rig.sites.ours]);
    const changes = [change(randomUUID(), 0, { label: 'x' }, { device: 'phone' })];
    const held = ann.call('POST', `/sites/${rig.sites.ours}/changes`, { changes }).catch(() => null);
    await new Promise((resolve) => setTimeout(resolve, 300));
    server.kill('SIGTERM');
    const late = new Promise<'late'>((resolve) => setTimeout(() => resolve('late'), 15_000).unref());
    expect(await Promise.race([ended, late])).toBe('ended');
    await held;
  } finally {
    slow.destroy();
    await holder.query('rollback');
    holder.release();
    server.kill('SIGKILL');
  }
}, 60_000);

test('killed in the middle of it, again and again: none lost, none twice', async () => {
  const { start, healthy, port } = await served();
  let server = start();
  try {
    await healthy();
    const ann = new Visitor(`http://127.0.0.1:${port}`);
    await ann.signIn('ann@ours.example');
    const { parts } = (await ann.call('GET', `/sites/${rig.sites.ours}`)).body as unknown as { parts: PartRow[] };
    const controller = parts.find(({ kind }) => kind === 'controllers')!;
    const waiting = Array.from({ length: CHANGES }, (_, i) =>
      change(controller.id, controller.revision, { selfUse_W: i / 100 }, { device: 'phone' }),
    );
    let kills = 0;
    let answered = 0;
    for (let at = 0; at < waiting.length;) {
      const batch = waiting.slice(at, at + 5);
      const sending = ann.call('POST', `/sites/${rig.sites.ours}/changes`, { changes: batch }).catch(() => null);
      // In the middle of every fourth batch, at no moment in particular.
      if (kills < KILLS && at >= ((kills + 1) * CHANGES) / (KILLS + 1)) {
        await new Promise((resolve) => setTimeout(resolve, (kills * 7) % 20));
        kills += 1;
        server.kill('SIGKILL');
        await sending;
        server = start();
        await healthy();
        continue;
      }
      const reply = await sending;
      if (reply?.status === 200) {
        at += 5;
        answered += 5;
      }
    }
    expect([kills, answered]).toEqual([KILLS, CHANGES]);
    const { rows } = await rig.database.pool.query<{ change_id: string; n: number }>(
      'select change_id, count(*)::int as n from changes where part_id = $1 group by 1',
      [controller.id],
    );
    expect(rows.map(({ change_id }) => change_id).sort()).toEqual(waiting.map(({ changeId }) => changeId).sort());
    expect(rows.every(({ n }) => n === 1)).toBe(true);
    const after = (await ann.call('GET', `/sites/${rig.sites.ours}`)).body as unknown as { parts: PartRow[] };
    expect(after.parts.find(({ id }) => id === controller.id)).toMatchObject({
      revision: controller.revision + CHANGES,
      body: { selfUse_W: (CHANGES - 1) / 100 },
    });
  } finally {
    server.kill('SIGKILL');
  }
}, 120_000);
