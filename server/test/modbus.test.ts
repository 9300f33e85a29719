import { spawn, type ChildProcess } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { createServer, type AddressInfo, type Server, type Socket } from 'node:net';
import { join } from 'node:path';
import type { PartRow } from '@true-lantern/core';
import type { LiveAnswerOfSite } from '@true-lantern/wire';
import { addressOf, readAllowed, refusal } from '../src/live/allow';
import { askDevice, keepModbus } from '../src/live/modbus';
import { bodyOf, change, freePort, signedIn, startRig, until, type Rig, type Visitor } from './site-of-two-firms';

/** Devices are asked by the server: only where its keeper allows it, and none of them can hurt the others. */

describe('which hosts may be asked', () => {
  const allowed = readAllowed('inverter.lan, 10.8.0.0/16 192.168.7.4, fd12::/16');
  test.each([
    ['10.8.3.4', true],
    ['10.9.3.4', false],
    ['192.168.7.4', true],
    ['192.168.7.5', false],
    ['fd12::7', true],
    ['fd13::7', false],
    ['::ffff:10.8.3.4', true],
    ['::ffff:10.9.3.4', false],
    ['127.0.0.1', false],
    ['8.8.8.8', false],
  ])('%s: %s', (address, may) => {
    expect(refusal(address, allowed, false) === null).toBe(may);
  });
  test.each(['169.254.169.254', '169.254.1.1', 'fe80::1', '0.0.0.0', '224.0.0.1', '255.255.255.255', 'fd00:ec2::254'])(
    '%s is never asked, whoever allows it',
    (address) => {
      expect(refusal(address, readAllowed('0.0.0.0/0, ::/0'), true)).toContain('never');
      expect(
        refusal(`${address.includes(':') ? '' : '::ffff:'}${address}`, readAllowed('0.0.0.0/0, ::/0'), true),
      ).toContain('never');
    },
  );
  const found =
    (...addresses: string[]) =>
    async () =>
      addresses.map((address) => ({ address, family: 4 }));
  const ask = (host: string, ...addresses: string[]) =>
    addressOf(host, allowed, found(...addresses) as unknown as Parameters<typeof addressOf>[2]);
  test('a listed name may lead anywhere but to this machine and to what is never asked', async () => {
    await expect(ask('Inverter.lan', '203.0.113.7')).resolves.toBe('203.0.113.7');
    await expect(ask('inverter.lan', '127.0.0.1')).rejects.toThrow('this machine');
    await expect(ask('inverter.lan', '169.254.169.254')).rejects.toThrow('never');
    // One good address and one bad: which is used would be chance.
    await expect(ask('inverter.lan', '203.0.113.7', '127.0.0.1')).rejects.toThrow('this machine');
  });
  test('a name that nobody listed is judged by where it leads', async () => {
    await expect(ask('elsewhere.lan', '10.8.0.9')).resolves.toBe('10.8.0.9');
    await expect(ask('elsewhere.lan', '10.9.0.9')).rejects.toThrow('not on this server');
    await expect(ask('elsewhere.lan')).rejects.toThrow('not known');
  });
  test('what is neither a name nor a network is said at the start', () => {
    for (const text of ['10.8.0.0/33', '10.8.0', 'http://x', 'a b/c', '300.1.1.1'])
      expect(() => readAllowed(text)).toThrow('MODBUS_ALLOW');
    expect(readAllowed('').names.size).toBe(0);
  });
});

