import { spawn } from 'node:child_process';
import { createHash } from 'node:crypto';
import {
  createReadStream,
  existsSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  renameSync,
  rmSync,
  statSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import pg from 'pg';
import { SCHEMA, TABLES } from '../store/migrations';

/**
 * Everything of a server in one file: PostgreSQL's own dump (custom format; the photos are rows of it) and beside it a
 * manifest with the hash of the dump and the steps of the schema.
 */
interface Manifest {
  format: 'true-lantern-backup';
  version: 1;
  madeAt: string;
  schema: string[];
  sha256: string;
  bytes: number;
}

const DUMP = 'database.dump';
const MANIFEST = 'manifest.json';

/** What a person can do something about. */
export class BackupTrouble extends Error {}

/** Writes the backup; the file has its name only once it is whole. */
export async function backup(databaseUrl: string, file: string): Promise<void> {
  const folder = mkdtempSync(join(tmpdir(), 'lantern-backup-'));
  try {
    const dump = join(folder, DUMP);
    await run(tool('pg_dump'), [
      '--format=custom',
      '--exclude-schema=pgboss',
      '--no-owner',
      '--no-privileges',
      `--file=${dump}`,
      databaseUrl,
    ]);
    const manifest: Manifest = {
      format: 'true-lantern-backup',
      version: 1,
      madeAt: new Date().toISOString(),
      schema: await schemaOf(databaseUrl),
      sha256: await hashOf(dump),
      bytes: statSync(dump).size,
    };
    writeFileSync(join(folder, MANIFEST), `${JSON.stringify(manifest, null, 2)}\n`);
    const part = `${resolve(file)}.part`;
    await run('tar', ['-cf', part, '-C', folder, MANIFEST, DUMP]);
    renameSync(part, resolve(file));
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}

/**
 * Puts a backup into an empty database, all of it or nothing.
 * @param replace in the place of what is there
 * @throws BackupTrouble where the file is no backup, is damaged, or is of a newer version; where the database is not empty
 */
export async function restore(databaseUrl: string, file: string, { replace = false } = {}): Promise<void> {
  if (!existsSync(file)) throw new BackupTrouble(`There is no file ${file}.`);
  const folder = mkdtempSync(join(tmpdir(), 'lantern-restore-'));
  try {
    await run('tar', ['-xf', resolve(file), '-C', folder, MANIFEST, DUMP]).catch(() => {
      throw new BackupTrouble(`${file} is not a True Lantern backup.`);
    });
    const manifest = readManifest(join(folder, MANIFEST), file);
    const known = new Set(SCHEMA);
    const newer = manifest.schema.find((name) => !known.has(name));
    if (newer)
      throw new BackupTrouble(
        `The backup is from a newer version (${newer}). Restore it with that version or a later one.`,
      );
    const dump = join(folder, DUMP);
    if ((await hashOf(dump)) !== manifest.sha256)
      throw new BackupTrouble(`${file} is damaged: its content has changed since the backup.`);
    const there = await tablesOf(databaseUrl);
    if (!replace && there.length > 0)
      throw new BackupTrouble('The database is not empty. Use --replace to replace it with the backup.');
    // Tables of steps that the backup does not know would hold on to those that it replaces; another program's stay.
    const ours = there.filter((name) => TABLES.includes(name));
    const script = join(folder, 'restore.sql');
    const clear = join(folder, 'clear.sql');
    writeFileSync(clear, ours.map((name) => `drop table "${name}" cascade;\n`).join(''));
    await run(tool('pg_restore'), ['--no-owner', '--no-privileges', `--file=${script}`, dump]);
    await run(tool('psql'), [
      ...['--single-transaction', '--set=ON_ERROR_STOP=1', '--quiet', '--no-psqlrc'],
      ...[`--file=${clear}`, `--file=${script}`],
      `--dbname=${databaseUrl}`,
    ]);
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}

function readManifest(path: string, file: string): Manifest {
  try {
    const read = JSON.parse(readFileSync(path, 'utf8')) as Manifest;
    if (read.format === 'true-lantern-backup' && read.version === 1 && Array.isArray(read.schema)) return read;
  } catch {
    // The same sentence as for a manifest of something else.
  }
  throw new BackupTrouble(`${file} is not a True Lantern backup.`);
}

/** The tables of a database, whoever made them. */
async function tablesOf(databaseUrl: string): Promise<string[]> {
  const client = new pg.Client({ connectionString: databaseUrl });
  await client.connect();
  try {
    const { rows } = await client.query<{ name: string }>(
      `select tablename as name from pg_tables where schemaname = 'public' order by 1`,
    );
    return rows.map(({ name }) => name);
  } finally {
    await client.end();
  }
}

/** Steps of the schema that have run; none where the database is empty. */
async function schemaOf(databaseUrl: string): Promise<string[]> {
  const client = new pg.Client({ connectionString: databaseUrl });
  await client.connect();
  try {
    const { rows: there } = await client.query<{ is: boolean }>(
      `select to_regclass('public.migrations') is not null as is`,
    );
    if (!there[0]?.is) return [];
    const { rows } = await client.query<{ name: string }>('select name from migrations order by name');
    return rows.map(({ name }) => name);
  } finally {
    await client.end();
  }
}

async function hashOf(path: string): Promise<string> {
  const hash = createHash('sha256');
  for await (const chunk of createReadStream(path)) hash.update(chunk as Buffer);
  return hash.digest('hex');
}

const DEBIAN = '/usr/lib/postgresql';
/** PostgreSQL's own tool, of the newest version that is installed: an older one cannot read a newer server. */
function tool(name: string): string {
  const versions = existsSync(DEBIAN) ? readdirSync(DEBIAN).sort((a, b) => Number(b) - Number(a)) : [];
  const newest = versions.map((version) => join(DEBIAN, version, 'bin', name)).find(existsSync);
  return newest ?? name;
}

function run(command: string, args: string[]): Promise<void> {
  return new Promise((done, fail) => {
    const child = spawn(command, args, { stdio: ['ignore', 'ignore', 'pipe'] });
    let said = '';
    child.stderr.on('data', (text: Buffer) => (said = `${said}${text.toString()}`.slice(-2000)));
    child.once('error', (error) => fail(new BackupTrouble(`${command} could not be started: ${error.message}`)));
    child.once('exit', (code) =>
      code === 0
        ? done()
        : fail(new BackupTrouble(`${command.split('/').at(-1)} failed: ${said.trim().split('\n')[0] ?? ''}`)),
    );
  });
}

const NAME = /^lantern-(\d{4}-\d{2}-\d{2})\.backup$/;
/** The file of a day's backup, by its date in UTC: "lantern-2026-05-04.backup". */
export const nameOfDay = (day: Date) => `lantern-${day.toISOString().slice(0, 10)}.backup`;

/** Which of the nightly files stay: the last of 7 days, of 5 weeks, of 12 months. What has another name is not ours. */
export function keptOf(names: readonly string[]): Set<string> {
  const days = names.flatMap((name) => (NAME.test(name) ? [{ name, day: NAME.exec(name)?.[1] ?? '' }] : []));
  days.sort((a, b) => b.day.localeCompare(a.day));
  const kept = new Set<string>();
  const keep = (most: number, spanOf: (day: string) => string) => {
    const seen = new Set<string>();
    for (const { name, day } of days) {
      if (seen.size >= most) break;
      const span = spanOf(day);
      if (!seen.has(span)) kept.add(name);
      seen.add(span);
    }
  };
  keep(7, (day) => day);
  // Weeks of seven days from a Monday on; 1970 began on a Thursday.
  keep(5, (day) => String(Math.floor((Date.parse(day) / 86_400_000 + 3) / 7)));
  keep(12, (day) => day.slice(0, 7));
  return kept;
}

/** One night's backup in a folder, and what is too old taken out of it. */
export async function nightly(databaseUrl: string, folder: string, now: Date): Promise<void> {
  const name = nameOfDay(now);
  // Another server of the same database, or this one before it was started anew, has made it.
  if (existsSync(join(folder, name))) return;
  await backup(databaseUrl, join(folder, name));
  const names = readdirSync(folder);
  const kept = keptOf(names);
  for (const old of names) if (NAME.test(old) && !kept.has(old)) rmSync(join(folder, old));
}
