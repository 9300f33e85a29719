// The device's database is the browser's business; here it is a map.
jest.mock('idb-keyval', () => {
  const kept = new Map();
  return {
    get: async (key) => kept.get(key),
    set: async (key, value) => void kept.set(key, value),
    del: async (key) => void kept.delete(key),
  };
});
