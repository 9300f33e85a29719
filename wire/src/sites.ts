import type { PartRow, PastEntry } from '@true-lantern/core/base';
import { array, boolean, mixed, number, object, string } from 'yup';
import { uuid } from './ids';
import { keepable } from './text';

/** A line of the list of sites. */
export interface SiteSummary {
  id: string;
  name: string;
  /** ISO 8601. */
  updatedAt: string;
  /** Raised by every push. */
  revision: number;
  /** As a device last worked it out; of what stands where its revision is the site's. */
  headline: Headline | null;
}
/** What a site is about, in one sentence: worked out on a device, never by the server. */
export interface Headline {
  /** The site's revision that it is of. */
  revision: number;
  /** The rule book's version that it is by. */
  rules: number;
  verdict: string;
  sentence: string;
  over: number;
  /** Whose device worked it out, and when: written by the server. */
  by?: string;
  at?: string;
}
/** PUT /sites/:id/headline. */
export const headlineSchema = object({
  revision: number().typeError('is no number').integer().min(0).max(2_147_483_647).required('is missing'),
  rules: number().typeError('is no number').integer().min(0).max(1e6).required('is missing'),
  verdict: string().oneOf(['over', 'tight', 'unknown', 'holds', 'note', 'none']).required('is missing'),
  sentence: keepable(string().max(1000, 'is too long')).defined('is missing'),
  over: number().typeError('is no number').integer().min(0).max(100_000).required('is missing'),
});
/** GET /sites; with `?archived=yes` those put away. */
export interface SitesAnswer {
  sites: SiteSummary[];
}
/** GET /sites/:id. */
export interface SiteRows extends SiteSummary {
  parts: PartRow[];
}
/** GET /sites/:id/changes, newest first. */
/** The newest first; `?before=CHANGE_ID` goes on from there. `more`: there are earlier ones. */
export interface HistoryAnswer {
  more: boolean;
  changes: PastEntry[];
}

/** POST /sites: a whole job, or nothing. */
export const importSchema = object({
  id: uuid(),
  file: mixed<object>().required('is missing, expected a system file'),
  /** Ids that the device has already given to the parts, so that it can go on working on them. */
  rowIds: array(uuid())
    .max(10_000)
    .test('once', 'names an id twice, expected each once', (ids) => new Set(ids).size === (ids ?? []).length)
    .optional(),
});
/** A site was taken: its id, and what the reader of the file found odd. */
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

/** GET /records/:hash: a signed record is kept here, since when, and whether it is still what was signed. */
export interface RecordAnswer {
  keptAt: string;
  unchanged: boolean;
  /** How many corrections were written beside it since. */
  corrections: number;
}
