import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { checkSystemFile, FaultError, modelOf, type Model, type SystemFile } from '../src/index';

/** Files gone wrong, from sound ones, the same for the same seed: what a stranger, another program or an attacker sends. */

/** A small generator of its own (mulberry32, public domain): the same row of numbers for the same seed everywhere. */
export function numbers(seed: number): () => number {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let mixed = Math.imul(state ^ (state >>> 15), state | 1);
    mixed ^= mixed + Math.imul(mixed ^ (mixed >>> 7), mixed | 61);
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 2 ** 32;
  };
}

type Holder = Record<string, unknown> | unknown[];
interface Place {
  holder: Holder;
  key: string;
}

function placesIn(value: unknown, found: Place[] = []): Place[] {
  if (value === null || typeof value !== 'object') return found;
  for (const [key, member] of Object.entries(value)) {
    found.push({ holder: value as Holder, key });
    placesIn(member, found);
  }
  return found;
}

/** What stands where something else should. */
const WRONG: unknown[] = [
  null,
  0,
  -1,
  -0.001,
  0.0001,
  1,
  1e9,
  -1e9,
  1e308,
  '',
  '12',
  'none',
  true,
  false,
  [],
  {},
  [[]],
  [null],
  { id: 'x' },
  'x'.repeat(300),
];

/** The file with one to four of its members gone, changed, doubled or exchanged. */
export function mutated<T>(file: T, next: () => number): T {
  const copy = structuredClone(file);
  const pick = <E>(of: readonly E[]): E | undefined => of[Math.floor(next() * of.length)];
  for (let n = 1 + Math.floor(next() * 4); n > 0; n--) {
    const places = placesIn(copy);
    const place = pick(places);
    if (!place) break;
    const { holder, key } = place as { holder: Record<string, unknown>; key: string };
    const value = holder[key];
    const way = next();
    if (way < 0.15) {
      if (Array.isArray(holder)) holder.splice(Number(key), 1);
      else delete holder[key];
    } else if (way < 0.5 && typeof value === 'number') {
      const factor = pick([0, 0.001, 0.1, 0.5, 2, 10, 1000, -1]) ?? 1;
      // A minus nought is written as nought.
      holder[key] = value * factor + 0;
    } else if (way < 0.6 && Array.isArray(value) && value.length > 0) value.push(structuredClone(pick(value)));
    else if (way < 0.75) {
      const other = pick(places);
      if (other) holder[key] = structuredClone((other.holder as Record<string, unknown>)[other.key]);
    } else holder[key] = structuredClone(pick(WRONG));
  }
  return copy;
}

/** The system files of a folder as they are written, by name. */
export const filesIn = (folder: string): [name: string, file: SystemFile][] =>
  readdirSync(folder)
    .filter((name) => name.endsWith('.lantern.json'))
    .map((name) => [name, JSON.parse(readFileSync(join(folder, name), 'utf8')) as SystemFile]);

/** A file as a program would open it; null where it is refused with its faults. */
export function openedOrRefused(file: unknown): Model | null {
  try {
    return modelOf(checkSystemFile(file).file);
  } catch (error) {
    if (error instanceof FaultError) return null;
    throw error;
  }
}
