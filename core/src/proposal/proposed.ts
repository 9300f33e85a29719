import type { Finding } from '../rules/finding';
import { withSystem, type Model } from '../system/model';
import type { Proposal } from '../system/schema';
import { compare, type Comparison } from './compare';
import { rebase, type ChangeState } from './rebase';

/** A proposal laid over the system as surveyed now, and what it does to the findings. */
export interface Proposed {
  model: Model;
  result: Comparison;
  states: ChangeState[];
  faults: string[];
  /** Changes that no longer apply, and what is wrong with the system that results. */
  lost: number;
}

/**
 * A proposal applied to a system, or why it cannot be any more.
 * @param before findings of the system as it was found
 */
export function proposedOn(found: Model, proposal: Proposal, before: readonly Finding[]): Proposed {
  const { system, states, faults } = rebase(found.system, proposal);
  const model = withSystem(found, system);
  return {
    model,
    result: compare(before, model),
    states,
    faults,
    lost: states.filter(({ fault }) => fault !== null).length + faults.length,
  };
}
