import { QUANTITIES, type Quantity } from '../readings/quantities';
import { bandText, readingText, subjectName } from '../readings/visit';
import type { Model } from '../system/model';
import { liveExpected, type Heard, type LiveExpected } from './live-expected';

/** What live values are out of range, once each: it begins, it stands, it is over (docs/live.md). */

/** A value of so long ago is what is so now, ms. */
export const NOW_MS = 10 * 60_000;
/** Back in range for so long, it is over: what flickers at the edge is one event, not fifty. */
const OVER_MS = 30 * 60_000;

/** A value that is out of range, from when on. Moments in ms since 1970. */
export interface Outside {
  subject: string;
  quantity: Quantity;
  since: number;
  /** Back in range since then; null: it is not. */
  insideSince: number | null;
}
/** What changed with a look. */
export interface Watched {
  /** Out of range as of now, with the sentence for a person. */
  began: (Outside & { sentence: string })[];
  /** What stands, those that began included. */
  standing: Outside[];
}

/** "The output voltage of the inverter is out of range: 212 V; expected 230 V, 218 to 242 V." */
export function outsideSentence(
  model: Model,
  { subject, quantity, expected, low, high }: LiveExpected,
  value: number,
): string {
  const [unit, label] = QUANTITIES[quantity];
  const band = bandText({ expected, low, high, unit });
  return `${label} of ${subjectName(model, subject)} is out of range: ${readingText(value, unit)}; expected ${band}.`;
}

/**
 * One look at what a system says.
 * @param before what stood at the last look
 * @param heard the newest value of each quantity
 */
export function watch(model: Model, before: readonly Outside[], heard: readonly Heard[], now: number): Watched {
  const fresh = heard.filter(({ at }) => now - at < NOW_MS);
  const rows = liveExpected(model, fresh);
  const key = ({ subject, quantity }: { subject: string; quantity: Quantity }) => `${subject} ${quantity}`;
  const found = new Map(rows.map((row) => [key(row), row]));
  const stood = new Set(before.map(key));
  const standing = before.flatMap((one): Outside[] => {
    const judged = found.get(key(one))?.judged;
    // Nothing heard, or nothing that can be judged, ends nothing.
    if (judged === 'outside') return [{ ...one, insideSince: null }];
    if (judged !== 'inside') return [one];
    const insideSince = one.insideSince ?? now;
    return now - insideSince >= OVER_MS ? [] : [{ ...one, insideSince }];
  });
  const began = rows
    .filter((row) => row.judged === 'outside' && !stood.has(key(row)))
    .map((row) => {
      const { subject, quantity } = row;
      const value = fresh.find((one) => one.subject === subject && one.quantity === quantity)?.value ?? Number.NaN;
      return { subject, quantity, since: now, insideSince: null, sentence: outsideSentence(model, row, value) };
    });
  return { began, standing: [...standing, ...began.map(({ sentence: _, ...one }) => one)] };
}
