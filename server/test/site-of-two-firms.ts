import { randomUUID } from 'node:crypto';
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { join } from 'node:path';
import pg from 'pg';
import { pino } from 'pino';
import { checkSystemFile, toRows, type PartChange } from '@true-lantern/core';
import corrach from '../../demo/sites/corrach-bothy.lantern.json';
import { hashLightly, hashPassword } from '../src/auth/passwords';
import { createApp, type Surroundings } from '../src/http/app';
import { openDatabase, type Database } from '../src/store/database';
import type { Config } from '../src/config';
import { openPool } from '../src/threads/pool';
import { bundled } from './bundled';
import { createSite } from '../src/store/sites';

export const PASSWORD = 'a-long-made-up-password';

/** A real server on a real, empty database with two firms, a site each. */
export interface Rig {
  database: Database;
  address: string;
  url: string;
  sites: { ours: string; theirs: string };
  config: Config;
  around: Surroundings;
  close(): Promise<void>;
}

export const FIRST_CODE = 'a-code-that-was-printed';

export async function startRig(
  settings: Partial<Config> = {},
  { empty = false }: { empty?: boolean } = {},
): Promise<Rig> {
  const base = process.env.TEST_DATABASE_URL;
  if (!base) throw new Error('TEST_DATABASE_URL is missing; run the tests with "npm test"');
  const name = `test_${randomUUID().replaceAll('-', '')}`;
  const admin = new pg.Client(base);
  await admin.connect();
  await admin.query(`create database ${name}`);
  const url = new URL(base);
  url.pathname = `/${name}`;
  const database = await openDatabase(url.href);
  hashLightly();
  const passwordHash = await hashPassword(PASSWORD);
  const firm = async (label: string, people: [string, 'owner' | 'technician' | 'reader'][]) => {
    const { Firm, User } = database.models;
    const { id } = await Firm.create({ id: randomUUID(), name: label });
    for (const [person, role] of people)
      await User.create({
        id: randomUUID(),
        firmId: id,
        name: person,
        email: `${person}@${label}.example`,
        role,
        passwordHash,
      });
    const site = randomUUID();
    const { file } = checkSystemFile(corrach);
    await createSite(database, {
      id: site,
      firmId: id,
      userId: null,
      name: `${label} hut`,
      rows: toRows(file, randomUUID),
    });
    return site;
  };
  const ours = empty
    ? ''
    : await firm('ours', [
        ['ann', 'owner'],
        ['rob', 'reader'],
      ]);
  const theirs = empty ? '' : await firm('theirs', [['eve', 'owner']]);
  const config: Config = {
    databaseUrl: url.href,
    sessionSecret: 'x'.repeat(40),
    port: 0,
    host: '127.0.0.1',
    mailUrl: undefined,
    mailFrom: undefined,
    webRoot: undefined,
    demoSignIn: null,
    secure: false,
    trustProxy: false,
    publicUrl: 'http://lantern.example',
    backupDir: undefined,
    firmCode: undefined,
    mqttUrl: undefined,
    modbusAllow: null,
    fleetWorkers: 0,
    fleetExpires_s: 60,
    fleetThreads: undefined,
    logLevel: 'silent',
    ...settings,
  };
  const threads = bundled({ worker: join(__dirname, '../src/threads/worker.ts') });
  const pool = openPool(join(threads.folder, 'worker.mjs'));
  const around: Surroundings = {
    database,
    pool,
    log: pino({ level: process.env.TEST_LOG ?? 'silent' }),
    firstCode: FIRST_CODE,
    // No queue: what asks one opens its own.
    fleet: { ask: async () => 0, waiting: async () => 0, stop: async () => undefined, close: async () => undefined },
  };
  const app = createApp(config, around);
  const server: Server = createServer(app);
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  return {
    database,
    address: `http://127.0.0.1:${(server.address() as AddressInfo).port}`,
    url: url.href,
    sites: { ours, theirs },
    config,
    around,
    async close() {
      server.closeAllConnections();
      await new Promise((resolve) => server.close(resolve));
      await pool.close();
      threads.remove();
      await database.close();
      await admin.query(`drop database ${name} with (force)`);
      await admin.end();
    },
  };
}

export interface Reply {
  status: number;
  type: string | null;
  headers: Headers;
  body: Record<string, never> & { faults: { path: string; message: string }[]; title: string };
}

/** What was answered, as what it is known to be. */
export const bodyOf = <T>({ body }: Reply) => body as unknown as T;

/** A browser of one person: keeps the cookie and the CSRF token. */
export class Visitor {
  cookie = '';
  token = '';
  constructor(private readonly address: string) {}

  call(method: string, path: string, body?: unknown, headers: Record<string, string> = {}): Promise<Reply> {
    const text = body === undefined || typeof body === 'string' ? body : JSON.stringify(body);
    return this.send(method, path, text, 'application/json', headers);
  }

  /** As `call`, with bytes of any type. */
  async send(
    method: string,
    path: string,
    body: Buffer | string | undefined,
    type: string,
    headers: Record<string, string> = {},
  ): Promise<Reply> {
    const response = await fetch(`${this.address}/api${path}`, {
      method,
      headers: { 'content-type': type, cookie: this.cookie, 'x-csrf-token': this.token, ...headers },
      ...(body === undefined ? {} : { body: typeof body === 'string' ? body : new Uint8Array(body) }),
    });
    const set = response.headers.get('set-cookie');
    if (set) this.cookie = set.split(';')[0] ?? '';
    const text = await response.text();
    return {
      status: response.status,
      type: response.headers.get('content-type'),
      headers: response.headers,
      body: (/json/.test(response.headers.get('content-type') ?? '') ? JSON.parse(text) : {}) as Reply['body'],
    };
  }

  async signIn(email: string, password = PASSWORD): Promise<Reply> {
    this.token = ((await this.call('GET', '/session')).body as unknown as { csrfToken: string }).csrfToken;
    const reply = await this.call('POST', '/session', { email, password });
    if (reply.status === 200) this.token = (reply.body as unknown as { csrfToken: string }).csrfToken;
    return reply;
  }
}

/** A visitor who is in. @throws Error where the door stays shut */
export async function signedIn(
  { address }: Pick<Rig, 'address'>,
  email: string,
  password = PASSWORD,
): Promise<Visitor> {
  const person = new Visitor(address);
  const reply = await person.signIn(email, password);
  if (reply.status !== 200) throw new Error(`${email}: ${reply.status}`);
  return person;
}

export const change = (
  partId: string,
  baseRevision: number,
  set: Record<string, unknown>,
  more: Partial<PartChange> = {},
): PartChange => ({
  changeId: randomUUID(),
  partId,
  baseRevision,
  set,
  at: '2026-05-04T09:10:00Z',
  ...more,
});

/** A port that nobody listens on. */
export const freePort = () =>
  new Promise<number>((resolve) => {
    const probe = createServer();
    probe.listen(0, '127.0.0.1', () => {
      const { port } = probe.address() as AddressInfo;
      probe.close(() => resolve(port));
    });
  });

/** Asks again and again until it is so; the test's own time limit ends it. */
export const until = async (holds: () => Promise<boolean>) => {
  while (!(await holds())) await new Promise((resolve) => setTimeout(resolve, 50));
};
