import type { Fault, PartRow } from '@true-lantern/core/base';
import type { PushResult } from '@true-lantern/wire';
import { ApiError, importSite, NoSignal, pushChanges, sendRequest } from '../api';
import { readBlob } from '../blobs';
import { onWord, tell, type Word } from './channel';
import { nameOfEntry, type ChangeEntry, type Entry, type RequestEntry, type SiteEntry } from './entries';
import { isHeld, rowsOf } from './pending';
import { changeEntries, isMine, isOpen, lookAgain, ownerNow, readKept, state, update } from './store';

/** Sends what is waiting, in order; each of it is safe to send twice. One that cannot be taken steps aside. */

const MOST_AT_ONCE = 50;
/** Waits between attempts while nothing answers, ms; the last one stands from then on. */
const NO_SIGNAL_MS = [5000, 10_000, 20_000, 60_000];
/** A server that asks for patience, or fails, is given more of it. */
const BUSY_MS = [5000, 15_000, 60_000, 300_000];
/** A fault of the server's own with one entry: after so many attempts it is a person's matter. */
const MOST_TRIES = 3;
const ANOTHER_PAGE_MS = 3000;

/** Told what the server took, so that the cache follows without fetching again. */
export interface Taken {
  changes(siteId: string, results: PushResult[], revision: number): void;
  site(siteId: string, name: string, rows: PartRow[]): void;
  request(request: RequestEntry['request']): void;
}

let taken: Taken = { changes: () => undefined, site: () => undefined, request: () => undefined };
let retry: ReturnType<typeof setTimeout> | undefined;
let failures = 0;
/** Entries that are sent by themselves, since a batch with one of them failed. */
const alone = new Set<string>();
/** Entries with which the server has just had a fault of its own: the others go first. */
const resting = new Set<string>();

/** Called once at start: brings back what was waiting, and follows the other pages of this browser. */
export async function openOutbox(into: Taken): Promise<void> {
  taken = into;
  onWord(hear);
  await readKept();
  globalThis.addEventListener?.('online', () => {
    failures = 0;
    void drain();
  });
  void drain();
}

function hear(word: Word): void {
  if (word.about === 'entries') void lookAgain().then(drain);
  else if (word.about === 'changes') taken.changes(word.siteId, word.results, word.revision);
  else if (word.about === 'site') taken.site(word.siteId, word.name, word.rows);
  else taken.request(word.request);
}

/** What the server took goes into this page's cache, and into those of the others. */
function pass(word: Word): void {
  hear(word);
  tell(word);
}

/** Who is signed in now: only this person's entries are sent and shown. Empty when nobody is. */
export function setOwner(userId: string): void {
  update({ owner: userId, ...(userId ? { trouble: 'none' } : {}) });
  clearTimeout(retry);
  if (userId) void drain();
}

/** One page of the browser sends at a time; where there are no locks, sending twice does no harm. */
export async function drain(): Promise<void> {
  if (state().sending || !isOpen() || !ownerNow() || !nextBatch()) return;
  clearTimeout(retry);
  const locks = globalThis.navigator?.locks;
  if (!locks) return sendAll();
  await locks.request('lantern.outbox', { ifAvailable: true }, async (lock) => {
    if (lock) await sendAll();
    else later(ANOTHER_PAGE_MS);
  });
}

const later = (ms: number) => {
  clearTimeout(retry);
  retry = setTimeout(() => {
    resting.clear();
    void drain();
  }, ms);
};
const waitOf = (steps: readonly number[]) => steps[Math.min(failures++, steps.length - 1)] ?? 5000;

async function sendAll(): Promise<void> {
  if (state().sending) return;
  update({ sending: true });
  try {
    for (let batch = nextBatch(); batch; batch = nextBatch()) {
      try {
        await send(batch);
        if (resting.size === 0) failures = 0;
        if (state().trouble !== 'none') update({ trouble: 'none' });
      } catch (error) {
        if (!(await turnedBack(error, batch))) return;
      }
    }
    if (resting.size > 0) {
      update({ trouble: 'failing' });
      later(waitOf(BUSY_MS));
    }
  } finally {
    update({ sending: false });
  }
}

/** What goes next: words before pictures, since a photo that a weak signal will not carry must not hold up a note. */
function nextBatch(): Entry[] | null {
  const { entries } = state();
  const waiting = entries.filter(
    (entry) =>
      entry.state === 'waiting' &&
      isMine(entry) &&
      (entry.n !== undefined || entry.unkept) &&
      !resting.has(nameOfEntry(entry)) &&
      !isHeld(entry, entries),
  );
  const first = waiting.find((entry) => !('request' in entry && entry.request.blob)) ?? waiting[0];
  if (!first) return null;
  return 'change' in first && !alone.has(nameOfEntry(first)) ? batchOf(waiting, first) : [first];
}

