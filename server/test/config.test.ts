import { mkdtempSync, mkdirSync, writeFileSync } from 'node:fs';
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import pg from 'pg';
import { pino } from 'pino';
import { readConfig, type Config } from '../src/config';
import { opened, sealed } from '../src/auth/challenge';
import { delayAfter_ms } from '../src/auth/limits';
import { createApp, type Surroundings } from '../src/http/app';
import { forLog, isUnreachable } from '../src/problem';
import { soundType, cleanPicture } from '../src/photos/picture';
import { hashPassword, passwordMatches } from '../src/auth/passwords';
import type { Database } from '../src/store/database';

const ENV = { DATABASE_URL: 'postgres://u@127.0.0.1/x', SESSION_SECRET: 's'.repeat(32) };

describe('settings', () => {
  test('what is not said has its default', () =>
    expect(readConfig(ENV)).toEqual({
      databaseUrl: ENV.DATABASE_URL,
      sessionSecret: ENV.SESSION_SECRET,
      port: 4280,
      host: '127.0.0.1',
      webRoot: undefined,
      demoSignIn: null,
      secure: false,
      trustProxy: false,
      publicUrl: undefined,
      backupDir: undefined,
      firmCode: undefined,
      mqttUrl: undefined,
      modbusAllow: null,
      fleetWorkers: 1,
      fleetExpires_s: 60,
      fleetThreads: undefined,
      logLevel: 'info',
    }));
  test('what is said is taken', () =>
    expect(
      readConfig({
        ...ENV,
        PORT: '99',
        HOST: '::1',
        SECURE: '1',
        LOG_LEVEL: 'debug',
        WEB_ROOT: '/w',
        DEMO_SIGN_IN: '{"email":"a@b","password":"p"}',
      }),
    ).toMatchObject({
      port: 99,
      host: '::1',
      secure: true,
      logLevel: 'debug',
      webRoot: '/w',
      demoSignIn: { email: 'a@b', password: 'p' },
    }));
  test.each([
    [{ DATABASE_URL: '' }, /DATABASE_URL is missing/],
    [{ SESSION_SECRET: 's'.repeat(31) }, /SESSION_SECRET is too short: at least 32/],
    [{ PORT: '65536' }, /PORT/],
    [{ PORT: '-1' }, /PORT/],
    [{ SECURE: 'yes' }, /SECURE/],
    [{ LOG_LEVEL: 'loud' }, /LOG_LEVEL/],
    [{ DEMO_SIGN_IN: '{"email":"a@b"}' }, /DEMO_SIGN_IN is no sign-in/],
    [{ DEMO_SIGN_IN: 'a@b' }, /DEMO_SIGN_IN is no sign-in/],
  ])('%p is refused by name', (wrong, sentence) => expect(() => readConfig({ ...ENV, ...wrong })).toThrow(sentence));
});

const around = (database: Database): Surroundings => ({
  database,
  pool: {} as Surroundings['pool'],
  log: pino({ level: 'silent' }),
  firstCode: '',
});

describe('behind a proxy', () => {
  test.each([
    [undefined, false],
    ['1', 1],
    ['2', 2],
    ['loopback', 'loopback'],
    ['10.0.0.0/8, 192.168.1.5', '10.0.0.0/8, 192.168.1.5'],
  ])('TRUST_PROXY=%s trusts %s', (TRUST_PROXY, trusted) =>
    expect(readConfig({ ...ENV, ...(TRUST_PROXY ? { TRUST_PROXY } : {}) }).trustProxy).toBe(trusted),
  );
  test.each([
    [{ TRUST_PROXY: 'yes' }, /TRUST_PROXY/],
    [{ PUBLIC_URL: 'lantern.example' }, /PUBLIC_URL/],
    [{ PUBLIC_URL: 'https://lantern.example/path' }, /PUBLIC_URL/],
  ])('%p is refused by name', (wrong, sentence) => expect(() => readConfig({ ...ENV, ...wrong })).toThrow(sentence));
});

