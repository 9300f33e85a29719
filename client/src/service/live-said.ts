import { QUANTITIES, readingText, type LiveExpected, type Said } from '@true-lantern/core';
import type { LiveSeries } from '@true-lantern/wire';
import type { Units } from '../data/units';

/** What live values say beside each part of the Line: one figure a part, the one that matters most. */

/** Older than this a value is no longer what is so now. */
export const FRESH_MS = 5 * 60_000;

/** "40 s", "12 min", "3 h", "5 days". */
export function agoText(ms: number): string {
  const seconds = Math.max(0, Math.round(ms / 1000));
  if (seconds < 90) return `${seconds} s`;
  if (seconds < 90 * 60) return `${Math.round(seconds / 60)} min`;
  if (seconds < 36 * 3600) return `${Math.round(seconds / 3600)} h`;
  return `${Math.round(seconds / 86_400)} days`;
}

/** A value of a quantity as a person reads it. */
export const liveText = (quantity: LiveSeries['quantity'], value: number, units: Units): string =>
  quantity === 'head_soc' ? `${Math.round(100 * value)}\u00a0%` : readingText(value, QUANTITIES[quantity][0], units);

/** Of a part's values: what is out of range first, then what is expected at all, then the newest. */
const weight = (one: LiveSeries, row: LiveExpected | undefined): number =>
  row?.judged === 'outside' ? 3 : row ? 2 : one.quantity === 'head_soc' ? 1 : 0;

/** By part: the figure, with its age and what is expected of it. */
export function liveSaid(
  series: readonly LiveSeries[],
  expected: readonly LiveExpected[],
  now: number,
  units: Units,
): ReadonlyMap<string, Said> {
  const said = new Map<string, { weight: number; at: number; said: Said }>();
  for (const one of series) {
    const row = expected.find(({ subject, quantity }) => subject === one.subject && quantity === one.quantity);
    const at = Date.parse(one.at);
    const mine = { weight: now - at > FRESH_MS ? -1 : weight(one, row), at };
    const other = said.get(one.subject);
    if (other && (other.weight > mine.weight || (other.weight === mine.weight && other.at >= at))) continue;
    const [, name] = QUANTITIES[one.quantity];
    const outside = mine.weight >= 0 && row?.judged === 'outside';
    // Short, beside its part: what is out of range says of what; the rest says what it is.
    const word = outside ? `${name} outside` : name;
    said.set(one.subject, {
      ...mine,
      said: {
        word: `${word}, ${agoText(now - at)} ago`,
        text: liveText(one.quantity, one.value, units),
        figures: true,
        read: true,
      },
    });
  }
  return new Map([...said].map(([subject, { said: text }]) => [subject, text]));
}
