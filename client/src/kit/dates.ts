import { format, isValid, parseISO } from 'date-fns';

/** "5 May 2026": on papers. */
export const dayText = (day: Date) => format(day, 'd MMMM yyyy');
/** "5 May 2026, 09:10", from ISO 8601; a text that is no time is shown as it is. */
export const momentText = (at: string) => {
  const moment = parseISO(at);
  return isValid(moment) ? format(moment, 'd MMM yyyy, HH:mm') : at;
};
/** "5 May 2026", from ISO 8601. */
export const shortDay = (at: string) => {
  const moment = parseISO(at);
  return isValid(moment) ? format(moment, 'd MMM yyyy') : at;
};
