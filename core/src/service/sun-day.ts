import { DAYS_Y } from '../sun/calendar';
import type { Quantity } from '../readings/quantities';
import type { Model } from '../system/model';
import { arraysOf } from '../system/model';
import { bandOf, YearSimulator } from '../year/year';
import { yearDayOf } from './ahead';

/** What a day's sun brought, beside what the year brings around this date (docs/live.md). */

/** Ah into the bank's side a day, of the model: nine days in ten lie between. */
export interface SunDays {
  low_Ah: number;
  middle_Ah: number;
  high_Ah: number;
}

const YEARS = 20;
/** Days before and after that count as the same time of year. */
const AROUND_D = 7;
const SEED = 1;

/**
 * @param on the day, counted from 1970
 * @throws FaultError that names each field which the year lacks
 */
export function sunDays(model: Model, on: number): SunDays {
  const year = new YearSimulator(model, { kind: 'seeded', seed: SEED });
  const middle = yearDayOf(on);
  const days: number[] = [];
  for (let k = 0; k < YEARS; k++) {
    year.year(k);
    const harvest = year.byDay('harvest');
    for (let d = -AROUND_D; d <= AROUND_D; d++)
      days.push((harvest[(middle + d + DAYS_Y) % DAYS_Y] ?? 0) / year.float_V);
  }
  const { p5, p50, p95 } = bandOf(Float64Array.from(days).sort());
  return { low_Ah: p5, middle_Ah: p50, high_Ah: p95 };
}

/** A quantity's course in even steps: least, mean, largest; null where nothing was heard. */
export interface Course {
  subject: string;
  quantity: Quantity;
  steps: readonly (readonly [least: number, mean: number, most: number] | null)[];
}

/** Steps that must have been heard. */
const HEARD = 0.95;

/**
 * Ah that all controllers with an array gave over a course; null where one of them was not heard, or not throughout.
 * @param step_s length of a step
 */
export function heard_Ah({ system }: Model, courses: readonly Course[], step_s: number): number | null {
  const giving = (system.controllers ?? []).filter(({ id }) =>
    arraysOf(system, id).some(({ strings }) => strings.length > 0),
  );
  if (giving.length === 0) return null;
  let sum = 0;
  for (const { id, outputGroup } of giving) {
    const steps = courses.find(({ subject, quantity }) => subject === id && quantity === 'out_A')?.steps ?? [];
    const known = steps.flatMap((step) => (step ? [step[1]] : []));
    // Inputs of one output: each may tell its own share or the whole.
    if (outputGroup || known.length === 0 || known.length < HEARD * steps.length) return null;
    // Steps that were not heard are taken as the mean of those around them.
    sum += ((known.reduce((all, mean) => all + mean, 0) / known.length) * steps.length * step_s) / 3600;
  }
  return sum;
}
