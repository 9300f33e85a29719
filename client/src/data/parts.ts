import {
  eachPart,
  isListName,
  isPartKind,
  KINDS,
  memberAt,
  nameOfRow,
  referencesOf,
  type Body,
  type PartKind,
  type PartRow,
  type RowKind,
  partTitle,
} from '@true-lantern/core/base';
import { FIELDS } from './fields';
import { newId } from './ids';
import { rememberGone } from './gone';
import { enqueue } from './outbox';
import type { OpenSite } from './site';

/** Adding, copying, ordering and taking away parts. All of it goes through changes, so all of it can be undone. */

/** A short id that is free in this site: "c" -> "c2". */
export const freeId = (site: OpenSite, stem: string): string => untaken(takenIds(site), stem);

/** What proposals would add counts too: a part of the survey with such an id would make them contradict themselves. */
const takenIds = (site: OpenSite): Set<string> =>
  new Set([
    ...site.rows.map(nameOfRow),
    ...eachPart(site.model.system).map(({ part }) => part.id),
    ...(site.file.proposals ?? [])
      .flatMap(({ changes }) => changes ?? [])
      .flatMap(({ op, value }) => (op === 'add' && value && 'id' in value ? [String(value.id)] : [])),
  ]);

function untaken(taken: ReadonlySet<string>, stem: string): string {
  if (!taken.has(stem)) return stem;
  for (let n = 2; ; n++) if (!taken.has(`${stem}${n}`)) return `${stem}${n}`;
}

/** A row for a part that is not recorded yet. */
export function draftRow(site: OpenSite, kind: PartKind, body: Body): PartRow {
  return {
    id: newId(),
    kind,
    body: { id: freeId(site, KINDS[kind].stem), ...body },
    evidence: {},
    position: nextPosition(site, kind),
    revision: 0,
  };
}

/** The place behind the last of its kind. */
export const nextPosition = (site: OpenSite, kind: RowKind) =>
  Math.max(-1, ...site.rows.filter((row) => row.kind === kind).map(({ position }) => position)) + 1;

/** Records a new part with all of its fields. */
export function addPart(site: OpenSite, { id, kind, body, evidence, position }: PartRow): void {
  const graded = Object.fromEntries(Object.entries(evidence).map(([field, entry]) => [`evidence/${field}`, entry]));
  enqueue(site.id, { partId: id, baseRevision: 0, create: { kind, position }, set: { ...body, ...graded } });
}

/** The same part again under a new id, evidence included; returns the new part's id. */
export function duplicatePart(site: OpenSite, row: PartRow): string {
  const { kind } = row;
  if (!isPartKind(kind)) return nameOfRow(row);
  const { id: _, label, ...body } = row.body;
  const copy = draftRow(site, kind, { ...body, ...(label ? { label: `${String(label)} (copy)` } : {}) });
  addPart(site, { ...copy, evidence: row.evidence });
  return nameOfRow(copy);
}

/** Only what there can be several of. */
export const mayDuplicate = ({ kind }: PartRow) => isListName(kind);
/** The site and the system stay. */
export const mayRemove = ({ kind }: PartRow) => isPartKind(kind);

/** Swaps a part with its neighbour of the same kind. Positions are a part's own affair and never conflict. */
export function neighbours(site: OpenSite, row: PartRow): { before: PartRow | undefined; after: PartRow | undefined } {
  const same = site.rows.filter(({ kind }) => kind === row.kind).sort((a, b) => a.position - b.position);
  const at = same.findIndex(({ id }) => id === row.id);
  return { before: same[at - 1], after: same[at + 1] };
}

interface Edit {
  row: PartRow;
  set: Body;
  undo: Body;
}

/**
 * Takes a part away together with what points at it: a cable's end, an array's controller, a slot's circuit become
 * unknown, not dangling. Returns the undo, or why it cannot be done.
 */
export function removePart(site: OpenSite, row: PartRow): { undo(): void } | { refused: string } {
  const id = nameOfRow(row);
  const users = (site.model.system.arrays ?? []).filter(({ strings }) => strings.flat().includes(id));
  if (row.kind === 'moduleTypes' && users.length > 0)
    return {
      refused: `${partTitle(site.model.system, users[0]?.id ?? '')} uses this module. Change the array first.`,
    };
  const edits: Edit[] = [...releasing(site, id), { row, set: { '/deleted': true }, undo: { '/deleted': false } }];
  const named = rememberGone(site, row);
  enqueue(
    site.id,
    // Its name first: at no moment is what was read of it about nothing.
    named,
    ...edits.map(({ row: { id: partId, revision }, set }) => ({ partId, baseRevision: revision, set })),
  );
  return {
    undo() {
      // The part first, then what pointed at it: at no moment does anything dangle.
      const back = [...edits].reverse();
      enqueue(
        site.id,
        ...back.map(({ row: { id: partId, revision }, undo }) => ({ partId, baseRevision: revision, set: undo })),
        { partId: named.partId, baseRevision: 1, set: { '/deleted': true } },
      );
    },
  };
}

