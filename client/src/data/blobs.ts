import { noteTrouble } from './trouble';
import { createStore, get, set } from 'idb-keyval';

/** Photos and spoken notes on this device: kept until sent, and afterwards so that they open without a signal. */
const store = createStore('lantern-blobs', 'blobs');

/** Stored as bytes and type: some browsers lose Blobs that are kept in IndexedDB. */
interface Kept {
  bytes: ArrayBuffer;
  type: string;
}

export async function keepBlob(key: string, blob: Blob): Promise<void> {
  await set(key, { bytes: await blob.arrayBuffer(), type: blob.type } satisfies Kept, store);
}
export async function readBlob(key: string): Promise<Blob | null> {
  const kept = await get<Kept>(key, store).catch(
    (error: unknown) => void noteTrouble('A photo on this device could not be read.', error),
  );
  return kept ? new Blob([kept.bytes], { type: kept.type }) : null;
}
