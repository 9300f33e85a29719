import {
  applyFields,
  toRows,
  type FieldConflict,
  type Fault,
  type PartChange,
  type PartRow,
  type StoredPart,
  type SystemFile,
} from '@true-lantern/core';
import { get, set } from 'idb-keyval';
import { ApiError, importSite, pushChanges, sendRequest, type PushResult } from './api';
import { readBlob } from './blobs';
import { newId } from './ids';
import { createStore } from './store';

/**
 * What was made on this device and not yet taken by the server: changes to parts, and whole new sites. Kept in
 * IndexedDB from the moment it is made, so that a reload, a closed tab, a missing signal or an ended session loses
 * nothing; sent in order; safe to send twice.
 */
interface Common {
  siteId: string;
  /** Whose it is: on a shared device each person's work waits for that person. */
  owner: string;
  state: 'waiting' | 'refused' | 'conflict';
  faults?: Fault[];
  conflicts?: FieldConflict[];
}
export interface ChangeEntry extends Common {
  change: PartChange;
}
export interface SiteEntry extends Common {
  /** A site made or imported here; its rows carry the ids given here, so that work on them can begin at once. */
  file: SystemFile;
  rowIds: string[];
}
/** A write of another kind (a photo, a part of the shelf, an archived site): its key makes it safe to send twice. */
export interface RequestEntry extends Common {
  request: {
    key: string;
    method: 'PUT' | 'DELETE';
    path: string;
    body?: unknown;
    /** Key of the bytes to send, in the store of blobs. */
    blob?: string;
  };
}
export type Entry = ChangeEntry | SiteEntry | RequestEntry;

export interface OutboxState {
  entries: readonly Entry[];
  sending: boolean;
  /** Why nothing is being sent just now. */
  trouble: 'none' | 'no-signal' | 'signed-out';
}

const KEY = 'lantern.outbox';
const MOST_AT_ONCE = 50;
const RETRY_MS = 5000;

const outbox = createStore<OutboxState>({ entries: [], sending: false, trouble: 'none' });
let owner = '';
let opened = false;
let taken: Taken = { changes: () => undefined, site: () => undefined, request: () => undefined };
let retry: ReturnType<typeof setTimeout> | undefined;

/** Told what the server took, so that the cache follows without fetching again. */
export interface Taken {
  changes(siteId: string, results: PushResult[]): void;
  site(siteId: string, name: string, rows: PartRow[]): void;
  request(request: RequestEntry['request']): void;
}

export const useOutbox = outbox.use;
const update = (next: Partial<OutboxState>) => outbox.set({ ...outbox.get(), ...next });
/** Writing waits for the first read, or an early change would overwrite what an earlier page left. */
const keep = () => (opened ? set(KEY, outbox.get().entries).catch(() => undefined) : Promise.resolve());

export const keyOfEntry = (entry: Entry) =>
  'change' in entry ? entry.change.changeId : 'request' in entry ? entry.request.key : entry.siteId;

/** Called once at start: brings back what was waiting. */
export async function openOutbox(tell: Taken): Promise<void> {
  taken = tell;
  const kept = (await get<Entry[]>(KEY).catch(() => undefined)) ?? [];
  const known = new Set(kept.map(keyOfEntry));
  opened = true;
  update({ entries: [...kept, ...outbox.get().entries.filter((entry) => !known.has(keyOfEntry(entry)))] });
  await keep();
  globalThis.addEventListener?.('online', () => void drain());
  void drain();
}

/** Who is signed in now: only this person's entries are sent and shown. Empty when nobody is. */
export function setOwner(userId: string): void {
  owner = userId;
  if (userId) {
    update({ trouble: 'none' });
    void drain();
  }
}
export const isMine = (entry: Entry) => entry.owner === owner;

/** This browser's name among the firm's devices; made once. */
const DEVICE_KEY = 'lantern.device';
function deviceId(): string {
  try {
    const known = globalThis.localStorage?.getItem(DEVICE_KEY);
    if (known) return known;
    const made = newId();
    globalThis.localStorage?.setItem(DEVICE_KEY, made);
    return made;
  } catch {
    return 'nameless';
  }
}

/** Takes changes; they count on the screen at once and reach the server when they can. */
export function enqueue(siteId: string, ...changes: Omit<PartChange, 'changeId' | 'at' | 'device'>[]): void {
  const at = new Date().toISOString();
  const entries = changes.map((change): ChangeEntry => ({
    siteId,
    owner,
    state: 'waiting',
    change: { ...change, changeId: newId(), at, device: deviceId() },
  }));
  add(entries);
}

/** Takes a whole new site and returns its id. */
export function enqueueSite(file: SystemFile): string {
  const siteId = newId();
  const rowIds: string[] = [];
  toRows(file, () => {
    const id = newId();
    rowIds.push(id);
    return id;
  });
  add([{ siteId, owner, state: 'waiting', file, rowIds }]);
  return siteId;
}

/** Takes a write that is neither a change of a part nor a whole site. A later one of the same key takes its place. */
export function enqueueRequest(siteId: string, request: RequestEntry['request']): void {
  update({
    entries: outbox.get().entries.filter((entry) => !('request' in entry && entry.request.key === request.key)),
  });
  add([{ siteId, owner, state: 'waiting', request }]);
}

