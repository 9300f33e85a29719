import { readPreference, writePreference } from './preferences';

/** Meters of a person, with the error of each, percent of its reading; the one used last first. */
export interface Meter {
  name: string;
  pct: number;
}
/** The meters of a person, the one used last first. */
export const metersOf = (personId: string): Meter[] => readPreference('meters')?.[personId] ?? [];

/** What a reading notes of the meter that a person used last; nothing where they named none. */
export function meterUsed(personId: string): { meter?: string; meter_pct?: number } {
  const [meter] = metersOf(personId);
  return meter?.name ? { meter: meter.name, meter_pct: meter.pct } : {};
}

const MOST = 8;
/** Keeps a meter, and puts it first. */
export function keepMeter(personId: string, meter: Meter): void {
  const others = metersOf(personId).filter(({ name }) => name !== meter.name);
  writePreference('meters', { ...readPreference('meters'), [personId]: [meter, ...others].slice(0, MOST) });
}
