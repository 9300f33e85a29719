import { readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { parseArgs } from 'node:util';
import { availableParallelism } from 'node:os';
import { isMainThread, parentPort, Worker } from 'node:worker_threads';
import { FaultError, modelOf, readSystemFile, yearStory } from '@true-lantern/core';

/**
 * `npm run -s years -- FOLDER [--years 200] [--seed 1] [--out FILE.csv] [--workers N]`: who goes dark this winter? Every
 * system file of a folder over many weathers, one thread a core, a line a site. A site's years are worked out by one thread
 * from its own seed, so the table is the same for one thread and for many; one that cannot be worked out says why.
 */
const HEAD =
  'site,file,dark_years_pct,worst_month,dark_worst_month_pct,unserved_kWh,generator_h,generator_L,unused_kWh,clipped_kWh,bank_life_y,lacks';
const MONTHS = 'Jan Feb Mar Apr May Jun Jul Aug Sep Oct Nov Dec'.split(' ');

interface Task {
  at: number;
  path: string;
  years: number;
  seed: number;
}
type Answer = { at: number; line: string };

const quoted = (text: string) => (/[",\n]/.test(text) ? `"${text.replace(/"/g, '""')}"` : text);

/** One site's line. What a spreadsheet would take for a formula is kept a text. */
function lineOf({ path, years, seed }: Task): string {
  const name = path.split('/').at(-1) ?? path;
  try {
    const { file } = readSystemFile(readFileSync(path, 'utf8'));
    const site = /^[=+\-@]/.test(file.site.name) ? `'${file.site.name}` : file.site.name;
    try {
      const story = yearStory(modelOf(file), { kind: 'seeded', seed }, years);
      const worst = story.darkMonths.reduce(
        (worst, chance, month, all) => (chance > (all[worst] ?? 0) ? month : worst),
        0,
      );
      const { unserved_kWh, generator_h, generator_L, unused_kWh, clipped_kWh } = story.totals;
      const figures = [unserved_kWh, generator_h, generator_L, unused_kWh, clipped_kWh, story.life_y];
      return [
        quoted(site),
        quoted(name),
        (100 * story.darkYears).toFixed(1),
        story.darkYears > 0 ? MONTHS[worst] : '',
        (100 * (story.darkMonths[worst] ?? 0)).toFixed(1),
        ...figures.map((figure) => figure.toFixed(1)),
        '',
      ].join(',');
    } catch (error) {
      if (!(error instanceof FaultError)) throw error;
      return `${quoted(site)},${quoted(name)},,,,,,,,,,${quoted(error.faults.map(({ path: at }) => at).join(' '))}`;
    }
  } catch (error) {
    if (!(error instanceof FaultError)) throw error;
    return `,${quoted(name)},,,,,,,,,,${quoted(error.faults.map(({ path: at, message }) => `${at} ${message}`).join('; '))}`;
  }
}

if (!isMainThread) {
  parentPort?.on('message', (task: Task) =>
    parentPort?.postMessage({ at: task.at, line: lineOf(task) } satisfies Answer),
  );
} else await main();

async function main(): Promise<void> {
  const { values, positionals } = parseArgs({
    allowPositionals: true,
    options: {
      years: { type: 'string', default: '200' },
      seed: { type: 'string', default: '1' },
      out: { type: 'string' },
      workers: { type: 'string', default: String(availableParallelism()) },
    },
  });
  const [folder] = positionals;
  const [years, seed, workers] = [Number(values.years), Number(values.seed), Number(values.workers)];
  const whole = (value: number, most: number) => Number.isInteger(value) && value >= 1 && value <= most;
  if (!folder || !whole(years, 10_000) || !Number.isInteger(seed) || !whole(workers, 64)) {
    process.stderr.write(
      'expected: npm run -s years -- FOLDER [--years 200] [--seed 1] [--out FILE.csv] [--workers N]\n',
    );
    process.exit(2);
  }
  const paths = readdirSync(folder)
    .filter((name) => name.endsWith('.lantern.json'))
    .sort()
    .map((name) => join(folder, name));
  if (paths.length === 0) {
    process.stderr.write(`${folder}: holds no *.lantern.json, expected system files\n`);
    process.exit(2);
  }
  const lines = new Array<string>(paths.length);
  const from = performance.now();
  let next = 0;
  let done = 0;
  await Promise.all(
    Array.from(
      { length: Math.min(workers, paths.length) },
      () =>
        new Promise<void>((resolve, reject) => {
          const worker = new Worker(new URL(import.meta.url));
          const give = () => {
            const path = paths[next];
            if (path === undefined) return void worker.terminate().then(() => resolve());
            worker.postMessage({ at: next++, path, years, seed } satisfies Task);
          };
          worker.on('message', ({ at, line }: Answer) => {
            lines[at] = line;
            done += 1;
            if (process.stderr.isTTY) process.stderr.write(`\r${done} of ${paths.length}`);
            give();
          });
          worker.on('error', reject);
          give();
        }),
    ),
  );
  const table = `${[HEAD, ...lines].join('\n')}\n`;
  if (values.out) writeFileSync(values.out, table);
  else process.stdout.write(table);
  const seconds = (performance.now() - from) / 1000;
  process.stderr.write(
    `\n${paths.length} sites x ${years} years in ${seconds.toFixed(1)} s: ${((1000 * seconds) / paths.length).toFixed(0)} ms a site\n`,
  );
}
