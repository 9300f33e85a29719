import type { Due, HandOver } from '@true-lantern/core';
import { number, object, string } from 'yup';
import { text } from './text';

/** What the server answers of what is due over the firm, and of the links that lead out of it. */

/** One site with what it needs. */
export interface SiteDue {
  id: string;
  name: string;
  latitude_deg: number | null;
  longitude_deg: number | null;
  due: Due[];
}
/** GET /due?days=30 */
export interface DueAnswer {
  on: string;
  sites: SiteDue[];
}

/** GET /calendar: whether one's feed is on; POST makes a new address, told once, and ends the old one. */
export interface CalendarAnswer {
  since: string | null;
  opened: number;
  address?: string;
}

/** A hand-over page that was given out. */
export interface HandOverLink {
  id: string;
  createdAt: string;
  expiresAt: string;
  opened: number;
  by: string | null;
}
/** GET /sites/:id/handover: what the page would say today, and the pages that are out. */
export interface HandOverAnswer {
  page: HandOver;
  links: HandOverLink[];
}
/** GET /sites/:id/offers/:proposal: the offers that are out. */
export interface OfferLinksAnswer {
  links: HandOverLink[];
}
/** POST /sites/:id/offers/:proposal: the address is told once. */
export type OfferLinkMade = HandOverMade;

/** POST /sites/:id/handover: the address is told once. */
export interface HandOverMade extends HandOverLink {
  address: string;
  qr: { size: number; path: string };
}

/** What the firm writes on a hand-over page. */
export const handOverSchema = object({
  days: number()
    .typeError('is no number, expected days')
    .integer('is no whole number, expected days')
    .min(1, 'is below 1')
    .max(3660, 'is above 3660'),
  /** Whom to call, and when. */
  call: text('words', 1000),
  /** What each light means. */
  lights: text('words', 2000),
  /** Anything else, in the customer's own language. */
  more: text('words', 4000),
  /** The proposal that was built; absent: the system as found. */
  proposal: string().max(200).nullable(),
}).noUnknown('has a member that is not known');

/** A page that nobody said otherwise of is open for a year. */
export const HANDOVER_D = 365;
