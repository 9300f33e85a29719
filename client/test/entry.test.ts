import { toShown } from '@true-lantern/core';
import {
  readByBattery,
  readEntry,
  readQuantity,
  readRange,
  readSize,
  readSizeRange,
  twoWays,
} from '../src/ui/number-entry';
import { spokenNumber } from '../src/ui/spoken';
import { withoutLast } from '../src/ui/pad';
import { inUnits, pretty, sizeText, withUnit } from '../src/ui/units';
import { METRIC, type Units } from '../src/data/units';

const IMPERIAL: Units = { length: 'ft', small: 'in', mass: 'lb', temperature: 'degF', size: 'AWG' };

test.each([
  ['12.5', 12.5],
  ['12,5', 12.5],
  ['1,280', 1280],
  ['1,280.5', 1280.5],
  ['1.280,5', 1280.5],
  ['1,280,000', 1_280_000],
  ['1.280.000', 1_280_000],
  ['12,800', 12_800],
  ['0,280', 0.28],
  ['1,28', 1.28],
  ['1,2800', 1.28],
  ['1.280', 1.28],
  ['-1,280', -1280],
  [',5', 0.5],
  ['-24', -24],
  ['\u221224', -24],
  ['3/8', 0.375],
  ['1 1/2', 1.5],
  ['1.2k', 1200],
  ['.5', 0.5],
  ['', null],
  ['0', 0],
])('"%s" on the pad is %s', (text, value) => expect(readEntry(text)).toBe(value));
test.each(['-', '.', '1/0', '1 2', '1..2', '1,28,0', '1,280,00', '1.2,3.4', '1,28.5', 'k', 'abc', '1-2', '--1'])(
  '"%s" is not a number yet',
  (text) => expect(readEntry(text)).toBeUndefined(),
);

describe('a number with its unit is stored in SI', () => {
  test.each([
    ['12 ft 6 in', 'm', 3.81],
    ['12\' 6"', 'm', 3.81],
    ['3.5 m', 'm', 3.5],
    ['1 1/2 ft', 'm', 0.4572],
    ['80 cm', 'm', 0.8],
    ['20 in', 'mm', 508],
    ['10 lb', 'kg', 4.535924],
    ['14 F', 'degC', -10],
    ['-4\u00b0F', 'degC', -20],
    ['-20 C', 'degC', -20],
    ['1.2 kW', 'W', 1200],
    ['1.2k', 'W', 1200],
    ['500 mA', 'A', 0.5],
  ])('"%s" in a field of %s is %s', (text, unit, value) => expect(readQuantity(text, unit)).toBeCloseTo(value, 5));
  test('a bare number is in the unit that the person prefers', () => {
    expect(readQuantity('10', 'm', IMPERIAL)).toBeCloseTo(3.048, 6);
    expect(readQuantity('14', 'degC', IMPERIAL)).toBeCloseTo(-10, 6);
    expect(readQuantity('10', 'm', METRIC)).toBe(10);
    expect(readQuantity('3 m', 'm', IMPERIAL)).toBe(3);
  });
  test.each(['12 volts', '12 ft 6', '-12 ft 6 in', '5 V'])('"%s" is no length', (text) =>
    expect(readQuantity(text, 'm')).toBeUndefined(),
  );
  test('what is shown is what was typed', () => {
    for (const [value, unit] of [
      [12.5, 'm'],
      [-4, 'degC'],
      [20, 'mm'],
      [44, 'kg'],
    ] as const)
      expect(toShown(readQuantity(String(value), unit, IMPERIAL) as number, unit, IMPERIAL)).toBeCloseTo(value, 4);
  });
});

describe('about and between', () => {
  test('between carries both ends, and the value stands in the middle', () => {
    expect(readRange('10..16', 'A')).toEqual({ value: 13, low: 10, high: 16 });
    expect(readRange('16..10', 'A')).toEqual({ value: 13, low: 10, high: 16 });
    expect(readRange('10..', 'A')).toBeUndefined();
  });
  test('about is a fifth either way, below zero too', () => {
    expect(readRange('~50', 'A')).toEqual({ value: 50, low: 40, high: 60 });
    expect(readRange('~-20', 'degC')).toEqual({ value: -20, low: -24, high: -16 });
    expect(readRange('~', 'A')).toBeUndefined();
  });
  test('of two sizes the smaller counts: it is the safer reading', () => {
    expect(readSizeRange('10..16mm2')).toEqual({ value: '10mm2', low: '10mm2', high: '16mm2' });
    expect(readSizeRange('4..6AWG')).toEqual({ value: '6AWG', low: '6AWG', high: '4AWG' });
    expect(readSizeRange('10..', 'mm2')).toBeUndefined();
  });
});

