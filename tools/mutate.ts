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
import ts from 'typescript';
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

const QUICK_CORE =
  'tables|bank\\.test|bank-rules|pv-rules|run-rules|rest-of-the-rules|thresholds|every-rule|loads-and-plates|sizes-and-schools|energy-and-power|findings|climate|parts|charging|numeric|reference|ends-of-runs|occasions|revised-rules|sound-sites';
const core = (room: string, tests = QUICK_CORE): Room => ({ project: 'core', folder: `core/src/${room}`, tests });
const ROOMS: Record<string, Room> = {
  numeric: core('numeric', 'numeric|tables'),
  chemistry: core('chemistry'),
  parts: core('parts', 'parts|format|shelf'),
  system: core('system', 'format|changes|parts|rows'),
  shelf: core('shelf', 'shelf|parts'),
  conductors: core('conductors'),
  ledger: core('ledger', `${QUICK_CORE}|missing`),
  sun: core('sun'),
  pv: core('pv', `${QUICK_CORE}|ngspice`),
  bank: core('bank', `${QUICK_CORE}|rest-and-run`),
  power: core('power'),
  rules: core('rules'),
  flips: core('flips', 'headroom|flips'),
  layouts: core('layouts', 'findings|plan|layouts'),
  headroom: core('headroom', 'headroom'),
  proposal: core('proposal', 'plan|convert|parts|proposal'),
  successor: core('successor', 'successor'),
  year: core('year', 'year'),
  prove: core('prove', 'expect|work-progress'),
  work: core('work', 'work'),
  plan: core('plan', 'plan|convert|gate'),
  data: { project: 'client', folder: 'client/src/data', tests: '.' },
  server: { project: 'server', folder: 'server/src', tests: '.' },
};

interface Mutant {
  file: string;
  line: number;
  from: number;
  to: number;
  was: string;
  becomes: string;
}

const { values, positionals } = parseArgs({
  allowPositionals: true,
  options: {
    most: { type: 'string', default: '60' },
    seed: { type: 'string', default: '1' },
    file: { type: 'string' },
    workers: { type: 'string', default: '2' },
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

const survivors: Mutant[] = [];
let killed = 0;
let pending: Mutant[] = [];

async function work(index: number): Promise<void> {
  const folder = copyOf(index);
  if (index === 0 && !(await passes(folder))) {
    process.stderr.write('The tests fail without any fault; mend them first.\n');
    database?.stop();
    process.exit(1);
  }
  for (let mutant = pending.shift(); mutant; mutant = pending.shift()) {
    const path = join(folder, mutant.file);
    const whole = readFileSync(path, 'utf8');
    writeFileSync(path, whole.slice(0, mutant.from) + mutant.becomes + whole.slice(mutant.to));
    if (await passes(folder)) survivors.push(mutant);
    else killed += 1;
    writeFileSync(path, whole);
    process.stdout.write('.');
  }
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

/** True where every test of the room passes in that tree; a run that does not end is a fault noticed. */
const passes = (folder: string) =>
  new Promise<boolean>((resolve) => {
    const child = spawn(
      process.execPath,
      [
        'node_modules/jest/bin/jest.js',
        '--selectProjects',
        room.project,
        '--testPathPattern',
        `/test/(${room.tests})`,
        '--bail',
        '--silent',
        '-i',
      ],
      { cwd: folder, stdio: 'ignore', env },
    );
    const timer = setTimeout(() => child.kill('SIGKILL'), 240_000);
    child.once('exit', (code) => {
      clearTimeout(timer);
      resolve(code === 0);
    });
  });

/** Every fault that can be put into a file. */
function mutantsOf(file: string): Mutant[] {
  const text = readFileSync(join(ROOT, file), 'utf8');
  const source = ts.createSourceFile(file, text, ts.ScriptTarget.ESNext, true);
  const made: Mutant[] = [];
  const put = (node: ts.Node, becomes: string) => {
    const from = node.getStart(source);
    const line = source.getLineAndCharacterOfPosition(from).line + 1;
    made.push({
      file,
      line,
      from,
      to: node.getEnd(),
      was: node.getText(source).replace(/\s+/g, ' ').slice(0, 80),
      becomes,
    });
  };
  const visit = (node: ts.Node): void => {
    if (isForPeople(node, source) || ts.isTypeNode(node) || ts.isImportDeclaration(node)) return;
    if (ts.isNumericLiteral(node) && !ts.isEnumMember(node.parent)) put(node, otherNumber(node.text));
    else if (node.kind === ts.SyntaxKind.TrueKeyword) put(node, 'false');
    else if (node.kind === ts.SyntaxKind.FalseKeyword) put(node, 'true');
    else if (ts.isBinaryExpression(node)) {
      const [left, right] = [node.left.getText(source), node.right.getText(source)];
      const turned = TURNED[node.operatorToken.getText(source)];
      if (turned && !isText(node)) put(node, `(${left} ${turned} ${right})`);
      if (ts.SyntaxKind.PlusToken === node.operatorToken.kind && !isText(node)) put(node, `(${left})`);
    } else if (ts.isPrefixUnaryExpression(node) && node.operator === ts.SyntaxKind.ExclamationToken)
      put(node, `Boolean(${node.operand.getText(source)})`);
    else if (ts.isPropertyAccessExpression(node) && /^Math\.(min|max|floor|ceil)$/.test(node.getText(source)))
      put(
        node,
        { 'Math.min': 'Math.max', 'Math.max': 'Math.min', 'Math.floor': 'Math.ceil', 'Math.ceil': 'Math.floor' }[
          node.getText(source)
        ] ?? '',
      );
    ts.forEachChild(node, visit);
  };
  visit(source);
  return made;
}

const TURNED: Record<string, string> = {
  '<': '>=',
  '>': '<=',
  '<=': '>',
  '>=': '<',
  '===': '!==',
  '!==': '===',
  '*': '/',
  '/': '*',
  '-': '+',
  '+': '-',
  '&&': '||',
  '||': '&&',
};

const otherNumber = (text: string) => {
  const value = Number(text);
  if (value === 0) return '1';
  return Math.abs(value) < 1e-6 ? '0.5' : String(Number((value * 1.25).toPrecision(12)));
};

const isText = ({ left, right }: ts.BinaryExpression): boolean =>
  [left, right].some((side) => ts.isStringLiteralLike(side) || ts.isTemplateExpression(side));

/** Words: what the tests of a formula should not have to spell out. */
function isForPeople(node: ts.Node, source: ts.SourceFile): boolean {
  if (ts.isTemplateExpression(node) || ts.isStringLiteralLike(node)) return true;
  if (ts.isCallExpression(node) && /^(io\.work|describe|asked|first|wrong)$/.test(node.expression.getText(source)))
    return true;
  const member = (ts.isMethodDeclaration(node) || ts.isPropertyAssignment(node)) && node.name.getText(source);
  return typeof member === 'string' && /^(sentence|title|detail|why|label|text|message|cautions)$/.test(member);
}

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
const all = files.flatMap(mutantsOf);
const chosen = sample(all, Number(values.most), Number(values.seed));
process.stdout.write(`${name}: ${all.length} possible faults in ${files.length} files, ${chosen.length} tried\n`);

pending = [...chosen];
await Promise.all(Array.from({ length: Number(values.workers) }, (_, i) => work(i)));
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
  writeFileSync(path, `${measures.trimEnd()}\n\n${SCORES}\n\n${table}\n`);
}
