import { spawn, type ChildProcess } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { PartRow } from '@true-lantern/core';
import { createApp, type App } from '../src/http/app';
import { openNews, type News } from '../src/store/news';
import { bundled } from './bundled';
import { bodyOf, change, freePort, signedIn, startRig, until, Visitor, type Rig } from './site-of-two-firms';

/** Two servers on one database: a change at one is told at the other, and what one leaves the other takes up. */

const BEAT_MS = 150;
const src = join(__dirname, '../src');
let rig: Rig;
let news: News;
let app: App;
let server: Server;
let base: string;

beforeAll(async () => {
  rig = await startRig();
  news = openNews(rig.url, rig.around.log, BEAT_MS);
  app = createApp(rig.config, { ...rig.around, news });
  server = createServer(app);
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  base = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
  await until(async () => news.open());
}, 60_000);
afterAll(async () => {
  app.endStreams();
  server.closeAllConnections();
  await new Promise((resolve) => server.close(resolve));
  await news.close();
  await rig.close();
});

interface Heard {
  events: { event: string; data: { id?: string; revision?: number } }[];
  status: number;
  ended: boolean;
  close(): void;
}

/** What an open page hears: server-sent events as they come. */
async function hear(at: string, { cookie }: Visitor): Promise<Heard> {
  const stop = new AbortController();
  const answer = await fetch(`${at}/api/events`, { headers: { cookie }, signal: stop.signal });
  const heard: Heard = { events: [], status: answer.status, ended: false, close: () => stop.abort() };
  void (async () => {
    let text = '';
    for await (const chunk of answer.body as unknown as AsyncIterable<Uint8Array>) {
      text += Buffer.from(chunk).toString();
      const parts = text.split('\n\n');
      text = parts.pop() ?? '';
      for (const part of parts) {
        const event = /^event: (.*)$/m.exec(part)?.[1];
        const data = /^data: (.*)$/m.exec(part)?.[1];
        if (event && data) heard.events.push({ event, data: JSON.parse(data) as { id?: string } });
      }
    }
  })()
    .catch(() => undefined)
    .finally(() => {
      heard.ended = true;
    });
  return heard;
}

const sitesHeard = ({ events }: Heard) => events.flatMap(({ event, data }) => (event === 'site' ? [data] : []));

const aLoad = (label: string) =>
  change(
    randomUUID(),
    0,
    { id: randomUUID().slice(0, 8), label, kind: 'dc', power_W: 5, hours_d: 2 },
    { create: { kind: 'loads', position: 99 } },
  );

test('a change at one server is told to the open pages of that firm at the other, and to nobody else', async () => {
  const elsewhere = await signedIn(rig, 'ann@ours.example');
  const [rob, eve] = [
    await signedIn({ address: base }, 'rob@ours.example'),
    await signedIn({ address: base }, 'eve@theirs.example'),
  ];
  expect((await hear(base, new Visitor(base))).status).toBe(401);
  const [ours, theirs] = [await hear(base, rob), await hear(base, eve)];
  await until(async () => ours.events.length > 0 && theirs.events.length > 0);
  expect(ours.events[0]!.event).toBe('ready');

  const pushed = await elsewhere.call('POST', `/sites/${rig.sites.ours}/changes`, { changes: [aLoad('a kettle')] });
  const { revision } = bodyOf<{ revision: number }>(pushed);
  await until(async () => sitesHeard(ours).length > 0);
  expect(sitesHeard(ours)).toEqual([{ id: rig.sites.ours, revision }]);
  await elsewhere.call('PUT', `/sites/${rig.sites.ours}/archived`, { archived: true });
  await elsewhere.call('PUT', `/sites/${rig.sites.ours}/archived`, { archived: false });
  await until(async () => sitesHeard(ours).length === 3);
  expect(sitesHeard(ours).slice(1)).toEqual([
    { id: rig.sites.ours, revision, listed: true },
    { id: rig.sites.ours, revision, listed: true },
  ]);
  // Refused as a whole, nothing is told: nothing was kept.
  await elsewhere.call('POST', `/sites/${rig.sites.ours}/changes`, { changes: [{ nonsense: true }] });
  await elsewhere.call('POST', `/sites/${rig.sites.ours}/changes`, { changes: [aLoad('a lamp')] });
  await until(async () => sitesHeard(ours).length === 4);
  expect(sitesHeard(ours).at(-1)).toEqual({ id: rig.sites.ours, revision: revision + 1 });
  expect(sitesHeard(theirs)).toEqual([]);
  ours.close();
  theirs.close();
});

test('who was removed, or signed out elsewhere, hears nothing further', async () => {
  const ann = await signedIn({ address: base }, 'ann@ours.example');
  const rob = await signedIn({ address: base }, 'rob@ours.example');
  const [one, other] = [await hear(base, rob), await hear(base, ann)];
  const userId = (await rig.database.models.User.findOne({ where: { name: 'rob' } }))!.id;
  await rig.database.models.User.update({ removedAt: new Date() }, { where: { id: userId } });
  await until(async () => one.ended);
  expect(other.ended).toBe(false);
  await rig.database.models.User.update({ removedAt: null }, { where: { id: userId } });
  await ann.call('DELETE', '/session');
  await until(async () => other.ended);
  // One person's pages are bounded: a device that forgets to close them does not hold the server.
  const eve = await signedIn({ address: base }, 'eve@theirs.example');
  const many = await Promise.all(Array.from({ length: 13 }, () => hear(base, eve)));
  expect(many.map(({ status }) => status).filter((status) => status === 429)).toHaveLength(1);
  for (const stream of many) stream.close();
});

