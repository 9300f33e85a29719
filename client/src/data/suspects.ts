import { createStore } from './store';

/** Chance of a fault by part (0 to 1) while a fault is being looked for; null: none is. */
export const suspects = createStore<ReadonlyMap<string, number> | null>(null);
