import { readEntry, readSize } from '../src/kit/number-entry';
import { pretty, sizeText, withUnit } from '../src/kit/units';

test.each([
  ['12.5', 12.5],
  ['12,5', 12.5],
  ['-24', -24],
  ['\u221224', -24],
  ['3/8', 0.375],
  ['1 1/2', 1.5],
  ['1.2k', 1200],
  ['.5', 0.5],
  ['', null],
  ['0', 0],
])('"%s" on the pad is %s', (text, value) => expect(readEntry(text)).toBe(value));
test.each(['-', '.', '1/0', '1 2', '1..2', 'k', 'abc', '1-2', '--1'])('"%s" is not a number yet', (text) =>
  expect(readEntry(text)).toBeUndefined(),
);
test.each([
  ['16', '16mm2'],
  ['16 mm2', '16mm2'],
  ['2,5 mm\u00b2', '2.5mm2'],
  ['2/0', '2/0AWG'],
  ['10 awg', '10AWG'],
])('size "%s" is %s', (text, size) => expect(readSize(text)).toBe(size));
test.each(['5/0', 'thick', '', '16 inch'])('"%s" is no size', (text) => expect(readSize(text)).toBeUndefined());

test('figures are printed with their unit on the same line, a true minus and a multiplication sign', () => {
  expect(pretty('colder by 25 - (-24) = 49 K')).toBe('colder by 25 \u2212 (\u221224) = 49\u00a0K');
  expect(pretty('3 x 45.1 V')).toBe('3 \u00d7 45.1\u00a0V');
  expect(withUnit(153.863, 'V')).toBe('154\u00a0V');
  expect(sizeText('2.5mm2')).toBe('2.5\u00a0mm\u00b2');
});
