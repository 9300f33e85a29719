import type { Fault } from './faults';
import { isPartKind, KINDS } from '../parts/kinds';
import { referencesOf } from '../parts/lists';
import { memberAt } from './members';
import { eachPart } from './parts';
import type { System } from './schema';

/** Notes `id` as used at `path`, or a fault where it already stands elsewhere. */
export function unique(own: Map<string, string>, ids: Map<string, string>, id: string, path: string, faults: Fault[]) {
  const first = ids.get(id) ?? own.get(id);
  if (first !== undefined)
    faults.push({ path, message: `is "${id}" again (also at ${first}), expected an id unique in the file` });
  else own.set(id, path);
}

/** Faults of ids and references within one system, as found or with a proposal applied. */
export function systemFaults(system: System): Fault[] {
  const faults: Fault[] = [];
  const seen = new Map<string, string>();
  const placed = eachPart(system);
  for (const { path, part } of placed) unique(seen, new Map(), part.id, `${path}.id`, faults);

  const kindOf = new Map(placed.map(({ kind, part }) => [part.id, kind]));
  for (const { kind, path: at, part } of placed)
    for (const { path, refersTo } of referencesOf(kind))
      for (const { id, where } of idsAt(memberAt(part, path), `${at}.${path}`)) {
        const found = kindOf.get(id);
        // A run may end on anything that is there; the editor offers what is likely.
        const [only] = refersTo.length === 1 ? refersTo.filter(isPartKind) : [];
        if (found === undefined || (only && found !== only))
          faults.push({
            path: where,
            message: `is "${id}", expected the id of ${only ? KINDS[only].noun : 'a part'} in this system`,
          });
      }
  const arrays = new Map((system.arrays ?? []).map((array) => [array.id, array]));
  (system.runs ?? []).forEach((run, i) => {
    const strings = arrays.get(run.from ?? '')?.strings.length ?? arrays.get(run.to ?? '')?.strings.length;
    (run.strings ?? []).forEach((index, s) => {
      if (strings !== undefined && index >= strings)
        faults.push({
          path: `system.runs[${i}].strings[${s}]`,
          message: `is ${index}, expected a string of that array, 0 to ${strings - 1}`,
        });
    });
  });
  return faults;
}

/** Ids in a member, which may be one, a list, or lists of them, each with its path. */
function idsAt(value: unknown, where: string): { id: string; where: string }[] {
  if (typeof value === 'string') return [{ id: value, where }];
  return Array.isArray(value) ? value.flatMap((inner, i) => idsAt(inner, `${where}[${i}]`)) : [];
}
