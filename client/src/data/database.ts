import { openDB, type DBSchema, type IDBPDatabase, type IDBPObjectStore } from 'idb';
import type { Entry } from './outbox/entries';

/** The device's own database: what waits to be sent, one row an entry; what was fetched, one row a query. */
interface Schema extends DBSchema {
  outbox: { key: number; value: Entry & { n: number; by: string }; indexes: { by: string } };
  cache: { key: string; value: unknown };
}
type DeviceDatabase = IDBPDatabase<Schema>;
/** The rows of the outbox, within a transaction that writes. */
export type OutboxWriting = IDBPObjectStore<Schema, ['outbox'], 'outbox', 'readwrite'>;

let opening: Promise<DeviceDatabase> | undefined;

/** Opened once; where that fails the next call tries again. @throws what the browser says (refused, private, full) */
export function deviceDatabase(): Promise<DeviceDatabase> {
  opening ??= openDB<Schema>('lantern', 1, {
    upgrade(database) {
      const outbox = database.createObjectStore('outbox', { keyPath: 'n', autoIncrement: true });
      // Whose it is and what it is: the same entry never stands twice.
      outbox.createIndex('by', 'by', { unique: true });
      database.createObjectStore('cache');
    },
    // A page of a later version wants to change the shape: this one must not hold it up.
    blocking: () => void opening?.then((database) => database.close()).finally(forget),
    terminated: forget,
  }).catch((error: unknown) => {
    forget();
    throw error;
  });
  return opening;
}
const forget = () => {
  opening = undefined;
};

/** Where versions before this one kept everything: one value for the whole outbox, one text for the whole cache. */
const OLD = { database: 'keyval-store', store: 'keyval', outbox: 'lantern.outbox', cache: 'lantern.cache' } as const;

/**
 * Hands over what a version before this one left waiting, and takes it away there once `take` has kept it: killed in
 * between, it is handed over again, and an entry known by its key is not taken twice.
 */
export async function handOver(take: (entries: Entry[]) => Promise<void>): Promise<void> {
  const old = await openDB(OLD.database, 1, {
    upgrade: (database) => void database.createObjectStore(OLD.store),
  });
  try {
    const entries = (await old.get(OLD.store, OLD.outbox)) as Entry[] | undefined;
    if (entries?.length) await take(entries);
    if (entries) await old.delete(OLD.store, OLD.outbox);
    // What was fetched is fetched again.
    await old.delete(OLD.store, OLD.cache);
  } finally {
    old.close();
  }
}
