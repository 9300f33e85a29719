import { nameToday } from '../readings/quantities';
import type { LogEntry, LogKind, LogTest, Reading, SystemFile } from '../system/schema';
import { dayOf } from './days';
import { ofSite, validEntries } from './log';

/** What has happened up to a day: all that can settle a duty. */
export interface Past {
  on: number;
  /** From when the system is recorded as it is. */
  since: number;
  log: readonly LogEntry[];
  readings: readonly Read[];
  /** Days on which a visit was signed, and whether it built a proposal. */
  signatures: readonly { day: number; built: boolean }[];
}

/** What of a reading can settle a duty. */
export type Read = Pick<Reading, 'subject' | 'meter'> & { day: number; quantity: string };

/** Everything up to a day; what is dated after it has not happened yet. */
export function pastOf(file: SystemFile, on: number): Past {
  const readings: Read[] = [];
  for (const { at, quantity, subject, meter } of file.readings ?? []) {
    const day = dayOf(at);
    if (day !== null && day <= on) readings.push({ day, quantity: nameToday(quantity), subject, meter });
  }
  const first = readings.reduce((least, { day }) => Math.min(least, day), Infinity);
  const recorded = dayOf(file.site.since);
  return {
    on,
    since: recorded !== null && recorded <= on ? recorded : Math.min(first, on),
    log: validEntries(file, on),
    readings,
    signatures: (file.visits ?? []).flatMap(({ signed, proposalId }) => {
      const days = Object.values(signed ?? {}).flatMap((signature) => dayOf(signature?.at) ?? []);
      const day = Math.max(...days.filter((each) => each <= on));
      return Number.isFinite(day) ? [{ day, built: Boolean(proposalId) }] : [];
    }),
  };
}

/** The latest day of some; null where there is none. */
export const latestOf = (days: readonly number[]): number | null => (days.length > 0 ? Math.max(...days) : null);

/** Days on which the log says that a thing was done, at a part or at the whole site. */
export const loggedDays = ({ log }: Past, kind: LogKind, subject: string, what?: LogTest): number[] =>
  log
    .filter(
      (entry) =>
        entry.kind === kind &&
        (what === undefined || entry.what === what) &&
        (subject === 'site' || ofSite(entry) || entry.subject === subject),
    )
    .flatMap(({ at }) => dayOf(at) ?? []);

/** Days on which something was read at a part, at whatever place of it. */
export const readDays = ({ readings }: Past, quantities: readonly string[], subject: string): number[] =>
  readings.filter((one) => one.subject === subject && quantities.includes(one.quantity)).map(({ day }) => day);
