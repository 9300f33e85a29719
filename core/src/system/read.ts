import { parse, printParseErrorCode, type ParseError } from 'jsonc-parser';
import { boundFaults } from './bounds';
import { applyProposal } from './proposals';
import { splitPath } from './evidence';
import { memberAt } from './members';
import { FaultError, faultsIn, MOST_FAULTS, type Fault } from './faults';
import { partIds, type PartKind } from './parts';
import { faultsBy, partFaults } from './part-faults';
import { systemFaults, unique } from './references';
import { fromRows, LISTS, nameOfRow, type Body, type PartRow, type RowKind } from './rows';
import { evidenceSchema, fileSchema, type SystemFile } from './schema';
import { warningsOf } from './warnings';

/** The largest file that is read, bytes. */
export const MOST_BYTES = 10 * 1024 * 1024;

/** A file that was read. */
export interface ReadResult {
  file: SystemFile;
  /** Facts that disagree but are accepted (Isc below Imp ...), for standard error or a quiet line on the screen. */
  warnings: string[];
}

/**
 * Reads a `.lantern.json` text. Unknown members are kept. Nothing is read by halves: any fault refuses the whole file.
 * @throws FaultError with the path of each fault (at most 20); broken JSON by line and column
 */
export function readSystemFile(source: string): ReadResult {
  if (new TextEncoder().encode(source).length > MOST_BYTES)
    throw new FaultError([{ path: 'file', message: 'is larger than 10 MB, expected a smaller file' }]);
  return checkSystemFile(parseJson(source));
}

/** As `readSystemFile`, for a value that is already parsed. */
export function checkSystemFile(value: unknown): ReadResult {
  if (value === null || typeof value !== 'object' || Array.isArray(value))
    throw new FaultError([{ path: 'file', message: 'is not an object, expected a True Lantern system file' }]);
  const tooMuch = boundFaults(value);
  if (tooMuch.length > 0) throw new FaultError(tooMuch);
  const shape = shapeFaults(value);
  if (shape.length > 0) throw new FaultError(shape.slice(0, MOST_FAULTS));
  const file = value as SystemFile;
  const faults = linkFaults(file);
  if (faults.length > 0) throw new FaultError(faults.slice(0, MOST_FAULTS));
  return { file, warnings: warningsOf(file.system ?? {}) };
}

/**
 * Faults of one row within a job, by its own schema, at the paths that it has in the file. With `linkFaultsByRow`, for the
 * rows that changed in a job that was sound, what reading the whole file again would say.
 * @param rows the other rows of the job, asked for only where something is wrong
 */
export function rowFaultsIn(rows: () => readonly PartRow[], changed: PartRow): Fault[] {
  const faults = rowFaults(changed);
  // Where it stands in the file matters where something is wrong with it.
  const at = faults.length > 0 ? pathOfRow(fromRows([...rows(), changed]), changed.kind, changed.body) : '';
  return faults
    .map(({ inBody, path, message }) => ({
      path: inBody ? [at, path].filter(Boolean).join('.') || 'file' : path,
      message,
    }))
    .slice(0, MOST_FAULTS);
}

/**
 * Faults of a job in its size and in where its references and proposals lead, each with the row in which it stands; null
 * where it is about no single one (the size of the file). Rows are not read again by themselves.
 */
export function linkFaultsByRow(rows: readonly PartRow[]): (Fault & { rowId: string | null })[] {
  const file = fromRows(rows);
  const tooMuch = boundFaults(file);
  const faults = tooMuch.length > 0 ? tooMuch : linkFaults(file);
  if (faults.length === 0) return [];
  const byBody = new Map<unknown, string>(rows.map(({ id, body }) => [body, id]));
  const byName = new Map(rows.filter(({ kind }) => kind !== 'gone').map((row) => [nameOfRow(row), row.id]));
  return faults.map((fault) => {
    const [, name] = /^evidence\["(.*)"\]/.exec(fault.path) ?? [];
    const split = name === undefined ? null : splitPath(name, (id) => byName.has(id));
    if (name !== undefined) return { ...fault, rowId: byName.get(split?.partId ?? 'site') ?? null };
    // The longest beginning of the path that is a row's own body.
    let at: unknown = file;
    let rowId: string | null = null;
    for (const key of fault.path.match(/[^.[\]]+/g) ?? []) {
      at = memberAt(at, key);
      rowId ??= byBody.get(at) ?? null;
    }
    return { ...fault, rowId };
  });
}

/** Faults of a row by itself: of its body at paths within it, of its evidence at those of the file. */
function rowFaults({ kind, body, evidence }: PartRow): (Fault & { inBody: boolean })[] {
  const name = nameOfRow({ kind, body });
  return [
    ...partFaults(kind, body).map((fault) => ({ ...fault, inBody: true })),
    ...Object.entries(evidence).flatMap(([field, entry]) =>
      faultsBy(evidenceSchema, entry).map(({ path, message }) => ({
        path: `evidence["${name}.${field}"]${path ? `.${path}` : ''}`,
        message,
        inBody: false,
      })),
    ),
  ];
}

function pathOfRow(file: SystemFile, kind: RowKind, body: Body): string {
  const within = (list: readonly unknown[] | null | undefined, name: string) =>
    `${name}[${(list ?? []).indexOf(body)}]`;
  const [list] = LISTS.find(([, of]) => of === kind) ?? [];
  if (list) return within(file[list], list);
  if (kind === 'file') return '';
  if (kind === 'site' || kind === 'schools' || kind === 'system') return kind;
  const parts = file.system?.[kind as PartKind];
  return Array.isArray(parts) ? within(parts, `system.${kind}`) : `system.${kind}`;
}

