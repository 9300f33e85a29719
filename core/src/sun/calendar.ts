/** A year of 365 days, January first; hours counted from 0. */
export const HOURS_Y = 8760;
/** Days of a year; leap days are left out. */
export const DAYS_Y = 365;
/** Days of each month. */
export const MONTH_DAYS = [31, 28, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31] as const;

/** The month, 0 to 11, of each day. */
export const MONTH_OF_DAY: Uint8Array = Uint8Array.from(
  MONTH_DAYS.flatMap((days, month) => Array.from({ length: days }, () => month)),
);
/** The first day of each month, counted from 0. */
export const FIRST_DAY: readonly number[] = MONTH_DAYS.map((_, month) =>
  MONTH_DAYS.slice(0, month).reduce((sum: number, days) => sum + days, 0),
);

/** Of each hour of a year its place in the mean year: month x 24 + hour of the day. */
export const MEAN_HOUR: Uint16Array = Uint16Array.from(
  { length: HOURS_Y },
  (_, h) => 24 * (MONTH_OF_DAY[Math.floor(h / 24)] ?? 0) + (h % 24),
);
