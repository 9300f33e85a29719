import { dayFrom } from '@true-lantern/core';
import { array, object, string } from 'yup';
import { isUuid } from './ids';
import { keepable } from './text';

/** Several sites on one day, in the order in which they are visited. */
export interface Trip {
  id: string;
  title: string;
  /** YYYY-MM-DD; empty: not fixed yet. */
  day: string;
  sites: string[];
  note: string;
}
/** GET /trips. */
export interface TripsAnswer {
  trips: Trip[];
}
const MOST_SITES = 100;
/** PUT /trips/:id. */
export const tripSchema = object({
  title: keepable(string().trim().min(1, 'is missing').max(200, 'is too long').defined('is missing')),
  day: string()
    .defined('is missing')
    .test('day', 'is no day such as 2026-12-01', (day) => day === '' || dayFrom(day) !== null),
  sites: array()
    .of(
      string()
        .defined()
        .test('uuid', 'is no site', (id) => isUuid(id)),
    )
    .max(MOST_SITES, 'are too many')
    .required('is missing'),
  note: keepable(string().max(5000, 'is too long').defined('is missing')),
});
