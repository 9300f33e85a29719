import { figure } from '../ledger/figures';
import { QUANTITIES, type Quantity } from '../readings/quantities';
import { positionWords } from '../readings/readings';
import { subjectName } from '../readings/visit';
import type { Model } from '../system/model';
import type { LogKind, LogTest } from '../system/schema';
import { MONTHS } from '../sun/months';
import type { Ahead } from './ahead';
import type { DutyKey } from './duty';
import type { Trend } from './trends';

/** How the log, trends and days ahead are worded, once for screens and papers. */

/** Each kind of entry, as a heading. */
export const LOG_WORDS: Readonly<Record<LogKind, string>> = {
  note: 'Note',
  watered: 'Topped up with water',
  equalised: 'Equalised',
  retightened: 'Connections retightened',
  cleaned: 'Cleaned',
  tested: 'Tested',
  calibrated: 'Meter compared',
  synchronised: 'Monitor synchronised at full',
  replaced: 'Replaced',
  fuel: 'Fuel or running hours',
  sealed: 'Closed for the season',
  opened: 'Opened for the season',
  fault: 'Fault found',
  cured: 'Fault fixed',
};
/** What was tested. */
export const TEST_WORDS: Readonly<Record<LogTest, string>> = {
  rcd: 'RCD',
  alarm: 'Alarms',
  isolator: 'Isolator',
  extinguisher: 'Fire extinguisher',
  lightning: 'Surge protection',
};

/** What settles a duty: an entry of the log, or a reading at its part. */
export type Settling = { kind: LogKind; what?: LogTest } | { quantity: Quantity } | { visit: true };
/** How each duty is done in a tap: by an entry, by a reading, or (settings) by a signed visit. */
export const SETTLED_BY: Readonly<Record<DutyKey, Settling>> = {
  water: { kind: 'watered' },
  density: { quantity: 'density_kg_L' },
  equalise: { kind: 'equalised' },
  rest: { quantity: 'rest_V' },
  resistance: { quantity: 'resistance_mohm' },
  capacity: { quantity: 'capacity_Ah' },
  joints: { kind: 'retightened' },
  clean: { kind: 'cleaned' },
  insulation: { quantity: 'insulation_Mohm' },
  shunt: { kind: 'synchronised' },
  rcd: { kind: 'tested', what: 'rcd' },
  alarm: { kind: 'tested', what: 'alarm' },
  isolator: { kind: 'tested', what: 'isolator' },
  genset: { kind: 'note' },
  settings: { visit: true },
  meter: { kind: 'calibrated' },
  'lay-up': { kind: 'sealed' },
  open: { kind: 'opened' },
};

/** "March 2027". */
export const monthOf = (date: string): string => `${MONTHS[Number(date.slice(5, 7)) - 1] ?? ''} ${date.slice(0, 4)}`;

/** "Internal resistance of the bank", with its place. */
export function trendName(model: Model, { quantity, subject, position }: Trend): string {
  const where = position ? `, ${positionWords(position)}` : '';
  return `${QUANTITIES[quantity][1]}, ${subjectName(model, subject)}${where}`;
}

/** What a series says, in one sentence. */
export function trendSentence(model: Model, trend: Trend): string {
  const name = trendName(model, trend);
  const { verdict, reaches, perYear = 0, n } = trend;
  if (verdict === 'too-few') {
    const last = trend.points.at(-1);
    const out = last && (trend.bound ? last.z > 1 : Math.abs(last.z) > 1);
    return `${name}: ${n === 1 ? 'one day' : `${n} days`} of readings, too few for a trend.${out ? ' The last reading is out of range.' : ''}`;
  }
  if (verdict === 'outside') return `${name} is out of range${Math.abs(perYear) > 0.1 ? `, and ${way(trend)}` : ''}.`;
  if (verdict === 'steady') return `${name} is steady.`;
  if (!reaches) return `${name} is ${way(trend)}, slowly.`;
  const [from, to] = [monthOf(reaches.earliest), reaches.latest ? monthOf(reaches.latest) : null];
  const when = to === null ? `from ${from} at the earliest` : from === to ? `in ${from}` : `between ${from} and ${to}`;
  return `${name} is ${way(trend)} and will be out of range ${when}.`;
}

/** z of a bound that less makes worse rises as the value falls. */
function way({ perYear = 0, points }: Trend): string {
  const [first, last] = [points[0], points.at(-1)];
  const falls = first && last && first.half === null ? last.value < first.value : perYear < 0;
  return falls ? 'falling' : 'rising';
}

const percent = (share: number) => `${Math.round(100 * share)} %`;

/** The days ahead in three lines: tonight, this week, what to leave off. */
export function aheadLines(model: Model, { days, dark, firstDark, cures }: Ahead): string[] {
  const [tonight] = days;
  if (!tonight) return [];
  const lowest = days.reduce((least, day) => (day.p5 < least.p5 ? day : least), tonight);
  const week =
    dark === 0
      ? `In the next ${days.length} days the bank stays above ${percent(lowest.p5)} in 19 of 20 cases. No power cut in any.`
      : `The power fails within ${days.length} days in ${percent(dark)} of cases${firstDark ? `, first on ${firstDark.date}` : ''}.`;
  const [cure] = cures;
  return [
    tonight.dark > 0
      ? `Tonight: a power cut in ${percent(tonight.dark)} of cases.`
      : `Tonight the bank stays at ${percent(tonight.p5)} or more.`,
    week,
    ...(cure
      ? [
          cure.generator_h === undefined
            ? `Leave off ${cure.what
                .split(', ')
                .map((id) => subjectName(model, id))
                .join(', ')} (${figure(cure.watts_off ?? 0)} W): then it fails in ${percent(cure.dark)}.`
            : `Run the generator ${figure(cure.generator_h)} h a day: then it fails in ${percent(cure.dark)}.`,
        ]
      : []),
  ];
}