describe('what is logged of an error', () => {
  const thrown = Object.assign(new Error('insert of "Isla, 58.2 N 5.1 W" failed\nsecond line'), {
    name: 'SequelizeDatabaseError',
    original: { code: '22P02' },
    sql: 'insert ... 58.2',
  });
  test('of the database its code, never its words', () => {
    const short = forLog(thrown);
    expect(short.message).toBe('the database refused (22P02)');
    expect(JSON.stringify([short.message, short.stack])).not.toMatch(/58\.2|insert/);
    expect('sql' in short).toBe(false);
  });
  test('however the database\u2019s error is known: by its name, by what it wraps, or by its severity', () => {
    const words = 'insert of "Isla, 58.2 N 5.1 W" failed';
    const known = [
      { name: 'SequelizeUniqueConstraintError' },
      { original: { code: '23505' } },
      { severity: 'ERROR', code: '23505' },
    ];
    for (const more of known) {
      const { message } = forLog(Object.assign(new Error(words), more));
      expect(message).toMatch(/^the database refused \((23505|SequelizeUniqueConstraintError)\)$/);
    }
  });
  test('of ours one line and where', () => {
    const short = forLog(new TypeError(`x is undefined\n${'y'.repeat(500)}`));
    expect([short.name, short.message]).toEqual(['TypeError', 'x is undefined']);
    expect(short.stack?.split('\n').length).toBeLessThanOrEqual(2);
    expect(forLog(new Error('z'.repeat(900))).message).toHaveLength(200);
    expect(forLog('a text').message).toMatch(/no error/);
  });
  test.each([
    [{ name: 'SequelizeConnectionRefusedError' }, true],
    [{ name: 'SequelizeConnectionAcquireTimeoutError' }, true],
    [{ code: 'ECONNREFUSED' }, true],
    [{ original: { code: '57P01' } }, true],
    [{ name: 'SequelizeUniqueConstraintError', original: { code: '23505' } }, false],
    [{ name: 'TypeError' }, false],
  ])('%j: cannot be reached %s', (error, is) => expect(isUnreachable(error)).toBe(is));
});

describe('an attempt waits the longer the more there were', () => {
  test.each([
    [8, 0],
    [9, 250],
    [10, 500],
    [12, 2000],
    [13, 4000],
    [500, 4000],
  ])('after %d: %d ms', (attempts, ms) => expect(delayAfter_ms(attempts)).toBe(ms));
});

describe('the web app and what is around it', () => {
  let server: Server;
  let address: string;
  beforeAll(async () => {
    const root = mkdtempSync(join(tmpdir(), 'web-'));
    mkdirSync(join(root, '_expo', 'static'), { recursive: true });
    writeFileSync(join(root, 'index.html'), '<title>app</title>');
    writeFileSync(join(root, 'sw.js'), 'worker');
    writeFileSync(join(root, '_expo', 'static', 'a1b2.js'), 'code');
    const config: Config = { ...readConfig(ENV), webRoot: root, secure: true, trustProxy: 1 };
    const database = {
      sequelize: { query: async () => [] },
      models: {},
      pool: new pg.Pool(),
    } as unknown as Database;
    server = createServer(createApp(config, around(database)));
    await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
    address = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
  });
  afterAll(() => new Promise((resolve) => server.close(resolve)));
  const get = async (path: string) => {
    const response = await fetch(`${address}${path}`, { headers: { 'x-forwarded-proto': 'https' } });
    return {
      status: response.status,
      text: await response.text(),
      cache: response.headers.get('cache-control'),
      headers: response.headers,
    };
  };

  test('every address of the app is the app, asked for anew each time', async () => {
    for (const path of ['/', '/site/abc/check', '/shelf'])
      expect(await get(path)).toMatchObject({ status: 200, text: '<title>app</title>', cache: 'no-cache' });
  });
  test('what has a hash in its name is kept a year, the rest is asked for anew', async () => {
    expect((await get('/_expo/static/a1b2.js')).cache).toBe('public, max-age=31536000, immutable');
    expect((await get('/sw.js')).cache).toBe('no-cache');
  });
  test('a file that is not there is not the app', async () => {
    expect((await get('/missing.js')).status).toBe(404);
    expect((await get('/_expo/static/gone.js')).status).toBe(404);
  });
  test('an unknown address of the interface is a problem, never a page', async () => {
    const { status, headers, text } = await get('/api/none');
    expect(status).toBe(404);
    expect(headers.get('content-type')).toMatch(/^application\/problem\+json/);
    expect(JSON.parse(text)).toEqual({ title: 'There is nothing here.', status: 404, faults: [] });
    expect(headers.get('cache-control')).toBe('no-store');
  });
  test('every answer says how it may be used', async () => {
    const { headers } = await get('/api/health');
    expect(headers.get('strict-transport-security')).toMatch(/max-age=\d{7,}/);
    expect(headers.get('x-powered-by')).toBeNull();
    expect(headers.get('x-content-type-options')).toBe('nosniff');
  });
  test('a folder without the app is said at the start', () =>
    expect(() =>
      createApp(
        { ...readConfig(ENV), webRoot: '/nowhere' },
        around({ sequelize: {}, models: {}, pool: new pg.Pool() } as unknown as Database),
      ),
    ).toThrow(/holds no index.html/));
});