test('the database is lost and comes back: the page is let go, and hears again', async () => {
  const ann = await signedIn({ address: base }, 'ann@ours.example');
  const stream = await hear(base, ann);
  await rig.database.pool.query(
    "select pg_terminate_backend(pid) from pg_stat_activity where datname = current_database() and query = 'listen site_news'",
  );
  // What it missed nobody could tell it: it is let go, comes again, and asks.
  await until(async () => stream.ended);
  await until(async () => news.open());
  const again = await hear(base, ann);
  await until(async () => again.events.length > 0);
  await ann.call('POST', `/sites/${rig.sites.ours}/changes`, { changes: [aLoad('a fan')] });
  await until(async () => sitesHeard(again).length > 0);
  again.close();
});

describe('behind a proxy', () => {
  const CHANGES = 40;
  const program = { current: null as ReturnType<typeof bundled> | null };
  const running: ChildProcess[] = [];
  let folder = '';
  beforeAll(() => {
    program.current = bundled({ main: join(src, 'main.ts'), worker: join(src, 'threads/worker.ts') });
    folder = mkdtempSync(join(tmpdir(), 'two-servers-'));
  }, 60_000);
  afterAll(() => {
    for (const one of running) one.kill('SIGKILL');
    program.current?.remove();
    rmSync(folder, { recursive: true, force: true });
  });

  const started = (command: string, args: string[], env: Record<string, string> = {}) => {
    const child = spawn(command, args, { stdio: 'ignore', env: { ...process.env, NODE_OPTIONS: '', ...env } });
    running.push(child);
    return child;
  };
  const healthy = (port: number) =>
    until(async () => (await fetch(`http://127.0.0.1:${port}/api/health`).catch(() => null))?.ok ?? false);

  test('one of two is killed in mid-push: nothing lost, nothing twice, nobody signed out, changes still told', async () => {
    const ports = [await freePort(), await freePort()];
    const door = await freePort();
    const servers = ports.map((port) =>
      started(process.execPath, [join(program.current!.folder, 'main.mjs')], {
        DATABASE_URL: rig.url,
        SESSION_SECRET: rig.config.sessionSecret,
        PORT: String(port),
        TRUST_PROXY: 'loopback',
        LOG_LEVEL: 'silent',
        FLEET_WORKERS: '0',
      }),
    );
    writeFileSync(
      join(folder, 'nginx.conf'),
      `master_process off; daemon off; pid ${folder}/nginx.pid; error_log /dev/null;
       events { worker_connections 128; }
       http {
         access_log off; client_body_temp_path ${folder}; proxy_temp_path ${folder};
         fastcgi_temp_path ${folder}; uwsgi_temp_path ${folder}; scgi_temp_path ${folder};
         upstream lantern { ${ports.map((port) => `server 127.0.0.1:${port} max_fails=1 fail_timeout=5s;`).join(' ')} }
         server {
           listen 127.0.0.1:${door};
           location / {
             proxy_pass http://lantern; proxy_http_version 1.1; proxy_set_header Connection "";
             proxy_set_header Host $host; proxy_set_header X-Forwarded-For $remote_addr;
             proxy_next_upstream error timeout http_502 http_503 non_idempotent;
           }
         }
       }`,
    );
    await Promise.all(ports.map(healthy));
    started('/usr/sbin/nginx', ['-c', join(folder, 'nginx.conf'), '-e', '/dev/null']);
    await healthy(door);

    const ann = await signedIn({ address: `http://127.0.0.1:${door}` }, 'ann@ours.example');
    const page = await hear(`http://127.0.0.1:${ports[1]}`, ann);
    const before = await ann.call('GET', `/sites/${rig.sites.ours}`);
    const was = bodyOf<{ revision: number }>(before).revision;
    const labels = Array.from({ length: CHANGES }, (_, i) => `load ${i}`);
    let killed = false;
    for (const [i, label] of labels.entries()) {
      const changes = [aLoad(label)];
      if (i === CHANGES / 4) setTimeout(() => (killed = servers[0]!.kill('SIGKILL')), 3);
      for (;;) {
        const reply = await ann.call('POST', `/sites/${rig.sites.ours}/changes`, { changes });
        // Nobody is signed out: neither the cookie nor the token of writes belongs to one server.
        expect([401, 403]).not.toContain(reply.status);
        if (reply.status !== 200) continue;
        expect(['applied', 'duplicate']).toContain(bodyOf<{ results: { status: string }[] }>(reply).results[0]!.status);
        break;
      }
    }
    expect(killed).toBe(true);
    const site = bodyOf<{ revision: number; parts: PartRow[] }>(await ann.call('GET', `/sites/${rig.sites.ours}`));
    const kept = site.parts.flatMap(({ kind, body }) => (kind === 'loads' ? [String(body.label)] : []));
    expect(labels.map((label) => kept.filter((one) => one === label).length)).toEqual(labels.map(() => 1));
    expect(site.revision).toBe(was + CHANGES);
    // The page at the other server heard each of them, whichever of the two it was made at.
    await until(async () => sitesHeard(page).length >= CHANGES);
    expect(sitesHeard(page).map(({ revision }) => revision)).toEqual(labels.map((_, i) => was + i + 1));
    page.close();
  }, 90_000);
});
