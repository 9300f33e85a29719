import { createAsyncStoragePersister } from '@tanstack/query-async-storage-persister';
import type { PersistQueryClientOptions } from '@tanstack/react-query-persist-client';
import { del, get, set } from 'idb-keyval';
import { A_MONTH_MS } from './site';

/** Change when the shape of what is fetched changes: an old cache is then thrown away instead of misread. */
const SHAPE = '1';
const KEPT = new Set(['session', 'sites', 'site']);

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
  maxAge: A_MONTH_MS,
  buster: SHAPE,
  dehydrateOptions: {
    shouldDehydrateQuery: ({ queryKey, state }) => state.status === 'success' && KEPT.has(String(queryKey[0])),
  },
};
