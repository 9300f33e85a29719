import { toRows, type PartChange, type SystemFile } from '@true-lantern/core/base';
import { newId } from '../ids';
import { deviceId } from './device';
import { drain } from './drain';
import type { ChangeEntry, Entry, RequestEntry } from './entries';
import { addEntries, ownerNow } from './store';

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
export const enqueueRequest = (siteId: string, request: RequestEntry['request']): void =>
  add([{ siteId, owner: ownerNow(), state: 'waiting', request }]);

/** Sent only when the device has it, or has said that it will not: an answer must find what it answers. */
function add(entries: Entry[]): void {
  askToKeep();
  void addEntries(entries).then(drain);
}

let asked = false;
/** Asks the browser once not to clear this device's storage when it runs short of room. */
function askToKeep(): void {
  if (asked) return;
  asked = true;
  // Refused or not known here: what is on the Firm screen says so.
  globalThis.navigator?.storage?.persist?.().catch(() => undefined);
}
