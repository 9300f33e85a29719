// The device's database is the browser's business; here it is the same, in memory.
require('fake-indexeddb/auto');

/** So is its storage of choices. */
class Storage {
  #kept = new Map();
  getItem(key) {
    return this.#kept.get(key) ?? null;
  }
  setItem(key, value) {
    this.#kept.set(key, String(value));
  }
  get length() {
    return this.#kept.size;
  }
  key(i) {
    return [...this.#kept.keys()][i] ?? null;
  }
  removeItem(key) {
    this.#kept.delete(key);
  }
}
globalThis.localStorage = new Storage();
