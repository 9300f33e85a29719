import type { Query } from '@tanstack/react-query';
import { experimental_createQueryPersister, type PersistedQuery } from '@tanstack/react-query-persist-client';
import { deviceDatabase } from './database';
import { noteTrouble } from './trouble';

/** Change when the shape of what is fetched changes: an old cache is then thrown away instead of misread. */
const SHAPE = '2';
const KEPT = new Set<unknown>(['session', 'sites', 'site', 'shelf', 'history-pages', 'firm', 'due', 'live']);
const PREFIX = 'q';
const UNKEPT = 'The site could not be stored on this device: it will not open without a signal.';

/** One row a query: an edit writes its own site, a start reads what is on the screen. */
const storage = {
  getItem: async (key: string) =>
    deviceDatabase()
      .then((database) => database.get('cache', key))
      .catch((error: unknown) => noteTrouble('The data stored earlier could not be read.', error)) as Promise<
      PersistedQuery | undefined
    >,
  setItem: async (key: string, value: PersistedQuery) =>
    deviceDatabase()
      .then((database) => database.put('cache', value, key))
      .catch((error: unknown) => noteTrouble(UNKEPT, error)),
  removeItem: async (key: string) =>
    deviceDatabase()
      .then((database) => database.delete('cache', key))
      .catch(() => undefined),
};

/**
 * What was fetched stays on the device, so that a site opens without a signal. Computed answers are not kept. No age is
 * too great, and a time in the future is taken as now: a wrong clock throws nothing away and holds no fetch back.
 */
const persister = experimental_createQueryPersister<PersistedQuery>({
  storage,
  prefix: PREFIX,
  buster: SHAPE,
  maxAge: Infinity,
  refetchOnRestore: false,
  serialize: ({ state, ...query }) => ({
    ...query,
    // Also where the last attempt failed: without a signal every attempt does, and the data is what counts.
    state: { ...state, error: null, fetchFailureReason: null, status: 'success', fetchStatus: 'idle' },
  }),
  deserialize: (kept) => ({
    ...kept,
    state: { ...kept.state, dataUpdatedAt: Math.min(kept.state.dataUpdatedAt, Date.now()) },
  }),
  filters: { predicate: ({ queryKey }) => KEPT.has(queryKey[0]) },
});

/**
 * Gives a query what the device has of it, and asks the server right after. The package's own way of asking leaves a
 * rejected promise behind where there is no signal.
 */
export const restoring: typeof persister.persisterFn = async (queryFn, context, query) => {
  let asked = query.state.data !== undefined;
  const data = await persister.persisterFn(
    (inner) => {
      asked = true;
      return queryFn(inner);
    },
    context,
    query,
  );
  if (!asked) setTimeout(() => void query.fetch().catch(() => undefined), 0);
  return data;
};

/** Keeps what was laid into the cache by hand as well; what was fetched the persister keeps itself. */
export const keepQuery = (query: Query): void => {
  if (KEPT.has(query.queryKey[0]) && query.state.data !== undefined) void persister.persistQuery(query);
};

/** What a query had when it was last kept; undefined where nothing was. */
export async function keptData<T>(key: readonly unknown[]): Promise<T | undefined> {
  return (await storage.getItem(`${PREFIX}-${JSON.stringify(key)}`))?.state.data as T | undefined;
}

/** Another person may be next on this device: nothing that was fetched stays. */
export const forgetFetched = async (): Promise<void> => {
  await (await deviceDatabase()).clear('cache');
};
