import { spawn, type ChildProcess } from 'node:child_process';
import { createServer, type Server } from 'node:http';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { connect as connectTo, type AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import mqtt from 'mqtt';
import WebSocket from 'ws';
import { createApp } from '../src/http/app';
import { openIngest } from '../src/live/ingest';
import { keepMqtt, lineOf } from '../src/live/mqtt';
import { keepSockets } from '../src/live/sockets';
import { bodyOf, freePort, signedIn, startRig, until, type Rig, type Visitor } from './site-of-two-firms';

/** Live values by WebSocket and by a broker: acknowledged is kept, a token opens its own site alone. */

let rig: Rig;
let ann: Visitor;
let token: string;
let server: Server;
let end: () => void;
let base: string;
const SILENT_MS = 2000;

beforeAll(async () => {
  rig = await startRig();
  ann = await signedIn(rig, 'ann@ours.example');
  token = await newToken();
  const ingest = openIngest(rig.database);
  server = createServer(createApp(rig.config, { ...rig.around, ingest }));
  end = keepSockets(server, ingest, rig.around.log, SILENT_MS);
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  base = `127.0.0.1:${(server.address() as AddressInfo).port}`;
}, 60_000);
afterAll(async () => {
  end();
  server.closeAllConnections();
  await new Promise((resolve) => server.close(resolve));
  await rig.close();
});
beforeEach(() => rig.database.pool.query("delete from limits where key like 'live%'"));

const newToken = async () =>
  bodyOf<{ token: string }>(await ann.call('POST', `/sites/${rig.sites.ours}/feeds`, {})).token;
const start = Date.now() - 3_600_000;
const line = (k: number, value = 12.5) =>
  JSON.stringify({ at: new Date(start + 1000 * k).toISOString(), subject: 'gel', quantity: 'load_V', value });
const valueAt = async (k: number) =>
  (
    await rig.database.pool.query<{ value: number }>('select value from live where site_id = $1 and at = $2', [
      rig.sites.ours,
      new Date(start + 1000 * k),
    ])
  ).rows[0]?.value;

const dial = (bearer = token, path = '/live') =>
  new WebSocket(`ws://${base}${path}`, { headers: { authorization: `Bearer ${bearer}` } });
const opened = (socket: WebSocket) =>
  new Promise<number>((resolve) => {
    socket.once('open', () => resolve(101));
    socket.once('unexpected-response', (_request, response) => resolve(response.statusCode ?? 0));
    socket.once('error', () => undefined);
  });
const answer = (socket: WebSocket) =>
  new Promise<Record<string, unknown>>((resolve) =>
    socket.once('message', (data) => resolve(JSON.parse(String(data)) as Record<string, unknown>)),
  );
const closed = (socket: WebSocket) => new Promise<number>((resolve) => socket.once('close', resolve));

test('a frame is answered by its number, and what is answered is kept', async () => {
  const socket = dial();
  expect(await opened(socket)).toBe(101);
  socket.send(`{"n":7}\n${line(1)}\nnonsense\n${line(2, 12.6)}`);
  const told = await answer(socket);
  expect(told).toMatchObject({ n: 7, kept: 2, refused: [{ line: 2 }] });
  expect([await valueAt(1), await valueAt(2)]).toEqual([12.5, 12.6]);
  // Sent again after a break: the same is there once, and it is acknowledged all the same.
  socket.send(`{"n":8}\n${line(1)}`);
  expect(await answer(socket)).toMatchObject({ n: 8, refused: [] });
  socket.send(line(3));
  expect(await answer(socket)).not.toHaveProperty('n');
  socket.close();
});

test('frames that come faster than they are kept are answered in their order', async () => {
  const socket = dial();
  await opened(socket);
  const numbers: number[] = [];
  socket.on('message', (data) => numbers.push((JSON.parse(String(data)) as { n: number }).n));
  for (let n = 0; n < 40; n++) socket.send(`{"n":${n}}\n${line(100 + n)}`);
  await until(async () => numbers.length === 40);
  expect(numbers).toEqual(Array.from({ length: 40 }, (_, n) => n));
  expect(await valueAt(139)).toBe(12.5);
  socket.close();
});

test('without a token that is good nothing is opened; one that ends closes the connection', async () => {
  expect(await opened(dial('x'.repeat(22)))).toBe(401);
  expect(await opened(dial('no'))).toBe(401);
  expect(await opened(dial(token, '/elsewhere'))).toBe(404);
  const made = bodyOf<{ id: string; token: string }>(await ann.call('POST', `/sites/${rig.sites.ours}/feeds`, {}));
  const socket = dial(made.token);
  expect(await opened(socket)).toBe(101);
  await ann.call('DELETE', `/sites/${rig.sites.ours}/feeds/${made.id}`);
  const gone = closed(socket);
  socket.send(line(4));
  expect(await gone).toBe(1008);
  expect(await valueAt(4)).toBeUndefined();
});

test('who says nothing is let go; a frame too large or in bytes ends it; five at once of a token are too many', async () => {
  const quiet = dial();
  await opened(quiet);
  expect(await closed(quiet)).toBe(1000);
  const large = dial();
  await opened(large);
  const gone = closed(large);
  large.send('x'.repeat(600_000));
  expect(await gone).toBe(1009);
  const bytes = dial();
  await opened(bytes);
  const ended = closed(bytes);
  bytes.send(Buffer.from([1, 2, 3]));
  expect(await ended).toBe(1003);
  const mine = await newToken();
  const sockets = Array.from({ length: 5 }, () => dial(mine));
  expect((await Promise.all(sockets.map(opened))).sort()).toEqual([101, 101, 101, 101, 503]);
  sockets.forEach((one) => one.terminate());
});

test('beyond 2,000 lines a minute a frame is not kept, and says when to come again', async () => {
  const socket = dial();
  await opened(socket);
  const many = Array.from({ length: 999 }, (_, k) => line(1000 + k)).join('\n');
  for (const n of [1, 2]) {
    socket.send(`{"n":${n}}\n${many}`);
    expect(await answer(socket)).toMatchObject({ n, kept: 999 });
  }
  socket.send(`{"n":3}\n${many}`);
  expect(await answer(socket)).toMatchObject({ n: 3, wait_s: expect.any(Number) as number });
  socket.close();
});

describe('by way of a broker', () => {
  let broker: ChildProcess;
  let port = 0;
  const folder = mkdtempSync(join(tmpdir(), 'lantern-broker-'));
  beforeAll(async () => {
    port = await freePort();
    writeFileSync(join(folder, 'broker.conf'), `listener ${port} 127.0.0.1\nallow_anonymous true\npersistence false\n`);
    broker = spawn('/usr/sbin/mosquitto', ['-c', join(folder, 'broker.conf')], { stdio: 'ignore' });
    await until(
      () =>
        new Promise((resolve) => {
          const probe = connectTo(port, '127.0.0.1', () => {
            probe.destroy();
            resolve(true);
          }).on('error', () => resolve(false));
        }),
    );
  }, 30_000);
  afterAll(() => {
    broker.kill();
    rmSync(folder, { recursive: true, force: true });
  });
  const listen = () =>
    keepMqtt(`mqtt://127.0.0.1:${port}`, {
      pool: rig.database.pool,
      ingest: openIngest(rig.database),
      log: rig.around.log,
      databaseUrl: rig.url,
    });

  test('a number or an object is kept; while no server listens the broker keeps it; a strange token leads nowhere', async () => {
    const device = await mqtt.connectAsync(`mqtt://127.0.0.1:${port}`);
    const say = (k: number, value: unknown, key = token) =>
      device.publishAsync(
        `lantern/${key}/gel/load_V`,
        typeof value === 'string' ? value : JSON.stringify({ at: new Date(start + 1000 * k).toISOString(), value }),
        { qos: 1 },
      );
    let leave = listen();
    // Until the server has subscribed nothing is delivered to it: it is said again, which changes nothing.
    await until(async () => {
      await say(3000, 12.1);
      return (await valueAt(3000)) === 12.1;
    });
    await say(3001, 'no number');
    await say(3002, 12.3, 'y'.repeat(22));
    await say(3003, 12.4);
    await until(async () => (await valueAt(3003)) === 12.4);
    expect(await valueAt(3002)).toBeUndefined();
    await leave();
    for (const k of [3010, 3011, 3012]) await say(k, 12.7);
    expect(await valueAt(3010)).toBeUndefined();
    leave = listen();
    await until(async () => (await valueAt(3012)) === 12.7);
    expect([await valueAt(3010), await valueAt(3011)]).toEqual([12.7, 12.7]);
    await leave();
    await device.endAsync();
  }, 60_000);

  test('a message as a line', () => {
    expect(lineOf('gel', 'load_V', '12.5')).toBe('{"subject":"gel","quantity":"load_V","value":12.5}');
    expect(lineOf('gel', 'load_V', '{"at":5,"value":1}')).toBe(
      '{"at":5,"subject":"gel","quantity":"load_V","value":1}',
    );
    for (const wrong of ['', 'x', 'null', '"12"', '{"value":"12"}', '[12]'])
      expect(lineOf('gel', 'load_V', wrong)).toBeNull();
  });
});
