import type { OfferTerms } from '../proposal/offer';
import { dayOf } from '../service/days';
import type { StoredItem } from '../shelf/item';
import { faultAt } from '../system/faults';
import type { SystemFile } from '../system/schema';
import type { Units } from '../written/units';
import type { Paper } from './blocks';
import { checkReport } from './check-report';
import { handOverPaper } from './hand-over-paper';
import { logOfYear } from './log-of-year';
import { offerPaper } from './options';
import { partsAndCuts } from './parts-and-cuts';
import { roofPlan } from './roof-plan';
import { surveyReport } from './survey-report';

/** Papers that are one list of blocks, on the screen and as a PDF; work sheet, settings sheet and record are made elsewhere. */
export const BLOCK_PAPERS = ['survey', 'check', 'offer', 'parts', 'roof', 'handover', 'log'] as const;
export type BlockPaperKind = (typeof BLOCK_PAPERS)[number];

/** Stands for the system as found where a paper may be of a proposal too. */
export const AS_FOUND = 'found';

/** What a paper is made with, beside the site. */
export interface PaperAsked {
  kind: BlockPaperKind;
  /** `found` or a proposal's id (check, hand-over), a proposal's id (parts), a roof's (roof), ids with commas (offer), a year (log). */
  about: string;
  units: Units;
  /** The day that it is made, YYYY-MM-DD. */
  day: string;
  shelf: readonly StoredItem[];
  terms: OfferTerms;
}

/**
 * One paper of a site, whole.
 * @throws FaultError for what is not there or no longer applies, with `about` or the path of the change
 */
export function makePaper(file: SystemFile, { kind, about, units, day, shelf, terms }: PaperAsked): Paper {
  const proposal = about === AS_FOUND ? null : about;
  switch (kind) {
    case 'survey':
      return surveyReport(file, units);
    case 'check':
      return checkReport(file, proposal, units);
    case 'offer':
      return offerPaper(file, { ids: proposalsNamed(about), shelf, terms, units, day });
    case 'parts':
      return partsAndCuts(file, about, shelf, units);
    case 'roof':
      return roofPlan(file, about, units);
    case 'handover':
      return handOverPaper(file, proposal, dayOf(day) ?? 0);
    case 'log':
      if (!/^\d{4}$/.test(about)) throw faultAt('about', `is "${about}", expected a year like 2026`);
      return logOfYear(file, Number(about), units);
  }
}

/** Proposals as they are named in an address: their ids, each encoded, with commas between. */
export const namesOfProposals = (ids: readonly string[]): string => ids.map(encodeURIComponent).join(',');
const proposalsNamed = (about: string): string[] => {
  try {
    return about.split(',').filter(Boolean).map(decodeURIComponent);
  } catch {
    throw faultAt('about', `is "${about}", expected ids of proposals with commas between`);
  }
};
