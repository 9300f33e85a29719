import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { check, checkSteps, modelOf, readSystemFile, type Model } from '../src/index';
import { lightSteps } from '../src/roof/kept-hours';
import { RULES } from '../src/rules';
import { hut } from './hut';

/** A check in steps leaves everything as it is, and is as long as the check. */

const demo = (name: string): Model =>
  modelOf(readSystemFile(readFileSync(join(__dirname, `../../demo/sites/${name}.lantern.json`), 'utf8')).file);
const cases = (model: Model) => RULES.reduce((sum, rule) => sum + [...rule.cases(model)].length, 0);

test.each(['ringlet-van', 'corrach-bothy'])(
  '%s: a step a roof, then a step a case; the findings are the same',
  (name) => {
    const model = demo(name);
    const before = JSON.stringify(model);
    const roofs = [...lightSteps(model)].length;
    expect([...checkSteps(model)]).toHaveLength(roofs + cases(model));
    expect(JSON.stringify(model)).toBe(before);
    expect(check(model)).toEqual(check(demo(name)));
  },
);
test('the van has light on a roof to work out, a hut without a roof none', () => {
  expect([...lightSteps(demo('ringlet-van'))].length).toBeGreaterThan(0);
  expect([...lightSteps(hut())]).toEqual([]);
});
test('a roof whose shade is not known is left to the check, which names what lacks', () => {
  const model = demo('ringlet-van');
  for (const type of model.system.moduleTypes ?? []) type.length_mm = null;
  expect([...lightSteps(model)]).toEqual([]);
});
