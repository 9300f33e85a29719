/**
 * `npm run mutate -- ROOM [--most 60] [--seed 1] [--keep]`: puts small semantic faults into a room, one at a time, and counts how
 * many of them the tests notice. Faults: another constant, a turned comparison, a changed sign, a dropped term, `and` for
 * `or`, `min` for `max`, a flipped flag. Words for people (sentences, working, labels) are left alone. Works on copies;
 * the tree itself is never touched. `--keep` writes the score into docs/bench.md. Not part of
 * `npm test`: what survives is read by a person, since some faults change nothing (a closer tolerance, a first guess).
 */
import { spawn } from 'node:child_process';
import { cpSync, existsSync, mkdirSync, readdirSync, readFileSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { join, relative } from 'node:path';
import { parseArgs } from 'node:util';
import { Worker } from 'node:worker_threads';
import { faultsOf, switched, type Fault } from './faults';
import type { Answer } from './faults-core';
import { startPostgres } from './postgres.mjs';

/** The heading in docs/bench.md. */
const SCORES = '## Faults put in by `npm run mutate`, and noticed by the tests';

const ROOT = join(import.meta.dirname, '..');
const WORK = join(ROOT, '.lantern');

interface Room {
  project: string;
  /** The folder whose faults are looked for. */
  folder: string;
  /** Tests that speak of it; those that take long only where they are its own. */
  tests: string;
}

/** The core's tests that take under two seconds each, what it answers of whole systems, and those of a room of its own. */
const QUICK_CORE = [
  'answers',
  'tables|bank|pv-rules|run-rules|rest-of-the-rules|thresholds|every-rule|loads-and-plates|sizes-and-schools|energy',
  'findings|climate|parts|charging|numeric|reference|ends-of-runs|occasions|revised-rules|sound-sites|posts|rest-and-run',
  'format|changes|shelf|quick-entry|convert|cures|layouts-by-hand|layouts-counted|successors-least|successors-by-hand|kit|sun-and-weather|remedies-by-hand|rules-by-hand|pv-by-hand|spec-lines|system-by-hand|kinds-by-hand|shelf-in-place|rules-in-figures|successors-figures',
].join('|');
const core = (room: string, own = ''): Room => ({
  project: 'core',
  folder: `core/src/${room}`,
  tests: own ? `${QUICK_CORE}|${own}` : QUICK_CORE,
});
const ROOMS: Record<string, Room> = {
  numeric: core('numeric'),
  chemistry: core('chemistry'),
  parts: core('parts'),
  system: core('system'),
  shelf: core('shelf'),
  conductors: core('conductors', 'names'),
  ledger: core('ledger'),
  sun: core('sun'),
  pv: core('pv', 'ngspice'),
  bank: core('bank'),
  power: core('power'),
  rules: core('rules'),
  flips: core('flips', 'flips'),
  layouts: core('layouts', 'layouts'),
  headroom: core('headroom', 'headroom'),
  proposal: core('proposal', 'plan'),
  successor: core('successor', 'successor'),
  year: core('year', 'year\\.test|year-story|year-by'),
  readings: core('readings', 'expect|work-progress'),
  'work-order': core('work-order', 'work'),
  plan: core('plan', 'plan|whole'),
  service: {
    ...core('service'),
    tests:
      'answers|trends|due|ahead|log|by-clock|day-readings|sun-readings|sun-day|fleet|handover|modbus|watch|standin|live-expected|trip-kit',
  },
  faults: { ...core('faults'), tests: 'answers|faults|practice|calibrated' },
  roof: { ...core('roof'), tests: 'answers|roof|day-strip' },
  plate: { ...core('plate'), tests: 'answers|plate|square|shelf-match|string-top' },
  papers: { ...core('papers'), tests: 'answers|papers' },
  line: { ...core('line'), tests: 'answers|line|expect|numeric|posts' },
  data: { project: 'client', folder: 'client/src/data', tests: '.' },
  server: { project: 'server', folder: 'server/src', tests: '.' },
};

const { values, positionals } = parseArgs({
  allowPositionals: true,
  options: {
    most: { type: 'string', default: '60' },
    seed: { type: 'string', default: '1' },
    file: { type: 'string' },
    workers: { type: 'string', default: '2' },
    by: { type: 'boolean', default: false },
    keep: { type: 'boolean', default: false },
  },
});
const [name = ''] = positionals;
const room = ROOMS[name];
if (!room) {
  process.stderr.write(`"${name}" is no room, expected one of ${Object.keys(ROOMS).join(', ')}\n`);
  process.exit(2);
}

// The server's tests each make a database of their own in this one.
const database = name === 'server' ? await startPostgres('mutate-pg', { throwaway: true }) : null;
const env = { ...process.env, ...(database ? { TEST_DATABASE_URL: database.url('postgres') } : {}) };

const survivors: Fault[] = [];
let killed = 0;
let pending: Fault[] = [];

/** What says in a tree which fault is on, and notes which tests come past which. */
const SWITCH = join(ROOT, 'tools/fault-switch.cjs');
/** A module of either kind finds it: a test may start the program itself, which is not Jest's. */
const SWITCHED = `globalThis.__fault ??= (typeof require === 'function' ? require : process.getBuiltinModule('node:module').createRequire(${JSON.stringify(SWITCH)}))(${JSON.stringify(SWITCH)});`;
/** By fault, the files of tests that come past it; `all` where it is passed outside of any. */
const passedBy = new Map<number, Set<string>>();
let looked: Promise<void> | null = null;

/** Jest for each fault: all of them are in the tree, each behind its switch, so that nothing is built anew. */
async function work(index: number): Promise<void> {
  const folder = copyOf(index);
  for (const file of new Set(chosen.map((fault) => fault.file))) {
    const text = readFileSync(join(ROOT, file), 'utf8');
    const here = chosen.filter((fault) => fault.file === file);
    writeFileSync(join(folder, file), `${SWITCHED}\n${switched(text, here)}`);
  }
  looked ??= lookOnce(folder);
  await looked;
  for (let mutant = pending.shift(); mutant; mutant = pending.shift()) {
    const files = passedBy.get(mutant.n) ?? new Set<string>();
    const noticed =
      files.size > 0 &&
      !(await passes(folder, files.has('all') ? [] : [...files], { LANTERN_FAULT: String(mutant.n) }));
    if (noticed) killed += 1;
    else survivors.push(mutant);
    process.stdout.write(noticed ? '.' : files.size > 0 ? 'o' : '-');
  }
}

/** Every test without a fault: they must pass, and tell which faults they come past. */
async function lookOnce(folder: string): Promise<void> {
  const log = join(folder, 'passed.txt');
  writeFileSync(log, '');
  const from = Date.now();
  if (!(await passes(folder, [], { LANTERN_SEEN: log }))) {
    process.stderr.write('The tests fail without any fault; mend them first.\n');
    database?.stop();
    process.exit(1);
  }
  for (const line of readFileSync(log, 'utf8').split('\n').filter(Boolean)) {
    const [n, file = 'all'] = line.split(' ');
    passedBy.set(Number(n), new Set([...(passedBy.get(Number(n)) ?? []), file.replace(`${folder}/`, '')]));
  }
  process.stdout.write(`(tests take ${((Date.now() - from) / 1000).toFixed(1)} s)`);
}

/** The core's tests need no process of their own; a fault that keeps them busy for a minute is noticed, and its worker ended. */
async function workInProcess(): Promise<void> {
  for (let mutant = pending.shift(), worker: Judge | null = null; mutant; mutant = pending.shift()) {
    worker ??= await judge();
    const by = await worker.of(mutant.n);
    if (by === ENDED) worker = null;
    if (by === null) survivors.push(mutant);
    else killed += 1;
    if (values.by) process.stdout.write(`${mutant.file}:${mutant.line} ${mutant.was} -> ${mutant.becomes}: ${by}\n`);
    else process.stdout.write('.');
    if (pending.length === 0) await worker?.end();
  }
}

interface Judge {
  of(n: number): Promise<string | null>;
  end(): Promise<unknown>;
}

const ENDED = 'did not end';

async function judge(): Promise<Judge> {
  const worker = new Worker(
    `import('tsx/esm/api').then(({ register }) => { register(); return import(${JSON.stringify(join(ROOT, 'tools/faults-core.ts'))}); });`,
    { eval: true, workerData: { faults: chosen, tests: room?.tests } },
  );
  worker.on('error', (error) => {
    throw error;
  });
  const next = <T>() => new Promise<T>((resolve) => worker.once('message', resolve));
  const { ready } = await next<{ ready: number }>();
  process.stdout.write(`(tests take ${(ready / 1000).toFixed(1)} s)`);
  return {
    async of(n) {
      worker.postMessage(n);
      let timer: NodeJS.Timeout | undefined;
      const late = new Promise<Answer>((resolve) => {
        timer = setTimeout(() => resolve({ n, by: ENDED }), 60_000 + 3 * ready);
      });
      const { by } = await Promise.race([next<Answer>(), late]);
      clearTimeout(timer);
      if (by === ENDED) await worker.terminate();
      return by;
    },
    end: () => worker.terminate(),
  };
}

/** A tree of its own for each worker; packages are shared. */
function copyOf(index: number): string {
  const folder = join(WORK, `mutate-${index}`);
  rmSync(folder, { recursive: true, force: true });
  mkdirSync(folder, { recursive: true });
  const skipped = /(^|\/)(node_modules|dist|\.expo|screenshots)$/;
  for (const place of [
    'core',
    'wire',
    'cli',
    'client',
    'server',
    'demo',
    'docs',
    'tools',
    'package.json',
    'jest.config.cjs',
    'tsconfig.json',
    'tsconfig.base.json',
  ])
    if (existsSync(join(ROOT, place)))
      cpSync(join(ROOT, place), join(folder, place), { recursive: true, filter: (path) => !skipped.test(path) });
  symlinkSync(join(ROOT, 'node_modules'), join(folder, 'node_modules'));
  return folder;
}

/** True where the tests pass in that tree, all of the room's or those of these files; a run that does not end has noticed. */
const passes = (folder: string, files: readonly string[], more: Record<string, string>) =>
  new Promise<boolean>((resolve) => {
    const child = spawn(
      process.execPath,
      [
        'node_modules/jest/bin/jest.js',
        '--selectProjects',
        room.project,
        '--testPathPattern',
        files.length > 0 ? files.join('|') : `/test/(${room.tests})`,
        '--bail',
        '--silent',
        '-i',
      ],
      { cwd: folder, stdio: 'ignore', env: { ...env, ...more } },
    );
    const timer = setTimeout(() => child.kill('SIGKILL'), 240_000);
    child.once('exit', (code) => {
      clearTimeout(timer);
      resolve(code === 0);
    });
  });

/** So many of a list, spread by a small seeded generator (mulberry32). */
function sample<T>(list: readonly T[], most: number, seed: number): T[] {
  let state = seed >>> 0;
  const next = () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let t = Math.imul(state ^ (state >>> 15), 1 | state);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4_294_967_296;
  };
  return list
    .map((item) => ({ item, at: next() }))
    .sort((a, b) => a.at - b.at)
    .slice(0, most)
    .map(({ item }) => item);
}

