import type { Site } from '../system/schema';
import { calendarOf, firstOf } from './days';
import type { Dated } from './duty';
import { latestOf, loggedDays, type Past } from './past';

/** Closing a place before months in which nobody is there, and opening it again (docs/service.md). */

/** Days before the first of a month at which it is due. */
const BEFORE_D = 7;

/** Laying up and opening, where months are empty and it was not done for this season. */
export function seasonal({ occupiedMonths }: Site, past: Past, until: number): Dated[] {
  const occupied = new Set(occupiedMonths ?? []);
  if (occupied.size === 0 || occupied.size === 12) return [];
  const lived = (month: number) => occupied.has((((month % 12) + 12) % 12) + 1);
  const months = Array.from({ length: 12 }, (_, month) => month);
  const closes = months.filter((month) => !lived(month) && lived(month - 1));
  const opens = months.filter((month) => lived(month) && !lived(month - 1));
  const make = (
    key: 'lay-up' | 'open',
    mine: readonly number[],
    others: readonly number[],
    logged: 'sealed' | 'opened',
    text: { what: string; why: string },
  ): Dated[] => {
    const day = lastOf(mine, until);
    const other = lastOf(others, past.on);
    if (other > day) return [];
    const before = lastOf(others, day - 1);
    const done = loggedDays(past, logged, 'site');
    if (done.some((each) => each >= before)) return [];
    return [{ key, ...text, subject: 'site', every_d: 365, last: latestOf(done), day }];
  };
  return [
    ...make('lay-up', closes, opens, 'sealed', {
      what: 'Close the site down for the empty season',
      why: 'Nobody is there from then on: switch off, charge fully, drain, cover, as its hand-over says.',
    }),
    ...make('open', opens, closes, 'opened', {
      what: 'Open the site for the season',
      why: 'People come back: look before switching on, then read the bank at rest.',
    }),
  ];
}

/** The latest day, up to one, that lies so long before the first of one of these months. */
function lastOf(months: readonly number[], until: number): number {
  const { year } = calendarOf(until);
  const days = [-1, 0, 1].flatMap((by) => months.map((month) => firstOf(year + by, month) - BEFORE_D));
  return Math.max(...days.filter((day) => day <= until));
}
