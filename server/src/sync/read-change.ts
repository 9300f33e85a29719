import { boundFaults, FaultError, faultAt, isField, POSITION, type PartChange, recordOf } from '@true-lantern/core';
import { changeSchema, type PushResult } from '@true-lantern/wire';
import { parse } from '../parse';

/** So much may one change set: the history keeps each, with what stood before it. */
const MOST_CHANGE_BYTES = 256 * 1024;

/** One change by its schema; one that is wrong never fails the others. */
export function readChange(given: unknown): PartChange | { faults: FaultError['faults'] } {
  try {
    const change = parse(changeSchema, given) as PartChange;
    const bytes = Buffer.byteLength(JSON.stringify(change.set));
    if (bytes > MOST_CHANGE_BYTES)
      throw faultAt('set', `has ${Math.ceil(bytes / 1024)} kB, expected 256 kB at most in one change`);
    const faults = boundFaults(change.set, 'set');
    if (faults.length > 0) throw new FaultError(faults);
    const position = change.set[POSITION];
    if (position !== undefined && !(Number.isInteger(position) && Number(position) >= 0 && Number(position) <= 1e6))
      throw faultAt(POSITION, 'is no place in a list, expected a whole number from 0 to 1,000,000');
    for (const field of Object.keys(change.set))
      if (!isField(field)) throw faultAt(`set["${field}"]`, 'is no field, expected a path such as "maxPv_V"');
    return change;
  } catch (error) {
    if (error instanceof FaultError) return { faults: error.faults };
    throw error;
  }
}

const idOf = (given: unknown, name: 'changeId' | 'partId'): string => {
  const value = recordOf(given)[name];
  return typeof value === 'string' ? value : '';
};

/** The answer to a change that cannot be taken. */
export const refused = (given: unknown, faults: FaultError['faults']): PushResult => ({
  changeId: idOf(given, 'changeId'),
  partId: idOf(given, 'partId'),
  status: 'refused',
  conflicts: [],
  faults,
});
