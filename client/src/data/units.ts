import { readPreference, writePreference } from './preferences';
import { createStore } from './store';

/** The units a person reads and types in. What is stored and computed is SI always. */
export interface Units {
  length: 'm' | 'ft';
  small: 'mm' | 'in';
  mass: 'kg' | 'lb';
  temperature: 'degC' | 'degF';
  size: 'mm2' | 'AWG';
}

export const METRIC: Units = { length: 'm', small: 'mm', mass: 'kg', temperature: 'degC', size: 'mm2' };

const units = createStore<Units>({ ...METRIC, ...readPreference('units') });

export const useUnits = units.use;

export function setUnits(change: Partial<Units>): void {
  const next = { ...units.get(), ...change };
  writePreference('units', next);
  units.set(next);
}
