import { format, isValid, parseISO } from 'date-fns';

/** "5 May 2026": on papers. */
export const dayText = (day: Date) => format(day, 'd MMMM yyyy');
/** ISO 8601 by a pattern; a text that is no time is shown as it is. */
const written = (at: string, pattern: string) => {
  const moment = parseISO(at);
  return isValid(moment) ? format(moment, pattern) : at;
};
/** "5 May 2026, 09:10". */
export const momentText = (at: string) => written(at, 'd MMM yyyy, HH:mm');
/** "5 May 2026". */
export const shortDay = (at: string) => written(at, 'd MMM yyyy');