function add(entries: Entry[]) {
  update({ entries: [...outbox.get().entries, ...entries] });
  void keep();
  void drain();
}

/** Takes a refused or conflicting entry off the list, when a person has seen to it. */
export function dismiss(key: string): void {
  update({ entries: outbox.get().entries.filter((entry) => keyOfEntry(entry) !== key) });
  void keep();
}

/** The rows of a site that was made here, as the server will make them. */
export function rowsOf({ file, rowIds }: Pick<SiteEntry, 'file' | 'rowIds'>): PartRow[] {
  let next = 0;
  return toRows(file, () => rowIds[next++] ?? newId());
}

/** The server's rows with what is still waiting laid over them. */
export function withPending(rows: readonly PartRow[], siteId: string, entries: readonly Entry[]): PartRow[] {
  const parts = new Map<string, StoredPart>(rows.map((row) => [row.id, { ...row, deleted: false }]));
  for (const entry of entries) {
    if (!('change' in entry) || entry.siteId !== siteId || entry.state !== 'waiting') continue;
    const { create, partId, set: fields } = entry.change;
    const part: StoredPart | undefined =
      parts.get(partId) ??
      (create ? { id: partId, ...create, body: {}, evidence: {}, revision: 0, deleted: false } : undefined);
    if (part) parts.set(partId, applyFields(part, fields));
  }
  return [...parts.values()].filter(({ deleted }) => !deleted);
}

export async function drain(): Promise<void> {
  if (outbox.get().sending || !opened || !owner) return;
  clearTimeout(retry);
  const waiting = outbox.get().entries.filter((entry) => entry.state === 'waiting' && isMine(entry));
  // Words before pictures: a photo that a weak signal will not carry must not hold up what was noted.
  const first = waiting.find((entry) => !('request' in entry && entry.request.blob)) ?? waiting[0];
  if (!first) return;
  const batch = 'change' in first ? batchOf(waiting, first) : [first];
  update({ sending: true });
  try {
    if ('change' in first) await sendChanges(first.siteId, batch as ChangeEntry[]);
    else if ('request' in first) await sendOther(first);
    else await sendSite(first);
    update({ sending: false, trouble: 'none' });
    await keep();
    void drain();
  } catch (error) {
    update({ sending: false });
    if (error instanceof ApiError && error.status === 401) return update({ trouble: 'signed-out' });
    if (error instanceof ApiError && error.status < 500 && error.status !== 429) {
      // Turned away whole (the site is gone, or not ours to change): shown, never dropped.
      const faults = error.faults.length > 0 ? error.faults : [{ path: 'site', message: error.message }];
      const turned = new Set<Entry>(batch);
      update({
        entries: outbox
          .get()
          .entries.map((entry) => (turned.has(entry) ? { ...entry, state: 'refused', faults } : entry)),
      });
      return void keep();
    }
    update({ trouble: 'no-signal' });
    retry = setTimeout(() => void drain(), RETRY_MS);
  }
}

/** The changes to one site from the front of the queue, up to a whole new site. */
function batchOf(waiting: Entry[], first: ChangeEntry): ChangeEntry[] {
  const stop = waiting.findIndex((entry) => 'file' in entry);
  return waiting
    .slice(0, stop === -1 ? undefined : stop)
    .filter((entry): entry is ChangeEntry => 'change' in entry && entry.siteId === first.siteId)
    .slice(0, MOST_AT_ONCE);
}

async function sendOther(entry: RequestEntry) {
  const { method, path, body, blob } = entry.request;
  const bytes = blob ? await readBlob(blob) : null;
  // Bytes that the device itself has lost cannot be sent; saying so beats trying for ever.
  if (blob && !bytes) throw new ApiError(410, 'This device no longer has the file.', [], undefined);
  await sendRequest(method, path, bytes ?? body);
  taken.request(entry.request);
  update({ entries: outbox.get().entries.filter((other) => other !== entry) });
}

async function sendSite(entry: SiteEntry) {
  await importSite(entry.siteId, entry.file, entry.rowIds);
  taken.site(entry.siteId, entry.file.site.name, rowsOf(entry));
  update({ entries: outbox.get().entries.filter((other) => other !== entry) });
}

async function sendChanges(siteId: string, batch: ChangeEntry[]) {
  const results = await pushChanges(
    siteId,
    batch.map(({ change }) => change),
  );
  // The cache first, then the queue: between the two the change may be laid over itself, which changes nothing.
  taken.changes(siteId, results);
  const byId = new Map(results.map((result) => [result.changeId, result]));
  update({
    entries: outbox.get().entries.flatMap((entry): Entry[] => {
      const result = 'change' in entry ? byId.get(entry.change.changeId) : undefined;
      if (!result) return [entry];
      if (result.status === 'refused') return [{ ...entry, state: 'refused', faults: result.faults }];
      if (result.conflicts.length > 0) return [{ ...entry, state: 'conflict', conflicts: result.conflicts }];
      return [];
    }),
  });
}