/** The edits that let go of a part: one that was named becomes unknown, one among several is taken out of the list. */
function releasing(site: OpenSite, id: string): Edit[] {
  const references = site.rows.flatMap((row) =>
    isPartKind(row.kind)
      ? referencesOf(row.kind).map(({ path }) => ({ row, path, named: memberAt(row.body, path) }))
      : [],
  );
  const needed = ({ row, path }: { row: PartRow; path: string }) =>
    FIELDS[row.kind]?.find((field) => field.path === path)?.required ?? false;
  // What cannot be without it (a switch without its cable) goes with it, and what named that lets go of it too.
  const gone = new Set([id]);
  const together = references.filter((reference) => reference.named === id && needed(reference)).map(({ row }) => row);
  together.forEach((row) => gone.add(nameOfRow(row)));
  const edits = new Map<PartRow, Edit>();
  for (const { row, path, named } of references) {
    if (together.includes(row)) continue;
    const left =
      typeof named === 'string' && gone.has(named)
        ? null
        : Array.isArray(named)
          ? named.filter((one) => typeof one !== 'string' || !gone.has(one))
          : named;
    if (left === named || (Array.isArray(left) && left.length === (named as unknown[]).length)) continue;
    const edit = edits.get(row) ?? { row, set: {}, undo: {} };
    edit.set[path] = left;
    edit.undo[path] = named;
    edits.set(row, edit);
  }
  return [
    ...edits.values(),
    ...together.map((row): Edit => ({ row, set: { '/deleted': true }, undo: { '/deleted': false } })),
  ];
}

const BUSES_V = [12, 24, 36, 48];

/**
 * Records a new part with what follows from it: a bank's volts are the system's where nobody said otherwise, and an array
 * that was recorded before its controller is joined to it when that comes. Facts of the site, each a change of its own
 * that history shows and undoes.
 */
export function recordPart(site: OpenSite, draft: PartRow): void {
  addPart(site, draft);
  const set = (row: PartRow | undefined, value: Body) =>
    row && enqueue(site.id, { partId: row.id, baseRevision: row.revision, set: value });
  if (draft.kind === 'bank' && !site.model.system.nominal_V) {
    const volts = Number(draft.body.block_V) * Number(draft.body.series);
    const bus = BUSES_V.find((each) => Math.abs(volts / each - 1) <= 0.15);
    const row = site.rows.find(({ kind }) => kind === 'system');
    if (bus && row) set(row, { nominal_V: bus });
    else if (bus)
      enqueue(site.id, {
        partId: newId(),
        baseRevision: 0,
        create: { kind: 'system', position: 0 },
        set: { nominal_V: bus },
      });
  }
  if (draft.kind === 'controllers')
    site.rows
      .filter(({ kind, body }) => kind === 'arrays' && !body.controllerId)
      .forEach((row) => set(row, { controllerId: nameOfRow(draft) }));
}

/** What belongs to one controller's branch: its arrays, itself, the cables between them and on to the bus, their switches. */
function laneOf(site: OpenSite, controllerId: string): PartRow[] {
  const { arrays, runs, switches } = site.model.system;
  const own = new Set([
    controllerId,
    ...(arrays ?? []).filter((array) => array.controllerId === controllerId).map(({ id }) => id),
  ]);
  const cables = (runs ?? []).filter(({ from, to }) => own.has(from ?? '') || own.has(to ?? '')).map(({ id }) => id);
  const all = new Set([
    ...own,
    ...cables,
    ...(switches ?? []).filter(({ runId }) => cables.includes(runId)).map(({ id }) => id),
  ]);
  return site.rows.filter((row) => isPartKind(row.kind) && all.has(nameOfRow(row)));
}

/** The whole branch again: array, cable, controller, cable and fuse, joined as the first are. Returns the new controller's id. */
export function copyLane(site: OpenSite, controllerId: string): string {
  const rows = laneOf(site, controllerId);
  const renamed = new Map<string, string>();
  const taken = takenIds(site);
  for (const row of rows) {
    const id = untaken(taken, isPartKind(row.kind) ? KINDS[row.kind].stem : row.kind);
    taken.add(id);
    renamed.set(nameOfRow(row), id);
  }
  const joined = (value: unknown): unknown => (typeof value === 'string' ? (renamed.get(value) ?? value) : value);
  rows.forEach((row, i) => {
    if (!isPartKind(row.kind)) return;
    const links = Object.fromEntries(
      referencesOf(row.kind)
        .map(({ path }) => path)
        .filter((path) => !path.includes('.') && typeof row.body[path] === 'string')
        .map((path) => [path, joined(row.body[path])]),
    );
    const { label, ...body } = row.body;
    addPart(site, {
      ...row,
      id: newId(),
      position: nextPosition(site, row.kind) + i,
      // A cable's name says where it goes, and this one goes elsewhere; other parts of one name are told apart by a number.
      body: { ...body, ...links, id: renamed.get(nameOfRow(row)), ...(label && row.kind !== 'runs' ? { label } : {}) },
    });
  });
  return renamed.get(controllerId) ?? controllerId;
}
