import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { check, modelInState, modelOf, readSystemFile, sentenceOf, type Finding } from '../src/index';

/** Systems with figures that were worked out apart from this program: docs/format/reference. */

type Expected = Pick<Finding, 'rule' | 'subject' | 'quantity' | 'verdict' | 'demand' | 'limit' | 'unit' | 'use'>;

const folder = join(__dirname, '../../docs/format/reference');
const read = (name: string) => readFileSync(join(folder, name), 'utf8');
const named = ({ rule, subject, quantity }: Expected) => `${rule} ${subject} ${quantity ?? ''}`;
/** Two ways to add up a month's sun differ a little more than two ways to add up ohms. */
const tolerance = (rule: string) => (rule.startsWith('energy.') || rule === 'inverter.idle' ? 0.02 : 0.01);

const cases = readdirSync(folder).flatMap((name): [string, string, string][] => {
  const found = /^([a-z0-9-]+)(?:\.(state-)?([a-z0-9]+))?\.expected\.json$/.exec(name);
  return found ? [[name, found[1] ?? '', `${found[2] ?? ''}${found[3] ?? ''}`]] : [];
});

test('there are eight of them', () => expect(cases).toHaveLength(8));

const REFERENCE = cases.map(([name, system, variant]) => ({ name, system, variant }));
test('what is let off says why: tight is never worded as over', () => {
  const said = REFERENCE.flatMap(({ system, variant }) => {
    const { file } = readSystemFile(read(`${system}.lantern.json`));
    const model = modelOf(file, variant === 'p1' ? variant : undefined);
    return check(model)
      .filter(({ verdict, use, demand }) => verdict === 'tight' && demand !== null && (use ?? 2) > 1)
      .map((finding): [string, boolean] => [`${system} ${named(finding)}`, sentenceOf(model, finding).includes(': ')]);
  });
  expect(said.length).toBeGreaterThan(20);
  expect(said.filter(([, why]) => !why)).toEqual([]);
  // What is over has no excuse, and what is near its limit wants none.
  const { file } = readSystemFile(read('posts.lantern.json'));
  const model = modelOf(file);
  const excused = check(model)
    .filter(({ verdict, use }) => verdict === 'over' || verdict === 'holds' || (verdict === 'tight' && (use ?? 2) <= 1))
    .map((finding) => sentenceOf(model, finding))
    .filter((text) => /stands in between|read its sheet|are not yet harmed|is borne|makes up the rest/.test(text));
  expect(excused).toEqual([]);
});

test('a file of the first format means what it meant', () => {
  const { file, warnings } = readSystemFile(
    readFileSync(join(folder, '../example-12v-mountain-hut.lantern.json'), 'utf8'),
  );
  expect(warnings).toEqual([]);
  for (const list of ['switches', 'states'] as const) expect(file.system?.[list]).toBeUndefined();
  // No source is an alternator, no inverter has a group: what was summed is summed, and nothing hangs on a state.
  const found = check(modelOf(file));
  expect(found.some(({ rule }) => rule === 'switch.rating' || rule === 'alternator.load')).toBe(false);
  expect(found.filter(({ rule }) => rule.startsWith('run.')).length).toBeGreaterThan(5);
});

describe.each(cases)('%s', (name, system, variant) => {
  const { file } = readSystemFile(read(`${system}.lantern.json`));
  const state = /^state-(.*)$/.exec(variant)?.[1];
  const model = modelOf(file, variant && !state ? variant : undefined);
  const found = check(state ? modelInState(model, state) : model);
  const { findings } = JSON.parse(read(name)) as { findings: Expected[] };

  test('the same findings, no more and no fewer', () =>
    expect(found.map(named).sort()).toEqual(findings.map(named).sort()));

  test.each(findings.map((one): [string, Expected] => [named(one), one]))('%s', (key, expected) => {
    const mine = found.find((one) => named(one) === key);
    expect([mine?.verdict, mine?.unit]).toEqual([expected.verdict, expected.unit]);
    for (const figure of ['demand', 'limit', 'use'] as const) {
      const [got, wanted] = [mine?.[figure] ?? null, expected[figure]];
      if (got === null || wanted === null) expect([figure, got]).toEqual([figure, wanted]);
      else expect(Math.abs(got - wanted)).toBeLessThanOrEqual(tolerance(expected.rule) * Math.abs(wanted) + 1e-9);
    }
  });
});