const files = readdirSync(join(ROOT, room.folder), { recursive: true, withFileTypes: true })
  .filter((entry) => entry.isFile() && /\.tsx?$/.test(entry.name))
  .map((entry) => relative(ROOT, join(entry.parentPath, entry.name)))
  .filter((file) => !file.endsWith('/index.ts') && (!values.file || file.includes(values.file)))
  .sort();
const all = files.flatMap((file) => faultsOf(file, readFileSync(join(ROOT, file), 'utf8')));
const chosen = sample(all, Number(values.most), Number(values.seed)).map((fault, i) => ({ ...fault, n: i + 1 }));
process.stdout.write(`${name}: ${all.length} possible faults in ${files.length} files, ${chosen.length} tried\n`);

pending = [...chosen];
const lane = room.project === 'core' ? workInProcess : work;
await Promise.all(Array.from({ length: Number(values.workers) }, (_, i) => lane(i)));
process.stdout.write(
  `\n${name}: ${killed} of ${chosen.length} noticed, ${Math.round((100 * killed) / chosen.length)} %\n`,
);
survivors.sort((a, b) => (a.file < b.file ? -1 : a.file > b.file ? 1 : a.line - b.line));
for (const { file, line, was, becomes } of survivors)
  process.stdout.write(`  ${file}:${line}  ${was}  ->  ${becomes}\n`);
database?.stop();
if (values.keep) keepScore();

/** One row a room under its heading, which `npm run bench` leaves as it is. */
function keepScore() {
  const path = join(ROOT, 'docs/bench.md');
  const [measures = '', rows = ''] = readFileSync(path, 'utf8').split(`\n${SCORES}`);
  const score = `| ${name} | ${chosen.length} of ${all.length} | ${killed} | ${Math.round((100 * killed) / chosen.length)} % |`;
  const kept = rows.split('\n').filter((row) => /^\| [a-z]+ \| \d/.test(row) && !row.startsWith(`| ${name} |`));
  const table = ['| room | tried | noticed | share |', '|---|---|---|---|', ...[...kept, score].sort()].join('\n');
  // What is said under the table stays.
  const caption = rows
    .split('\n')
    .filter((row) => row !== '' && !row.startsWith('|'))
    .join('\n');
  writeFileSync(path, `${measures.trimEnd()}\n\n${SCORES}\n\n${table}\n${caption ? `\n${caption}\n` : ''}`);
}
