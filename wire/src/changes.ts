import type { Fault, FieldConflict, PartChange, StoredPart } from '@true-lantern/core/base';
import { array, mixed, number, object, string } from 'yup';
import { uuid } from './ids';
import { keepable } from './text';

/** What became of one change. */
export type PushStatus = 'applied' | 'duplicate' | 'conflict' | 'refused';

/** What became of one change: taken, taken with conflicts, or refused with its faults. */
export interface PushResult {
  changeId: string;
  partId: string;
  status: PushStatus;
  /** The part as it stands now; absent where the change was refused before there was one. */
  part?: StoredPart;
  conflicts: FieldConflict[];
  faults: Fault[];
}

/** Changes in one request. */
export const MOST_CHANGES = 500;

/** One change; each of a push is judged by itself, so that a wrong one never fails the others. */
export const changeSchema = object({
  changeId: uuid(),
  partId: uuid(),
  baseRevision: number()
    .typeError('is no number, expected a revision')
    .integer()
    .min(0)
    .max(2_147_483_647)
    .required('is missing, expected a revision'),
  set: mixed<Record<string, unknown>>()
    .required('is missing, expected fields to set')
    .test(
      'object',
      'is no object, expected fields to set',
      (value) => typeof value === 'object' && value !== null && !Array.isArray(value),
    ),
  at: string()
    .required('is missing, expected a time')
    .test(
      'time',
      'is no time, expected one like 2026-05-04T09:10:00Z',
      (value) => !Number.isNaN(Date.parse(value ?? '')),
    )
    // A device's clock may be wrong by years; a database's calendar ends all the same.
    .test('year', 'is no year of this age, expected 1970 to 9999', (value) => {
      const year = new Date(value ?? '').getUTCFullYear();
      return year >= 1970 && year <= 9999;
    }),
  device: keepable(string().max(100)).optional(),
  create: object({ kind: string().required(), position: number().integer().min(0).max(1e6).required() })
    .default(undefined)
    .optional(),
});

/** POST /sites/:id/changes; the answer is a PushResult for each, in their order. */
export const pushSchema = object({
  changes: array(mixed())
    .min(1, 'is empty, expected changes')
    .max(MOST_CHANGES, `has too many, expected ${MOST_CHANGES} at most`)
    .required('is missing, expected a list of changes'),
});
/** What a phone sends: changes to one site, the oldest first. */
export interface PushBody {
  changes: PartChange[];
}
/** An answer for every change, and the site's revision after them. */
export interface PushAnswer {
  results: PushResult[];
  /** The site's, now. */
  revision: number;
}
