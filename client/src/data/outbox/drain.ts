import type { PartRow } from '@true-lantern/core';
import type { PushResult } from '@true-lantern/wire';
import { ApiError, importSite, pushChanges, sendRequest } from '../api';
import { readBlob } from '../blobs';
import type { ChangeEntry, Entry, RequestEntry, SiteEntry } from './entries';
import { rowsOf } from './pending';
import { isMine, isOpen, keep, ownerNow, readKept, rememberOwner, state, update, updateEntries } from './store';

/** Sends what is waiting, in order; each of it is safe to send twice. */

const MOST_AT_ONCE = 50;
const RETRY_MS = 5000;

/** Told what the server took, so that the cache follows without fetching again. */
export interface Taken {
  changes(siteId: string, results: PushResult[]): void;
  site(siteId: string, name: string, rows: PartRow[]): void;
  request(request: RequestEntry['request']): void;
}

let taken: Taken = { changes: () => undefined, site: () => undefined, request: () => undefined };
let retry: ReturnType<typeof setTimeout> | undefined;

/** Called once at start: brings back what was waiting. */
export async function openOutbox(tell: Taken): Promise<void> {
  taken = tell;
  await readKept();
  globalThis.addEventListener?.('online', () => void drain());
  void drain();
}

/** Who is signed in now: only this person's entries are sent and shown. Empty when nobody is. */
export function setOwner(userId: string): void {
  rememberOwner(userId);
  if (userId) {
    update({ trouble: 'none' });
    void drain();
  }
}

export async function drain(): Promise<void> {
  if (state().sending || !isOpen() || !ownerNow()) return;
  clearTimeout(retry);
  const waiting = state().entries.filter((entry) => entry.state === 'waiting' && isMine(entry));
  // Words before pictures: a photo that a weak signal will not carry must not hold up what was noted.
  const first = waiting.find((entry) => !('request' in entry && entry.request.blob)) ?? waiting[0];
  if (!first) return;
  const batch = 'change' in first ? batchOf(waiting, first) : [first];
  update({ sending: true });
  try {
    if ('change' in first)
      await sendChanges(
        first.siteId,
        batch.filter((entry) => 'change' in entry),
      );
    else if ('request' in first) await sendOther(first);
    else await sendSite(first);
    update({ sending: false, trouble: 'none' });
    await keep();
    void drain();
  } catch (error) {
    update({ sending: false });
    await turnedBack(error, batch);
  }
}

/** What becomes of a batch that did not go through. */
async function turnedBack(error: unknown, batch: readonly Entry[]): Promise<void> {
  if (error instanceof ApiError && error.status === 401) return update({ trouble: 'signed-out' });
  if (error instanceof ApiError && error.status < 500 && error.status !== 429) {
    // Turned away whole (the site is gone, or not ours to change): shown, never dropped.
    const faults = error.faults.length > 0 ? error.faults : [{ path: 'site', message: error.message }];
    const turned = new Set<Entry>(batch);
    updateEntries((entries) =>
      entries.map((entry) => (turned.has(entry) ? { ...entry, state: 'refused', faults } : entry)),
    );
    return keep();
  }
  update({ trouble: 'no-signal' });
  retry = setTimeout(() => void drain(), RETRY_MS);
}

/** The changes to one site from the front of the queue, up to a whole new site. */
function batchOf(waiting: readonly Entry[], first: ChangeEntry): ChangeEntry[] {
  const stop = waiting.findIndex((entry) => 'file' in entry);
  return waiting
    .slice(0, stop === -1 ? undefined : stop)
    .filter((entry): entry is ChangeEntry => 'change' in entry && entry.siteId === first.siteId)
    .slice(0, MOST_AT_ONCE);
}

const without = (gone: Entry) => updateEntries((entries) => entries.filter((entry) => entry !== gone));

async function sendOther(entry: RequestEntry) {
  const { method, path, body, blob } = entry.request;
  const bytes = blob ? await readBlob(blob) : null;
  // Bytes that the device itself has lost cannot be sent; saying so beats trying for ever.
  if (blob && !bytes) throw new ApiError(410, 'This device no longer has the file.', [], undefined);
  await sendRequest(method, path, bytes ?? body);
  taken.request(entry.request);
  without(entry);
}

async function sendSite(entry: SiteEntry) {
  await importSite(entry.siteId, entry.file, entry.rowIds);
  taken.site(entry.siteId, entry.file.site.name, rowsOf(entry));
  without(entry);
}

async function sendChanges(siteId: string, batch: readonly ChangeEntry[]) {
  const results = await pushChanges(
    siteId,
    batch.map(({ change }) => change),
  );
  // The cache first, then the queue: between the two the change may be laid over itself, which changes nothing.
  taken.changes(siteId, results);
  const byId = new Map(results.map((result) => [result.changeId, result]));
  updateEntries((entries) =>
    entries.flatMap((entry): Entry[] => {
      const result = 'change' in entry ? byId.get(entry.change.changeId) : undefined;
      if (!result) return [entry];
      if (result.status === 'refused') return [{ ...entry, state: 'refused', faults: result.faults }];
      if (result.conflicts.length > 0) return [{ ...entry, state: 'conflict', conflicts: result.conflicts }];
      return [];
    }),
  );
}
