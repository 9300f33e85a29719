import { createStore } from './store';

/** What this device could not do, in sentences for whoever holds it: said quietly, once each, never swallowed. */
const troubles = createStore<readonly string[]>([]);

/** The sentences that nobody has taken note of yet. */
export const useTroubles = troubles.useValue;

/** Notes a sentence; the reason goes to the browser's console, where a helper can read it. */
export function noteTrouble(sentence: string, reason: unknown): void {
  console.warn(sentence, reason);
  if (!troubles.get().includes(sentence)) troubles.set([...troubles.get(), sentence]);
}

/** Taken note of. */
export const clearTroubles = () => troubles.set([]);
