import type { LogEntry, SystemFile } from '../system/schema';
import { dayOf, msOf } from './days';

/** The log as far as it settles anything (docs/service.md): what was struck out, or put right by another entry, does not. */

/** Entries that count up to a day, the earliest first. */
export function validEntries({ log }: Pick<SystemFile, 'log'>, until = Infinity): LogEntry[] {
  const entries = log ?? [];
  const corrected = new Set(entries.flatMap(({ corrects, struckOut }) => (corrects && !struckOut ? [corrects] : [])));
  return entries
    .filter(({ id, at, struckOut }) => !struckOut && !corrected.has(id) && (dayOf(at) ?? Infinity) <= until)
    .sort((a, b) => msOf(a.at) - msOf(b.at));
}

/** True for an entry of the site as a whole. */
export const ofSite = ({ subject }: Pick<LogEntry, 'subject'>): boolean => !subject || subject === 'site';
