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

/** Days within a sentence as a person writes them: "first on 2 Dec 2026". */
export const inDays = (sentence: string) => sentence.replace(/\d{4}-\d{2}-\d{2}/g, (date) => shortDay(date));