/** The file as text: two blanks a level, members in the order in which they were read. */
export function writeSystemFile(file: SystemFile): string {
  return `${JSON.stringify(inOrder(file, fileSchema.describe() as Shape), null, 2)}\n`;
}

/** What yup tells of a schema, as far as order needs it. */
interface Shape {
  fields?: Record<string, Shape>;
  innerType?: Shape;
  meta?: { record?: { describe(): unknown } };
}

/**
 * Members in the schema's order, then unknown ones by name: a database keeps no order of members, and the same job
 * must give the same bytes wherever it was kept.
 */
function inOrder(value: unknown, shape: Shape | undefined): unknown {
  if (Array.isArray(value)) return value.map((item) => inOrder(item, shape?.innerType));
  if (value === null || typeof value !== 'object') return value;
  const record = shape?.meta?.record?.describe() as Shape | undefined;
  const known = Object.keys(shape?.fields ?? {});
  const rest = Object.keys(value)
    .filter((name) => !known.includes(name))
    .sort();
  return Object.fromEntries(
    [...known.filter((name) => Object.hasOwn(value, name)), ...rest].map((name) => [
      name,
      inOrder((value as Record<string, unknown>)[name], shape?.fields?.[name] ?? record),
    ]),
  );
}

function parseJson(source: string): unknown {
  // A byte order mark is an editor's habit, not a fault.
  const text = source.replace(/^\uFEFF/, '');
  // The platform's parser is quick and strict; the other one is asked only where the fault is.
  try {
    return JSON.parse(text) as unknown;
  } catch {
    const errors: ParseError[] = [];
    parse(text, errors, { disallowComments: true, allowTrailingComma: false, allowEmptyContent: false });
    const first = errors[0];
    const before = text.slice(0, first?.offset ?? text.length).split('\n');
    const what = first ? printParseErrorCode(first.error) : 'a character that JSON does not allow';
    const where = `line ${before.length}, column ${(before.at(-1)?.length ?? 0) + 1}`;
    throw new FaultError([{ path: where, message: `is not JSON (${spaced(what)}), expected a JSON file` }]);
  }
}

const spaced = (code: string) => code.replace(/([a-z])([A-Z])/g, '$1 $2').toLowerCase();

const shapeFaults = (value: unknown): Fault[] =>
  faultsBy(fileSchema, value).map(({ path, message }) => ({ path: path || 'file', message }));

/** A system at fault is not asked again with each proposal upon it. */
function linkFaults(file: SystemFile): Fault[] {
  const faults = referenceFaults(file);
  return faults.length > 0 ? faults : proposalFaults(file);
}

/** Ids unique in the file; every reference leads somewhere. */
function referenceFaults(file: SystemFile): Fault[] {
  const system = file.system ?? {};
  const faults: Fault[] = systemFaults(system);
  const ids = partIds(system);
  const own = new Map<string, string>();
  (file.proposals ?? []).forEach((proposal, i) => unique(own, ids, proposal.id, `proposals[${i}].id`, faults));
  (file.readings ?? []).forEach((reading, i) => unique(own, ids, reading.id, `readings[${i}].id`, faults));
  (file.visits ?? []).forEach((visit, i) => unique(own, ids, visit.id, `visits[${i}].id`, faults));
  (file.log ?? []).forEach((entry, i) => unique(own, ids, entry.id, `log[${i}].id`, faults));

  const planned = new Set(
    (file.proposals ?? []).flatMap((proposal) =>
      (proposal.changes ?? []).flatMap((change) => {
        const id = memberAt(change.value, 'id');
        // Also what a proposal took out: readings of it stay, and are still about it.
        return [id, change.id].filter((one) => typeof one === 'string');
      }),
    ),
  );
  const left = new Set((file.gone ?? []).map(({ id }) => id));
  const known = (id: string) => ids.has(id) || planned.has(id) || left.has(id) || PLACES.has(id);
  (file.readings ?? []).forEach((reading, i) => {
    if (!known(reading.subject))
      faults.push({ path: `readings[${i}].subject`, message: `is "${reading.subject}", expected the id of a part` });
  });
  const entries = new Set((file.log ?? []).map(({ id }) => id));
  (file.log ?? []).forEach(({ subject, corrects }, i) => {
    if (subject && !known(subject))
      faults.push({
        path: `log[${i}].subject`,
        message: `is "${subject}", expected the id of a part, or of one that is in "gone"`,
      });
    if (corrects && !entries.has(corrects))
      faults.push({ path: `log[${i}].corrects`, message: `is "${corrects}", expected the id of an entry of the log` });
  });
  (file.feeds ?? []).forEach(({ id, map }, i) => {
    unique(own, ids, id, `feeds[${i}].id`, faults);
    (map ?? []).forEach(({ subject }, k) => {
      if (!known(subject))
        faults.push({ path: `feeds[${i}].map[${k}].subject`, message: `is "${subject}", expected the id of a part` });
    });
  });
  for (const key of Object.keys(file.evidence ?? {})) {
    if (!splitPath(key, known))
      faults.push({ path: `evidence["${key}"]`, message: `names no part, expected "componentId.field"` });
  }
  return faults;
}

/** What evidence and readings may speak of besides parts. */
const PLACES = new Set(['site', 'system', 'schools', 'bank', 'monitor']);

function proposalFaults(file: SystemFile): Fault[] {
  return (file.proposals ?? []).flatMap(({ closed }, index) => {
    // What was fitted is in the system already, and cannot be laid over it again.
    if (closed) return [];
    return faultsIn(() => applyProposal(file, index));
  });
}
