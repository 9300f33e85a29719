import { isQuiet, watch, type Heard, type Outside } from '../src/index';
import { hut } from './hut';

/** Out of range once is one event: it begins, it stands, it is over. */

const NOW = Date.parse('2026-12-01T20:00:00Z');
const MINUTE = 60_000;
const bank = (volts: number, at = NOW): Heard[] => [
  { subject: 'b', quantity: 'load_V', value: volts, at },
  { subject: 'b', quantity: 'head_A', value: -10, at },
  { subject: 'b', quantity: 'head_soc', value: 0.8, at },
];

test('a sagging bank begins once, with both figures in its sentence, and stands from then on', () => {
  const first = watch(hut(), [], bank(11.3), NOW);
  expect(first.began).toHaveLength(1);
  expect(first.began[0]!.sentence).toMatch(
    /^Voltage under load of .* is out of range: 11\.3.V; expected 12\.\d+.V, 1\d.* to 1\d/,
  );
  const next = watch(hut(), first.standing, bank(11.2, NOW + MINUTE), NOW + MINUTE);
  expect(next.began).toEqual([]);
  expect(next.standing).toEqual(first.standing);
});
test('a sound bank says nothing', () => {
  expect(watch(hut(), [], bank(12.4), NOW)).toEqual({ began: [], standing: [] });
});
test('what flickers at the edge is one event; half an hour in range ends it, and the next is another', () => {
  let standing: Outside[] = watch(hut(), [], bank(11.3), NOW).standing;
  let began = 0;
  for (let minute = 1; minute <= 20; minute++) {
    const at = NOW + minute * MINUTE;
    const look = watch(hut(), standing, bank(minute % 2 ? 12.4 : 11.3, at), at);
    began += look.began.length;
    standing = look.standing;
  }
  expect(began).toBe(0);
  expect(standing).toHaveLength(1);
  const inside = (at: number) => {
    standing = watch(hut(), standing, bank(12.4, at), at).standing;
    return standing.length;
  };
  expect(inside(NOW + 21 * MINUTE)).toBe(1);
  expect(inside(NOW + 50 * MINUTE)).toBe(1);
  expect(inside(NOW + 51 * MINUTE)).toBe(0);
  expect(watch(hut(), standing, bank(11.3, NOW + 60 * MINUTE), NOW + 60 * MINUTE).began).toHaveLength(1);
});
test('silence, a current that is missing or values of an hour ago begin nothing and end nothing', () => {
  const { standing } = watch(hut(), [], bank(11.3), NOW);
  const later = NOW + 3 * 60 * MINUTE;
  expect(watch(hut(), standing, [], later)).toEqual({ began: [], standing });
  expect(watch(hut(), [], bank(11.3, NOW - 60 * MINUTE), NOW).began).toEqual([]);
  expect(watch(hut(), [], bank(11.3).slice(0, 1), NOW).began).toEqual([]);
});
test('quiet hours go over midnight; the same hour twice is never quiet', () => {
  expect([21, 22, 23, 0, 6, 7].map((hour) => isQuiet(hour, 22, 7))).toEqual([false, true, true, true, true, false]);
  expect([12, 13, 14].map((hour) => isQuiet(hour, 13, 14))).toEqual([false, true, false]);
  expect(isQuiet(5, 8, 8)).toBe(false);
});