/** The changes to one site from the front of the queue, up to a whole new site. */
function batchOf(waiting: readonly Entry[], first: ChangeEntry): ChangeEntry[] {
  const stop = waiting.findIndex((entry) => 'file' in entry);
  return waiting
    .slice(0, stop === -1 ? undefined : stop)
    .filter((entry): entry is ChangeEntry => 'change' in entry && entry.siteId === first.siteId)
    .filter((entry) => !alone.has(nameOfEntry(entry)))
    .slice(0, MOST_AT_ONCE);
}

/** What becomes of a batch that did not go through; whether the next may be tried. */
async function turnedBack(error: unknown, batch: readonly Entry[]): Promise<boolean> {
  if (error instanceof NoSignal) {
    update({ trouble: 'no-signal' });
    later(waitOf(NO_SIGNAL_MS));
    return false;
  }
  const status = error instanceof ApiError ? error.status : 500;
  if (status === 401) {
    update({ trouble: 'signed-out' });
    return false;
  }
  if (status === 429 || (status > 500 && status < 600)) {
    // It answers, and cannot just now: every other entry would hear the same.
    update({ trouble: 'busy' });
    later(waitOf(BUSY_MS));
    return false;
  }
  if (batch.length > 1) {
    // One of them is in the way: which one shows when each goes by itself.
    for (const entry of batch) alone.add(nameOfEntry(entry));
    return true;
  }
  const [entry] = batch;
  if (!entry) return true;
  const tries = (entry.tries ?? 0) + 1;
  if (status === 500 && tries < MOST_TRIES) {
    resting.add(nameOfEntry(entry));
    await replace(entry, (known) => ({ ...known, tries }));
    return true;
  }
  await stepAside(entry, faultsOf(error, status));
  return true;
}

function faultsOf(error: unknown, status: number): Fault[] {
  if (error instanceof ApiError && error.faults.length > 0) return error.faults;
  const path = status === 500 ? 'server' : status === 413 ? 'size' : 'site';
  return [{ path, message: error instanceof Error ? error.message : String(error) }];
}

/** It stays, is shown where a person sees it, and holds up nothing that does not depend on it. */
const stepAside = (entry: Entry, faults: Fault[]) =>
  replace(entry, (known) => ({ ...known, state: 'refused', faults, tries: 0 }));

/** Changes the entry as it stands now, unless a later one has taken its place. */
const replace = (sent: Entry, change: (known: Entry) => Entry | null) =>
  changeEntries((entry) => (entry.n === sent.n && nameOfEntry(entry) === nameOfEntry(sent) ? change(entry) : entry));

async function send(batch: readonly Entry[]): Promise<void> {
  const [first] = batch;
  if (!first) return;
  if ('change' in first)
    await sendChanges(
      first.siteId,
      batch.filter((entry) => 'change' in entry),
    );
  else if ('request' in first) await sendOther(first);
  else await sendSite(first);
}

async function sendOther(entry: RequestEntry) {
  const { method, path, body, blob } = entry.request;
  const bytes = blob ? await readBlob(blob) : null;
  // Bytes that the device itself has lost cannot be sent; saying so beats trying for ever.
  if (blob && !bytes) throw new ApiError(410, 'This device no longer has the file.', [], undefined);
  await sendRequest(method, path, bytes ?? body);
  pass({ about: 'request', request: entry.request });
  await replace(entry, () => null);
}

async function sendSite(entry: SiteEntry) {
  await importSite(entry.siteId, entry.file, entry.rowIds);
  pass({ about: 'site', siteId: entry.siteId, name: entry.file.site.name, rows: rowsOf(entry) });
  await replace(entry, () => null);
}

async function sendChanges(siteId: string, batch: readonly ChangeEntry[]) {
  const { results, revision } = await pushChanges(
    siteId,
    batch.map(({ change }) => change),
  );
  // The cache first, then the queue: between the two the change may be laid over itself, which changes nothing.
  pass({ about: 'changes', siteId, results, revision });
  const byId = new Map(results.map((result) => [result.changeId, result]));
  // The one bank of a site, made on two devices: what else was noted of ours goes to the one that stands.
  const renamed = new Map(
    batch.flatMap(({ change }) => {
      const part = byId.get(change.changeId)?.part;
      return part && part.id !== change.partId ? [[change.partId, part.id] as const] : [];
    }),
  );
  // A change that the answer forgets is not asked about again and again: it rests like any fault of the server's own.
  for (const entry of batch)
    if (!byId.has(entry.change.changeId) && !renamed.has(entry.change.partId)) resting.add(nameOfEntry(entry));
  await changeEntries((entry) => {
    if (!('change' in entry)) return entry;
    const { change } = entry;
    const partId = entry.siteId === siteId ? renamed.get(change.partId) : undefined;
    const result = byId.get(change.changeId);
    if (!result) return partId ? { ...entry, change: { ...change, partId } } : entry;
    if (result.status === 'refused') return { ...entry, state: 'refused', faults: result.faults };
    if (result.conflicts.length > 0) {
      const { create: _, ...rest } = change;
      return {
        ...entry,
        state: 'conflict',
        conflicts: result.conflicts,
        change: partId ? { ...rest, partId } : change,
      };
    }
    return null;
  });
}
