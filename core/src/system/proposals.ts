import { isObject, recordOf } from '../parts/objects';
import { FaultError, type Fault } from './faults';
import { faultsBy, partFaults } from './part-faults';
import { eachPart, isListName, isSingleName, LIST_NAMES, partIds, type AnyPart } from './parts';
import { systemFaults } from './references';
import type { Body } from './rows';
import {
  siteSchema,
  systemSchema,
  type Change,
  type Proposal,
  type Site,
  type System,
  type SystemFile,
} from './schema';

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

/**
 * A system with a proposal's changes laid over it.
 * @throws FaultError with the path of each that does not apply
 */
export function applyChanges(system: System, { changes }: Pick<Proposal, 'changes'>, path = 'proposal'): System {
  const { system: copy, touched } = merged(system, changes ?? [], path);
  // What is out of shape is not asked where it leads.
  const ranges = rangeFaults(copy, touched);
  const faults = ranges.length > 0 ? ranges : systemFaults(copy);
  if (faults.length > 0)
    throw new FaultError(
      faults.map((fault) => ({ path: `${path} > ${fault.path}`, message: `after these changes ${fault.message}` })),
    );
  return copy;
}

/** As `applyChanges`, for changes of our own making (remedies, bisections): ranges and references are not re-read. */
export const mergeChanges = (system: System, changes: Change[], path = 'change'): System =>
  merged(system, changes, path).system;

/** Only what is changed is copied; the rest is the same objects as in the system as found. */
function merged(system: System, changes: Change[], path: string): { system: System; touched: Set<string> } {
  const copy = { ...system };
  const touched = new Set<string>();
  changes.forEach((change, i) => {
    const wrong = applyChange(copy, change, touched);
    if (wrong) throw new FaultError([{ path: `${path}.changes[${i}]${wrong.path}`, message: wrong.message }]);
  });
  return { system: copy, touched };
}

/** Ranges of what the changes touched: what they did not was read with the file. */
function rangeFaults(system: System, touched: ReadonlySet<string>): Fault[] {
  const parts = eachPart(system).filter(({ part }) => touched.has(part.id));
  return [
    ...faultsBy(nominalSchema, { nominal_V: system.nominal_V }).map(({ path, message }) => ({
      path: `system.${path}`,
      message,
    })),
    ...parts.flatMap(({ kind, path: at, part }) =>
      partFaults(kind, part as Body).map(({ path, message }) => ({ path: path ? `${at}.${path}` : at, message })),
    ),
  ];
}
const nominalSchema = systemSchema.pick(['nominal_V']);

/** The name under which a change reaches what only eyes could tell, and what is fitted settles: `site.observations`. */
const SITE = 'site';
type Observations = Site['observations'];

/** What is wrong with a change of the site; null where it sets observations and nothing else. */
function siteFault({ op, value }: Change): Fault | null {
  if (op !== 'set') return { path: '.op', message: `is "${op}", expected "set": the site itself stays` };
  const members = value !== null && typeof value === 'object' ? Object.keys(value) : [];
  if (members.length !== 1 || members[0] !== 'observations')
    return { path: '.value', message: 'is not { "observations": {...} }, expected that and nothing else' };
  const [fault] = faultsBy(observationsSchema, value);
  return fault ? { path: `.value.${fault.path}`, message: fault.message } : null;
}
const observationsSchema = siteSchema.pick(['observations']);

/** The site with what a proposal's changes settle; the rest of it no proposal reaches. */
export function siteWith(site: Site, changes: readonly Change[]): Site {
  const settled = changes.filter(({ at }) => at === SITE);
  if (settled.length === 0) return site;
  const observations: Record<string, unknown> = { ...site.observations };
  for (const { value } of settled)
    merge(observations, ((value ?? {}) as { observations?: object }).observations as never);
  return { ...site, observations: observations as Observations };
}

/** A part that is gone is off in no state: the states let go of it by themselves. */
function dropFromStates(system: System, id: string): void {
  if (!(system.states ?? []).some(({ off }) => off?.includes(id))) return;
  system.states = (system.states ?? []).map((state) =>
    state.off?.includes(id) ? { ...state, off: state.off.filter((named) => named !== id) } : state,
  );
}

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
function applyChange(system: System, change: Change, touched: Set<string>): Fault | null {
  const { op, at, id } = change;
  const value = change.value;
  if (at === SYSTEM) return changeSystem(system, op, value);
  if (at === SITE) return siteFault(change);
  if (isSingleName(at)) {
    if (op === 'remove') {
      if (!system[at]) return { path: '', message: `removes the ${at}, but there is none, expected one to be there` };
      dropFromStates(system, system[at].id);
      system[at] = null;
      return null;
    }
    if (!isObject(value))
      return { path: '.value', message: `is ${value === undefined ? 'missing' : 'no object'}, expected an object` };
    if (op === 'add') {
      if (system[at]) return { path: '', message: `adds a ${at}, but there is one already, expected none` };
      const added = value as AnyPart;
      if (partIds(system).has(added.id)) return taken(added.id);
      if (typeof added.id !== 'string' || added.id === '') return LACKS_ID;
      system[at] = structuredClone(value) as never;
      touched.add(added.id);
      return null;
    }
    const part = system[at];
    if (!part) return { path: '', message: `sets the ${at}, but there is none, expected one to be there` };
    if (id !== null && id !== undefined && id !== part.id)
      return { path: '.id', message: `is "${id}", expected the ${at}'s id "${part.id}"` };
    const changed = structuredClone(part);
    merge(changed, value);
    system[at] = changed as never;
    touched.add(changed.id);
    return null;
  }
  if (!isListName(at))
    return {
      path: '.at',
      message: `is "${at}", expected bank, monitor, system, site or one of ${LIST_NAMES.join(', ')}`,
    };

  const list = (system[at] ?? []) as AnyPart[];
  if (op === 'add') {
    if (!isObject(value))
      return { path: '.value', message: `is ${value === undefined ? 'missing' : 'no object'}, expected an object` };
    const added = value as AnyPart;
    if (typeof added.id !== 'string' || added.id === '') return LACKS_ID;
    if (partIds(system).has(added.id)) return taken(added.id);
    system[at] = [...list, structuredClone(added)] as never;
    touched.add(added.id);
    return null;
  }
  if (id === null || id === undefined)
    return { path: '.id', message: `is missing, expected the id of the part to ${op}` };
  const part = list.find((other) => other.id === id);
  if (!part) return { path: '.id', message: `is "${id}", expected the id of a part in ${at}` };
  if (op === 'remove') {
    system[at] = list.filter((other) => other !== part) as never;
    dropFromStates(system, part.id);
    return null;
  }
  if (!isObject(value))
    return { path: '.value', message: `is ${value === undefined ? 'missing' : 'no object'}, expected an object` };
  const changed = structuredClone(part);
  merge(changed, value);
  system[at] = list.map((other) => (other === part ? changed : other)) as never;
  touched.add(changed.id);
  return null;
}

const LACKS_ID: Fault = { path: '.value.id', message: 'is missing, expected an id for the part that is added' };

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
    else if (isObject(member)) {
      const inner = into[key];
      const base: Record<string, unknown> = recordOf(inner);
      merge(base, member);
      into[key] = base;
    } else into[key] = structuredClone(member);
  }
}
