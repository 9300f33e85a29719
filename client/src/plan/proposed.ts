import {
  compare,
  rebase,
  withSystem,
  type ChangeState,
  type Comparison,
  type Model,
  type Proposal,
} from '@true-lantern/core';
import { useMemo } from 'react';
import type { OpenSite } from '../data/site';

/** A proposal laid over the system as surveyed now, and what it does to the findings. */
export interface Proposed {
  model: Model;
  result: Comparison;
  states: ChangeState[];
  faults: string[];
  /** Changes that no longer apply, and what is wrong with the system that results. */
  lost: number;
}

/** A proposal applied to its site, or why it cannot be any more. */
export function proposedOf(site: OpenSite, proposal: Proposal): Proposed {
  const { system, states, faults } = rebase(site.model.system, proposal);
  const model = withSystem(site.model, system);
  return {
    model,
    result: compare(site.allOn, model),
    states,
    faults,
    lost: states.filter(({ fault }) => fault !== null).length + faults.length,
  };
}

/** The same, worked out once for a component. */
export const useProposed = (site: OpenSite, proposal: Proposal): Proposed =>
  useMemo(() => proposedOf(site, proposal), [site, proposal]);
