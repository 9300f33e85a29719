import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import {
  checkWithRemedies,
  convert,
  inOwnUnits,
  inUnits,
  interim,
  METRIC,
  modelOf,
  pretty,
  readSystemFile,
  sentenceOf,
  shownUnit,
  toShown,
  type Units,
} from '@true-lantern/core';

const IMPERIAL: Units = { length: 'ft', small: 'in', mass: 'lb', temperature: 'degF', size: 'AWG' };
/** A figure and its unit stay on one line: a hard space, which is read as any other. */
const own = (text: string, units = IMPERIAL) => inOwnUnits(text, units).replace(/\u00a0/g, ' ');

describe('a sentence in the units of whoever reads it', () => {
  test('degrees in whole ones, below nought too', () => {
    expect(own('The bank gets up to 24 degC; 40 degC is the most.')).toBe(
      'The bank gets up to 75 degF; 104 degF is the most.',
    );
    expect(own('it freezes at -23 degC; coldest -40 degC')).toBe('it freezes at -9 degF; coldest -40 degF');
    expect(own('hot cell 62.25 degC: 3 x 45.1 V at -0.28 %/K = 121.2 V')).toBe(
      'hot cell 144 degF: 3 x 45.1 V at -0.28 %/K = 121.2 V',
    );
  });
  test('lengths in feet, below a metre in inches: 0.3048 m and 25.4 mm to one', () => {
    expect(own('6 m one way')).toBe('19.7 ft one way');
    expect(own('sits 0.2 m from its source; 0.18 m is the most.')).toBe(
      'sits 7.87 in from its source; 7.09 in is the most.',
    );
    expect(own('1 m of it')).toBe('3.28 ft of it');
    expect(own('no spark within 347.7 mm of a vent')).toBe('no spark within 13.7 in of a vent');
    expect(own('coil of 1,200 m')).toBe('coil of 3937 ft');
  });
  test('weights in pounds, openings in square inches', () => {
    expect(own('weighs 52 kg where the floor bears 40 kg')).toBe('weighs 115 lb where the floor bears 88.2 lb');
    expect(own('two openings of 14.8 cm2 each')).toBe('two openings of 2.29 in2 each');
  });
  test('what is a unit of something else, a size of a cable or a name is left alone', () => {
    const left = [
      'Controller to bank, 16 mm2 is asked for 18.8 A.',
      '16mm2 takes the table’s 6 AWG',
      '1.15 mohm/m at 20 %, 800 W/m2, 25 K above',
      'Brackwell T60-150 m: 5 min',
      'mounted in room 4 by 12 V',
      '28 x Q, 10 cm2/A',
    ];
    for (const text of left) expect(own(text)).toBe(text);
  });
  test('a metric reader reads what was computed; only what differs is turned', () => {
    const text = '5 degC, 6 m, 20 mm, 9 kg, 10 cm2';
    expect(own(text, METRIC)).toBe(text);
    expect(own(text, { ...METRIC, temperature: 'degF' })).toBe('41 degF, 6 m, 20 mm, 9 kg, 10 cm2');
    expect(own(text, { ...METRIC, length: 'ft' })).toBe('5 degC, 19.7 ft, 20 mm, 9 kg, 10 cm2');
    expect(own(text, { ...METRIC, small: 'in' })).toBe('5 degC, 6 m, 0.787 in, 9 kg, 1.55 in2');
    expect(own(text, { ...METRIC, mass: 'lb' })).toBe('5 degC, 6 m, 20 mm, 19.8 lb, 10 cm2');
  });
  test('a line of working says both, so that it can be reckoned after', () => {
    expect(pretty('fuse 0.15 m from its source; at most 0.18 m', IMPERIAL, true)).toBe(
      'fuse 0.15\u00a0m (5.91\u00a0in) from its source; at most 0.18\u00a0m (7.09\u00a0in)',
    );
    expect(pretty('coldest -6 degC', IMPERIAL, true)).toBe('coldest \u22126\u00a0\u00b0C (21\u00a0\u00b0F)');
  });
  test('a figure alone, as a field has it: an opening too', () => {
    expect(shownUnit('cm2', IMPERIAL)).toBe('in2');
    expect(shownUnit('cm2', METRIC)).toBe('cm2');
    expect(toShown(64.516, 'cm2', IMPERIAL)).toBeCloseTo(10, 9);
    expect(inUnits(129.032, 'cm2', IMPERIAL)).toBe('20\u00a0in\u00b2');
    expect(inUnits(3, null, IMPERIAL)).toBe('3');
  });
});

describe('nothing metric is left in what a reader of feet and Fahrenheit is told', () => {
  const ROOT = join(__dirname, '../..');
  const files = ['demo/sites', 'docs/format/reference'].flatMap((place) =>
    readdirSync(join(ROOT, place))
      .filter((file) => file.endsWith('.lantern.json'))
      .map((file) => join(place, file)),
  );
  const METRIC_LEFT = /\d\s(\u00b0C|degC|m|mm|kg|cm\u00b2)(?![\w\u00b2/])/;
  test.each(files)('%s', (file) => {
    const model = modelOf(readSystemFile(readFileSync(join(ROOT, file), 'utf8')).file);
    const findings = checkWithRemedies(model);
    const { bank } = model.system;
    const told = [
      ...findings.map((finding) => sentenceOf(model, finding)),
      ...findings.flatMap(({ remedies }) => remedies.flatMap(({ title, detail }) => [title, detail])),
      ...(bank && bank.chemistry !== 'lfp' ? convert(model, []).missing : []),
      ...interim(model).limits.map(({ text }) => text),
    ];
    expect(told.length).toBeGreaterThan(5);
    for (const text of told) expect(pretty(text, IMPERIAL)).not.toMatch(METRIC_LEFT);
  });
});
