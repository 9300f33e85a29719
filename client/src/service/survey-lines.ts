import { isPartKind, nameOfRow, type PastEntry, type RowKind, type TimeLine } from '@true-lantern/core';
import { changeWords } from '../data/change-words';
import type { OpenSite } from '../data/site';

/** Changes of the survey as lines of the log: what one person did at one part within ten minutes is one line. */

const TOGETHER_MS = 10 * 60_000;

/** Of parts and of the site; what has lines of its own (log, readings, visits) is not said twice. */
const isSurvey = (kind: string): boolean => isPartKind(kind) || ['site', 'system', 'schools'].includes(kind);

/** @param past the latest first, as the server tells it */
export function surveyLines(site: OpenSite, past: readonly PastEntry[]): TimeLine[] {
  const names = new Map(site.rows.map((row) => [row.id, nameOfRow(row)]));
  const lines: (TimeLine & { rowId: string })[] = [];
  for (const { changeId, partId, kind, part, person, madeAt, fields, before } of past) {
    if (!isSurvey(kind)) continue;
    const words = changeWords(kind as RowKind, fields, before).join(' \u00b7 ');
    if (words === '') continue;
    const last = lines.findLast((line) => line.rowId === partId);
    if (last && last.by === (person ?? '') && Date.parse(last.at) - Date.parse(madeAt) < TOGETHER_MS) {
      last.text = `${words} \u00b7 ${last.text}`;
      continue;
    }
    lines.push({
      id: `change ${changeId}`,
      at: madeAt,
      of: 'survey',
      title: `Survey: ${part || kind}`,
      text: words,
      subject: names.get(partId) ?? 'site',
      by: person ?? '',
      struck: false,
      rowId: partId,
    });
  }
  return lines.map(({ rowId: _, ...line }) => line);
}

/** Lines of two lists as one, the latest first. */
export const merged = (one: readonly TimeLine[], other: readonly TimeLine[]): TimeLine[] =>
  other.length === 0 ? [...one] : [...one, ...other].sort((a, b) => (a.at < b.at ? 1 : a.at > b.at ? -1 : 0));
