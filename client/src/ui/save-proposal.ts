import { router } from 'expo-router';
import { settling, type Change } from '@true-lantern/core';
import { addProposal } from '../data/proposals';
import type { OpenSite } from '../data/site';
import { tell } from './undo';

/** Saves changes as a proposal and opens it; where that cannot be, nothing is saved and the page says why. */
export function saveProposal(site: OpenSite, title: string, changes: Change[]): void {
  // What is fitted answers what only eyes could tell: a main fuse that goes in is there afterwards.
  const saved = addProposal(site, title, settling(site.model, changes));
  if ('id' in saved) router.navigate(`/site/${site.id}/plan/${saved.id}`);
  else tell(`Not saved. This proposal cannot be stored: ${saved.fault}.`);
}
