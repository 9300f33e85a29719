import type { Units } from './units';

/** Small choices that belong to this device, not to the firm. */
interface Preferences {
  ground: 'day' | 'lamp';
  units: Units;
  /** Items of the shelf used last. */
  recent: string[];
  /** Questions of the walk-round put off, by site. */
  skipped: Record<string, string[]>;
  /** What was typed at a counter, by site, part and what of it. */
  counter: Record<string, Record<string, string>>;
}

const key = (name: string) => `lantern.${name}`;

export function readPreference<K extends keyof Preferences>(name: K): Preferences[K] | null {
  try {
    const text = globalThis.localStorage?.getItem(key(name));
    return text ? (JSON.parse(text) as Preferences[K]) : null;
  } catch {
    // Storage is closed to us (a private window), or an older version wrote it: the default then stands.
    return null;
  }
}

export function writePreference<K extends keyof Preferences>(name: K, value: Preferences[K]): void {
  try {
    globalThis.localStorage?.setItem(key(name), JSON.stringify(value));
  } catch {
    // As above.
  }
}
