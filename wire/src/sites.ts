import type { PartRow, PastEntry } from '@true-lantern/core';
import { array, boolean, mixed, object } from 'yup';
import { uuid } from './ids';

export interface SiteSummary {
  id: string;
  name: string;
  /** ISO 8601. */
  updatedAt: string;
}
/** GET /sites; with `?archived=yes` those put away. */
export interface SitesAnswer {
  sites: SiteSummary[];
}
/** GET /sites/:id. */
export interface SiteRows extends SiteSummary {
  parts: PartRow[];
}
/** GET /sites/:id/changes, newest first. */
export interface HistoryAnswer {
  changes: PastEntry[];
}

/** POST /sites: a whole job, or nothing. */
export const importSchema = object({
  id: uuid(),
  file: mixed<object>().required('is missing, expected a system file'),
  /** Ids that the device has already given to the parts, so that it can go on working on them. */
  rowIds: array(uuid()).max(10_000).optional(),
});
export interface ImportAnswer {
  id: string;
  warnings: string[];
}

/** PUT /sites/:id/archived. */
export const archiveSchema = object({
  archived: boolean()
    .typeError('is neither true nor false, expected one of them')
    .required('is missing, expected true or false'),
});
