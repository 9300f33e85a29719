import { FaultError, type Fault } from './faults';
import { faultsBy } from './part-faults';
import { isListName, isSingleName, LIST_NAMES, partIds, type AnyPart } from './parts';
import { systemFaults } from './references';
import { systemSchema, type Change, type Proposal, type System, type SystemFile } from './schema';

/**
 * The system with a proposal's changes applied in order to a copy; the system as found is never touched.
 * @throws FaultError at the change that contradicts the system: a part that is not there, an id that is already
 * there, a value out of range, a reference left dangling
 */
export function applyProposal(file: Pick<SystemFile, 'system' | 'proposals'>, which: number | string): System {
  const proposals = file.proposals ?? [];
  const index = typeof which === 'number' ? which : proposals.findIndex(({ id }) => id === which);
  const proposal = proposals[index];
  if (!proposal) {
    const ids = proposals.map(({ id }) => `"${id}"`).join(', ');
    throw new FaultError([
      { path: 'proposals', message: `has no "${which}", expected ${ids ? `one of ${ids}` : 'a file with proposals'}` },
    ]);
  }
  return applyChanges(file.system ?? {}, proposal, `proposals[${index}]`);
}

export function applyChanges(system: System, { changes }: Pick<Proposal, 'changes'>, path = 'proposal'): System {
  const copy = mergeChanges(system, changes ?? [], path);
  const faults = [...rangeFaults(copy), ...systemFaults(copy)];
  if (faults.length > 0)
    throw new FaultError(
      faults.map((fault) => ({ path: `${path} > ${fault.path}`, message: `after these changes ${fault.message}` })),
    );
  return copy;
}

/** As `applyChanges`, for changes of our own making (remedies, bisections): ranges and references are not re-read. */
export function mergeChanges(system: System, changes: Change[], path = 'change'): System {
  const copy = structuredClone(system);
  changes.forEach((change, i) => {
    const wrong = applyChange(copy, change);
    if (wrong) throw new FaultError([{ path: `${path}.changes[${i}]${wrong.path}`, message: wrong.message }]);
  });
  return copy;
}

const rangeFaults = (system: System): Fault[] =>
  faultsBy(systemSchema, system).map(({ path, message }) => ({ path: `system.${path}`, message }));

/**
 * The name under which a change reaches the one member of the system that is no part: its nominal volts. The format's
 * first text names parts only; a step from 12 to 24 V could not be written down without it.
 */
const SYSTEM = 'system';

function changeSystem(system: System, op: Change['op'], value: unknown): Fault | null {
  if (op !== 'set') return { path: '.op', message: `is "${op}", expected "set": the system itself stays` };
  const members = value !== null && typeof value === 'object' ? Object.keys(value) : [];
  if (members.length !== 1 || members[0] !== 'nominal_V')
    return { path: '.value', message: 'is not { "nominal_V": volts }, expected that and nothing else' };
  system.nominal_V = (value as { nominal_V: number | null }).nominal_V;
  return null;
}

/** Changes `system` in place; what is wrong with the change, or null. */
function applyChange(system: System, change: Change): Fault | null {
  const { op, at, id } = change;
  const value = change.value;
  const isObject = value !== null && typeof value === 'object' && !Array.isArray(value);
  if (at === SYSTEM) return changeSystem(system, op, value);
  if (isSingleName(at)) {
    if (op === 'remove') {
      if (!system[at]) return { path: '', message: `removes the ${at}, but there is none, expected one to be there` };
      system[at] = null;
      return null;
    }
    if (!isObject)
      return { path: '.value', message: `is ${value === undefined ? 'missing' : 'no object'}, expected an object` };
    if (op === 'add') {
      if (system[at]) return { path: '', message: `adds a ${at}, but there is one already, expected none` };
      const added = value as AnyPart;
      if (partIds(system).has(added.id)) return taken(added.id);
      system[at] = structuredClone(value) as never;
      return null;
    }
    const part = system[at];
    if (!part) return { path: '', message: `sets the ${at}, but there is none, expected one to be there` };
    if (id !== null && id !== undefined && id !== part.id)
      return { path: '.id', message: `is "${id}", expected the ${at}'s id "${part.id}"` };
    merge(part, value as Record<string, unknown>);
    return null;
  }
  if (!isListName(at))
    return { path: '.at', message: `is "${at}", expected bank, monitor, system or one of ${LIST_NAMES.join(', ')}` };

  const list = (system[at] ?? []) as AnyPart[];
  if (op === 'add') {
    if (!isObject)
      return { path: '.value', message: `is ${value === undefined ? 'missing' : 'no object'}, expected an object` };
    const added = value as AnyPart;
    if (typeof added.id !== 'string' || added.id === '')
      return { path: '.value.id', message: 'is missing, expected an id for the part that is added' };
    if (partIds(system).has(added.id)) return taken(added.id);
    system[at] = [...list, structuredClone(added)] as never;
    return null;
  }
  if (id === null || id === undefined)
    return { path: '.id', message: `is missing, expected the id of the part to ${op}` };
  const part = list.find((candidate) => candidate.id === id);
  if (!part) return { path: '.id', message: `is "${id}", expected the id of a part in ${at}` };
  if (op === 'remove') {
    system[at] = list.filter((candidate) => candidate !== part) as never;
    return null;
  }
  if (!isObject)
    return { path: '.value', message: `is ${value === undefined ? 'missing' : 'no object'}, expected an object` };
  merge(part, value as Record<string, unknown>);
  return null;
}

const taken = (id: string): Fault => ({
  path: '.value.id',
  message: `is "${id}", which is there already, expected a new id`,
});

/** Deep merge in place: objects member by member, null takes a member out, lists are replaced whole. */
function merge(target: object, value: Record<string, unknown>): void {
  const into = target as Record<string, unknown>;
  for (const [key, member] of Object.entries(value)) {
    if (key === '__proto__' || key === 'constructor' || key === 'prototype') continue;
    if (member === null) delete into[key];
    else if (typeof member === 'object' && !Array.isArray(member)) {
      const inner = into[key];
      const base: Record<string, unknown> =
        inner !== null && typeof inner === 'object' && !Array.isArray(inner) ? (inner as Record<string, unknown>) : {};
      merge(base, member as Record<string, unknown>);
      into[key] = base;
    } else into[key] = structuredClone(member);
  }
}
