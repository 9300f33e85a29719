import { openDB } from 'idb';
import { noteTrouble } from './trouble';

/** Photos and spoken notes on this device: kept until sent, and afterwards so that they open without a signal. */
const STORE = 'blobs';
const open = () => openDB('lantern-blobs', 1, { upgrade: (database) => void database.createObjectStore(STORE) });

/** Stored as bytes and type: some browsers lose Blobs that are kept in IndexedDB. */
interface Kept {
  bytes: ArrayBuffer;
  type: string;
}

async function within<T>(act: (database: Awaited<ReturnType<typeof open>>) => Promise<T>): Promise<T> {
  const database = await open();
  try {
    return await act(database);
  } finally {
    database.close();
  }
}

/** @throws what the browser says where it has no room or refuses */
export async function keepBlob(key: string, blob: Blob): Promise<void> {
  const kept: Kept = { bytes: await blob.arrayBuffer(), type: blob.type };
  await within((database) => database.put(STORE, kept, key));
}
/** The bytes under a key; null where the device does not have them, or cannot read them. */
export async function readBlob(key: string): Promise<Blob | null> {
  const kept = (await within((database) => database.get(STORE, key)).catch((error: unknown) =>
    noteTrouble('A photo on this device could not be read.', error),
  )) as Kept | undefined;
  return kept ? new Blob([kept.bytes], { type: kept.type }) : null;
}
/** Forgets every picture and sound but those that still wait to be sent. */
export async function clearBlobs(but: ReadonlySet<string>): Promise<void> {
  await within(async (database) => {
    for (const key of await database.getAllKeys(STORE))
      if (!but.has(String(key).replace(/ small$/, ''))) await database.delete(STORE, key);
  });
}