test.each([
  ['16', '16mm2'],
  ['16 mm2', '16mm2'],
  ['2,5 mm\u00b2', '2.5mm2'],
  ['2/0', '2/0AWG'],
  ['10 awg', '10AWG'],
])('size "%s" is %s', (text, size) => expect(readSize(text)).toBe(size));
test('a bare size is of the preferred system, but 2.5 is no gauge', () => {
  expect(readSize('10', 'AWG')).toBe('10AWG');
  expect(readSize('2.5', 'AWG')).toBe('2.5mm2');
});
test.each(['5/0', 'thick', '', '16 inch'])('"%s" is no size', (text) => expect(readSize(text)).toBeUndefined());

test('taking back takes a whole word', () => {
  expect(withoutLast('12 ft')).toBe('12');
  expect(withoutLast('10..')).toBe('10');
  expect(withoutLast('16mm2')).toBe('16');
  expect(withoutLast('12')).toBe('1');
});

test('figures are printed with their unit on the same line, a true minus and a multiplication sign', () => {
  expect(pretty('colder by 25 - (-24) = 49 K')).toBe('colder by 25 \u2212 (\u221224) = 49\u00a0K');
  expect(pretty('3 x 45.1 V')).toBe('3 \u00d7 45.1\u00a0V');
  expect(withUnit(153.863, 'V')).toBe('154\u00a0V');
  expect(sizeText('2.5mm2')).toBe('2.5\u00a0mm\u00b2');
  expect(inUnits(3.048, 'm', IMPERIAL)).toBe('10\u00a0ft');
  expect(inUnits(-40, 'degC', IMPERIAL)).toBe('\u221240\u00a0\u00b0F');
});
test('a size of the other system has the nearest of theirs behind it', () => {
  // 5.26 mm2 is 10 AWG; 33.6 mm2 is 2 AWG.
  expect(sizeText('6mm2', IMPERIAL)).toBe('6\u00a0mm\u00b2 (\u2248 10\u00a0AWG)');
  expect(sizeText('2AWG', { ...METRIC })).toBe('2\u00a0AWG (\u2248 35\u00a0mm\u00b2)');
  expect(sizeText('2AWG', IMPERIAL)).toBe('2\u00a0AWG');
});

test.each([
  ['three quarters', '3/4'],
  ['one and a half', '1 1/2'],
  ['two and three eighths', '2 3/8'],
  ['twelve point five', '12.5'],
  ['minus twenty four', '-24'],
  ['a hundred and fifty', '150'],
  ['two thousand four hundred', '2400'],
  ['12 point 5', '12.5'],
  ['about thirty', '~30'],
  ['ten to sixteen', '10..16'],
  ['Sorry?', null],
])('"%s" spoken is %s', (words, entry) => expect(spokenNumber(words)).toBe(entry));

describe('by the battery', () => {
  const battery = { volts: 12.8, ah: 100 };
  test.each([
    ['C/3', 'A', 33.33333],
    ['c / 20', 'A', 5],
    ['0.5C', 'A', 50],
    ['2c', 'A', 200],
    ['1280 Wh', 'Ah', 100],
    ['1.28kWh', 'Ah', 100],
    ['100 Ah', 'Wh', 1280],
  ])('%s in a field of %s is %f', (text, unit, value) =>
    expect(readByBattery(text, unit, battery)).toBeCloseTo(value, 4),
  );
  test.each([
    ['C/0', 'A'],
    ['C/', 'A'],
    ['12', 'A'],
    ['C/3', 'Ah'],
    ['1280 Wh', 'A'],
    ['75 C', 'degC'],
  ])('%s in a field of %s is read elsewhere', (text, unit) =>
    expect(readByBattery(text, unit, battery)).toBeUndefined(),
  );
  test('a battery that nobody recorded gives no figure', () => {
    expect(readByBattery('C/3', 'A', { volts: 12, ah: null })).toBeUndefined();
    expect(readByBattery('1280 Wh', 'Ah', { volts: null, ah: 100 })).toBeUndefined();
  });
});

test('an entry that may be read two ways is both; one that cannot is plain', () => {
  expect(twoWays('1,280')).toEqual({ grouped: '1280', decimal: '1.280' });
  expect(twoWays('~1,280 W')).toEqual({ grouped: '~1280 W', decimal: '~1.280 W' });
  for (const plain of ['12,5', '1.280', '0,280', '1,280,000', '1,280.5', '1280', '']) expect(twoWays(plain)).toBeNull();
});
