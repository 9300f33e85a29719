import { newId } from '../ids';
import { nameOfEntry, type Entry } from './entries';

/**
 * What is on its way into the device's database, written down at once and in one go: a page that is gone in the moment
 * between "Save" and the database's own answer has lost nothing. A second net: where it has no room, or is closed, the
 * database is still there.
 */
const PREFIX = 'lantern.unwritten.';
/** Each page has one of its own, so that none writes over another's. */
const mine = PREFIX + newId();
let written = false;

/** Writes down the entries that the database does not have yet; nothing stays where there are none. */
export function noteUnwritten(entries: readonly Entry[]): void {
  const loose = entries.filter(({ n }) => n === undefined);
  if (loose.length === 0 && !written) return;
  try {
    if (loose.length === 0) globalThis.localStorage?.removeItem(mine);
    else globalThis.localStorage?.setItem(mine, JSON.stringify(loose));
    written = loose.length > 0;
  } catch {
    // No room, or closed: whether the database keeps them is said where that is known. What was written before must not
    // outlive what it was written for.
    forgetMine();
  }
}

function forgetMine(): void {
  try {
    globalThis.localStorage?.removeItem(mine);
    written = false;
  } catch {
    // Closed: nothing was written there either.
  }
}

/** What pages that are gone had not written, and how it is forgotten once it is. */
export function unwrittenOfOthers(): { entries: Entry[]; forget(): void } {
  const found: [key: string, entries: Entry[]][] = [];
  try {
    const storage = globalThis.localStorage;
    for (const key of Array.from({ length: storage?.length ?? 0 }, (_, i) => storage?.key(i) ?? ''))
      if (key.startsWith(PREFIX) && key !== mine) found.push([key, read(storage?.getItem(key) ?? '')]);
  } catch {
    // Closed: nothing was written there either.
  }
  const names = new Set<string>();
  const entries = found
    .flatMap(([, each]) => each)
    .filter((entry) => {
      const name = nameOfEntry(entry);
      return !names.has(name) && names.add(name);
    });
  return {
    entries,
    forget() {
      for (const [key] of found) globalThis.localStorage?.removeItem(key);
    },
  };
}

function read(text: string): Entry[] {
  try {
    const value: unknown = JSON.parse(text);
    // Refused by the database then, it is tried again now.
    return Array.isArray(value) ? (value as Entry[]).map(({ unkept: _, ...entry }) => entry as Entry) : [];
  } catch {
    return [];
  }
}
