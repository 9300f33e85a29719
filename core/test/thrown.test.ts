import { errorOf, messageOf } from '../src/index';

/** A library may throw anything; a person reads what it says. */

test.each<[string, unknown, string]>([
  ['an error', new TypeError('no such port'), 'no such port'],
  ['an error of another window', { name: 'Error', message: 'no such port' }, 'no such port'],
  ['a text', 'no such port', 'no such port'],
  ['nothing', undefined, 'undefined'],
  ['null', null, 'null'],
  ['an object without a word', { code: 5 }, '[object Object]'],
])('%s', (_, thrown, says) => {
  expect(messageOf(thrown)).toBe(says);
  expect(errorOf(thrown)).toBeInstanceOf(Error);
  expect(errorOf(thrown).message).toBe(says);
});
test('an error stays itself, with its trace', () => {
  const error = new RangeError('x');
  expect(errorOf(error)).toBe(error);
});
