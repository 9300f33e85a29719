import type { PvArray, System } from '../system/schema';
import { isFuse } from '../rules/wires/string-own';

/** What opens one string of an array, named from the file: a string is measured alone, and nobody guesses at a switch. */
export interface StringOpening {
  /** "its isolator open", within a sentence. */
  open: string;
  /** What breaks its current under load; null where nothing of its own does. */
  breaks: 'isolator' | 'breaker' | null;
}

/** Finds it: a switch on the string's own cable, a breaker or fuse holder in it, a breaker in each string, else its plugs. */
export function stringOpening(system: System, array: PvArray, s: number): StringOpening {
  const runs = (system.runs ?? []).filter(
    ({ kind, from, to, strings }) =>
      kind === 'pv' &&
      (from === array.id || to === array.id) &&
      (strings ? strings.includes(s) : array.strings.length === 1),
  );
  const onIt = (system.switches ?? []).find(
    ({ runId, kind }) => runs.some(({ id }) => id === runId) && (kind === 'isolator' || kind === 'breaker'),
  );
  if (onIt) return { open: `its ${onIt.kind} open`, breaks: onIt.kind === 'isolator' ? 'isolator' : 'breaker' };
  const fuses = [...runs.map(({ protection }) => protection), array.stringProtection].filter(isFuse);
  if (fuses.some(({ type }) => type === 'breaker')) return { open: 'its breaker open', breaks: 'breaker' };
  if (fuses.length > 0)
    return {
      open: 'its fuse holder open, at no current: first cover the array or disconnect it at its controller',
      breaks: null,
    };
  return {
    open: 'its plugs disconnected at no current: first cover the array or disconnect it at its controller; never under load',
    breaks: null,
  };
}

/** Other strings of the array that read alike: as many modules, of the same types, in the same light (counted from 0). */
export function likeStrings({ strings, shade }: PvArray, s: number): number[] {
  const plate = (i: number) => JSON.stringify([[...(strings[i] ?? [])].sort(), shade?.[i] ?? null]);
  return strings.map((_, i) => i).filter((i) => i !== s && plate(i) === plate(s));
}
