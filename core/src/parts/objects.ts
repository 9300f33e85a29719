/** Objects whose members only a look tells. */
export const isObject = (value: unknown): value is Record<string, unknown> =>
  value !== null && typeof value === 'object' && !Array.isArray(value);

/** The object that a value is; an empty one where it is none. */
export const recordOf = (value: unknown): Record<string, unknown> => (isObject(value) ? value : {});

/** The names of an object of ours, which has those of its type and no more. */
export const keysOf = <T extends object>(value: T): (keyof T & string)[] => Object.keys(value) as (keyof T & string)[];

/** A table with one entry for each of some names. */
export const tableOf = <K extends string, V>(names: readonly K[], entry: (name: K) => V): Record<K, V> =>
  Object.fromEntries(names.map((name) => [name, entry(name)])) as Record<K, V>;
