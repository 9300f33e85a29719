import { isSingleName, LIST_NAMES, SINGLE_NAMES, type AnyPart, type PartKind, type PartOf } from '../parts/kinds';
import type { System } from './schema';

export * from '../parts/kinds';

/** A part where it stands; its kind says what it is. */
export type Placed = {
  [K in PartKind]: {
    kind: K;
    /** Where it stands in the file: `system.runs[3]`, `system.bank`. */
    path: string;
    part: PartOf<K>;
  };
}[PartKind];

/** Every part of a system, the lists before the single ones. */
export function eachPart(system: System): Placed[] {
  const lists = LIST_NAMES.flatMap((kind) =>
    // The compiler cannot pair a kind with its part through an index; the schema does.
    (system[kind] ?? []).map((part, i) => ({ kind, path: `system.${kind}[${i}]`, part }) as Placed),
  );
  const singles = SINGLE_NAMES.flatMap((kind) => {
    const part = system[kind];
    return part ? [{ kind, path: `system.${kind}`, part } as Placed] : [];
  });
  return [...lists, ...singles];
}

/** A part by its id, where it stands. */
export const partById = (system: System, id: string): Placed | undefined =>
  eachPart(system).find(({ part }) => part.id === id);

/** The system with one part in another's place; only what is on the way to it is copied. */
export function withPart(system: System, { kind, part }: Placed, changed: unknown): System {
  if (isSingleName(kind)) return { ...system, [kind]: changed };
  const list: readonly AnyPart[] = system[kind] ?? [];
  return { ...system, [kind]: list.map((one) => (one === part ? changed : one)) };
}

/** Ids of all parts, with the path of each. */
export function partIds(system: System): Map<string, string> {
  return new Map(eachPart(system).map(({ part, path }) => [part.id, `${path}.id`]));
}
