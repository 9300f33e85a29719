import { readPreference, writePreference } from './preferences';

/** Meters of a person, with the error of each, percent of its reading; the one used last first. */
export interface Meter {
  name: string;
  pct: number;
}
/** The meters of a person, the one used last first. */
export const metersOf = (personId: string): Meter[] => readPreference('meters')?.[personId] ?? [];

const MOST = 8;
/** Keeps a meter, and puts it first. */
export function keepMeter(personId: string, meter: Meter): void {
  const others = metersOf(personId).filter(({ name }) => name !== meter.name);
  writePreference('meters', { ...readPreference('meters'), [personId]: [meter, ...others].slice(0, MOST) });
}
