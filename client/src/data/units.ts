import { useSyncExternalStore } from 'react';
import { readPreference, writePreference } from './preferences';

/** The units a person reads and types in. What is stored and computed is SI always. */
export interface Units {
  length: 'm' | 'ft';
  small: 'mm' | 'in';
  mass: 'kg' | 'lb';
  temperature: 'degC' | 'degF';
  size: 'mm2' | 'AWG';
}

export const METRIC: Units = { length: 'm', small: 'mm', mass: 'kg', temperature: 'degC', size: 'mm2' };

let units: Units | null = null;
const listeners = new Set<() => void>();
const snapshot = () => (units ??= { ...METRIC, ...readPreference('units') });
const subscribe = (listener: () => void) => {
  listeners.add(listener);
  return () => listeners.delete(listener);
};

export const useUnits = () => useSyncExternalStore(subscribe, snapshot, snapshot);

export function setUnits(next: Partial<Units>): void {
  units = { ...snapshot(), ...next };
  writePreference('units', units);
  listeners.forEach((listener) => listener());
}
