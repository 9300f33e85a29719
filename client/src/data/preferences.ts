import { noteTrouble } from './trouble';
import type { Sample } from '@true-lantern/core';
import type { Units } from '@true-lantern/core/base';

/** A test under way: by the device's own clock, so that it goes on while the phone is locked or the page closed. */
export interface Running {
  /** When it was begun, ms since 1970. */
  begun: number;
  ambient_C: number;
  samples: Sample[];
}

/** Small choices that belong to this device, not to the firm. */
interface Preferences {
  ground: 'day' | 'lamp';
  units: Units;
  /** Items of the shelf used last. */
  recent: string[];
  /** Questions of the walk-round put off, by site. */
  skipped: Record<string, string[]>;
  /** Who was signed in last: what was fetched is theirs. */
  person: string;
  /** A sign-out that the server has not been told of yet. */
  leaving: boolean;
  /** What was typed at a counter, by site, part and what of it. */
  counter: Record<string, Record<string, string>>;
  /** What the columns of a logger are, by its header: part and quantity of each, and which is the time. */
  logs: Record<string, { time: number; columns: { column: number; subject: string; quantity: string }[] }>;
  /** Meters with their errors, percent of reading, by person: the one used last first. */
  meters: Record<string, { name: string; pct: number }[]>;
  /** How practice cases went, by seed and level, and what was missed how often. */
  practice: Record<string, string>;
  missed: Record<string, number>;
  /** Whether this device tells of values out of range. */
  notify: boolean;
  /** Tests by the clock under way, by site and procedure. */
  clock: Record<string, Running>;
}

const key = (name: string) => `lantern.${name}`;

/**
 * A choice as it was kept. Where storage is closed (a private window) the default stands; what no longer reads as JSON is
 * an older version's and makes room.
 */
export function readPreference<K extends keyof Preferences>(name: K): Preferences[K] | null {
  const text = stored(name);
  if (!text) return null;
  try {
    return JSON.parse(text) as Preferences[K];
  } catch (error) {
    noteTrouble('A saved preference could not be read. The default is used.', error);
    return null;
  }
}

function stored(name: string): string | null {
  try {
    return globalThis.localStorage?.getItem(key(name)) ?? null;
  } catch (error) {
    noteTrouble('This browser stores no preferences (units, background): they last until you close the page.', error);
    return null;
  }
}

/** Keeps a choice on this device, or says that it lasts only until the page is closed. */
export function writePreference<K extends keyof Preferences>(name: K, value: Preferences[K]): void {
  try {
    globalThis.localStorage?.setItem(key(name), JSON.stringify(value));
  } catch (error) {
    noteTrouble('This preference could not be saved. It lasts until you close the page.', error);
  }
}
