import { sha256 } from '@noble/hashes/sha2';
import { bytesToHex, utf8ToBytes } from '@noble/hashes/utils';
import { lowered } from '../parts/said';
import { sentenceOf, check } from '../rules/check';
import { RULE_BOOK } from '../rules/headline';
import { modelOf, proposedModel, type Model } from '../system/model';
import type { Attachment, Reading, SystemFile, Visit } from '../system/schema';
import { expectedTests, type Judgement } from './expect';
import type { Conditions } from './conditions';
import { QUANTITIES, type Quantity } from './quantities';
import { positionWords } from './readings';
import { settingsOf } from './since';
import type { ExpectedTest } from './row';
import type { Units } from '../written/units';
import { bandText, conditionsOf, provedOf, subjectName, type Proved } from './visit';

/**
 * The record of a visit: made once, when it is signed, and from then on shown on screen, paper and PDF from here alone.
 * What the rules or the system say later changes nothing in it. All figures in SI units.
 */
export interface VisitRecord {
  format: 'true-lantern-record';
  version: 1;
  /** The version of the rules that the verdicts rest on. */
  rules: number;
  /** When it was made, ISO 8601. */
  at: string;
  site: string;
  visit: { id: string; at: string | null; people: string | null; why: string | null; done: string | null };
  /** The proposal that was fitted; null where the system as found was measured. */
  proposal: string | null;
  instruments: string | null;
  conditions: Conditions;
  /** By number, in the order of the walk. */
  read: Record<string, RecordedReading>;
  untested: Record<string, { what: string; reason: string }>;
  left: { over: Record<string, string>; settings: Record<string, { device: string; setting: string; value: string }> };
  photos: Record<string, { note: string | null; sha256: string | null }>;
  signed: Record<string, { name: string; at: string; strokes: string }>;
}

/** One reading as it was judged: what, where, by what, against what. */
export interface RecordedReading {
  /** "Roof array: open-circuit voltage, string 1". */
  what: string;
  unit: string;
  value: number;
  pair: number[] | null;
  /** The band; nulls where nothing was expected. */
  expected: number | null;
  low: number | null;
  high: number | null;
  judged: Judgement | null;
  reason: string | null;
  meter: string | null;
  meter_pct: number | null;
  at: string | null;
}

/** A record with the number by which it is known: the SHA-256 of its canonical JSON, in hex. */
export interface NumberedRecord {
  record: VisitRecord;
  hash: string;
}

/** What is in a record and is not worked out. */
interface Signed {
  at: string;
  signed: VisitRecord['signed'];
  /** By attachment: the SHA-256 of its bytes, where the device has them. */
  photos?: Readonly<Record<string, string>>;
}

/**
 * The record of a visit as it is now.
 * @param model the system that was measured: a proposal's where one was commissioned
 * @param proved its tests with what was read, as `provedOf` has them
 */
export function makeRecord(
  file: Pick<SystemFile, 'site' | 'proposals' | 'readings' | 'attachments'>,
  model: Model,
  visit: Visit,
  proved: readonly Proved[],
  { at, signed, photos = {} }: Signed,
): VisitRecord {
  const mine = (file.readings ?? []).filter((reading) => reading.visit === visit.id);
  const judged = new Map(proved.flatMap((one) => (one.reading ? [[one.reading.id, one] as const] : [])));
  const inOrder = [...judged.keys()].flatMap((id) => mine.filter((reading) => reading.id === id));
  const others = mine.filter(({ id }) => !judged.has(id));
  const over = check(model).filter(({ verdict }) => verdict === 'over');
  return {
    format: 'true-lantern-record',
    version: 1,
    rules: RULE_BOOK,
    at,
    site: file.site.name,
    visit: {
      id: visit.id,
      at: visit.at ?? null,
      people: visit.people ?? null,
      why: visit.why ?? null,
      done: visit.done ?? null,
    },
    proposal: (file.proposals ?? []).find(({ id }) => id === visit.proposalId)?.title ?? null,
    instruments: visit.instruments ?? null,
    conditions: conditionsOf(visit, meterOf(mine)),
    read: numbered([...inOrder, ...others].map((reading) => recorded(model, reading, judged.get(reading.id) ?? null))),
    untested: numbered(
      proved.flatMap(({ test, reading, untested }) =>
        untested && !reading ? [{ what: whatOf(model, test), reason: untested }] : [],
      ),
    ),
    left: {
      over: numbered(over.map((finding) => sentenceOf(model, finding))),
      settings: numbered(settingsOf(model.system).map(({ device, setting, value }) => ({ device, setting, value }))),
    },
    photos: Object.fromEntries(
      takenAt(file.attachments ?? [], visit).map(({ id, note }) => [
        id,
        { note: note ?? null, sha256: photos[id] ?? null },
      ]),
    ),
    signed,
  };
}

/** Photos that were taken at a visit: from when it began. Asked when it is signed, so that later ones are not there yet. */
export const takenAt = (attachments: readonly Attachment[], { at }: Pick<Visit, 'at'>): Attachment[] =>
  attachments.filter(({ kind, at: when }) => kind === 'photo' && at && when && when >= at);

/** What a meter reads to, of those that were used; where nobody said, half a per cent. */
const meterOf = (readings: readonly Reading[]): number =>
  readings.find(({ meter_pct }) => typeof meter_pct === 'number')?.meter_pct ?? 0.5;

function whatOf(
  model: Model,
  { subject, quantity, position }: Pick<ExpectedTest, 'subject' | 'quantity' | 'position'>,
) {
  const where = positionWords(position);
  return `${subjectName(model, subject)}: ${lowered(QUANTITIES[quantity][1])}${where ? `, ${where}` : ''}`;
}

