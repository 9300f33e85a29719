import { faultAt } from './faults';
import { mainsSources, type Model } from './model';
import { eachPart, LIST_NAMES, SINGLE_NAMES } from './parts';
import type { Load, Run, System } from './schema';

/**
 * A system in one of its states: without the parts that are off in it, and without what hangs on them alone.
 * @throws FaultError for a state that is not there
 */
export function inState(system: System, stateId: string): System {
  const state = (system.states ?? []).find(({ id }) => id === stateId);
  if (!state) throw faultAt('--state', `is "${stateId}", expected the id of a state in this file`);
  const off = new Set(state.off ?? []);
  const joinedBefore = joined(system, new Set());
  const fedBefore = new Set(
    acLoads(system, new Set())
      .filter(({ fed }) => fed)
      .map(({ load }) => load.id),
  );
  // What hangs on what is off may have others hang on it.
  for (let before = -1; before !== off.size;) {
    before = off.size;
    for (const id of hanging(system, off, joinedBefore, fedBefore)) off.add(id);
  }
  return without(standingIn(system, stateId), off);
}

/** What stands on the roofs in another state alone throws no shadow in this one. */
const standingIn = (system: System, stateId: string): System =>
  system.roofs?.some(({ obstacles }) => obstacles?.some(({ state }) => state && state !== stateId))
    ? {
        ...system,
        roofs: system.roofs.map((roof) => ({
          ...roof,
          obstacles: roof.obstacles?.filter(({ state }) => !state || state === stateId),
        })),
      }
    : system;

/** The same site in one of its states; each proposal has its own. */
export const modelInState = (model: Model, stateId: string): Model => ({
  ...model,
  system: inState(model.system, stateId),
});

/** Runs that carry direct current between the bank and what it is joined to. */
const joins = ({ kind }: Run) => kind !== 'pv' && kind !== 'ac';

/** Everything that runs join to the bank while some parts are off. */
function joined(system: System, off: ReadonlySet<string>): Set<string> {
  const bank = system.bank?.id;
  const reached = new Set<string>();
  const pending = bank && !off.has(bank) ? [bank] : [];
  for (let at = pending.pop(); at !== undefined; at = pending.pop()) {
    if (reached.has(at)) continue;
    reached.add(at);
    for (const run of system.runs ?? [])
      if (joins(run) && !off.has(run.id) && (run.from === at || run.to === at))
        for (const end of [run.from, run.to]) if (end && !off.has(end) && !reached.has(end)) pending.push(end);
  }
  return reached;
}

/** AC loads without an inverter of their own, and whether mains cables lead to them. */
const acLoads = ({ loads, runs }: System, off: ReadonlySet<string>): { load: Load; fed: boolean }[] =>
  (loads ?? [])
    .filter(({ kind, inverterId }) => kind === 'ac' && !inverterId)
    .map((load) => ({
      load,
      fed: (runs ?? []).some((run) => run.kind === 'ac' && run.to === load.id && !off.has(run.id)),
    }));

/** True where there are such parts, and every one is off. */
const allOff = (parts: readonly { id: string }[], off: ReadonlySet<string>) =>
  parts.length > 0 && parts.every(({ id }) => off.has(id));

/** Parts that hang on what is off, one step on. */
function hanging(
  system: System,
  off: ReadonlySet<string>,
  joinedBefore: ReadonlySet<string>,
  fedBefore: ReadonlySet<string>,
): string[] {
  const gone = (id: string | null | undefined) => Boolean(id) && off.has(id ?? '');
  const allGone = (parts: readonly { id: string }[] | null | undefined) => allOff(parts ?? [], off);
  const mains = mainsSources(system);
  const engines = (system.sources ?? []).filter(({ kind }) => kind === 'alternator');
  const now = joined(system, off);
  // What brings energy from elsewhere is not the bank's: an inlet stays when its charger goes.
  const ownWay = new Set([...(system.sources ?? []), ...(system.otherBanks ?? [])].map(({ id }) => id));
  return [
    ...(system.arrays ?? [])
      .filter(({ controllerId, strings }) => gone(controllerId) || strings.flat().some((type) => off.has(type)))
      .map(({ id }) => id),
    ...(system.loads ?? [])
      .filter(
        ({ inverterId, converterId, controllerId }) => gone(inverterId) || gone(converterId) || gone(controllerId),
      )
      .map(({ id }) => id),
    ...(system.chargers ?? [])
      .filter(({ kind, sourceId, onInverterOutput }) => {
        if (sourceId) return gone(sourceId);
        if (kind !== 'mains') return allGone(engines);
        return onInverterOutput ? allGone(system.inverters) : allGone(mains);
      })
      .map(({ id }) => id),
    ...(system.runs ?? []).filter(({ from, to }) => gone(from) || gone(to)).map(({ id }) => id),
    ...(system.switches ?? []).filter(({ runId }) => gone(runId)).map(({ id }) => id),
    ...acLoads(system, off)
      .filter(({ load, fed }) => (fedBefore.has(load.id) ? !fed : allGone(system.inverters)))
      .map(({ load }) => load.id),
    ...[...joinedBefore].filter((id) => !now.has(id) && !ownWay.has(id)),
  ].filter((id) => !off.has(id));
}

/** The system without some parts, and with nothing that still names them. */
function without(system: System, off: ReadonlySet<string>): System {
  const kept: Record<string, unknown> = { ...system };
  for (const list of LIST_NAMES)
    if (system[list]) kept[list] = (system[list] as readonly { id: string }[]).filter(({ id }) => !off.has(id));
  for (const single of SINGLE_NAMES) if (system[single] && off.has(system[single]?.id ?? '')) kept[single] = null;
  const left = kept as System;
  const dark = allOff(mainsSources(system), off);
  return {
    ...left,
    // The charger inside an inverter has nothing to charge from.
    ...(dark && left.inverters ? { inverters: left.inverters.map((one) => ({ ...one, charger: null })) } : {}),
    ...(left.distribution
      ? {
          distribution: left.distribution.map((box) => ({
            ...box,
            circuits: (box.circuits ?? []).filter((id) => !off.has(id)),
          })),
        }
      : {}),
  };
}

/** Names of parts that are off in a state, for the head of the Line. */
export const offIn = (system: System, stateId: string): string[] => {
  const left = new Set(eachPart(inState(system, stateId)).map(({ part }) => part.id));
  return eachPart(system).flatMap(({ part }) => (left.has(part.id) ? [] : [part.id]));
};
