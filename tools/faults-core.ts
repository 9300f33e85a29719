/**
 * The core's tests run hundreds of times in one process: all faults of a room are built in once, each behind a switch
 * (tools/faults.ts), and the tests are run anew for each, quickest file first, only those that ever come past it, until
 * one fails. Jest started for each fault takes many times as long. Runs as a worker of tools/mutate.ts.
 */
import { build } from 'esbuild';
import { expect } from 'expect';
import { readFileSync, readdirSync } from 'node:fs';
import { createRequire } from 'node:module';
import { basename, dirname, join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { parentPort, workerData } from 'node:worker_threads';
import { Script } from 'node:vm';
import { switched, type Fault } from './faults';

const ROOT = join(import.meta.dirname, '..');
const TESTS = join(ROOT, 'core/test');

interface Test {
  file: string;
  name: string;
  act: () => unknown;
}
interface Asked {
  faults: Fault[];
  tests: string;
}
/** What became of one fault. */
export interface Answer {
  n: number;
  /** The test that failed; null: nobody noticed. */
  by: string | null;
}

const { faults, tests: pattern } = workerData as Asked;
const files = readdirSync(TESTS).filter((name) => name.endsWith('.test.ts') && new RegExp(`^(${pattern})`).test(name));
const script = new Script(await bundle(), { filename: join(TESTS, 'core-with-faults.cjs') });
const load = script.runInThisContext() as (require: NodeRequire, module: object, exports: object) => void;
const required = createRequire(join(ROOT, 'core/package.json'));

let tests: Test[] = [];
let afterwards: (() => unknown)[] = [];
let fault = 0;
/** While the tests are run as they are: which faults each file of tests comes past; 'all': while loading. */
let seen: Set<number> | null = null;
let file = 'all';
Object.assign(globalThis, harness());

// As they are: what fails without a fault tells nothing; what each file takes, and what it comes past.
const passed = new Map<string, Set<number>>();
const times = new Map<string, number>();
seen = set('all');
start();
const broken = new Set<string>();
for (const name of files) {
  seen = set(name);
  const from = performance.now();
  for (const test of tests.filter((one) => one.file === name)) if (await fails(test)) broken.add(test.name);
  times.set(name, performance.now() - from);
}
seen = null;
await finish();
if (broken.size > 0) process.stderr.write(`fail without any fault: ${[...broken].join('; ')}\n`);
const quickest = [...files].sort((a, b) => (times.get(a) ?? 0) - (times.get(b) ?? 0));

parentPort?.on('message', (n: number) => {
  void judge(n).then((by) => parentPort?.postMessage({ n, by } satisfies Answer));
});
parentPort?.postMessage({ ready: Math.round([...times.values()].reduce((sum, ms) => sum + ms, 0)) });

async function judge(n: number): Promise<string | null> {
  fault = n;
  try {
    start();
  } catch {
    return 'loading';
  }
  try {
    for (const name of quickest) {
      if (!passed.get('all')?.has(n) && !passed.get(name)?.has(n)) continue;
      for (const test of tests)
        if (test.file === name && !broken.has(test.name) && (await fails(test))) return test.name;
    }
    return null;
  } finally {
    await finish();
    fault = 0;
  }
}

function set(name: string): Set<number> {
  const made = new Set<number>();
  passed.set(name, made);
  return made;
}

function start() {
  tests = [];
  afterwards = [];
  file = 'all';
  const module = { exports: {} };
  load(required as NodeRequire, module, module.exports);
}

async function finish() {
  for (const act of afterwards) await act();
}

async function fails({ act }: Test): Promise<boolean> {
  try {
    await act();
    return false;
  } catch {
    return true;
  }
}

/** As much of `describe`, `it` and `test` as the core's tests use, and Jest's own `expect`. */
function harness() {
  const inside: string[] = [];
  const describe = (name: string, act: () => void) => {
    inside.push(name);
    act();
    inside.pop();
  };
  const it = (name: string, act: () => unknown) => {
    tests.push({ file, name: [...inside, name].join(' > '), act });
  };
  const each =
    (one: (name: string, act: () => unknown) => void) =>
    (rows: readonly unknown[]) =>
    (name: string, act: (...row: never[]) => unknown) =>
      rows.forEach((row, i) => one(`${name} #${i + 1}`, () => act(...((Array.isArray(row) ? row : [row]) as never[]))));
  describe.each = each(describe);
  it.each = each(it);
  return {
    __fault: (n: number) => {
      seen?.add(n);
      return n === fault;
    },
    __in: (name: string) => {
      file = name;
    },
    describe,
    it,
    test: it,
    expect,
    afterAll: (act: () => unknown) => afterwards.push(act),
    beforeAll: (act: () => unknown) => it('before all', act),
  };
}

async function bundle(): Promise<string> {
  const byFile = grouped(faults);
  const { outputFiles } = await build({
    stdin: { contents: files.map((name) => `import './${name}';`).join('\n'), resolveDir: TESTS },
    bundle: true,
    write: false,
    format: 'cjs',
    platform: 'node',
    target: 'node20',
    mainFields: ['module', 'main'],
    external: ['fast-check', 'ajv', 'ajv/*'],
    plugins: [
      {
        name: 'faults',
        setup(of) {
          of.onLoad({ filter: /\/core\/(src|test)\/.*\.ts$/ }, ({ path }) => {
            const text = readFileSync(path, 'utf8');
            const here = byFile.get(path.slice(ROOT.length + 1));
            if (path.startsWith(TESTS)) {
              const said = path.endsWith('.test.ts') ? `__in(${JSON.stringify(basename(path))});\n` : '';
              const placed = text
                .replaceAll('__dirname', JSON.stringify(dirname(path)))
                .replaceAll('import.meta.url', JSON.stringify(pathToFileURL(path).href));
              return { contents: said + placed, loader: 'ts' };
            }
            return { contents: here ? switched(text, here) : text, loader: 'ts' };
          });
        },
      },
    ],
  });
  return `(function (require, module, exports) {${outputFiles[0]?.text ?? ''}\n})`;
}

function grouped(list: readonly Fault[]): Map<string, Fault[]> {
  const made = new Map<string, Fault[]>();
  for (const one of list) made.set(one.file, [...(made.get(one.file) ?? []), one]);
  return made;
}