function recorded(model: Model, reading: Reading, proved: Proved | null): RecordedReading {
  const { subject, position, quantity } = reading;
  const known = Object.hasOwn(QUANTITIES, quantity) ? (quantity as Quantity) : null;
  const { test, judged, reason } = proved ?? { test: null, judged: null, reason: null };
  return {
    what: known
      ? whatOf(model, { subject, quantity: known, ...(position ? { position } : {}) })
      : subjectName(model, subject),
    unit: known ? QUANTITIES[known][0] : '',
    value: reading.value,
    pair: reading.pair && reading.pair.length > 0 ? reading.pair : null,
    expected: test?.expected ?? null,
    low: test?.low ?? null,
    high: test?.high ?? null,
    judged,
    reason: reason ?? reading.note ?? null,
    meter: reading.meter ?? null,
    meter_pct: reading.meter_pct ?? null,
    at: reading.at ?? null,
  };
}

/** A list as an object: a job may hold but so many items in its lists, and a record holds many. */
const numbered = <T>(list: readonly T[]): Record<string, T> =>
  Object.fromEntries(list.map((item, n) => [String(n + 1), item]));

/** A record's number. */
export const numberOf = (record: unknown): string => bytesToHex(sha256(utf8ToBytes(canonical(record))));

/** The SHA-256 of some bytes, in hex. */
export const hashOfBytes = (bytes: Uint8Array): string => bytesToHex(sha256(bytes));

/** JSON with the members of every object in order: the same record has the same text wherever it was kept. */
function canonical(value: unknown): string {
  if (Array.isArray(value)) return `[${value.map(canonical).join(',')}]`;
  if (value === null || typeof value !== 'object') return JSON.stringify(value ?? null);
  const members = Object.entries(value)
    .filter(([, member]) => member !== undefined)
    .sort(([a], [b]) => (a < b ? -1 : 1))
    .map(([name, member]) => `${JSON.stringify(name)}:${canonical(member)}`);
  return `{${members.join(',')}}`;
}

/** What a visit's record is: kept whole, signed before records were, or not signed yet. */
export type RecordState = 'kept' | 'changed' | 'before-records' | 'draft';

/** What is said at the head of a record that was not kept whole when it was signed; null of one that was. */
export const RECORD_HEADS: Record<RecordState, string | null> = {
  kept: null,
  changed: 'This record does not match its number. Ask the server for the stored original.',
  draft: 'Draft: not signed yet.',
  'before-records': 'Signed with an earlier version that stored no record: expected figures are calculated again.',
};

/** A record's number as it is printed, in groups that can be compared by eye, and what it is good for. */
export const numberText = (hash: string): string => `Record number ${hash.match(/.{1,8}/g)?.join(' ') ?? hash}`;
/** Stands under the number wherever it is printed. */
export const NUMBER_NOTE = 'Anyone with this number can ask the server that stores it whether it is unchanged.';

/** "26.6 V, 26.4 to 26.9 V" of a reading in a record; empty where nothing was expected. */
export const recordedBand = (reading: RecordedReading, units: Units): string =>
  reading.expected === null && reading.low === null && reading.high === null ? '' : bandText(reading, units);

/** A correction beside a signed record. */
export interface Addendum {
  id: string;
  text: string;
  by: string;
  at: string | null;
}

/** Corrections of a visit, the first first. */
export const addendaOf = ({ addenda }: Pick<Visit, 'addenda'>): Addendum[] =>
  Object.entries((addenda ?? {}) as Record<string, { text?: string; by?: string; at?: string } | null>)
    .flatMap(([id, entry]) => (entry ? [{ id, text: entry.text ?? '', by: entry.by ?? '', at: entry.at ?? null }] : []))
    .sort((a, b) => (a.at ?? '').localeCompare(b.at ?? ''));

/**
 * The record to show of a visit: the one that was kept when it was signed; worked out now where it is not signed yet, or
 * was signed by a version that kept none, which is said.
 * @returns null where the site has no such visit
 */
export function recordToShow(
  file: SystemFile,
  visitId: string,
): { record: VisitRecord; hash: string | null; state: RecordState } | null {
  const visit = (file.visits ?? []).find(({ id }) => id === visitId);
  if (!visit) return null;
  const kept = visit.record as VisitRecord | null | undefined;
  if (kept && typeof kept === 'object' && visit.recordHash)
    return {
      record: kept,
      hash: visit.recordHash,
      state: numberOf(kept) === visit.recordHash ? 'kept' : 'changed',
    };
  const model = (visit.proposalId && openProposal(file, visit.proposalId)) || modelOf(file);
  const mine = (file.readings ?? []).filter((reading) => reading.visit === visitId);
  const proved = provedOf(expectedTests(model, conditionsOf(visit, meterOf(mine))).tests, file.readings ?? [], visit);
  const signed = Object.fromEntries(
    Object.entries((visit.signed ?? {}) as Record<string, Partial<VisitRecord['signed'][string]> | null>).flatMap(
      ([who, entry]) =>
        entry ? [[who, { name: entry.name ?? '', at: entry.at ?? '', strokes: entry.strokes ?? '' }]] : [],
    ),
  );
  return {
    record: makeRecord(file, model, visit, proved, { at: visit.at ?? '', signed }),
    hash: null,
    state: Object.keys(signed).length > 0 ? 'before-records' : 'draft',
  };
}

/** The system with a proposal that is not fitted yet; null where it is, or no longer applies. */
const openProposal = (file: SystemFile, id: string): Model | null =>
  (file.proposals ?? []).some((one) => one.id === id && !one.closed) ? proposedModel(file, id) : null;
