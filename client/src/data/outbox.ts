import {
  applyFields,
  type FieldConflict,
  type Fault,
  type PartChange,
  type PartRow,
  type StoredPart,
} from '@true-lantern/core';
import { get, set } from 'idb-keyval';
import { useSyncExternalStore } from 'react';
import { ApiError, pushChanges, type PushResult } from './api';
import { newId } from './ids';

/**
 * Changes made on this device and not yet taken by the server. Kept in IndexedDB from the moment they are made, so
 * that a reload, a closed tab or a missing signal loses nothing; sent in order; safe to send twice.
 */
export interface Entry {
  siteId: string;
  change: PartChange;
  state: 'waiting' | 'refused' | 'conflict';
  faults?: Fault[];
  conflicts?: FieldConflict[];
}

export interface OutboxState {
  entries: readonly Entry[];
  sending: boolean;
  /** Why nothing is being sent just now. */
  trouble: 'none' | 'no-signal' | 'signed-out';
}

const KEY = 'lantern.outbox';
const MOST_AT_ONCE = 50;
const RETRY_MS = 5000;

let state: OutboxState = { entries: [], sending: false, trouble: 'none' };
const listeners = new Set<() => void>();
let onTaken: (siteId: string, results: PushResult[]) => void = () => undefined;
let retry: ReturnType<typeof setTimeout> | undefined;

export const useOutbox = () => useSyncExternalStore(subscribe, snapshot, snapshot);
const snapshot = () => state;
function subscribe(listener: () => void) {
  listeners.add(listener);
  return () => listeners.delete(listener);
}
function update(next: Partial<OutboxState>) {
  state = { ...state, ...next };
  listeners.forEach((listener) => listener());
}
const keep = () => set(KEY, state.entries).catch(() => undefined);

/** Called once at start: brings back what was waiting and begins to send. */
export async function openOutbox(taken: (siteId: string, results: PushResult[]) => void): Promise<void> {
  onTaken = taken;
  const kept = (await get<Entry[]>(KEY).catch(() => undefined)) ?? [];
  update({
    entries: [
      ...kept,
      ...state.entries.filter((entry) => !kept.some((old) => old.change.changeId === entry.change.changeId)),
    ],
  });
  globalThis.addEventListener?.('online', () => void drain());
  void drain();
}

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

/** Takes a change; it counts on the screen at once and reaches the server when it can. */
export function enqueue(siteId: string, change: Omit<PartChange, 'changeId' | 'at' | 'device'>): void {
  const entry: Entry = {
    siteId,
    state: 'waiting',
    change: { ...change, changeId: newId(), at: new Date().toISOString(), device: deviceId() },
  };
  update({ entries: [...state.entries, entry] });
  void keep();
  void drain();
}

/** Takes a refused or conflicting change off the list, when a person has seen to it. */
export function dismiss(changeId: string): void {
  update({ entries: state.entries.filter(({ change }) => change.changeId !== changeId) });
  void keep();
}

/** The server's rows with what is still waiting laid over them. */
export function withPending(rows: readonly PartRow[], siteId: string, entries: readonly Entry[]): PartRow[] {
  const parts = new Map<string, StoredPart>(rows.map((row) => [row.id, { ...row, deleted: false }]));
  for (const { change, state: at, siteId: of } of entries) {
    if (of !== siteId || at !== 'waiting') continue;
    const { create, partId } = change;
    const part: StoredPart | undefined =
      parts.get(partId) ??
      (create ? { id: partId, ...create, body: {}, evidence: {}, revision: 0, deleted: false } : undefined);
    if (part) parts.set(partId, applyFields(part, change.set));
  }
  return [...parts.values()].filter(({ deleted }) => !deleted);
}

export async function drain(): Promise<void> {
  if (state.sending) return;
  clearTimeout(retry);
  const first = state.entries.find((entry) => entry.state === 'waiting');
  if (!first) return;
  const batch = state.entries
    .filter((entry) => entry.state === 'waiting' && entry.siteId === first.siteId)
    .slice(0, MOST_AT_ONCE);
  update({ sending: true });
  try {
    const results = await pushChanges(
      first.siteId,
      batch.map(({ change }) => change),
    );
    // The cache first, then the queue: between the two the change may be laid over itself, which changes nothing.
    onTaken(first.siteId, results);
    settle(results);
    update({ sending: false, trouble: 'none' });
    await keep();
    void drain();
  } catch (error) {
    if (error instanceof ApiError && error.status === 401) return update({ sending: false, trouble: 'signed-out' });
    if (error instanceof ApiError && error.status < 500 && error.status !== 429) {
      // The whole batch was turned away (the site is gone, or not ours to change): shown, never dropped.
      const faults = error.faults.length > 0 ? error.faults : [{ path: 'site', message: error.message }];
      const turned = new Set(batch);
      update({
        sending: false,
        entries: state.entries.map((entry) => (turned.has(entry) ? { ...entry, state: 'refused', faults } : entry)),
      });
      return void keep();
    }
    update({ sending: false, trouble: 'no-signal' });
    retry = setTimeout(() => void drain(), RETRY_MS);
  }
}

function settle(results: PushResult[]) {
  const byId = new Map(results.map((result) => [result.changeId, result]));
  update({
    entries: state.entries.flatMap((entry): Entry[] => {
      const result = byId.get(entry.change.changeId);
      if (!result) return [entry];
      if (result.status === 'refused') return [{ ...entry, state: 'refused', faults: result.faults }];
      if (result.conflicts.length > 0) return [{ ...entry, state: 'conflict', conflicts: result.conflicts }];
      return [];
    }),
  });
}
