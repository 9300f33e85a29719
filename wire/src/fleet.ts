import type { FleetSite, FleetSpan } from '@true-lantern/core';
import { object, string } from 'yup';
import type { Headline } from './sites';

/** POST /fleet: works out every site anew that changed, or that nobody worked out today. */
export const fleetSchema = object({
  span: string<FleetSpan>().oneOf(['week', 'winter']).required('is missing'),
});

/** One site of the firm: null where it has not been worked out yet. */
export interface FleetEntry {
  id: string;
  name: string;
  headline: Headline | null;
  /** The last live value, ISO 8601; null: none in the last month. */
  heard: string | null;
  /** When it was worked out, ISO 8601, and whether the site has changed since or the day is another. */
  at: string | null;
  stale: boolean;
  found: FleetSite | null;
}

/** GET /fleet?span=week|winter. */
export interface FleetAnswer {
  sites: FleetEntry[];
  /** Sites that are still being worked out. */
  waiting: number;
}
