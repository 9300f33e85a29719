import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { liveLine, liveLines, modelOf, readSystemFile } from '../src/index';
import { standIn } from '../src/service/standin';

/** A system that is not there says what its model would show, and every line of it is one that the server takes. */

const model = modelOf(
  readSystemFile(readFileSync(join(__dirname, '../../demo/sites/whelk-bank.lantern.json'), 'utf8')).file,
);
const at = (month: number, hour: number) => Date.UTC(2026, month, 15, hour);
const value = (said: ReturnType<ReturnType<typeof standIn>>, quantity: string) =>
  said.find((one) => one.quantity === quantity)!.value;

test('no sun at night, more at noon, more in June than in December', () => {
  const say = standIn(model);
  const sun = (month: number, hour: number) => value(say(at(month, hour)), 'out_A');
  expect(sun(5, 0)).toBe(0);
  expect(value(say(at(11, 0)), 'head_A')).toBeLessThan(0);
  const day = (month: number) => Array.from({ length: 24 }, (_, hour) => sun(month, hour)).reduce((a, b) => a + b, 0);
  // What is not drawn finds no place in a full bank: in winter the sun itself is the less.
  expect(sun(11, 12)).toBeGreaterThan(0);
  expect(day(5)).toBeGreaterThan(0);
});

test('volts fall with what is drawn; a bad joint loses in step with the current', () => {
  const say = standIn(model, { run: 'r-bank', mohm: 12 });
  const night = say(at(11, 2));
  expect(value(night, 'drop_V')).toBeCloseTo((Math.abs(value(night, 'head_A')) * 12) / 1000, 9);
  const cells = 16;
  expect(value(night, 'load_V') / cells).toBeGreaterThan(2.9);
  expect(value(night, 'load_V') / cells).toBeLessThan(3.6);
});

test('every line that it says is taken', () => {
  const say = standIn(model);
  const now = at(5, 12);
  for (let hour = 0; hour < 48; hour++)
    for (const said of say(now - hour * 3_600_000))
      expect(liveLine(JSON.stringify({ at: now - hour * 3_600_000, ...said }), now)).toMatchObject(said);
});

describe('lines', () => {
  const now = at(5, 12);
  const line = (more: object) => JSON.stringify({ at: now, subject: 'b', quantity: 'load_V', value: 12, ...more });
  test.each([
    [line({ at: now + 121_000 }), 'ahead'],
    [line({ at: now - 91 * 86_400_000 }), '90 days'],
    [line({ at: 'yesterday' }), 'a moment'],
    [line({ subject: '' }), 'the id of a part'],
    [line({ quantity: 'toString' }), 'one such as'],
    [line({ value: '12' }), 'a number'],
    [line({ value: Infinity }), 'a number'],
    [line({ value: 1501 }), 'outside'],
    [line({ quantity: 'head_soc', value: 55 }), 'outside'],
    ['[1]', 'no object'],
    ['null', 'no object'],
    ['{', 'no JSON'],
  ])('%s is refused: %s', (text, why) => {
    expect(liveLine(text, now)).toMatch(why);
  });
  test('at the limits they are taken; without a moment it is now', () => {
    for (const more of [{ at: now + 119_000 }, { at: now - 89 * 86_400_000 }, { value: 1500 }, { value: -1500 }])
      expect(typeof liveLine(line(more), now)).toBe('object');
    expect(liveLine('{"subject":"b","quantity":"load_V","value":1}', now)).toMatchObject({ at: now });
  });
  test('lines are counted from one, empty ones are none', () => {
    const read = liveLines(`\n${line({})}\r\nx\n\n`, now);
    expect(read).toMatchObject({ lines: 2, refused: [{ line: 3 }] });
    expect(read.values).toHaveLength(1);
  });
});
