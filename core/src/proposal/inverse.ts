import { isObject, recordOf } from '../parts/objects';
import { mergeChanges } from '../system/proposals';
import { isSingleName, type AnyPart } from '../system/parts';
import type { Change, System } from '../system/schema';

/**
 * The changes that take a list of changes back: applied to the changed system they give the system as it was, parts in
 * their old order. (A member that stood at null is absent after: both mean unknown.)
 * @throws FaultError where a change does not apply
 */
export function inverseOf(system: System, changes: readonly Change[]): Change[] {
  const back: Change[] = [];
  let now = system;
  for (const change of changes) {
    back.unshift(...undo(now, change));
    now = mergeChanges(now, [change]);
  }
  return back;
}

function undo(system: System, { op, at, id, value }: Change): Change[] {
  // What only eyes could tell stands at the site, not in the system: it is not taken back by its parts.
  if (at === 'site') return [];
  if (at === 'system') return [{ op: 'set', at, value: { nominal_V: system.nominal_V ?? null } }];
  if (isSingleName(at)) {
    const part = system[at];
    if (op === 'add') return [{ op: 'remove', at }];
    if (op === 'remove') return part ? [{ op: 'add', at, value: structuredClone(part) }] : [];
    return [{ op: 'set', at, ...(id === undefined ? {} : { id }), value: replacedMembers(part, value) }];
  }
  const list = (system[at as keyof System] ?? []) as AnyPart[];
  if (op === 'add') return [{ op: 'remove', at, id: (value as AnyPart).id }];
  const index = list.findIndex((part) => part.id === id);
  const part = list[index];
  if (!part) return [];
  if (op === 'set') return [{ op: 'set', at, id: part.id, value: replacedMembers(part, value) }];
  // A part comes back at the end of its list; those that stood behind it are put behind it again.
  const behind = list.slice(index + 1);
  return [
    { op: 'add', at, value: structuredClone(part) },
    ...behind.map((one): Change => ({ op: 'remove', at, id: one.id })),
    ...behind.map((one): Change => ({ op: 'add', at, value: structuredClone(one) })),
  ];
}

/** What stands now at every member that a change sets; null where there is nothing. */
export function replacedMembers(part: unknown, value: unknown): Record<string, unknown> {
  const holder = isObject(part) ? part : {};
  return Object.fromEntries(
    Object.entries(recordOf(value)).map(([name, member]) => {
      const old = holder[name];
      if (isObject(member) && isObject(old)) return [name, replacedMembers(old, member)];
      return [name, old === undefined || old === null ? null : structuredClone(old)];
    }),
  );
}
