import {
  check,
  checkWithRemedies,
  firstCures,
  keyOf,
  modelOf,
  readSystemFile,
  SCHOOLS,
  type Model,
} from '../src/index';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';

const demo = (name: string): Model =>
  modelOf(readSystemFile(readFileSync(join(__dirname, '../../demo/sites', `${name}.lantern.json`), 'utf8')).file);

describe('the first cure of each root', () => {
  const model = demo('gannet-ledge');
  const findings = check(model);
  const cures = firstCures(model, findings);
  test('one fuse at the posts is the cure of all that the bank\u2019s short circuit is too much for', () => {
    const interrupt = cures.find(({ key }) => key.startsWith('run.interrupt|'))!;
    expect(interrupt.title).toMatch(/^A class T fuse of \d+ A at the post of each string$/);
    expect([interrupt.cures, interrupt.of]).toEqual([4, 4]);
  });
  test('it is the first of the remedies that are offered where the finding is opened', () => {
    const remedied = new Map(checkWithRemedies(model).map((finding) => [keyOf(finding), finding.remedies]));
    for (const { key, title, cures: count, of } of cures) {
      expect(remedied.get(key)?.[0]?.title).toBe(title);
      expect(count).toBeGreaterThanOrEqual(1);
      expect(count).toBeLessThanOrEqual(of);
    }
    // Roots that nothing cures are left out, none stands twice.
    expect(new Set(cures.map(({ key }) => key)).size).toBe(cures.length);
    const loud = findings.filter(({ verdict }) => verdict === 'over' || verdict === 'tight');
    expect(cures.length).toBeLessThanOrEqual(loud.length);
  });
  test('a sound system has none', () => {
    const sound = demo('whelk-bank');
    expect(
      firstCures(
        sound,
        check(sound).filter(({ verdict }) => verdict === 'over'),
      ),
    ).toEqual([]);
  });
});

test('the answers of the schools, as practitioners give them', () => {
  const answers = Object.fromEntries(SCHOOLS.map(({ path, choices }) => [path, choices.map(([value]) => value)]));
  expect(answers.leadDepth).toEqual([0.3, 0.5, 0.8]);
  expect(answers.lithiumDepth).toEqual([0.8, 0.9, 1]);
  expect(answers.chargeMin).toEqual(['C10', 'C20']);
  expect(answers['drop_pct.pv']).toEqual([2, 3]);
  expect(answers['drop_pct.battery']).toEqual([1, 2, 3]);
  expect(answers['drop_pct.dc']).toEqual([3, 5]);
  expect(answers.sourceEnd_m).toEqual([0, 0.18, 0.45]);
});
