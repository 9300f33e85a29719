import { FaultError, faultLine, faultsIn, type Fault } from './faults';
import { applyChanges, applyProposal, mergeChanges, siteWith } from './proposals';
import type { Change, Charger, Evidence, PvArray, Schools, Site, System, SystemFile } from './schema';

/** What the rules look at: one system (as found, or with a proposal applied) at its site. */
export interface Model {
  site: Site;
  schools: Schools;
  system: System;
  evidence: Record<string, Evidence>;
}

/**
 * A file as the rules read it; with a proposal laid over it where one is named.
 * @throws FaultError where its changes no longer apply
 */
export function modelOf(file: SystemFile, proposalId?: string): Model {
  return {
    site: proposalId === undefined ? file.site : siteWith(file.site, changesOf(file, proposalId)),
    schools: file.schools ?? {},
    system: proposalId === undefined ? (file.system ?? {}) : applyProposal(file, proposalId),
    evidence: file.evidence ?? {},
  };
}

const changesOf = ({ proposals }: SystemFile, id: string) => proposals?.find((one) => one.id === id)?.changes ?? [];

/** The system as it would be; null where the proposal no longer applies, for whoever has only that to say about it. */
export function proposedModel(file: SystemFile, proposalId: string): Model | null {
  try {
    return modelOf(file, proposalId);
  } catch (error) {
    if (error instanceof FaultError) return null;
    throw error;
  }
}

/** Arrays that have a module at all. */
export const wiredArrays = ({ arrays }: Pick<System, 'arrays'>): PvArray[] =>
  (arrays ?? []).filter(({ strings }) => strings.some(({ length }) => length > 0));

/** Inlets and generators: what brings alternating current. */
export const mainsSources = ({ sources }: System) => (sources ?? []).filter(({ kind }) => kind !== 'alternator');

const VEHICLES = new Set('van camper caravan motorhome trailer bus coach boat vehicle'.split(' '));
/** By the last word of what the site is: a camper van is a vehicle, a boat house is not. */
export const isVehicle = ({ kind }: Site): boolean =>
  VEHICLES.has(/[a-z]+$/.exec((kind ?? '').trim().toLowerCase())?.[0] ?? '');

/** Chargers' volts that lie further off than this from the system's are another battery's. */
const ELSEWHERE = 0.25;

/**
 * A charger that is recorded to charge something else: its output volts are not this bank's (engine, section 5). It is in
 * no sum, setting or volts of the bank; its cables and what it draws count.
 */
export const chargesElsewhere = ({ nominal_V }: Pick<System, 'nominal_V'>, { output_V }: Pick<Charger, 'output_V'>) =>
  Boolean(output_V && nominal_V && Math.abs(output_V / nominal_V - 1) > ELSEWHERE + 1e-9);

/** The same site and evidence with another system. */
export const withSystem = (model: Model, system: System): Model => ({ ...model, system });

/** A model with changes laid over it: its system, and what they settle of its site. */
export const withChanges = (model: Model, changes: Change[]): Model => ({
  ...model,
  site: siteWith(model.site, changes),
  system: mergeChanges(model.system, changes),
});

/**
 * As `withChanges`, read again as a file would be.
 * @throws FaultError with the path of each that a file may not hold
 */
export const withChecked = (model: Model, changes: Change[]): Model => ({
  ...model,
  site: siteWith(model.site, changes),
  system: applyChanges(model.system, { changes }),
});

/**
 * The gate through which all goes that a verb or a screen proposes: whether these changes are what a file may hold, by the
 * schema that reads files. What does not pass is never offered.
 */
export const faultsOfChanges = (model: Model, changes: Change[]): Fault[] => {
  const faults = faultsWith(model, changes);
  if (faults.length === 0) return [];
  // What is wrong with the survey itself is for the survey to say.
  const before = new Set(faultsWith(model, []).map(faultLine));
  return faults.filter((fault) => !before.has(faultLine(fault)));
};

const faultsWith = (model: Model, changes: Change[]): Fault[] => faultsIn(() => withChecked(model, changes));

/** Works something out once for a system, and keeps it with it: systems are never changed in place. */
export function oncePer<T>(make: (system: System) => T): (system: System) => T {
  const known = new WeakMap<System, { value: T }>();
  return (system) => {
    const found = known.get(system);
    if (found) return found.value;
    const value = make(system);
    known.set(system, { value });
    return value;
  };
}

/**
 * Parts that stand together under one name, each with the first of them; one without a name stands by itself. A name and
 * an id never meet: the prefixes keep them apart.
 */
export function byGroup<P extends { id: string }>(
  parts: readonly P[] | null | undefined,
  nameOf: (part: P) => string | null | undefined,
): { first: P; members: P[] }[] {
  const groups = new Map<string, { first: P; members: P[] }>();
  for (const part of parts ?? []) {
    const name = nameOf(part);
    const key = name ? `group ${name}` : `id ${part.id}`;
    const group = groups.get(key);
    if (group) group.members.push(part);
    else groups.set(key, { first: part, members: [part] });
  }
  return [...groups.values()];
}

/** The arrays on a controller. */
export const arraysOf = (system: System, controllerId: string): PvArray[] =>
  (system.arrays ?? []).filter((array) => array.controllerId === controllerId);
