/** Months in a sentence. */
export const MONTHS: readonly string[] =
  'January February March April May June July August September October November December'.split(' ');
