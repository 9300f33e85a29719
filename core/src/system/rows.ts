import { FaultError, type Fault } from './faults';
import { splitPath } from './evidence';
import { isListName, isSingleName, LIST_NAMES, SINGLE_NAMES, type PartKind } from './parts';
import type { Evidence, SystemFile } from './schema';

/**
 * A job as it is stored and synchronised: part by part, so that two people can edit two parts. `site`, `schools` and
 * `system` are parts like any other; `file` holds members of the file that this version does not know.
 */
export type RowKind =
  | PartKind
  | 'site'
  | 'schools'
  | 'system'
  | 'proposal'
  | 'reading'
  | 'visit'
  | 'attachment'
  | 'log'
  | 'gone'
  | 'feed'
  | 'file';

export type Body = Record<string, unknown>;

/** A part as a row of its own, so that two phones may change two fields of it. */
export interface PartRow {
  /** UUID made by whoever made the part; the part's own `id` in the file is in `body`. */
  id: string;
  kind: RowKind;
  body: Body;
  /** Evidence by field of this part, without the part's id. */
  evidence: Record<string, Evidence>;
  /** Order among parts of its kind. */
  position: number;
  revision: number;
}

const EXTRA_KINDS = [
  'site',
  'schools',
  'system',
  'proposal',
  'reading',
  'visit',
  'attachment',
  'log',
  'gone',
  'feed',
  'file',
] as const;
/** Kinds of rows: parts, and what else a site is made of. */
export const ROW_KINDS: readonly RowKind[] = [...LIST_NAMES, ...SINGLE_NAMES, ...EXTRA_KINDS];

/** Lists of a file beside its system, and what a row of each is. */
export const LISTS = [
  ['proposals', 'proposal'],
  ['readings', 'reading'],
  ['visits', 'visit'],
  ['attachments', 'attachment'],
  ['log', 'log'],
  ['gone', 'gone'],
  ['feeds', 'feed'],
] as const satisfies readonly (readonly [keyof SystemFile, RowKind])[];

/** What a row is called in `evidence` and in paths: the id in its body, or the name of its kind. */
export const nameOfRow = ({ kind, body }: Pick<PartRow, 'kind' | 'body'>): string =>
  kind === 'site' || kind === 'schools' || kind === 'system' || kind === 'file' ? kind : String(body.id);

/** Takes a file apart. `newId` makes the rows' UUIDs. */
export function toRows(file: SystemFile, newId: () => string): PartRow[] {
  const { site, schools, system, evidence, format, version, ...others } = file;
  const { proposals, readings, visits, attachments, log, gone, feeds, ...rest } = others;
  void format;
  void version;
  const rows: PartRow[] = [];
  const add = (kind: RowKind, body: object, position: number) =>
    rows.push({ id: newId(), kind, body: structuredClone(body) as Body, evidence: {}, position, revision: 1 });
  add('site', site, 0);
  add('schools', schools ?? {}, 0);
  const outside: Body = {};
  for (const [key, value] of Object.entries(system ?? {})) {
    const parts = isListName(key) ? ((value ?? []) as object[]) : isSingleName(key) && value ? [value as object] : [];
    parts.forEach((part, i) => add(key as RowKind, part, i));
    // An empty list and a null are kept as they were written: here, until a part of that kind is recorded.
    if (parts.length === 0) outside[key] = value;
  }
  add('system', outside, 0);
  const lists = { proposals, readings, visits, attachments, log, gone, feeds };
  for (const [key, kind] of LISTS) (lists[key] ?? []).forEach((body, i) => add(kind, body, i));
  const unknown: Body = { ...rest };
  for (const [key, value] of Object.entries({ schools, evidence, system, ...lists }))
    if (value === null || (value !== undefined && Object.keys(value).length === 0)) unknown[key] = value;
  if (Object.keys(unknown).length > 0) add('file', unknown, 0);

  // A part that left may have come again under its id: what is there has the name.
  const byName = new Map(
    [...rows.filter(({ kind }) => kind === 'gone'), ...rows.filter(({ kind }) => kind !== 'gone')].map((row) => [
      nameOfRow(row),
      row,
    ]),
  );
  const loose: Record<string, Evidence> = {};
  for (const [path, entry] of Object.entries(evidence ?? {})) {
    const split = splitPath(path, (id) => byName.has(id));
    const row = split && byName.get(split.partId);
    if (row) row.evidence[split.field] = entry;
    else loose[path] = entry;
  }
  // Evidence for parts that only a proposal adds has no row of its own yet; it travels with the site.
  const siteRow = rows.find(({ kind }) => kind === 'site');
  if (siteRow) for (const [path, entry] of Object.entries(loose)) siteRow.evidence[`/${path}`] = entry;
  return rows;
}

/** Puts a file together again: the opposite of `toRows`. */
export function fromRows(rows: readonly PartRow[]): SystemFile {
  const ordered = [...rows].sort((a, b) => a.position - b.position);
  const bodies = (kind: RowKind) => ordered.filter((row) => row.kind === kind).map(({ body }) => body);
  const one = (kind: RowKind): Body | undefined => bodies(kind)[0];
  const system: Body = { ...one('system') };
  for (const kind of LIST_NAMES) if (bodies(kind).length > 0) system[kind] = bodies(kind);
  for (const kind of SINGLE_NAMES) if (one(kind)) system[kind] = one(kind);
  const evidence: Record<string, Evidence> = {};
  for (const row of ordered)
    for (const [field, entry] of Object.entries(row.evidence))
      evidence[field.startsWith('/') ? field.slice(1) : `${nameOfRow(row)}.${field}`] = entry;
  const schools = one('schools');
  // Kept as it was by a version that did not know what it was: it goes on where the rows of today stand.
  const kept = one('file');
  const lists = LISTS.flatMap(([key, kind]): [string, Body[]][] => {
    const before = kept?.[key];
    const all = [...(Array.isArray(before) ? (before as Body[]) : []), ...bodies(kind)];
    return all.length > 0 ? [[key, all]] : [];
  });
  return {
    format: 'true-lantern',
    version: 1,
    ...kept,
    site: one('site') ?? { name: '' },
    ...(schools && Object.keys(schools).length > 0 ? { schools } : {}),
    ...(Object.keys(system).length > 0 || !('system' in (one('file') ?? {})) ? { system } : {}),
    ...(Object.keys(evidence).length > 0 ? { evidence } : {}),
    ...Object.fromEntries(lists),
  } as SystemFile;
}

/** @throws FaultError for rows of a kind that this version does not know */
export function assertRowKind(kind: string): asserts kind is RowKind {
  const fault: Fault = { path: 'kind', message: `is "${kind}", expected one of ${ROW_KINDS.join(', ')}` };
  if (!(ROW_KINDS as readonly string[]).includes(kind)) throw new FaultError([fault]);
}