describe('devices', () => {
  let rig: Rig;
  let ann: Visitor;
  let device: ChildProcess;
  let port: number;
  const servers: Server[] = [];
  const sockets = new Set<Socket>();
  const listening = async (act: (socket: Socket) => void): Promise<number> => {
    const server = createServer((socket) => {
      sockets.add(socket);
      socket.on('error', () => undefined);
      act(socket);
    });
    servers.push(server);
    await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
    return (server.address() as AddressInfo).port;
  };
  const mapped = (register: number, quantity: string, more: object = {}) => ({
    register,
    function: 3,
    type: 'u16',
    order: 'big',
    scale: 0.1,
    offset: 0,
    subject: 'gel',
    quantity,
    ...more,
  });
  const addFeed = async (id: string, more: object) => {
    const set = {
      id,
      label: id,
      kind: 'modbus-tcp',
      host: '127.0.0.1',
      every_s: 5,
      map: [mapped(0, 'load_V')],
      ...more,
    };
    const changes = [change(randomUUID(), 0, set, { create: { kind: 'feed', position: 0 } })];
    const reply = await ann.call('POST', `/sites/${rig.sites.ours}/changes`, { changes });
    expect(reply.body).toMatchObject({ results: [{ status: 'applied' }] });
  };
  const live = async () => bodyOf<LiveAnswerOfSite>(await ann.call('GET', `/sites/${rig.sites.ours}/live?span=day`));

  beforeAll(async () => {
    rig = await startRig();
    ann = await signedIn(rig, 'ann@ours.example');
    const { parts } = bodyOf<{ parts: PartRow[] }>(await ann.call('GET', `/sites/${rig.sites.ours}`));
    expect(parts.some(({ body }) => body.id === 'gel')).toBe(true);
    port = await freePort();
    device = spawn('/usr/bin/python3', [join(__dirname, 'modbus-device.py'), String(port)], { stdio: 'ignore' });
    await until(async () =>
      askDevice('127.0.0.1', { port, unit: 1, map: [mapped(0, 'load_V')] as never }).then(
        () => true,
        () => false,
      ),
    );
  }, 60_000);
  afterAll(async () => {
    device.kill('SIGKILL');
    for (const socket of sockets) socket.destroy();
    for (const server of servers) server.close();
    await rig.close();
  });

  test('one made by somebody else is read as it is: scaled, below zero, f32; what it has not, it refuses by itself', async () => {
    const { asked, answers } = await askDevice('127.0.0.1', {
      port,
      unit: 1,
      map: [
        mapped(0, 'load_V'),
        mapped(1, 'head_A', { type: 's16' }),
        mapped(2, 'temp_C', { type: 'f32' }),
        mapped(0, 'out_V', { function: 4 }),
        mapped(600, 'out_A'),
      ] as never,
    });
    expect(asked.map(({ function: how, register, count }) => [how, register, count])).toEqual([
      [3, 0, 4],
      [3, 600, 1],
      [4, 0, 1],
    ]);
    expect(answers).toEqual([[528, 64_286, 0x41cc, 0], null, [81]]);
  });

  test('a silent, a lying and an absent one each say what is wrong, and the good one goes on', async () => {
    const silent = await listening(() => undefined);
    const liar = await listening((socket) => {
      const flood = () => socket.writable && socket.write(Buffer.alloc(64 * 1024, 7), flood);
      flood();
    });
    await addFeed('good', {
      port,
      map: [
        mapped(0, 'load_V'),
        mapped(1, 'head_A', { type: 's16', scale: 0.01 }),
        mapped(4, 'absorb_V'),
        mapped(600, 'rest_V'),
      ],
    });
    await addFeed('silent', { port: silent });
    await addFeed('liar', { port: liar });
    await addFeed('absent', { port: await freePort() });
    const end = keepModbus(readAllowed('127.0.0.0/8'), { pool: rig.database.pool, log: rig.around.log }, 50);
    try {
      await until(async () => Object.keys((await live()).polled).length === 4);
      const { series, polled, asks } = await live();
      expect(asks).toBe(false);
      expect(Object.fromEntries(series.map(({ quantity, value }) => [quantity, value]))).toEqual({
        load_V: expect.closeTo(52.8, 6) as number,
        head_A: expect.closeTo(-12.5, 6) as number,
      });
      // 6553.5 V is "no value" in the words of many devices; the register it has not is one question of two.
      expect(polled.good).toMatchObject({ dropped: 1, why: 'it refuses 1 of 3 questions' });
      expect(polled.good!.heard).not.toBeNull();
      expect(polled.silent).toMatchObject({ heard: null, why: 'it did not answer' });
      expect(polled.absent!.why).toContain('ECONNREFUSED');
      expect(polled.liar!.heard).toBeNull();
      expect(polled.liar!.why).toBeTruthy();
    } finally {
      await end();
    }
  }, 60_000);

  test('a host that is not allowed is not even connected to', async () => {
    let met = 0;
    const forbidden = await listening(() => {
      met += 1;
    });
    await addFeed('forbidden', { port: forbidden });
    const end = keepModbus(readAllowed('10.0.0.0/8'), { pool: rig.database.pool, log: rig.around.log }, 50);
    try {
      await until(async () => (await live()).polled.forbidden !== undefined);
      expect((await live()).polled.forbidden!.why).toContain("not on this server's list");
      expect(met).toBe(0);
    } finally {
      await end();
    }
  }, 30_000);

  test('of two servers one asks', async () => {
    let met = 0;
    const counted = await listening((socket) => {
      met += 1;
      socket.destroy();
    });
    await addFeed('counted', { port: counted });
    const around = { pool: rig.database.pool, log: rig.around.log };
    const ends = [1, 2].map(() => keepModbus(readAllowed('127.0.0.0/8'), around, 50));
    try {
      await until(async () => (await live()).polled.counted !== undefined);
      await new Promise((resolve) => setTimeout(resolve, 500));
      expect(met).toBe(1);
    } finally {
      for (const end of ends) await end();
    }
  }, 30_000);
});
