import type { Quantity } from '../readings/quantities';
import type { Position } from '../readings/row';
import { modelOf } from '../system/model';
import type { SystemFile } from '../system/schema';
import { dateOf, YEAR_D } from './days';
import { straight, strays, type Fit } from './fit';
import { validEntries } from './log';
import { seriesBeside, type SeriesOfReadings } from './series';

/** How a system changes over the years (docs/service.md): every series of readings, where it goes, and when it is out. */

/** The readings of one day, as their mean. */
export interface TrendPoint {
  at: string;
  z: number;
  value: number;
  expected: number;
  half: number | null;
  /** Too far from the others' line: not counted. */
  left?: true;
}

/** One series and where it goes. */
export interface Trend {
  quantity: Quantity;
  subject: string;
  position?: Position;
  unit: string;
  n: number;
  from: string;
  to: string;
  points: TrendPoint[];
  /** True where only more is worse. */
  bound: boolean;
  /** z a year, and its 95 %. */
  perYear?: number;
  perYear95?: [low: number, high: number];
  /** z on the day that was asked for. */
  now?: number;
  verdict: 'steady' | 'drifting' | 'outside' | 'too-few';
  /** When it leaves its band, for what drifts. */
  reaches?: { at: string; earliest: string; latest?: string };
}

/** Fewer days with a reading, or a shorter time between the first and the last, tell no slope. */
const LEAST_DAYS = 3;
const LEAST_SPAN_D = 60;
/** Further ahead than this nothing is said. */
const HORIZON_D = Math.round(30 * YEAR_D);

/**
 * The trends of a file.
 * @param on the day on which it is asked; later readings and entries are left out. Absent: each series' own last day
 */
export function trendsOf(file: SystemFile, on?: number): Trend[] {
  const model = modelOf(file);
  const log = validEntries(file, on);
  const from = (quantity: Quantity, subject: string): number =>
    log.reduce(
      (latest, entry) =>
        entry.subject === subject && startsAnew(entry.kind, quantity) ? Math.max(latest, Date.parse(entry.at)) : latest,
      -Infinity,
    );
  return seriesBeside(model, file, on ?? Infinity, from).map((series) => trendOf(series, on));
}

/** What was put in new, or made again, is another thing from then on. */
const startsAnew = (kind: string, quantity: Quantity): boolean =>
  kind === 'replaced' || ((kind === 'retightened' || kind === 'cured') && OF_JOINTS.has(quantity));
const OF_JOINTS: ReadonlySet<Quantity> = new Set<Quantity>(['drop_V', 'joint_mohm', 'jointRise_K']);

function trendOf(
  { quantity, subject, position, unit, bounded, seen }: SeriesOfReadings,
  on: number | undefined,
): Trend {
  const days = byDay(seen);
  const far = strays(days);
  const fitted = days.filter((_, i) => !far[i]);
  const first = days[0]?.day ?? 0;
  const last = days.at(-1)?.day ?? 0;
  const trend: Trend = {
    quantity,
    subject,
    ...(position ? { position } : {}),
    unit,
    n: fitted.length,
    from: dateOf(first),
    to: dateOf(last),
    points: days.map(({ day, z, value, expected, half }, i) => ({
      at: dateOf(day),
      z,
      value,
      expected,
      half,
      ...(far[i] ? { left: true as const } : {}),
    })),
    bound: bounded,
    verdict: 'too-few',
  };
  const span = (fitted.at(-1)?.day ?? 0) - (fitted[0]?.day ?? 0);
  if (fitted.length < LEAST_DAYS || span < LEAST_SPAN_D) return trend;
  const fit = straight(fitted);
  const today = on ?? last;
  const now = fit.on(today);
  const [low, high] = fit.perYear95;
  const outside = bounded ? now > 1 : Math.abs(now) > 1;
  const drifting = !outside && (low > 0 || (high < 0 && !bounded));
  const reaches = drifting ? reached(fit, today) : null;
  return {
    ...trend,
    perYear: fit.perYear,
    perYear95: fit.perYear95,
    now,
    verdict: outside ? 'outside' : drifting ? 'drifting' : 'steady',
    ...(reaches ? { reaches } : {}),
  };
}

/** When the line passes the edge that it drifts to, and the first days on which its band may, and must. */
function reached(fit: Fit, today: number): Trend['reaches'] | null {
  const side = Math.sign(fit.perYear);
  const firstDay = (height: (day: number) => number): number | null => {
    for (let day = today; day <= today + HORIZON_D; day++) if (height(day) >= 1) return day;
    return null;
  };
  const at = firstDay((day) => side * fit.on(day));
  if (at === null) return null;
  const earliest = firstDay((day) => side * fit.on(day) + fit.doubt(day)) ?? at;
  const latest = firstDay((day) => side * fit.on(day) - fit.doubt(day));
  return { at: dateOf(at), earliest: dateOf(earliest), ...(latest === null ? {} : { latest: dateOf(latest) }) };
}

/** The means of each day, in their order. */
function byDay(seen: SeriesOfReadings['seen']) {
  const days = new Map<number, SeriesOfReadings['seen']>();
  for (const one of seen) {
    const all = days.get(one.day);
    if (all) all.push(one);
    else days.set(one.day, [one]);
  }
  return [...days]
    .sort(([a], [b]) => a - b)
    .map(([day, all]) => {
      const mean = (of: (one: (typeof all)[number]) => number) =>
        all.reduce((sum, one) => sum + of(one), 0) / all.length;
      return {
        day,
        z: mean(({ z }) => z),
        value: mean(({ value }) => value),
        expected: mean(({ expected }) => expected),
        half: all.every(({ half }) => half !== null) ? mean(({ half }) => half ?? 0) : null,
      };
    });
}