describe('bytes', () => {
  test.each([
    ['audio/webm', [0x1a, 0x45, 0xdf, 0xa3, 0]],
    ['audio/ogg', [0x4f, 0x67, 0x67, 0x53]],
    ['audio/mp4', [0, 0, 0, 0, 0x66, 0x74, 0x79, 0x70]],
    ['audio/wav', [0x52, 0x49, 0x46, 0x46]],
  ])('%s by its first bytes', (type, bytes) => expect(soundType(Buffer.from(bytes))).toBe(type));
  test('what is neither sound nor picture says so', async () => {
    expect(() => soundType(Buffer.from('plain text'))).toThrow(
      expect.objectContaining({ faults: [expect.objectContaining({ path: 'voice' })] }),
    );
    expect(() => soundType(Buffer.alloc(0))).toThrow();
    for (const svg of ['<svg xmlns="http://www.w3.org/2000/svg"/>', '<?xml version="1.0"?><svg/>', 'GIF89a'])
      await expect(cleanPicture(Buffer.from(svg))).rejects.toMatchObject({ faults: [{ path: 'photo' }] });
    await expect(cleanPicture(Buffer.from('plain text'))).rejects.toMatchObject({ faults: [{ path: 'photo' }] });
  });
  test('a password fits its own hash and no other; nobody has any', async () => {
    const stored = await hashPassword('right');
    expect(await passwordMatches(stored, 'right')).toBe(true);
    expect(await passwordMatches(stored, 'wrong')).toBe(false);
    expect(await passwordMatches(undefined, 'nobody has this password')).toBe(false);
  });
});

test('passwords are kept as argon2id over 19 MiB, twice, one lane', async () =>
  expect(await hashPassword('a long password')).toMatch(/^\$argon2id\$v=19\$m=19456,t=2,p=1\$/));

describe('a challenge that is not remembered', () => {
  const secret = 's'.repeat(40);
  const challenge = { challenge: 'abc', purpose: 'add' as const, userId: 'u' };
  test('comes back as it was given, for five minutes', () => {
    const state = sealed(challenge, secret, 1000);
    expect(opened(state, secret, 1000 + 300_000)).toEqual(challenge);
    expect(opened(state, secret, 1001 + 300_000)).toBeNull();
  });
  test('is nothing under another secret, with another content, or cut short', () => {
    const state = sealed(challenge, secret, 1000);
    const [text = '', signature = ''] = state.split('.');
    const other = Buffer.from(JSON.stringify({ ...challenge, userId: 'v', until: 9e15 })).toString('base64url');
    for (const wrong of [`${other}.${signature}`, text, `${text}.`, `.${signature}`, '', 'a.b'])
      expect(opened(wrong, secret, 1000)).toBeNull();
    expect(opened(state, 't'.repeat(40), 1000)).toBeNull();
  });
});
