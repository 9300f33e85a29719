import { elementAt } from '../numeric/element';
import { FaultError, MOST_FAULTS, type Fault } from '../system/faults';
import type { Reading } from '../system/schema';
import { QUANTITIES, type Quantity } from './quantities';
import { readingFault } from './readings';

/**
 * A logger's table as readings (docs/work-orders-and-readings.md): the column of times and those of quantities are named by a
 * person once, and remembered by the device's own header.
 */
export interface LogMap {
  /** Column of the time. */
  time: number;
  /** What each other column is; those that are not named are left out. */
  columns: { column: number; subject: string; quantity: Quantity }[];
}

/** So many of a column are kept, evenly over the log: a curve, not ten thousand rows of a file. */
export const MOST_OF_A_COLUMN = 200;

/** A device is known again by the names of its columns. */
export const deviceOfLog = (header: readonly string[]): string =>
  header
    .map((name) => name.trim().toLowerCase())
    .join('|')
    .slice(0, 400);

/**
 * Readings of a table whose first line names the columns.
 * @param commaDecimals where columns are parted by semicolons, as programs do whose decimals are written with a comma
 * @throws FaultError by line; nothing is taken by halves
 */
export function readingsOfLog(
  table: readonly (readonly string[])[],
  { time, columns }: LogMap,
  commaDecimals = false,
): Omit<Reading, 'id'>[] {
  const [header = [], ...lines] = table;
  if (header[time] === undefined)
    throw new FaultError([{ path: 'line 1', message: `has no column ${time + 1}, expected the times there` }]);
  const faults: Fault[] = [];
  const at: (string | null)[] = lines.map((line, i) => {
    const moment = momentOf(line[time]?.trim() ?? '');
    if (moment === null)
      faults.push({
        path: `line ${i + 2}, ${header[time] ?? ''}`,
        message: `is "${line[time] ?? ''}", expected a time like 2026-05-04 09:10`,
      });
    return moment;
  });
  const readings = columns.flatMap(({ column, subject, quantity }) =>
    thinned(
      lines.map((line, i) => ({ text: line[column]?.trim() ?? '', i })).filter(({ text }) => text !== ''),
    ).flatMap(({ text, i }): Omit<Reading, 'id'>[] => {
      const value = Number(commaDecimals ? text.replace(',', '.') : text);
      const fault = Number.isFinite(value)
        ? readingFault(quantity, value)
        : `is "${text}", expected a figure in ${unitOf(quantity)}`;
      const moment = at[i];
      if (fault) faults.push({ path: `line ${i + 2}, ${header[column] ?? ''}`, message: fault });
      return fault || !moment ? [] : [{ at: moment, subject, quantity, value }];
    }),
  );
  if (faults.length > 0) throw new FaultError(faults.slice(0, MOST_FAULTS));
  return readings;
}

const unitOf = (quantity: Quantity) => QUANTITIES[quantity][0] || 'a share of 1';

/** Every so many-th, the first and the last among them. */
function thinned<T>(list: readonly T[]): T[] {
  if (list.length <= MOST_OF_A_COLUMN) return [...list];
  return Array.from({ length: MOST_OF_A_COLUMN }, (_, k) =>
    elementAt(list, Math.round((k * (list.length - 1)) / (MOST_OF_A_COLUMN - 1))),
  );
}

/** ISO 8601, with a blank for the T, or day first with points, as loggers write it; without a zone: the device's own. */
function momentOf(text: string): string | null {
  const dotted = /^(\d{1,2})\.(\d{1,2})\.(\d{4})[ T](\d{1,2}:\d{2}(?::\d{2})?)$/.exec(text);
  const iso = dotted
    ? `${dotted[3]}-${(dotted[2] ?? '').padStart(2, '0')}-${(dotted[1] ?? '').padStart(2, '0')}T${(dotted[4] ?? '').padStart(5, '0')}`
    : /^\d{4}-\d{2}-\d{2}[ T]\d{2}:\d{2}/.test(text)
      ? text.replace(' ', 'T')
      : null;
  const ms = iso === null ? Number.NaN : Date.parse(iso);
  return Number.isNaN(ms) ? null : new Date(ms).toISOString();
}
