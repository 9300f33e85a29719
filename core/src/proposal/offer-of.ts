import { check } from '../rules/check';
import type { ShelfItem } from '../shelf/item';
import { faultAt } from '../system/faults';
import { modelOf } from '../system/model';
import type { SystemFile } from '../system/schema';
import { makeOffer, type Offer, type OfferTerms } from './offer';
import { partsListOf } from './parts-list';
import { proposedOn } from './proposed';

/**
 * The offer that a proposal of a site makes, ready to be accepted.
 * @param at ISO 8601
 * @throws FaultError where there is no such proposal, it is accepted or closed already, or some of it no longer applies
 */
export function offerOf(
  file: SystemFile,
  id: string,
  shelf: readonly ShelfItem[],
  terms: OfferTerms,
  at: string,
): Offer {
  const proposal = file.proposals?.find((one) => one.id === id);
  if (!proposal) throw faultAt('proposal', `is "${id}", expected the id of a proposal of this site`);
  if (proposal.accepted) throw faultAt('proposal', 'is accepted already, expected one that is open');
  if (proposal.closed) throw faultAt('proposal', 'is closed, expected one that is open');
  const found = modelOf(file);
  const { model, result, lost } = proposedOn(found, proposal, check(found));
  if (lost > 0)
    throw faultAt('proposal', 'has changes that no longer apply to the survey, expected them to be sorted out first');
  return makeOffer(found, model, {
    proposal,
    result,
    partsList: partsListOf(found.system, model.system, shelf),
    terms,
    at,
  });
}
