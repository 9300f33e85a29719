import { tableOf } from './objects';
import { kept } from '../numeric/kept';
import { fieldsOf, type Field, type HiddenField } from './field-list';
import { KIND_ORDER, KINDS, type PartKind } from './kinds';
import { nominalSchema, siteSchema } from './site';
import { BELONGS, type Belongs } from './words';

/** What follows from the kinds' descriptions: each list once, and none written by hand. */

const CABLED = KIND_ORDER.filter((kind) => KINDS[kind].cabled);
/** What may be off in a state: not the states themselves. */
const ALL = KIND_ORDER.filter((kind) => kind !== 'states');
const BY_KIND = tableOf(KIND_ORDER, (kind) => fieldsOf(KINDS[kind].schema, CABLED, ALL));

/** Fields of a kind in the order in which they are asked for; of the site and the system too. */
export const FIELDS: Readonly<Record<PartKind | 'site' | 'system', readonly Field[]>> = {
  ...tableOf(KIND_ORDER, (kind) => BY_KIND[kind].fields),
  site: fieldsOf(siteSchema).fields,
  system: fieldsOf(nominalSchema).fields,
};

/** Members that no editor shows, with the reason. */
export const hiddenFields = (kind: PartKind): readonly HiddenField[] => BY_KIND[kind].hidden;

/** What a new part is taken to be until somebody reads it, by field. */
export const typicalOf = (kind: PartKind): Record<string, unknown> =>
  Object.fromEntries(
    FIELDS[kind].flatMap(({ path, typical }): [string, unknown][] => (typical === undefined ? [] : [[path, typical]])),
  );

/** Describes a member: the one at this path, or the one that this path leads into. */
const covers =
  (path: string) =>
  ({ path: described }: { path: string }) =>
    path === described || path.startsWith(`${described}.`);

/** What a member of a part belongs to, by its path; what the format does not know is taken for its plate. */
export function belongsTo(kind: PartKind, path: string): Belongs {
  // Asked of every member of every part that two systems are compared by.
  return belonging(`${kind} ${path}`, () => lookUp(kind, path));
}
const belonging = kept<string, Belongs>(5000);

function lookUp(kind: PartKind, path: string): Belongs {
  const field = FIELDS[kind].find(covers(path));
  if (field) return field.belongs;
  // What no editor shows is noted about the place, never printed on the part.
  return hiddenFields(kind).some(covers(path)) ? 'place' : 'plate';
}

/** True where another value of this member makes it another part. */
export const tellsParts = (kind: PartKind, path: string) =>
  path !== 'label' && BELONGS[belongsTo(kind, path)].anotherPart;

/** True where a member stays when the part is replaced: what belongs to the place, and what its successor is set to. */
export function staysBehind(kind: PartKind, path: string): boolean {
  return path === 'id' || BELONGS[belongsTo(kind, path)].stays || (FIELDS[kind].find(covers(path))?.passesOn ?? false);
}

/** True where a member is kept in a catalogue: what is printed on the part, and how it comes. */
export const keptOnShelf = (kind: PartKind, path: string) =>
  path !== 'id' && path !== 'label' && BELONGS[belongsTo(kind, path)].onShelf;

/** References of a kind, by path, with the kinds that they may lead to. */
export const referencesOf = (kind: PartKind): { path: string; refersTo: readonly string[] }[] =>
  FIELDS[kind].flatMap(({ path, refersTo }) => (refersTo ? [{ path, refersTo }] : []));
