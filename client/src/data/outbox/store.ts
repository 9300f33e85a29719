import { useMemo } from 'react';
import { deviceDatabase, handOver, type OutboxWriting } from '../database';
import { createStore } from '../store';
import { noteTrouble } from '../trouble';
import { tell } from './channel';
import { nameOfEntry, type Entry } from './entries';
import { noteUnwritten, unwrittenOfOthers } from './journal';

/**
 * The entries themselves, a row each in the device's database from the moment they are made, so that a reload, a closed
 * tab, a second tab, a missing signal or an ended session loses nothing. What stands here is the picture of those rows,
 * with behind it what is still being written.
 */
export interface OutboxState {
  entries: readonly Entry[];
  /** Who is signed in now; empty when nobody is. Nobody else's entries are shown or sent. */
  owner: string;
  sending: boolean;
  /** Why nothing is being sent just now. */
  trouble: 'none' | 'no-signal' | 'busy' | 'failing' | 'signed-out';
}

const UNREAD = 'The entries waiting on this device could not be read. Reload the page before you enter anything.';

const outbox = createStore<OutboxState>({ entries: [], owner: '', sending: false, trouble: 'none' });
let opened = false;

/** The outbox, followed by a component. */
export const useOutbox = outbox.useValue;
/** The outbox as it stands. */
export const state = outbox.get;
/** True once what was kept on the device has been read. */
export const isOpen = () => opened;
/** Changes members of the state; everybody who follows it hears of it. */
export const update = (next: Partial<OutboxState>) => {
  outbox.set({ ...outbox.get(), ...next });
  if (next.entries) noteUnwritten(next.entries);
};

/** Who is signed in; empty when nobody is. */
export const ownerNow = () => outbox.get().owner;
/** True for an entry of whoever is signed in. */
export const isMine = (entry: Entry) => entry.owner === ownerNow();
/** The entries of who is signed in; the same list for as long as nothing changes. */
export function useMine(): readonly Entry[] {
  const { entries, owner } = useOutbox();
  return useMemo(() => entries.filter((entry) => entry.owner === owner), [entries, owner]);
}

/** One write after the other: the picture is always of the last. */
let queue: Promise<unknown> = Promise.resolve();
function inLine<T>(act: () => Promise<T>): Promise<T> {
  const done = queue.then(act);
  queue = done.catch(() => undefined);
  return done;
}

/** Lays the rows of the device under what is not written yet. */
function show(rows: readonly Entry[]) {
  const known = new Set(rows.map(nameOfEntry));
  const loose = outbox.get().entries.filter((entry) => entry.n === undefined && !known.has(nameOfEntry(entry)));
  update({ entries: [...rows, ...loose] });
}

const asRow = ({ n: _, unkept: __, ...entry }: Entry) => ({ ...entry, by: nameOfEntry(entry) });

/** Writes, and shows what the device then has; `kept` names what is no longer this page's alone. */
const write = (act: (store: OutboxWriting) => Promise<void>, kept: ReadonlySet<string> = new Set()): Promise<void> =>
  inLine(async () => {
    const writing = (await deviceDatabase()).transaction('outbox', 'readwrite', { durability: 'strict' });
    await act(writing.store);
    const rows = await writing.store.getAll();
    await writing.done;
    update({
      entries: outbox.get().entries.filter((entry) => !(entry.n === undefined && kept.has(nameOfEntry(entry)))),
    });
    show(rows);
    tell({ about: 'entries' });
  });

/** Shows them at once and writes them down; resolves to whether the device keeps them. */
export function addEntries(entries: readonly Entry[]): Promise<boolean> {
  const names = new Set(entries.map(nameOfEntry));
  // A later request of the same key takes the place of the earlier.
  const others = outbox.get().entries.filter((entry) => !names.has(nameOfEntry(entry)));
  update({ entries: [...others, ...entries] });
  const writing = write(async (store) => {
    for (const entry of entries) {
      const row = asRow(entry);
      const before = await store.index('by').getKey(row.by);
      if (before !== undefined) await store.delete(before);
      await store.add(row as never);
    }
  }, names);
  return writing
    .then(() => true)
    .catch((error: unknown) => {
      // Said at the field and wherever what waits is spoken of: see `waitingText`.
      console.warn('This device could not save your entry.', error);
      update({
        entries: outbox
          .get()
          .entries.map((entry) =>
            entry.n === undefined && names.has(nameOfEntry(entry)) ? { ...entry, unkept: true } : entry,
          ),
      });
      return false;
    });
}

/** Replaces entries by what `change` makes of them; null takes one away. */
export function changeEntries(change: (entry: Entry) => Entry | null): Promise<void> {
  const touched: [Entry, Entry | null][] = [];
  const entries = outbox.get().entries.flatMap((entry) => {
    const next = change(entry);
    if (next !== entry) touched.push([entry, next]);
    return next ? [next] : [];
  });
  if (touched.length === 0) return Promise.resolve();
  update({ entries });
  return write(async (store) => {
    for (const [before, next] of touched) {
      // What was being written when it was changed has its place by now.
      const n = before.n ?? (await store.index('by').getKey(nameOfEntry(before)));
      if (n === undefined) continue;
      if (next) await store.put({ ...asRow(next), n });
      else await store.delete(n);
    }
  }).catch((error: unknown) =>
    // It stands in the device as it stood: at worst it is sent again, which changes nothing.
    noteTrouble('This device could not record that an entry was sent. It will be sent again.', error),
  );
}

/** Another page has written: the picture is taken anew. */
export const lookAgain = () =>
  inLine(async () => show(await (await deviceDatabase()).getAll('outbox'))).catch((error: unknown) =>
    noteTrouble(UNREAD, error),
  );

/** Brings back what was waiting, a version before this one's too. A failed read writes nothing over it. */
export async function readKept(): Promise<void> {
  await inLine(async () => {
    const database = await deviceDatabase();
    await handOver(async (old) => {
      const writing = database.transaction('outbox', 'readwrite', { durability: 'strict' });
      for (const entry of old) {
        const row = asRow(entry);
        if ((await writing.store.index('by').getKey(row.by)) === undefined) await writing.store.add(row as never);
      }
      await writing.done;
    });
    show(await database.getAll('outbox'));
  }).catch((error: unknown) => noteTrouble(UNREAD, error));
  await takeOver();
  opened = true;
}

/** What a page had not written yet when it was gone is written now; what is there already is not written over. */
async function takeOver(): Promise<void> {
  const { entries, forget } = unwrittenOfOthers();
  const known = new Set(outbox.get().entries.map(nameOfEntry));
  const lost = entries.filter((entry) => !known.has(nameOfEntry(entry)));
  if (lost.length === 0 || (await addEntries(lost))) forget();
}
