import { proposedOn, type Proposal, type Proposed } from '@true-lantern/core';
import { useMemo } from 'react';
import type { OpenSite } from '../data/site';

/** A proposal applied to its site, or why it cannot be any more. */
export const proposedOf = (site: OpenSite, proposal: Proposal): Proposed =>
  proposedOn(site.model, proposal, site.allOn);

/** The same, worked out once for a component. */
export const useProposed = (site: OpenSite, proposal: Proposal): Proposed =>
  useMemo(() => proposedOf(site, proposal), [site, proposal]);
