import { nameOfRow, type PartRow, type Roof } from '@true-lantern/core';
import { addPart, draftRow, removePart } from './parts';
import { setFields, type OpenSite } from './site';

/** Roofs of a site: what the roof's own screen writes. */

/** The roofs that are recorded. */
export const roofsIn = (site: OpenSite): readonly Roof[] => site.model.system.roofs ?? [];
const rowOf = (site: OpenSite, roofId: string): PartRow | undefined =>
  site.rows.find((row) => row.kind === 'roofs' && nameOfRow(row) === roofId);

/** A new roof of this outline; returns its id. */
export function addRoof(site: OpenSite, body: Partial<Roof>): string {
  const row = draftRow(site, 'roofs', body);
  addPart(site, row);
  return nameOfRow(row);
}

/** Sets fields of a roof; returns what takes it back. */
export function setRoof(site: OpenSite, roof: Roof, set: Partial<Roof>): () => void {
  const row = rowOf(site, roof.id);
  if (!row) return () => undefined;
  setFields(site, row, set);
  const before = Object.fromEntries(Object.keys(set).map((key) => [key, roof[key as keyof Roof] ?? null]));
  return () => setFields(site, row, before);
}

/** Takes a roof out; returns what brings it back. */
export function removeRoof(site: OpenSite, roof: Roof): () => void {
  const row = rowOf(site, roof.id);
  const gone = row ? removePart(site, row) : null;
  return gone && 'undo' in gone ? () => gone.undo() : () => undefined;
}

type Placed = NonNullable<Roof['placed']>[number];

/** A module of an array, and its type. */
export type ModuleToLay = Pick<Placed, 'arrayId' | 'string' | 'index'> & { type: string };

/** Modules of all arrays in their order, those that lie on another roof left out. */
export function modulesToLay(site: OpenSite, roof: Roof): ModuleToLay[] {
  const key = ({ arrayId, string, index }: Pick<Placed, 'arrayId' | 'string' | 'index'>) =>
    `${arrayId} ${string ?? 0} ${index ?? 0}`;
  const elsewhere = new Set(
    roofsIn(site)
      .filter(({ id }) => id !== roof.id)
      .flatMap(({ placed }) => (placed ?? []).map(key)),
  );
  return (site.model.system.arrays ?? [])
    .flatMap(({ id, strings }) =>
      strings.flatMap((types, string) => types.map((type, index) => ({ arrayId: id, string, index, type }))),
    )
    .filter((one) => !elsewhere.has(key(one)));
}
