import { check, sentenceOf } from '../rules/check';
import { emf_V } from '../bank/bank';
import { cellsPerBlock, CONVERSION, takes } from '../chemistry/chemistry';
import { blocksInSeries, freshBank } from '../bank/fresh';
import { compare } from '../proposal/compare';
import { lfpSettings } from '../proposal/settings';
import { interrupt_A } from '../conductors/fuses';
import { toCut_m } from '../conductors/sizes';
import { createLedger } from '../ledger/ledger';
import type { Finding } from '../rules/finding';
import { memberAt, setMember } from '../system/members';
import { faultsOfChanges, type Model, withChanges } from '../system/model';

import { isSingleName, type PartKind } from '../system/parts';
import type { Bank, Change, PvArray, Run } from '../system/schema';
import { FIELDS, staysBehind } from '../parts/lists';
import type { ShelfItem } from '../shelf/item';
import { type Grouping } from './battery';
import { inputsOf, isInputsOf } from './in-its-place';
import { joinChanges } from './join';
import { type LineVerdict } from './line';
import { judgeSpec, inBody, specify, verdictOf, type Judged, type Specification } from './specify';

/** A part put in another's place. */
export interface Swap {
  changes: Change[];
  /** Over now and not before, or worse than before: what else must be done, or why it will not do. */
  broken: { finding: Finding; text: string }[];
  cured: Finding[];
}

/** The swap run through the whole rule book. */
export function swap(model: Model, before: readonly Finding[], changes: Change[]): Swap {
  const after = withChanges(model, changes);
  const { broken, worse, cured } = compare(before, after);
  return {
    changes,
    broken: [...broken, ...worse].map((finding) => ({ finding, text: sentenceOf(after, finding) })),
    cured,
  };
}

/** The changes that put a part's successor in its place: its plate goes, what belongs to the place stays. */
export function swapChanges(
  model: Model,
  spec: Specification,
  body: Record<string, unknown>,
  label?: string,
): Change[] {
  const { partId, kind, aspect, grouping } = spec;
  const inputs = inputsOf(model, partId);
  if (!inputs) return [];
  const { part } = inputs;
  if (isInputsOf(inputs, 'arrays')) return moduleChanges(model, inputs.part, body, label);
  if (isInputsOf(inputs, 'otherBanks')) return joinChanges(model, inputs.part, body, label);
  const id = isSingleName(kind) ? {} : { id: partId };
  if (aspect === 'cable') return [{ op: 'set', at: kind, ...id, value: { ...body } }];
  if (aspect === 'fuse') {
    const old = isInputsOf(inputs, 'runs') ? inputs.part.protection : null;
    const gone = Object.fromEntries(
      Object.keys(old ?? {})
        .filter((field) => field !== 'fromSource_m')
        .map((field) => [field, null]),
    );
    return [{ op: 'set', at: kind, ...id, value: { protection: { ...gone, ...body } } }];
  }
  // Where the new one's sheet does not say what a part cannot be without, it is as the old one.
  const gone = Object.keys(part).filter((member) => !staysWhole(kind, member));
  const joined =
    isInputsOf(inputs, 'bank') && grouping ? freshBank(grouping.series, grouping.parallel, inputs.part.link) : {};
  const settings = lithiumSettings(model, kind, part.id, body);
  const value = {
    ...Object.fromEntries(gone.map((field) => [field, null])),
    ...structuredClone(body),
    ...joined,
    ...(settings ? { settings } : {}),
    ...(label ? { label: grouping ? `${grouping.series * grouping.parallel} x ${label}` : label } : {}),
  };
  return [{ op: 'set', at: kind, ...id, value }];
}

/** A member that stays as a whole; an object of which only some stays goes, and comes anew with the part. */
function staysWhole(kind: PartKind, member: string): boolean {
  const own = FIELDS[kind].filter(({ path }) => path === member || path.startsWith(`${member}.`));
  return own.length > 0 ? own.every(({ path }) => staysBehind(kind, path)) : staysBehind(kind, member);
}

