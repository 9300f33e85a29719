import { join } from 'node:path';
import {
  check,
  checkSystemFile,
  FaultError,
  fromRows,
  modelOf,
  readSystemFile,
  sentenceOf,
  toRows,
  writeSystemFile,
  type Finding,
} from '../src/index';
import { filesIn, mutated, numbers } from './mutated-files';
import { runs } from './runs';

const folder = join(__dirname, '../../demo/sites');
const SOUND = filesIn(folder).map(([, file]) => file);
const SEED = Number(process.env.FUZZ_SEED ?? 20261126);
const FILES = Number(process.env.FUZZ_FILES ?? runs(1000));

/** What no person may ever read in a finding. */
const NONSENSE = /NaN|Infinity|undefined|null|\[object|(^|[\s(=])\?/;
function nonsenseIn(value: unknown, path: string): string[] {
  if (typeof value === 'number') return Number.isFinite(value) ? [] : [`${path} is ${value}`];
  if (typeof value === 'string') return NONSENSE.test(value) ? [`${path}: ${value}`] : [];
  if (value === null || typeof value !== 'object') return [];
  return Object.entries(value).flatMap(([key, member]) => nonsenseIn(member, `${path}.${key}`));
}
const said = (finding: Finding, sentence: string) =>
  nonsenseIn({ ...finding, sentence }, `${finding.rule} ${finding.subject}`).filter(
    (text) => !text.includes('missing'),
  );

test(`${FILES} files gone wrong: refused with a path, or judged in figures that mean something`, () => {
  const next = numbers(SEED);
  let judged = 0;
  const wrong: string[] = [];
  for (let n = 0; n < FILES && wrong.length < 10; n++) {
    const sound = SOUND[n % SOUND.length]!;
    const file = mutated(sound, next);
    const name = `file ${n} of seed ${SEED}`;
    try {
      const { file: read } = checkSystemFile(file);
      judged += 1;
      const model = modelOf(read);
      for (const finding of check(model))
        for (const text of said(finding, sentenceOf(model, finding))) wrong.push(`${name}: ${text}`);
      for (const proposal of read.proposals ?? []) check(modelOf(read, proposal.id));
      // Written and read again, and taken apart and put together, it is the same.
      const text = writeSystemFile(read);
      expect(readSystemFile(text).file).toEqual(read);
      let id = 0;
      const again = writeSystemFile(fromRows(toRows(read, () => `row ${id++}`)));
      if (again !== text) wrong.push(`${name}: rows change it`);
    } catch (error) {
      if (!(error instanceof FaultError)) wrong.push(`${name}: ${(error as Error).stack?.slice(0, 300)}`);
      else if (error.faults.length === 0 || error.faults.some(({ path, message }) => !path || !message))
        wrong.push(`${name}: a fault without a path`);
    }
  }
  expect(wrong).toEqual([]);
  // Not so wrong that nothing of it was judged.
  expect(judged).toBeGreaterThan(FILES / 20);
});
