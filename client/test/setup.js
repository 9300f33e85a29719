// The device's database is the browser's business; here it is a map.
jest.mock('idb-keyval', () => {
  const main = new Map();
  return {
    createStore: () => new Map(),
    get: async (key, store = main) => store.get(key),
    set: async (key, value, store = main) => void store.set(key, value),
    del: async (key, store = main) => void store.delete(key),
  };
});
