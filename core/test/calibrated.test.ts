import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { modelOf, readSystemFile, type Reading } from '../src/index';
import { createEngine } from '../src/faults/engine';
import { placed } from '../src/faults/placed';
import { weigh, type Weighed } from '../src/faults/weigh';

const { file } = readSystemFile(readFileSync(join(__dirname, '../../demo/sites/corrach-bothy.lantern.json'), 'utf8'));
const site = modelOf(file);
const drop: Reading = {
  id: 'drop',
  at: '2026-11-02T10:00:00Z',
  subject: 'r-inv',
  quantity: 'drop_V',
  value: 0.6,
  conditions: { current_A: 60 },
};
const causes = (ranked: readonly Weighed[], of: 'plain' | 'probability') => {
  const sums = new Map<string, number>();
  for (const one of ranked) {
    const key = `${one.candidate.code} ${one.candidate.subject}`;
    sums.set(key, (sums.get(key) ?? 0) + one[of]);
  }
  return sums;
};

describe('chances are calibrated', () => {
  test('with nothing read they are the priors, untouched', () => {
    const { ranked } = weigh(createEngine(site), []);
    for (const { plain, probability } of ranked) expect(probability).toBe(plain);
  });
  test('with readings two causes stand to each other as the power 1.6 of what they stood', () => {
    const { ranked } = weigh(createEngine(site), placed([drop], null));
    const [plain, said] = [causes(ranked, 'plain'), causes(ranked, 'probability')];
    const [first, second] = [...plain].sort((a, b) => b[1] - a[1]).map(([key]) => key);
    const ratio = (sums: Map<string, number>) => sums.get(first!)! / sums.get(second!)!;
    expect(ratio(said)).toBeCloseTo(ratio(plain) ** 1.6, 6);
    expect([...said.values()].reduce((sum, one) => sum + one, 0)).toBeCloseTo(1, 9);
  });
  test('the order of the causes stays, and within one cause its places keep their shares', () => {
    const { ranked } = weigh(createEngine(site), placed([drop], null));
    const order = (of: 'plain' | 'probability') =>
      [...causes(ranked, of)]
        .sort((a, b) => b[1] - a[1])
        .map(([key]) => key)
        .slice(0, 8);
    expect(order('probability')).toEqual(order('plain'));
    const key = ({ candidate: { code, subject } }: Weighed) => `${code} ${subject}`;
    const several = ranked.filter((one) => ranked.filter((other) => key(other) === key(one)).length > 1);
    expect(several.length).toBeGreaterThan(1);
    const [a] = several;
    const b = several.find((one) => one !== a && key(one) === key(a!))!;
    expect(b.probability / a!.probability).toBeCloseTo(b.plain / a!.plain, 6);
  });
});
