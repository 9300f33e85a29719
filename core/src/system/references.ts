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
  faults.push(...groupFaults(system), ...occasionFaults(system));
  return faults;
}

/** Inverters that work as one stand on one bank: windows that have no volts in common are two systems. */
function groupFaults({ inverters }: System): Fault[] {
  const first = new Map<string, { minDc_V: number; maxDc_V: number; at: number }>();
  return (inverters ?? []).flatMap(({ group, minDc_V, maxDc_V }, i): Fault[] => {
    if (!group) return [];
    const own = { minDc_V: minDc_V ?? 0, maxDc_V: maxDc_V || Infinity, at: i };
    const other = first.get(group);
    if (!other) {
      first.set(group, own);
      return [];
    }
    if (own.minDc_V < other.maxDc_V && other.minDc_V < own.maxDc_V) return [];
    return [
      {
        path: `system.inverters[${i}].group`,
        message: `is "${group}" with system.inverters[${other.at}] of other DC volts, expected inverters of one voltage`,
      },
    ];
  });
}

/** The sun runs with every occasion: none of its own can be given to it. */
const occasionFaults = (system: System): Fault[] =>
  (['arrays', 'controllers'] as const).flatMap((list) =>
    (system[list] ?? []).flatMap((part, i): Fault[] => {
      const occasion = (part as { occasion?: unknown }).occasion;
      return occasion === undefined || occasion === null
        ? []
        : [{ path: `system.${list}[${i}].occasion`, message: 'is given to the sun, expected none: it runs with each' }];
    }),
  );

/** Ids in a member, which may be one, a list, or lists of them, each with its path. */
function idsAt(value: unknown, where: string): { id: string; where: string }[] {
  if (typeof value === 'string') return [{ id: value, where }];
  return Array.isArray(value) ? value.flatMap((inner, i) => idsAt(inner, `${where}[${i}]`)) : [];
}
