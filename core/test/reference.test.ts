import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { check, modelInState, modelOf, readSystemFile, type Finding } from '../src/index';

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