/** On a lithium iron bank a charging device that can be set comes with its sheet; what was read before stands. */
function lithiumSettings(
  { system }: Model,
  kind: PartKind,
  id: string,
  body: Record<string, unknown>,
): Record<string, unknown> | null {
  const { bank } = system;
  if ((kind !== 'controllers' && kind !== 'chargers') || bank?.chemistry !== CONVERSION) return null;
  if (!takes(body.profiles as string[] | undefined, CONVERSION)) return null;
  const cells = (cellsPerBlock(bank).cells ?? 0) * bank.series;
  if (cells === 0) return null;
  return Object.fromEntries(
    lfpSettings(system, cells, new Set())
      .filter((one) => one.id === id)
      .map(({ setting, before, after }) => [setting, before ?? after]),
  );
}

function moduleChanges(model: Model, array: PvArray, body: Record<string, unknown>, label?: string): Change[] {
  const taken = new Set((model.system.moduleTypes ?? []).map(({ id }) => id));
  let id = 'new-module';
  for (let n = 2; taken.has(id); n++) id = `new-module-${n}`;
  const strings = array.strings.map((string, s) => (s === 0 ? [id, ...string.slice(1)] : string));
  // What its sheet does not say and a plate cannot be without is as on the one that goes.
  const gone = (model.system.moduleTypes ?? []).find((type) => type.id === array.strings[0]?.[0]);
  const required = FIELDS.moduleTypes.flatMap(({ path, required: needed }): [string, unknown][] =>
    needed && gone ? [[path, memberAt(gone, path)]] : [],
  );
  return [
    {
      op: 'add',
      at: 'moduleTypes',
      value: { ...Object.fromEntries(required), ...structuredClone(body), id, ...(label ? { label } : {}) },
    },
    { op: 'set', at: 'arrays', id: array.id, value: { strings } },
  ];
}

/** A thing of the shelf against a specification, with what else the swap turns over. */
export interface Candidate extends Swap {
  item: ShelfItem;
  judged: Judged[];
  verdict: LineVerdict;
  grouping: Grouping | null;
  price: number | null;
}

const NEARLY = 2;
const MOST_STRINGS = 8;

/**
 * What the shelf has: those that meet every line, those that nearly do with what rules them out, best first; with each
 * what else the swap turns over. Others are left out, and counted.
 */
export function candidates(
  model: Model,
  spec: Specification,
  shelf: readonly ShelfItem[],
  progress: (share: number) => void = () => undefined,
): { meet: Candidate[]; nearly: Candidate[]; others: number } {
  const before = check(model);
  const ofKind = shelf.filter(({ kind }) => kind === spec.shelf);
  const all = ofKind.flatMap((item, i) => {
    progress(i / ofKind.length);
    const found = candidate(model, before, spec, item);
    return found && faultsOfChanges(model, found.changes).length === 0 ? [found] : [];
  });
  const wrong = ({ judged }: Candidate) => judged.filter(({ line, verdict }) => line.must && verdict === 'fail').length;
  const open = ({ judged }: Candidate) =>
    judged.filter(({ line, verdict }) => line.must && verdict === 'not-stated' && line.test !== 'eyes').length;
  const order = (a: Candidate, b: Candidate) =>
    wrong(a) - wrong(b) ||
    open(a) - open(b) ||
    a.broken.length - b.broken.length ||
    (a.price ?? Infinity) - (b.price ?? Infinity) ||
    (a.item.label < b.item.label ? -1 : 1);
  const meet = all.filter((one) => wrong(one) === 0 && open(one) === 0).sort(order);
  const nearly = all.filter((one) => !meet.includes(one) && wrong(one) + open(one) <= NEARLY).sort(order);
  return { meet, nearly, others: all.length - meet.length - nearly.length };
}

