import { readPreference, writePreference, type Running } from './preferences';
import { createStore, type Store } from './store';

/** Procedures that run by the clock. */
export type Procedure = 'capacity' | 'acceptance';

export type { Running };

const store: Store<Record<string, Running>> = createStore(readPreference('clock') ?? {});
const keyOf = (site: string, procedure: Procedure) => `${site} ${procedure}`;

/** The procedure under way at a site; null where none is. */
export const useRunning = (site: string, procedure: Procedure): Running | null =>
  store.useValue()[keyOf(site, procedure)] ?? null;

/** Keeps how far a procedure has come; null ends it. */
export function keepRunning(site: string, procedure: Procedure, running: Running | null): void {
  const { [keyOf(site, procedure)]: _, ...rest } = store.get();
  const next = running ? { ...rest, [keyOf(site, procedure)]: running } : rest;
  store.set(next);
  writePreference('clock', next);
}
