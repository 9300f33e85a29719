import { counted } from '../ledger/figures';
import { timelineOf } from '../service/timeline';
import { modelOf } from '../system/model';
import type { SystemFile } from '../system/schema';
import { pretty, type Units } from '../written/units';
import type { Paper } from './blocks';
import { underOf } from './survey-report';

/** Everything that was noted in one year of the calendar, the earliest first: log, readings, visits, what was fitted. */
export function logOfYear(file: SystemFile, year: number, units: Units): Paper {
  const lines = timelineOf(file, units)
    .filter(({ at }) => at.startsWith(`${year}-`))
    .reverse();
  return {
    title: `Log of ${year}`,
    under: underOf(modelOf(file)),
    blocks: [
      {
        is: 'text',
        text: lines.length === 0 ? `Nothing was noted in ${year}.` : `${counted(lines.length, 'entry', 'entries')}.`,
      },
      {
        is: 'table',
        columns: [
          { title: 'Day', wide: 1.6 },
          { title: 'What', wide: 3 },
          { title: 'Details', wide: 5 },
          { title: 'By', wide: 1.6 },
        ],
        rows: lines.map(({ at, title, text, by, struck }) => [
          at.slice(0, 10),
          `${pretty(title, units)}${struck ? ' (struck out)' : ''}`,
          pretty(text, units),
          by,
        ]),
      },
    ],
  };
}

/** Years of which a log has anything, the latest first. */
export const yearsOfLog = (file: SystemFile): number[] =>
  [...new Set(timelineOf(file).flatMap(({ at }) => (/^\d{4}-/.test(at) ? [Number(at.slice(0, 4))] : [])))].sort(
    (a, b) => b - a,
  );
