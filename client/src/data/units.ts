import { METRIC, type Units } from '@true-lantern/core/base';
import { readPreference, writePreference } from './preferences';
import { createStore } from './store';

export { METRIC, type Units };

const units = createStore<Units>({ ...METRIC, ...readPreference('units') });

/** The units of whoever holds this device. */
export const useUnits = units.useValue;

/** Changes some of them, and keeps them on this device. */
export function setUnits(change: Partial<Units>): void {
  const next = { ...units.get(), ...change };
  writePreference('units', next);
  units.set(next);
}
