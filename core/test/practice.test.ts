import corrach from '../../demo/sites/corrach-bothy.lantern.json';
import { check, faultsOf, madeUpFor, modelOf, overOf, type SystemFile } from '../src/index';
import { MADE_UP } from '../src/faults/made-up';
import { hiddenIn, practice, type Level } from '../src/faults/practice';

/** A hidden fault: the same seed hides the same one, and nothing unsafe is answered. */

const hut = modelOf(corrach as unknown as SystemFile);
const ask = (seed: number, level: Level, read: string[] = [], answer: string | null = null) =>
  practice(hut, { seed, level, read, answer });

test('the same seed hides the same fault and answers each reading alike, in whatever order it is asked', () => {
  const there = ask(4, 1, ['gel.rest_V', 'r-inv.drop_V']);
  const back = ask(4, 1, ['r-inv.drop_V', 'gel.rest_V']);
  expect(back.read.map(({ value }) => value).reverse()).toEqual(there.read.map(({ value }) => value));
  expect(there.minutes).toBe(there.read.reduce((sum, { minutes }) => sum + minutes, 0));
  expect(ask(5, 1, ['r-inv.drop_V']).read[0]!.value).not.toBe(there.read[1]!.value);
  expect(there.practice).toBe(true);
  // The answer is not given away before it is asked for.
  expect(there.answered).toBeUndefined();
});
test('resistance on a live bank and a plug under load are stopped with the reason, and cost no minute', () => {
  const { stopped, minutes, read } = ask(4, 1, ['gel.ohm', 'roof.unplug', 'gel.nothing']);
  expect(stopped.map(({ why }) => why)).toEqual([
    expect.stringMatching(/^Never measure resistance/),
    expect.stringMatching(/^Never unplug a PV connector under load/),
    expect.stringMatching(/^This site has no such reading/),
  ]);
  expect([minutes, read]).toEqual([0, []]);
});
test('an answer is told beside the truth and the best way: each step with what was likeliest then', () => {
  const { first } = hiddenIn(hut, 4, 1);
  const told = ask(4, 1, [], `${first.code}@${first.subject}`).answered!;
  expect(told).toMatchObject({ right: true, truth: { hypothesis: first.code, subject: first.subject }, yours: [] });
  expect(told.best.length).toBeGreaterThan(0);
  expect(told.best.at(-1)).toMatchObject({ hypothesis: first.code, subject: first.subject });
  expect(told.bestMinutes).toBe(told.best.at(-1)!.minutes);
  // A step of the best way says what it tells apart, with both figures, and they differ; where the likeliest causes would
  // all show the same, nothing is claimed.
  const why = told.best.flatMap((step) => step.why ?? []);
  expect(why.length).toBeGreaterThan(0);
  for (const text of why) {
    const [, one, other] = /^In \d+ min it tells .+ \(about (.+)\) from .+ \(about (.+)\)\.$/.exec(text) ?? [];
    expect(one).toBeDefined();
    expect(one).not.toBe(other);
  }
  expect(told.yours.every(({ why }) => why === undefined)).toBe(true);
}, 60_000);
test.each(MADE_UP.map((file): [string, SystemFile] => [file.site.name, file]))(
  'a made-up site to practise on is sound, and hides a fault of its own: %s',
  (_, file) => {
    const model = modelOf(file);
    expect(overOf(check(model))).toEqual([]);
    const { complaint, canRead } = practice(model, { seed: 3, level: 1, read: [], answer: null });
    expect([complaint.length > 0, canRead.length > 5]).toEqual([true, true]);
  },
);
test('the made-up site of a number is always the same, and all of them come', () => {
  expect(madeUpFor(7)).toBe(madeUpFor(7));
  expect(new Set([1, 2, 3].map(madeUpFor)).size).toBe(3);
});
test('chances alone are the same chances', () => {
  const file = modelOf(corrach as unknown as SystemFile);
  const [all, alone] = [faultsOf(file, []), faultsOf(file, [], { chancesOnly: true })];
  expect(alone.ranking).toEqual(all.ranking);
  expect([alone.next, alone.alike]).toEqual([[], []]);
  expect(all.next.length).toBeGreaterThan(3);
});
test('the first level hides something that can be seen; the fourth has a misread value among its readings', () => {
  for (let seed = 1; seed <= 20; seed++) {
    const plain = hiddenIn(hut, seed, 1);
    expect(['nothing-wrong', 'bank-full', 'misread']).not.toContain(plain.first.code);
    expect([plain.second, plain.misread]).toEqual([null, null]);
    expect(hiddenIn(hut, seed, 4).misread).not.toBeNull();
  }
});
