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
} from '@true-lantern/core';
import { FIELDS } from './fields';
import { newId } from './ids';
import { enqueue } from './outbox';
import type { OpenSite } from './site';

/** Adding, copying, ordering and taking away parts. All of it goes through changes, so all of it can be undone. */

/** A short id that is free in this site: "c" -> "c2". */
export function freeId(site: OpenSite, stem: string): string {
  const taken = new Set([...site.rows.map(nameOfRow), ...eachPart(site.model.system).map(({ part }) => part.id)]);
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

export const mayDuplicate = ({ kind }: PartRow) => isListName(kind);
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
      refused: `${partTitle(site.model.system, users[0]?.id ?? '')} is made of this module; change the array first.`,
    };
  const edits: Edit[] = [...releasing(site, id), { row, set: { '/deleted': true }, undo: { '/deleted': false } }];
  enqueue(site.id, ...edits.map(({ row: { id: partId, revision }, set }) => ({ partId, baseRevision: revision, set })));
  return {
    undo() {
      // The part first, then what pointed at it: at no moment does anything dangle.
      const back = [...edits].reverse();
      enqueue(
        site.id,
        ...back.map(({ row: { id: partId, revision }, undo }) => ({ partId, baseRevision: revision, set: undo })),
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
