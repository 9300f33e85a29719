import { FaultError } from '../system/faults';
import { applyChanges, mergeChanges } from '../system/proposals';
import { eachPart, isSingleName } from '../system/parts';
import type { Change, Proposal, System } from '../system/schema';
import { replacedMembers } from './inverse';

/** A change of a proposal against the system as it is surveyed now. */
export interface ChangeState {
  index: number;
  change: Change;
  /** Why it no longer applies; null: it does. */
  fault: string | null;
  /** What was surveyed when it was made and is another thing now. */
  moved: { path: string; then: unknown; now: unknown }[];
}
/** A proposal laid over a survey that has changed since. */
export interface Rebased {
  /** The system with every change that still applies. */
  system: System;
  states: ChangeState[];
  /** What is wrong with the system that results, where each change by itself applies. */
  faults: string[];
}

/**
 * A proposal laid over a survey that may have changed underneath: what still applies is applied, what does not is
 * named at the change, and nothing is dropped.
 */
export function rebase(system: System, { changes }: Pick<Proposal, 'changes'>): Rebased {
  let now = system;
  const kept: Change[] = [];
  const states = (changes ?? []).map((change, index): ChangeState => {
    const moved = movedUnder(now, change);
    try {
      now = mergeChanges(now, [change]);
      kept.push(change);
      return { index, change, fault: null, moved };
    } catch (error) {
      if (!(error instanceof FaultError)) throw error;
      return { index, change, fault: error.faults[0]?.message ?? 'does not apply', moved };
    }
  });
  try {
    applyChanges(system, { changes: kept });
    return { system: now, states, faults: [] };
  } catch (error) {
    if (!(error instanceof FaultError)) throw error;
    return {
      system: now,
      states,
      faults: error.faults.map(({ path, message }) => `${path.replace(/^.*> /, '')} ${message}`),
    };
  }
}

/** A change with what it replaces written beside it, so that a later survey can be told from the one it was made on. */
export function withWas(system: System, changes: readonly Change[]): Change[] {
  let now = system;
  return changes.map((change) => {
    const was = change.op === 'set' ? replacedMembers(targetOf(now, change), change.value) : undefined;
    now = mergeChanges(now, [change]);
    return was === undefined ? change : { ...change, was };
  });
}

function targetOf(system: System, { at, id }: Change): unknown {
  if (at === 'system') return system;
  return isSingleName(at) ? system[at] : eachPart(system).find(({ kind, part }) => kind === at && part.id === id)?.part;
}

function movedUnder(system: System, change: Change): ChangeState['moved'] {
  if (change.op !== 'set' || !change.was) return [];
  const then = leaves(change.was);
  const now = leaves(replacedMembers(targetOf(system, change), change.value));
  return [...then].flatMap(([path, value]) => {
    const current = now.get(path) ?? null;
    return JSON.stringify(current) === JSON.stringify(value ?? null)
      ? []
      : [{ path, then: value ?? null, now: current }];
  });
}

/** Members by path; lists and plain values are leaves. */
function leaves(value: unknown, path = ''): Map<string, unknown> {
  if (value === null || typeof value !== 'object' || Array.isArray(value)) return new Map([[path, value]]);
  return new Map(
    Object.entries(value).flatMap(([name, member]) => [...leaves(member, path ? `${path}.${name}` : name)]),
  );
}
