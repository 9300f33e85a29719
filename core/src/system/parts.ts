import { LIST_SCHEMAS, SINGLE_SCHEMAS, type ListName, type SingleName, type System } from './schema';

/** The names under which a system keeps its parts. */
export const LIST_NAMES = Object.keys(LIST_SCHEMAS) as ListName[];
export const SINGLE_NAMES = Object.keys(SINGLE_SCHEMAS) as SingleName[];

export type PartKind = ListName | SingleName;
export interface AnyPart {
  id: string;
  label?: string | null;
}
export interface Placed {
  kind: PartKind;
  /** Where it stands in the file: `system.runs[3]`, `system.bank`. */
  path: string;
  part: AnyPart;
}

export const isListName = (name: string): name is ListName => Object.hasOwn(LIST_SCHEMAS, name);
export const isSingleName = (name: string): name is SingleName => Object.hasOwn(SINGLE_SCHEMAS, name);

/** Every part of a system in the file's order. */
export function eachPart(system: System): Placed[] {
  const lists = LIST_NAMES.flatMap((kind) =>
    ((system[kind] ?? []) as AnyPart[]).map((part, i) => ({ kind, path: `system.${kind}[${i}]`, part })),
  );
  const singles = SINGLE_NAMES.flatMap((kind) => {
    const part = system[kind];
    return part ? [{ kind, path: `system.${kind}`, part }] : [];
  });
  return [...lists, ...singles];
}

/** Ids of all parts, with the path of each. */
export function partIds(system: System): Map<string, string> {
  return new Map(eachPart(system).map(({ part, path }) => [part.id, `${path}.id`]));
}
