import type { Fault, FieldConflict, PartChange, SystemFile } from '@true-lantern/core/base';

/** What was made on this device and not yet taken by the server: changes to parts, whole new sites, other writes. */
interface Common {
  siteId: string;
  /** Whose it is: on a shared device each person's work waits for that person. */
  owner: string;
  /** Only what is waiting is sent; the others stepped aside, and wait for a person. */
  state: 'waiting' | 'refused' | 'conflict';
  faults?: Fault[];
  conflicts?: FieldConflict[];
  /** Its place in the device's database; absent until it is kept there. */
  n?: number;
  /** The device would not keep it: it is in this page alone. */
  unkept?: boolean;
  /** How often the server had a fault of its own with it. */
  tries?: number;
}
/** A change to a part of a site. */
export interface ChangeEntry extends Common {
  change: PartChange;
}
/** A whole new site. */
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

/** What makes it safe to send twice: the change's id, the request's key, the new site's id. */
export const keyOfEntry = (entry: Entry) =>
  'change' in entry ? entry.change.changeId : 'request' in entry ? entry.request.key : entry.siteId;

/** What makes it the same entry, whichever page holds it. */
export const nameOfEntry = (entry: Entry) => `${entry.owner} ${keyOfEntry(entry)}`;
