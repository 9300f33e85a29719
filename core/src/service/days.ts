import { kept } from '../numeric/kept';

/** Days of the calendar, UTC, counted from 1 January 1970: what is kept up is kept by days (docs/service.md). */

const DAY_MS = 86_400_000;
/** Days of a mean year. */
export const YEAR_D = 365.25;

/** A year of a firm's sites is asked for again and again: each moment is read once. */
const parsed = kept<string, number>(50_000);
/** A moment in ms since 1970; NaN where it is none. */
export const msOf = (at: string | null | undefined): number => (at ? parsed(at, () => Date.parse(at)) : Number.NaN);

/** The day of a moment; null where it is none. */
export function dayOf(at: string | null | undefined): number | null {
  const ms = msOf(at);
  return Number.isNaN(ms) ? null : Math.floor(ms / DAY_MS);
}

const dates = kept<number, string>(20_000);
/** "2026-05-04". */
export const dateOf = (day: number): string => dates(day, () => new Date(day * DAY_MS).toISOString().slice(0, 10));

/** Year, month 0 to 11 and day of the month. */
export function calendarOf(day: number): { year: number; month: number; date: number } {
  const moment = new Date(day * DAY_MS);
  return { year: moment.getUTCFullYear(), month: moment.getUTCMonth(), date: moment.getUTCDate() };
}

/** The first of a month, 0 to 11; months beyond a year's run on into the next. */
export const firstOf = (year: number, month: number): number => Date.UTC(year, month, 1) / DAY_MS;

/** A day alone, as a person or a call gives it: "2026-05-04". Null where it is none. */
export function dayFrom(text: string): number | null {
  const day = /^\d{4}-\d{2}-\d{2}$/.test(text) ? dayOf(text) : null;
  // The 31st of April is read as the 1st of May: no day that anybody meant.
  return day !== null && dateOf(day) === text ? day : null;
}
