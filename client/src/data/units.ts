import { METRIC, type Units } from '@true-lantern/core/base';
import { readPreference, writePreference } from './preferences';
import { createStore } from './store';

export { METRIC, type Units };

const units = createStore<Units>({ ...METRIC, ...readPreference('units') });

export const useUnits = units.use;

export function setUnits(change: Partial<Units>): void {
  const next = { ...units.get(), ...change };
  writePreference('units', next);
  units.set(next);
}
