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

/** So is its storage of choices. */
class Storage {
  #kept = new Map();
  getItem(key) {
    return this.#kept.get(key) ?? null;
  }
  setItem(key, value) {
    this.#kept.set(key, String(value));
  }
  removeItem(key) {
    this.#kept.delete(key);
  }
}
globalThis.localStorage = new Storage();
