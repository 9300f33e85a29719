import { QUANTITIES, type Quantity } from '../readings/quantities';
import { positionWords } from '../readings/readings';
import type { Position } from '../readings/row';
import { readingText, subjectName } from '../readings/visit';
import { modelOf } from '../system/model';
import type { SystemFile } from '../system/schema';
import { METRIC, type Units } from '../written/units';
import { dateOf, dayOf } from './days';
import { trendsOf, type Trend } from './trends';

/**
 * Readings so far from what is expected that nobody should have to look for them (docs/service.md): a joint that loses
 * eight times what it should, a block far below its neighbours, a bank at a third of its capacity.
 */
export interface FarOut {
  quantity: Quantity;
  subject: string;
  position?: Position;
  /** The day on which it was read. */
  at: string;
  value: number;
  expected: number;
  sentence: string;
}

/** Bands off from which a reading is far out: a band is two sigma already. */
const FAR_Z = 2.5;
/** Of a bound: three times of it. */
const FAR_BOUND = 1 + Math.log(3);
/** What was read before that says nothing of today, days. */
const RECENT_D = 400;
/** Blocks of one string belong within this, V for each 12 V of a block. */
const APART_V = 0.5;

/**
 * The last reading of each series where it is far out, the worst first.
 * @param on the day it is asked; absent: the day of the last reading
 * @param trends of that day, where somebody has them already
 */
export function farOut(
  file: SystemFile,
  on?: number,
  units: Units = METRIC,
  trends: readonly Trend[] | null = null,
): FarOut[] {
  const last = (file.readings ?? []).reduce((latest, { at }) => Math.max(latest, dayOf(at) ?? -Infinity), -Infinity);
  const today = on ?? last;
  if (!Number.isFinite(today)) return [];
  const model = modelOf(file);
  const named = (subject: string, position: Position | undefined) =>
    `${subjectName(model, subject)}${position ? `, ${positionWords(position)}` : ''}`;
  const recent = (at: string) => (dayOf(at) ?? -Infinity) >= today - RECENT_D;
  const series = (trends ?? trendsOf(file, today)).flatMap((trend): { z: number; far: FarOut }[] => {
    const point = trend.points.at(-1);
    if (!point || !recent(point.at)) return [];
    if (!(trend.bound ? point.z > FAR_BOUND : Math.abs(point.z) > FAR_Z)) return [];
    const { quantity, subject, position, unit } = trend;
    const text = (value: number) => readingText(value, unit, units);
    return [
      {
        z: Math.abs(point.z),
        far: {
          quantity,
          subject,
          ...(position ? { position } : {}),
          at: point.at,
          value: point.value,
          expected: point.expected,
          sentence: `${QUANTITIES[quantity][1]} of ${named(subject, position)}: ${text(point.value)} read, ${
            trend.bound ? `the limit is ${text(point.expected)}` : `about ${text(point.expected)} expected`
          }.`,
        },
      },
    ];
  });
  const worst = series.sort((a, b) => b.z - a.z).map(({ far }) => far);
  const known = new Set(worst.map(keyOf));
  return [...worst, ...apart(file, today, units).filter((one) => !known.has(keyOf(one)))];
}
const keyOf = ({ quantity, subject, position }: FarOut) => `${quantity} ${subject} ${JSON.stringify(position ?? null)}`;

/** Blocks that were read on one day and are far from the middle of them, whatever the charge was. */
function apart(file: SystemFile, today: number, units: Units): FarOut[] {
  const { bank } = file.system ?? {};
  if (!bank) return [];
  const limit = (APART_V * bank.block_V) / 12;
  const model = modelOf(file);
  return (['blockRest_V', 'blockLoad_V'] as const).flatMap((quantity) => {
    const all = (file.readings ?? []).flatMap((reading) => {
      const day = dayOf(reading.at);
      return reading.subject === bank.id && reading.quantity === quantity && day !== null && day <= today
        ? [{ day, value: reading.value, position: reading.position ?? {} }]
        : [];
    });
    const last = Math.max(...all.map(({ day }) => day));
    if (!(last >= today - RECENT_D)) return [];
    const round = all.filter(({ day }) => day === last);
    const sorted = round.map(({ value }) => value).sort((a, b) => a - b);
    const middle = sorted[Math.floor(sorted.length / 2)];
    if (sorted.length < 3 || middle === undefined) return [];
    return round
      .filter(({ value }) => Math.abs(value - middle) > limit)
      .map(({ value, position }): FarOut => ({
        quantity,
        subject: bank.id,
        position,
        at: dateOf(last),
        value,
        expected: middle,
        sentence: `${QUANTITIES[quantity][1]}, ${positionWords(position)} of ${subjectName(model, bank.id)}: ${readingText(value, 'V', units)}, while its neighbours read about ${readingText(middle, 'V', units)}.`,
      }));
  });
}
