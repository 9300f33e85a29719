import { randomUUID } from 'node:crypto';
import { mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import pg from 'pg';
import { Sequelize } from 'sequelize';
import sharp from 'sharp';
import { backup, keptOf, nameOfDay, nightly, restore } from '../src/jobs/backup';
import { changesOf } from '../src/store/changes';
import { openDatabase } from '../src/store/database';
import { firmOf } from '../src/store/firms';
import { migrate, SCHEMA } from '../src/store/migrations';
import { standingOf } from '../src/store/people';
import { listSites } from '../src/store/sites';
import { push } from '../src/sync/push';
import { startRig, Visitor, type Rig } from './site-of-two-firms';

let rig: Rig;
let admin: pg.Client;
const folder = mkdtempSync(join(tmpdir(), 'backups-'));
const made: string[] = [];
beforeAll(async () => {
  rig = await startRig();
  const ann = new Visitor(rig.address);
  await ann.signIn('ann@ours.example');
  const picture = await sharp({ create: { width: 60, height: 40, channels: 3, background: '#a63' } })
    .png()
    .toBuffer();
  const reply = await ann.send('PUT', `/sites/${rig.sites.ours}/attachments/${randomUUID()}`, picture, 'image/png');
  expect(reply.status).toBe(201);
  admin = new pg.Client(process.env.TEST_DATABASE_URL);
  await admin.connect();
}, 60_000);
afterAll(async () => {
  await rig.close();
  for (const name of made) await admin.query(`drop database ${name} with (force)`);
  await admin.end();
  rmSync(folder, { recursive: true, force: true });
});

async function emptyDatabase(): Promise<string> {
  const name = `test_${randomUUID().replaceAll('-', '')}`;
  await admin.query(`create database ${name}`);
  made.push(name);
  const url = new URL(rig.url);
  url.pathname = `/${name}`;
  return url.href;
}
/** Every row of every table, told apart by its hash. */
async function contentOf(url: string): Promise<Record<string, string[]>> {
  const client = new pg.Client({ connectionString: url });
  await client.connect();
  const { rows: tables } = await client.query<{ name: string }>(
    `select table_name as name from information_schema.tables where table_schema = 'public' order by 1`,
  );
  const content: Record<string, string[]> = {};
  for (const { name } of tables) {
    const { rows } = await client.query<{ hash: string }>(`select md5(t::text) as hash from ${name} t order by 1`);
    content[name] = rows.map(({ hash }) => hash);
  }
  await client.end();
  return content;
}

test('what is restored is what was backed up, row by row, photos too; and a server starts on it', async () => {
  const file = join(folder, 'all.backup');
  await backup(rig.url, file);
  const url = await emptyDatabase();
  await restore(url, file);
  const [before, after] = [await contentOf(rig.url), await contentOf(url)];
  expect(after).toEqual(before);
  expect(before.attachments).toHaveLength(1);
  expect(before.parts!.length).toBeGreaterThan(10);
  const opened = await openDatabase(url);
  expect(await opened.models.User.count()).toBe(3);
  await opened.close();
}, 60_000);

test('a database that is not empty is left alone, unless it is said', async () => {
  const file = join(folder, 'again.backup');
  await backup(rig.url, file);
  const url = await emptyDatabase();
  await restore(url, file);
  const client = new pg.Client({ connectionString: url });
  await client.connect();
  await client.query(`update firms set name = 'changed'`);
  await expect(restore(url, file)).rejects.toThrow(/not empty.*--replace/);
  expect((await client.query(`select name from firms where name = 'changed'`)).rows).not.toHaveLength(0);
  await restore(url, file, { replace: true });
  expect((await client.query(`select name from firms where name = 'changed'`)).rows).toHaveLength(0);
  await client.end();
}, 60_000);

test('a damaged file, another file, a newer one: a sentence, and nothing is changed', async () => {
  const file = join(folder, 'whole.backup');
  await backup(rig.url, file);
  const url = await emptyDatabase();
  const bytes = readFileSync(file);
  const damaged = join(folder, 'damaged.backup');
  const at = bytes.length - Math.floor(bytes.length / 3);
  bytes.writeUInt8((bytes.readUInt8(at) + 1) % 256, at);
  writeFileSync(damaged, bytes);
  await expect(restore(url, damaged)).rejects.toThrow(/is damaged/);
  const other = join(folder, 'other.backup');
  writeFileSync(other, 'a letter');
  await expect(restore(url, other)).rejects.toThrow(/is not a True Lantern backup/);
  await expect(restore(url, join(folder, 'nowhere'))).rejects.toThrow(/There is no file/);
  const newer = join(folder, 'newer.backup');
  await rig.database.pool.query(`insert into migrations (name) values ('999-of-tomorrow')`);
  await backup(rig.url, newer);
  await rig.database.pool.query(`delete from migrations where name = '999-of-tomorrow'`);
  await expect(restore(url, newer)).rejects.toThrow(/newer version \(999-of-tomorrow\)/);
  expect(await contentOf(url)).toEqual({});
}, 60_000);

describe('a backup of any version before this one', () => {
  test.each(SCHEMA.map((name, i) => [name, i + 1] as const))(
    'after step %s comes back whole in the place of a database of today, and goes on',
    async (name, most) => {
      const old = await emptyDatabase();
      const before = new Sequelize(old, { dialect: 'postgres', logging: false });
      await migrate(before, most);
      const firm = randomUUID();
      await before.query(`insert into firms (id, name) values ('${firm}', 'Old firm')`);
      await before.query(`insert into sites (id, firm_id, name) values ('${randomUUID()}', '${firm}', 'Old hut')`);
      await before.close();
      const file = join(folder, `${name}.backup`);
      await backup(old, file);
      // A database of today, with rows in every table that hangs on another, and another program's table beside them.
      const today = await emptyDatabase();
      const whole = join(folder, 'today.backup');
      await backup(rig.url, whole);
      await restore(today, whole);
      const client = new pg.Client({ connectionString: today });
      await client.connect();
      await client.query(`create table somebody_elses (n int); insert into somebody_elses values (7)`);
      await restore(today, file, { replace: true });
      expect((await client.query('select n from somebody_elses')).rows).toEqual([{ n: 7 }]);
      await client.query('drop table somebody_elses');
      await client.end();
      expect(await contentOf(today)).toEqual(await contentOf(old));
      const upgraded = await openDatabase(today);
      expect(await upgraded.models.Site.count()).toBe(1);
      await upgraded.close();
    },
    60_000,
  );
  test('empty means empty: another program\u2019s table is no place to restore into unasked', async () => {
    const file = join(folder, 'into.backup');
    await backup(rig.url, file);
    const url = await emptyDatabase();
    const client = new pg.Client({ connectionString: url });
    await client.connect();
    await client.query('create table somebody_elses (n int)');
    await client.end();
    await expect(restore(url, file)).rejects.toThrow(/not empty/);
  });
});

test('a backup that fails leaves no file of its name', async () => {
  const file = join(folder, 'never.backup');
  await expect(backup('postgres://nobody:x@127.0.0.1:1/none', file)).rejects.toThrow(/pg_dump failed/);
  expect(readdirSync(folder)).not.toContain('never.backup');
});

test('a database that a version before this one left, with rows in it, is brought up to date and goes on', async () => {
  const url = await emptyDatabase();
  const before = new Sequelize(url, { dialect: 'postgres', logging: false });
  // Firms, people, sites, changes, sessions, photos and the shelf: before anybody could leave or had a headline.
  await migrate(before, 3);
  const [firm, user, site, part] = [randomUUID(), randomUUID(), randomUUID(), randomUUID()];
  const run = (sql: string, bind: unknown[]) => before.query(sql, { bind });
  await run(`insert into firms (id, name, schools) values ($1, 'Old', '{"autonomy_d": 3}')`, [firm]);
  await run(
    `insert into users (id, firm_id, name, email, password_hash, role) values ($1, $2, 'Ida', 'ida@old.example', 'x', 'owner')`,
    [user, firm],
  );
  await run(`insert into sites (id, firm_id, name) values ($1, $2, 'Old hut')`, [site, firm]);
  await run(
    `insert into parts (id, firm_id, site_id, kind, body, revision) values ($1, $2, $3, 'site', '{"name": "Old hut"}', 4)`,
    [part, firm, site],
  );
  await run(
    `insert into changes (change_id, firm_id, site_id, part_id, base_revision, revision, fields, before, made_at, user_id)
      values ($1, $2, $3, $4, 3, 4, '{"name": "Old hut"}', '{"name": "Hut"}', now(), $5)`,
    [randomUUID(), firm, site, part, user],
  );
  await before.close();

  const database = await openDatabase(url);
  try {
    const person = await database.models.User.findByPk(user);
    expect([person?.name, person?.epoch, person?.removedAt]).toEqual(['Ida', 0, null]);
    expect(await standingOf(database, user)).toEqual({
      firmId: firm,
      role: 'owner',
      epoch: 0,
      name: 'Ida',
      licensed: false,
    });
    expect(await firmOf(database, firm)).toMatchObject({ name: 'Old', schools: { autonomy_d: 3 }, sheet: {} });
    expect(await listSites(database, firm)).toMatchObject([{ name: 'Old hut', revision: 0, headline: null }]);
    const change = {
      changeId: randomUUID(),
      partId: part,
      baseRevision: 4,
      set: { elevation_m: 9 },
      at: '2026-05-04T09:10:00Z',
    };
    const answer = await push(database, { firmId: firm, userId: user, siteId: site, name: 'Ann', licensed: false }, [
      change,
    ]);
    expect(answer).toMatchObject({ revision: 1, results: [{ status: 'applied', part: { revision: 5 } }] });
    expect(await changesOf(database, firm, site)).toMatchObject({ changes: [{}, {}], more: false });
  } finally {
    await database.close();
  }
}, 60_000);

describe('the nightly ones', () => {
  const DAY = 86_400_000;
  const names = (days: number, from = Date.parse('2026-11-26')) =>
    Array.from({ length: days }, (_, i) => nameOfDay(new Date(from - i * DAY)));
  test('of two years: the last seven days, five weeks, twelve months', () => {
    const kept = [...keptOf(names(730))].sort().reverse();
    expect(kept.slice(0, 7)).toEqual(names(7));
    // A Thursday: the Sundays before it are the last days of their weeks.
    for (const day of ['2026-11-22', '2026-11-15', '2026-11-08', '2026-11-01'])
      expect(kept).toContain(`lantern-${day}.backup`);
    for (const day of ['2026-10-31', '2026-09-30', '2025-12-31']) expect(kept).toContain(`lantern-${day}.backup`);
    expect(kept).not.toContain('lantern-2025-11-30.backup');
    expect(kept).not.toContain('lantern-2026-11-14.backup');
    expect(kept).toHaveLength(7 + 3 + 11);
  });
  test('what has another name is never counted or thrown away', async () => {
    const nights = mkdtempSync(join(folder, 'nights-'));
    writeFileSync(join(nights, 'letters.txt'), 'mine');
    for (const name of names(40, Date.parse('2026-11-25'))) writeFileSync(join(nights, name), '');
    await nightly(rig.url, nights, new Date('2026-11-26T03:00:00Z'));
    const left = readdirSync(nights);
    expect(left).toContain('letters.txt');
    expect(left).toContain('lantern-2026-11-26.backup');
    expect(left).not.toContain('lantern-2026-11-17.backup');
    expect(readFileSync(join(nights, 'lantern-2026-11-26.backup')).length).toBeGreaterThan(1000);
    // Made once a day.
    writeFileSync(join(nights, 'lantern-2026-11-26.backup'), 'first');
    await nightly(rig.url, nights, new Date('2026-11-26T23:00:00Z'));
    expect(readFileSync(join(nights, 'lantern-2026-11-26.backup'), 'utf8')).toBe('first');
  }, 30_000);
});
