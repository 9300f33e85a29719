import { existsSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { spawn } from 'node:child_process';
import { gzipSync } from 'node:zlib';
import { DEMO_SHELF } from '../demo/shelf';
import { arrayCurve } from '../core/src/pv/array-curve';
import {
  eachPart,
  candidates,
  check,
  checkWithRemedies,
  convert,
  expectedTests,
  flips,
  fromRows,
  headroom,
  interim,
  layouts,
  modelOf,
  partFaults,
  presentModules,
  raiseVoltage,
  readSystemFile,
  specify,
  toRows,
  wholeConversion,
  workOf,
} from '@true-lantern/core';

/** `npm run bench`: prints the measures and keeps them in docs/bench.md. Start nothing else meanwhile. */
import { benchLive } from './bench-live';
import { benchServer } from './bench-server';
import { benchService } from './bench-service';
import { benchYear } from './bench-year';
import { startPostgres } from './postgres.mjs';

const rows: [what: string, measured: string, target: string][] = [];

const folder = 'demo/sites';
const sites = readdirSync(folder)
  .filter((name) => name.endsWith('.lantern.json'))
  .map((name) => ({ name, text: readFileSync(`${folder}/${name}`, 'utf8') }));
// By what is judged: a record of many readings makes no system larger.
const partsOf = ({ text }: { text: string }) => eachPart(readSystemFile(text).file.system ?? {}).length;
const largest = sites.reduce((a, b) => (partsOf(a) > partsOf(b) ? a : b));
const model = modelOf(readSystemFile(largest.text).file);
const offered = DEMO_SHELF.filter(({ kind, body }) => kind === 'controllers' && body.type === 'mppt').slice(2, 4);
const lead = sites.find(({ name }) => name.startsWith('gannet'));
const older = modelOf(readSystemFile(lead?.text ?? largest.text).file);
const ms = (value: number) => `${value.toFixed(value < 10 ? 2 : 0)} ms`;

/** Median of many runs, the first ones thrown away. */
function median(act: () => unknown, runs: number) {
  for (let i = 0; i < runs / 5; i++) act();
  const times = Array.from({ length: runs }, () => {
    const from = performance.now();
    act();
    return performance.now() - from;
  }).sort((a, b) => a - b);
  return times[Math.floor(runs / 2)] ?? NaN;
}

const gannet = readSystemFile(lead?.text ?? largest.text).file;
const built = modelOf(gannet, gannet.proposals?.[0]?.id);
rows.push([
  'order of work of the largest proposal (gannet-ledge): steps, kit, cuts',
  ms(median(() => workOf(older, built, DEMO_SHELF as never), 60)),
  'under 20 ms',
]);
rows.push([
  'what a meter should read at that site, bands and all',
  ms(median(() => expectedTests(older), 20)),
  'in a worker',
]);
rows.push([
  `check of the largest demo site (${largest.name})`,
  ms(median(() => check(model), 300)),
  'under 5 ms warm, the whole rule book',
]);
rows.push([
  'the same with all remedies, each verified',
  ms(median(() => checkWithRemedies(model), 30)),
  'under 100 ms',
]);
rows.push(...benchYear(older, 'gannet-ledge'));
const plate = model.system.moduleTypes?.[0];
if (plate) {
  const light = (row: number, column: number) =>
    row === 0 && column === 1 ? 300 : row === 2 && column === 2 ? 50 : 1000;
  const shaded = Array.from({ length: 4 }, (_, row) =>
    Array.from({ length: 3 }, (__, column) => ({ module: plate, irradiance_W_m2: light(row, column), cell_C: 45 })),
  );
  rows.push(['curve of 3 x 4 modules with shade, 400 points', ms(median(() => arrayCurve(shaded), 60)), 'under 10 ms']);
}
rows.push(['headroom of the same site, both ladders', ms(median(() => headroom(model), 3)), 'under 1 s, in a worker']);
rows.push([
  'headroom of sixteen modules over two controllers (gannet-ledge)',
  ms(median(() => headroom(older), 3)),
  'under 1 s, in a worker',
]);
rows.push([
  'all remedies of the site with most over (gannet-ledge), each verified',
  ms(median(() => checkWithRemedies(older), 10)),
  'under 100 ms a finding that is opened',
]);
rows.push([
  'layouts of 8 modules over two controllers and one more',
  ms(median(() => layouts(older, 8, offered.slice(0, 1)), 3)),
  'under 1 s, in a worker',
]);
const packs = DEMO_SHELF.filter(({ kind, body }) => kind === 'bank' && body.chemistry === 'lfp');
const [pack] = convert(older, packs).options;
if (pack)
  rows.push([
    'a whole conversion, the shelf asked for every part (gannet-ledge)',
    ms(median(() => wholeConversion(older, pack, DEMO_SHELF), 3)),
    'in a worker',
  ]);
rows.push(['flips of the same site', ms(median(() => flips(model), 10)), 'in a worker']);
const more = (presentModules(model)?.count ?? 0) + 2;
rows.push([`layouts of ${more} modules`, ms(median(() => layouts(model, more), 10)), 'in a worker']);
rows.push([
  'the same over one more of two controllers',
  ms(median(() => layouts(model, more, offered), 3)),
  'in a worker',
]);
const [first] = model.system.controllers ?? [];
if (first) {
  rows.push([
    "a controller's least specification",
    ms(median(() => specify(model, first.id), 60)),
    'under 50 ms, on the screen',
  ]);
  const spec = specify(model, first.id);
  if (spec)
    rows.push([
      'the whole shelf tried in its place',
      ms(median(() => candidates(model, spec, DEMO_SHELF), 5)),
      'in a worker',
    ]);
}
rows.push(['interim limits by search', ms(median(() => interim(model), 5)), 'in a worker']);
rows.push(['a step up in voltage, every part judged', ms(median(() => raiseVoltage(older, 48), 5)), 'in a worker']);
rows.push(['reading and validating that file', ms(median(() => readSystemFile(largest.text), 50)), '']);

const rowsOfLargest = toRows(readSystemFile(largest.text).file, () => '');
const controller = rowsOfLargest.find(({ kind }) => kind === 'controllers');
if (controller)
  rows.push([
    'one key typed in an open field: part judged, site checked',
    ms(
      median(() => {
        partFaults(controller.kind, controller.body);
        return check(modelOf(fromRows(rowsOfLargest)));
      }, 100),
    ),
    'under 16 ms on the screen\u2019s thread',
  ]);

const named = (name: string) =>
  readSystemFile(sites.find((site) => site.name.startsWith(name))?.text ?? largest.text).file;
for (const [what, time, target] of await benchService(median, {
  raft: named('whelk'),
  lead: gannet,
  van: named('ringlet'),
}))
  rows.push([what, ms(time), target]);
rows.push([
  'a bank of sixteen batteries put on the Line from the shelf',
  '6 taps, no keystroke',
  'counted by e2e/record.spec.ts',
]);
rows.push(['an array of twelve modules, likewise', '6 taps, no keystroke', 'counted by e2e/record.spec.ts']);

const js = 'client/dist/_expo/static/js/web';
if (existsSync(js)) {
  const html = readFileSync('client/dist/index.html', 'utf8');
  const first = new Set([...html.matchAll(/\/_expo\/static\/js\/web\/([^"]+\.js)/g)].map(([, name]) => name ?? ''));
  const size = [...first].reduce((sum, name) => sum + gzipSync(readFileSync(`${js}/${name}`)).length, 0);
  rows.push([
    'gzipped JavaScript of the first screen',
    `${Math.round(size / 1000)} kB`,
    'under 560 kB (the bare stack: 403 kB)',
  ]);
  const [rest] = readdirSync(js).filter((name) => name.startsWith('stages-'));
  if (rest)
    rows.push([
      'what is fetched behind it: every other screen',
      `${Math.round(gzipSync(readFileSync(`${js}/${rest}`)).length / 1000)} kB`,
      '',
    ]);
}

const cli = await timed('node', ['tools/lantern.mjs', 'check', `${folder}/${largest.name}`]);
rows.push(['one call of `lantern check`, process and all', ms(cli), 'under 1.5 s']);
rows.push(['second `npm run demo` to the first answer', ms(await secondDemo()), 'under 10 s']);

const postgres = await startPostgres('bench-pg', { throwaway: true });
try {
  postgres.ensureDatabase('bench');
  for (const { what, ms: time, target } of await benchServer(postgres.url('bench')))
    rows.push([what, ms(time), target]);
  postgres.ensureDatabase('live');
  for (const { what, ms: value, target } of await benchLive(postgres.url('live'), postgres.psql))
    rows.push([what, / a second, by/.test(what) ? String(Math.round(value)) : ms(value), target]);
} finally {
  postgres.stop();
}

const table = ['| what | measured | target |', '|---|---|---|', ...rows.map((row) => `| ${row.join(' | ')} |`)].join(
  '\n',
);
console.log(table);
// What `npm run mutate` and the count of taps have written stays.
const [, ...kept] = readFileSync('docs/bench.md', 'utf8').split(/\n(?=## )/);
const scores = kept.join('\n');
writeFileSync(
  'docs/bench.md',
  `# Measures\n\nPrinted and kept by \`npm run bench\`, on two cores and Node ${process.versions.node}. Medians where there are many runs.\n\n${table}\n${scores && `\n${scores}`}`,
);

function timed(command: string, args: string[]): Promise<number> {
  const from = performance.now();
  return new Promise((resolve) =>
    spawn(command, args, { stdio: 'ignore' }).once('exit', () => resolve(performance.now() - from)),
  );
}

/** Starts the demo, stops it, and times the second start; it is stopped again by its own process id. */
async function secondDemo(): Promise<number> {
  const port = '4396';
  const up = async () => {
    const from = performance.now();
    const child = spawn('npm', ['run', 'demo'], {
      stdio: 'ignore',
      env: { ...process.env, PORT: port },
      detached: true,
    });
    for (;;) {
      if (
        await fetch(`http://127.0.0.1:${port}/api/health`).then(
          ({ ok }) => ok,
          () => false,
        )
      )
        break;
      if (child.exitCode !== null) return NaN;
      await new Promise((resolve) => setTimeout(resolve, 50));
    }
    const time = performance.now() - from;
    process.kill(-(child.pid ?? 0), 'SIGINT');
    await new Promise((resolve) => child.once('exit', resolve));
    return time;
  };
  await up();
  return up();
}
