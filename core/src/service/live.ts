import { isObject } from '../parts/objects';
import { isQuantity, type Quantity } from '../readings/quantities';

/** What a system says of itself, a line of JSON a value (docs/live.md). */

/** One value as it is kept. */
export interface LiveValue {
  /** Milliseconds since 1970. */
  at: number;
  subject: string;
  quantity: Quantity;
  value: number;
}
/** What was wrong with a line, by its number from 1. */
export interface RefusedLine {
  line: number;
  why: string;
}
/** So many lines go with one request. */
export const MOST_LINES = 1000;
/** So many lines a minute come from a site. */
export const MOST_A_MINUTE = 2000;
/** A clock may be this much ahead. */
const AHEAD_MS = 2 * 60_000;
/** Older than this it is history, and comes as a log. */
const BACK_MS = 90 * 24 * 3_600_000;
const LONGEST_SUBJECT = 200;

/** Values that nothing here can have: a device that lies, or a wire that is off. */
const RANGES: readonly (readonly [RegExp, number, number])[] = [
  [/_V$/, -1500, 1500],
  [/_A$/, -5000, 5000],
  [/_Ah$/, 0, 100_000],
  [/_C$/, -60, 150],
  [/_K$/, -100, 300],
  [/_W$/, -1e6, 1e6],
  [/_Hz$/, 0, 500],
  [/soc$/, 0, 1],
  [/_(mohm|ohm|Mohm)$/, 0, 1e6],
  [/_kg_L$/, 0.9, 1.5],
];

/** The range that a value is outside of; null where it can be so. */
export function outsideOf(quantity: Quantity, value: number): readonly [low: number, high: number] | null {
  const range = RANGES.find(([pattern]) => pattern.test(quantity));
  return range && (value < range[1] || value > range[2]) ? [range[1], range[2]] : null;
}

/**
 * One line as a value.
 * @param parts ids that there are; absent: any
 * @returns why not, for a person
 */
export function liveLine(text: string, now: number, parts?: ReadonlySet<string>): LiveValue | string {
  let given: unknown;
  try {
    given = JSON.parse(text);
  } catch {
    return 'is no JSON, expected {"at", "subject", "quantity", "value"}';
  }
  if (!isObject(given)) return 'is no object, expected {"at", "subject", "quantity", "value"}';
  const { at, subject, quantity, value } = given;
  const when =
    at === undefined ? now : typeof at === 'number' ? at : typeof at === 'string' ? Date.parse(at) : Number.NaN;
  if (!Number.isFinite(when)) return `at is ${JSON.stringify(at)}, expected a moment such as "2026-12-01T10:00:00Z"`;
  if (when > now + AHEAD_MS) return 'at is more than two minutes ahead: is the clock right?';
  if (when < now - BACK_MS) return 'at is more than 90 days back';
  if (typeof subject !== 'string' || subject === '' || subject.length > LONGEST_SUBJECT)
    return `subject is ${JSON.stringify(subject)?.slice(0, 60)}, expected the id of a part`;
  if (parts && !parts.has(subject)) return `subject is "${subject.slice(0, 60)}", no part of this site`;
  if (typeof quantity !== 'string' || !isQuantity(quantity))
    return `quantity is ${JSON.stringify(quantity)?.slice(0, 60)}, expected one such as "load_V"`;
  if (typeof value !== 'number' || !Number.isFinite(value))
    return `value is ${JSON.stringify(value)?.slice(0, 60)}, expected a number`;
  const range = outsideOf(quantity, value);
  if (range) return `value is ${value}, outside ${range[0]} to ${range[1]}: dropped`;
  return { at: when, subject, quantity, value };
}

/** Lines as values, each that is not understood with its number; empty lines are nothing. */
export function liveLines(
  text: string,
  now: number,
  parts?: ReadonlySet<string>,
): { values: LiveValue[]; refused: RefusedLine[]; lines: number } {
  const values: LiveValue[] = [];
  const refused: RefusedLine[] = [];
  let lines = 0;
  text.split(/\r?\n/).forEach((line, i) => {
    if (line.trim() === '') return;
    lines += 1;
    const read = liveLine(line, now, parts);
    if (typeof read === 'string') refused.push({ line: i + 1, why: read });
    else values.push(read);
  });
  return { values, refused, lines };
}
