import { toRows, type PartChange, type SystemFile } from '@true-lantern/core';
import { newId } from '../ids';
import { deviceId } from './device';
import { drain } from './drain';
import type { ChangeEntry, Entry, RequestEntry } from './entries';
import { keep, ownerNow, updateEntries } from './store';

/** What an editor hands over; the outbox adds who, when and where. */
export type NewChange = Omit<PartChange, 'changeId' | 'at' | 'device'>;

/** Takes changes; they count on the screen at once and reach the server when they can. */
export function enqueue(siteId: string, ...changes: NewChange[]): void {
  const at = new Date().toISOString();
  add(
    changes.map((change): ChangeEntry => ({
      siteId,
      owner: ownerNow(),
      state: 'waiting',
      change: { ...change, changeId: newId(), at, device: deviceId() },
    })),
  );
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
  add([{ siteId, owner: ownerNow(), state: 'waiting', file, rowIds }]);
  return siteId;
}

/** Takes a write that is neither a change of a part nor a whole site. A later one of the same key takes its place. */
export function enqueueRequest(siteId: string, request: RequestEntry['request']): void {
  updateEntries((entries) => entries.filter((entry) => !('request' in entry && entry.request.key === request.key)));
  add([{ siteId, owner: ownerNow(), state: 'waiting', request }]);
}

function add(entries: Entry[]) {
  updateEntries((known) => [...known, ...entries]);
  void keep();
  void drain();
}
