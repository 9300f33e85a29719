import { memberAt, setMember } from './members';
import type { Evidence } from './schema';
import type { Body, PartRow, RowKind } from './rows';

/**
 * The change protocol. A change sets some fields of one part; it carries an id of its own, so that sending it twice
 * does nothing twice, and the revision it was made against, so that fields changed on one side only merge by
 * themselves. Undo is another change.
 */
export interface PartChange {
  changeId: string;
  partId: string;
  /** The part's revision on the writer's device; 0 creates the part. */
  baseRevision: number;
  /**
   * Field -> value. A field is a path in the body ("settings.absorb_V"); "evidence/FIELD" sets evidence; "/deleted"
   * marks the part deleted (true) or brings it back (false), "/position" moves it. null takes a field out.
   */
  set: Record<string, unknown>;
  /** When it was made, on the writer's clock. */
  at: string;
  /** The device it was made on: what that device set before is no conflict to it. */
  device?: string;
  /** Only where the change creates the part. */
  create?: { kind: RowKind; position: number };
}

/** One line of a site's history: who set what, when, and what stood there before. */
export interface PastEntry {
  changeId: string;
  partId: string;
  kind: string;
  /** What the part is called now. */
  part: string;
  person: string | null;
  /** On the writer's clock. */
  madeAt: string;
  /** The revision that the change made. */
  revision: number;
  fields: Record<string, unknown>;
  before: Record<string, unknown>;
  /** What was wanted and not taken, since somebody else had set it meanwhile. */
  conflicts?: FieldConflict[];
}

/** A field that was changed on both sides to different values: kept for a person to settle, nothing lost. */
export interface FieldConflict {
  field: string;
  /** What stands now. */
  current: unknown;
  /** What the refused field wanted. */
  wanted: unknown;
}

/** A row as the server keeps it. */
export interface StoredPart extends PartRow {
  deleted: boolean;
}

/** The fields set by one earlier change of a part, as needed to merge a later one. */
export interface PastChange {
  revision: number;
  set: Record<string, unknown>;
  device: string | null;
}

/** The field by which a change takes a row out. */
export const DELETED = '/deleted';
/** Order among parts of its kind; of two people who move a part the later one has it. */
export const POSITION = '/position';
const EVIDENCE = 'evidence/';
const FORBIDDEN = new Set(['__proto__', 'prototype', 'constructor']);

/** True for a field name the protocol allows. */
export const isField = (field: string) =>
  field === DELETED ||
  field === POSITION ||
  (field.length > 0 &&
    field.length <= 200 &&
    (field.startsWith(EVIDENCE) ? field.length > EVIDENCE.length : !field.startsWith('/')) &&
    !field.split(/[./]/).some((step) => FORBIDDEN.has(step)));

/** The part with some fields set; the input is not touched. */
export function applyFields(part: StoredPart, set: Record<string, unknown>): StoredPart {
  const next: StoredPart = { ...part, body: structuredClone(part.body), evidence: { ...part.evidence } };
  for (const [field, value] of Object.entries(set)) {
    if (field === DELETED) next.deleted = value === true;
    else if (field === POSITION) next.position = Number.isInteger(value) ? (value as number) : next.position;
    else if (field.startsWith(EVIDENCE)) {
      const name = field.slice(EVIDENCE.length);
      if (value === null) delete next.evidence[name];
      else next.evidence[name] = value as Evidence;
    } else setMember(next.body, field, value);
  }
  return next;
}

/** As `applyFields`, for a row that is not marked deleted and stays so. */
export function setOnRow(row: PartRow, set: Record<string, unknown>): PartRow {
  const { deleted: _, ...next } = applyFields({ ...row, deleted: false }, set);
  return next;
}

/** What stands in a field now; undefined where there is nothing. */
export function fieldOf(part: StoredPart, field: string): unknown {
  if (field === DELETED) return part.deleted;
  if (field === POSITION) return part.position;
  if (field.startsWith(EVIDENCE)) return part.evidence[field.slice(EVIDENCE.length)];
  return memberAt(part.body, field);
}

/**
 * Splits a change into the fields that can be set and those that someone else set differently since `baseRevision`.
 * Both sides having reached the same value is no conflict.
 */
export function mergeFields(
  part: StoredPart,
  change: Pick<PartChange, 'baseRevision' | 'set' | 'device'>,
  past: readonly PastChange[],
): { set: Record<string, unknown>; conflicts: FieldConflict[] } {
  const since = past
    .filter(({ revision, device }) => revision > change.baseRevision && (device === null || device !== change.device))
    .flatMap(({ set }) => Object.keys(set));
  const set: Record<string, unknown> = {};
  const conflicts: FieldConflict[] = [];
  for (const [field, value] of Object.entries(change.set)) {
    const touched = since.some((other) => overlaps(other, field));
    const current = fieldOf(part, field);
    if (touched && field !== POSITION && !same(current, value))
      conflicts.push({ field, current: current ?? null, wanted: value });
    else set[field] = value;
  }
  return { set, conflicts };
}

/** "settings" and "settings.absorb_V" speak of the same thing. */
const overlaps = (a: string, b: string) => a === b || a.startsWith(`${b}.`) || b.startsWith(`${a}.`);

/** Equal as JSON, whatever the order of members; absent and null are both "unknown". */
export function same(a: unknown, b: unknown): boolean {
  const [x, y] = [a ?? null, b ?? null];
  if (x === y) return true;
  if (x === null || y === null || typeof x !== 'object' || typeof y !== 'object') return false;
  if (Array.isArray(x) !== Array.isArray(y)) return false;
  const keys = new Set([...Object.keys(x), ...Object.keys(y)]);
  return [...keys].every((key) => same((x as Body)[key], (y as Body)[key]));
}
