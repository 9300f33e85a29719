import corrach from '../../demo/sites/corrach-bothy.lantern.json';
import { modelOf, type SystemFile } from '../src/index';
import { practice, type Level } from '../src/faults/practice';

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
    expect.stringMatching(/^Never part a PV plug/),
    expect.stringMatching(/^There is nothing to read/),
  ]);
  expect([minutes, read]).toEqual([0, []]);
});
test('an answer is told beside the truth and the best way: each step with what was likeliest then', () => {
  const wrong = ask(4, 1, ['gel.rest_V'], 'parasitic@site').answered!;
  const { hypothesis, subject } = wrong.truth;
  expect(wrong.right).toBe(false);
  expect(ask(4, 1, [], `${hypothesis}@${subject}`).answered!.right).toBe(true);
  expect(wrong.yours).toHaveLength(1);
  expect(wrong.best.length).toBeGreaterThan(0);
  expect(wrong.best.at(-1)).toMatchObject({ hypothesis, subject });
  expect(wrong.bestMinutes).toBe(wrong.best.at(-1)!.minutes);
});
test('the first level hides something that can be seen; the fourth two faults and a misread value', () => {
  for (let seed = 1; seed <= 3; seed++) {
    const { truth } = ask(seed, 1, [], 'none@site').answered!;
    expect(truth.hypothesis).not.toBe('nothing-wrong');
    expect(truth.and).toBeUndefined();
    expect(truth.misread).toBeUndefined();
  }
  expect(ask(2, 4, [], 'none@site').answered!.truth.misread).toBeDefined();
});