function candidate(model: Model, before: readonly Finding[], asked: Specification, item: ShelfItem): Candidate | null {
  const spec = asked.kind === 'bank' ? groupedFor(model, asked, item) : asked;
  if (!spec) return null;
  const judged = judgeSpec(spec, spec.aspect === 'fuse' ? withFuseDefaults(model, item.body) : item.body);
  const pieces = spec.grouping ? spec.grouping.series * spec.grouping.parallel : 1;
  const metres = spec.aspect === 'cable' ? lengthOf(model, spec.partId) : 1;
  return {
    item,
    judged,
    verdict: verdictOf(judged),
    grouping: spec.grouping,
    price: item.price === null || item.price === undefined ? null : item.price * pieces * metres,
    ...swap(model, before, swapChanges(model, spec, item.body, item.label)),
  };
}

/** What a fuse's type says of it where its sheet does not: the tables of the book, as the rules themselves read them. */
function withFuseDefaults(model: Model, body: Record<string, unknown>): Record<string, unknown> {
  const { type, dcRated, polarised, interrupt_A: breaks } = body as NonNullable<Run['protection']>;
  if (!type || type === 'none' || type === 'breaker' || type === 'thermal-breaker') return body;
  const { bank } = model.system;
  return {
    ...body,
    dcRated: dcRated ?? true,
    polarised: polarised ?? false,
    interrupt_A: breaks ?? (bank ? interrupt_A(type, emf_V(createLedger(model), bank)) : null),
  };
}

const lengthOf = (model: Model, id: string) => {
  const run = model.system.runs?.find((one) => one.id === id);
  return run ? toCut_m(run) : 1;
};

/** As many of a block as make the bank's volts, and the fewest strings that pass (the most, where none do). */
function groupedFor(model: Model, asked: Specification, item: ShelfItem): Specification | null {
  const plate = item.body as Partial<Bank>;
  const volts = model.system.nominal_V;
  if (!volts || !plate.block_V) return null;
  const series = blocksInSeries(volts, plate.block_V);
  if (series === null) return null;
  let last: Specification | null = null;
  for (let parallel = 1; parallel <= Math.min(MOST_STRINGS, plate.maxParallel ?? 4); parallel++) {
    last = specify(model, asked.partId, 'part', { series, parallel });
    if (last && verdictOf(judgeSpec(last, item.body)) === 'pass') return last;
  }
  return last;
}

/** A figure of a specification as a file holds it: a figure given as text ("24") is a number where the field is one. */
function asStored(kind: PartKind, field: string, value: unknown): unknown {
  const shelfKind = kind === 'otherBanks' ? 'chargers' : kind;
  const isNumber = FIELDS[shelfKind].find(({ path }) => path === field)?.kind === 'number';
  return isNumber && typeof value === 'string' ? Number(value) : value;
}

/** A part with just the figures of its specification: what one would be if it were made to order. */
export function leastBody({ kind, aspect, lines }: Specification): Record<string, unknown> {
  const body: Record<string, unknown> = {};
  for (const { field, test, value, words, must } of lines) {
    if (field === null || (!must && test === 'most')) continue;
    const at = inBody(aspect, field);
    if (memberAt(body, at) !== undefined) continue;
    const figureOf =
      test === 'one-of'
        ? words[0]
        : test === 'includes'
          ? [words[0]]
          : test === 'true'
            ? true
            : test === 'false'
              ? false
              : value;
    if (figureOf !== null && figureOf !== undefined) setMember(body, at, asStored(kind, field, figureOf));
  }
  return body;
}

/** The changes that put a part of just those figures in its place; none where no file could hold that. */
export function leastChanges(model: Model, spec: Specification, label?: string): Change[] {
  const changes = swapChanges(model, spec, leastBody(spec), label);
  return faultsOfChanges(model, changes).length === 0 ? changes : [];
}
