import { createAsyncStoragePersister } from '@tanstack/query-async-storage-persister';
import type { PersistQueryClientOptions } from '@tanstack/react-query-persist-client';
import { del, get, set } from 'idb-keyval';

/** Change when the shape of what is fetched changes: an old cache is then thrown away instead of misread. */
const SHAPE = '1';
/** A season out of reach is the longest that a site is read from the device alone. */
const KEEP_MS = 120 * 24 * 3600 * 1000;
const KEPT = new Set(['session', 'sites', 'site', 'shelf', 'history', 'firm']);

/** What was fetched stays on the device, so that a site opens without a signal. Computed answers are not kept. */
export const persistence: Omit<PersistQueryClientOptions, 'queryClient'> = {
  persister: createAsyncStoragePersister({
    storage: {
      getItem: (key) => get<string>(key).then((value) => value ?? null),
      setItem: (key, value) => set(key, value),
      removeItem: (key) => del(key),
    },
    key: 'lantern.cache',
    throttleTime: 500,
  }),
  maxAge: KEEP_MS,
  buster: SHAPE,
  dehydrateOptions: {
    // Also where the last attempt failed: without a signal every attempt does, and the data is what counts.
    shouldDehydrateQuery: ({ queryKey, state }) => state.data !== undefined && KEPT.has(String(queryKey[0])),
  },
};
