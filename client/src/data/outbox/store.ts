import { get, set } from 'idb-keyval';
import { createStore } from '../store';
import { noteTrouble } from '../trouble';
import { keyOfEntry, type Entry } from './entries';

/**
 * The entries themselves. Kept in IndexedDB from the moment they are made, so that a reload, a closed tab, a missing
 * signal or an ended session loses nothing.
 */
export interface OutboxState {
  entries: readonly Entry[];
  sending: boolean;
  /** Why nothing is being sent just now. */
  trouble: 'none' | 'no-signal' | 'signed-out';
}

const KEY = 'lantern.outbox';
const UNREAD = 'What waits on this device could not be read: reload the page before anything is entered.';

const outbox = createStore<OutboxState>({ entries: [], sending: false, trouble: 'none' });
let opened = false;
let owner = '';

export const useOutbox = outbox.use;
export const state = outbox.get;
export const isOpen = () => opened;
export const update = (next: Partial<OutboxState>) => outbox.set({ ...outbox.get(), ...next });
export const updateEntries = (change: (entries: readonly Entry[]) => readonly Entry[]) =>
  update({ entries: change(outbox.get().entries) });

/** Writing waits for the first read, or an early change would overwrite what an earlier page left. */
export const keep = () =>
  opened
    ? set(KEY, outbox.get().entries).catch((error: unknown) =>
        noteTrouble('This device could not keep what was entered: do not close the page before it is sent.', error),
      )
    : Promise.resolve();

/** Brings back what was waiting; what was made meanwhile stands behind it. */
export async function readKept(): Promise<void> {
  const kept = (await get<Entry[]>(KEY).catch((error: unknown) => void noteTrouble(UNREAD, error))) ?? [];
  const known = new Set(kept.map(keyOfEntry));
  opened = true;
  updateEntries((entries) => [...kept, ...entries.filter((entry) => !known.has(keyOfEntry(entry)))]);
  await keep();
}

/** Who is signed in now; empty when nobody is. */
export const ownerNow = () => owner;
export const rememberOwner = (userId: string) => {
  owner = userId;
};
export const isMine = (entry: Entry) => entry.owner === owner;

/** Takes a refused or conflicting entry off the list, when a person has seen to it. */
export function dismiss(key: string): void {
  updateEntries((entries) => entries.filter((entry) => keyOfEntry(entry) !== key));
  void keep();
}
