/** Small choices that belong to this device, not to the firm. */
interface Preferences {
  ground: 'day' | 'lamp';
}

const key = (name: string) => `lantern.${name}`;

export function readPreference<K extends keyof Preferences>(name: K): Preferences[K] | null {
  try {
    return (globalThis.localStorage?.getItem(key(name)) as Preferences[K] | null) ?? null;
  } catch {
    // Storage is closed to us (a private window): the choice then lasts as long as the page.
    return null;
  }
}

export function writePreference<K extends keyof Preferences>(name: K, value: Preferences[K]): void {
  try {
    globalThis.localStorage?.setItem(key(name), value);
  } catch {
    // As above.
  }
}
