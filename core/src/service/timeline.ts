import { isQuantity, nameToday, PAIRS, QUANTITIES } from '../readings/quantities';
import { positionWords } from '../readings/readings';
import { readingText, subjectName } from '../readings/visit';
import { harmless } from '../shelf/table';
import { modelOf } from '../system/model';
import type { LogEntry, LogKind, Reading, SystemFile } from '../system/schema';
import { METRIC, type Units } from '../written/units';
import { LOG_WORDS, TEST_WORDS } from './words';

/** Everything that happened at a site as one list of lines (docs/service.md), the latest first. */

/** What a line is of. */
export type LineOf = LogKind | 'reading' | 'visit' | 'installed' | 'survey';

/** One line of the timeline. */
export interface TimeLine {
  id: string;
  at: string;
  of: LineOf;
  title: string;
  /** Everything else that it says, as one text; searched in. */
  text: string;
  subject: string;
  by: string;
  /** Struck out: still to be read, and settling nothing. */
  struck: boolean;
  /** The entry of the log behind it, where there is one. */
  entry?: LogEntry;
}

/** All lines of a file, the latest first; what has no moment stands last. */
export function timelineOf(file: SystemFile, units: Units = METRIC): TimeLine[] {
  const model = modelOf(file);
  const left = new Map((file.gone ?? []).map(({ id, label }) => [id, label ?? id]));
  const name = (subject: string) => left.get(subject) ?? subjectName(model, subject);
  const corrected = new Map(
    (file.log ?? []).flatMap(({ id, corrects, struckOut }) =>
      corrects && !struckOut ? [[corrects, id] as const] : [],
    ),
  );
  const lines: TimeLine[] = [
    ...(file.log ?? []).map((entry): TimeLine => {
      const subject = entry.subject || 'site';
      return {
        id: entry.id,
        at: entry.at,
        of: entry.kind,
        title: entry.what ? `${LOG_WORDS[entry.kind]}: ${TEST_WORDS[entry.what]}` : LOG_WORDS[entry.kind],
        text: [subject === 'site' ? '' : name(subject), ...saidIn(entry), entry.corrects ? 'correction' : '']
          .filter(Boolean)
          .join(' \u00b7 '),
        subject,
        by: entry.by ?? '',
        struck: Boolean(entry.struckOut) || corrected.has(entry.id),
        entry,
      };
    }),
    ...(file.readings ?? []).map((reading) => lineOfReading(reading, name, units)),
    ...(file.visits ?? []).map((visit): TimeLine => {
      const names = Object.values(visit.signed ?? {}).flatMap((signature) => signature?.name ?? []);
      return {
        id: visit.id,
        at: visit.at ?? '',
        of: 'visit',
        title: names.length > 0 ? 'Visit, signed' : 'Visit',
        text: [visit.why, visit.done, names.length > 0 ? `signed by ${names.join(', ')}` : '']
          .filter(Boolean)
          .join(' \u00b7 '),
        subject: 'site',
        by: visit.people ?? '',
        struck: false,
      };
    }),
    ...(file.proposals ?? []).flatMap((proposal): TimeLine[] =>
      proposal.closed?.as === 'fitted'
        ? [
            {
              id: proposal.id,
              at: proposal.closed.at ?? '',
              of: 'installed',
              title: `Installed: ${proposal.title}`,
              text: '',
              subject: 'site',
              by: proposal.closed.by ?? '',
              struck: false,
            },
          ]
        : [],
    ),
  ];
  return lines.sort((a, b) => (Date.parse(b.at) || 0) - (Date.parse(a.at) || 0));
}

function lineOfReading(reading: Reading, name: (subject: string) => string, units: Units): TimeLine {
  const quantity = nameToday(reading.quantity);
  const [unit, title] = isQuantity(quantity) ? QUANTITIES[quantity] : ['', quantity];
  const where = positionWords(reading.position);
  const pair = isQuantity(quantity) && reading.pair?.length === 2 ? PAIRS[quantity] : undefined;
  return {
    id: reading.id,
    at: reading.at ?? '',
    of: 'reading',
    title: `${title}: ${readingText(reading.value, unit, units)}`,
    text: [
      `${name(reading.subject)}${where ? `, ${where}` : ''}`,
      pair ? `${pair[0]} ${reading.pair?.[0]}, ${pair[1]} ${reading.pair?.[1]} ${unit}` : '',
      reading.meter ?? '',
      reading.note ?? '',
    ]
      .filter(Boolean)
      .join(' \u00b7 '),
    subject: reading.subject,
    by: '',
    struck: false,
  };
}

/** What an entry says beside its kind: text, hours, litres, minutes, parts. */
function saidIn({ text, litres, hours, minutes, parts }: LogEntry): string[] {
  return [
    text ?? '',
    litres ? `${litres} L` : '',
    hours ? `${hours} h` : '',
    minutes ? `${minutes} min` : '',
    ...(parts ?? []).map(({ what, count }) => `${count ?? 1} x ${what ?? ''}`),
  ].filter(Boolean);
}

/** Lines with each of the words that were typed, in any order and case. */
export function found(lines: readonly TimeLine[], words: string): TimeLine[] {
  const wanted = words.toLowerCase().split(/\s+/).filter(Boolean);
  if (wanted.length === 0) return [...lines];
  return lines.filter(({ at, title, text, by }) => {
    const all = `${at} ${title} ${text} ${by}`.toLowerCase();
    return wanted.every((word) => all.includes(word));
  });
}

/** The timeline as a table (RFC 4180 is the caller's matter); what a spreadsheet would take for a formula is defused. */
export function timelineTable(lines: readonly TimeLine[]): string[][] {
  return [
    ['at', 'what', 'part', 'details', 'by', 'struck out'],
    ...lines.map(({ at, title, subject, text, by, struck }) =>
      [at, title, subject, text, by, struck ? 'yes' : ''].map(harmless),
    ),
  ];
}
