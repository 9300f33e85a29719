import { touches } from '../conductors/network';
import { partName } from '../conductors/names';
import type { Model } from '../system/model';
import type { System } from '../system/schema';

/** What an order looks for in a system: who feeds the bus, which switches open what; and what its steps share. */

export type Keys = string[];

/** Minutes of each act; planning values. */
export const MINUTES = {
  tell: 5,
  save: 10,
  off: 2,
  cover: 10,
  bank: 8,
  dead: 5,
  cap: 5,
  set: 10,
  on: 2,
  warm: 30,
} as const;

/** Parts by their names, one after the other. */
export const nameList = (model: Pick<Model, 'system'>, ids: readonly string[]) =>
  ids.map((id) => partName(model, id)).join(', ');

/** What an engine feeds the bus by: alternators, what charges from them, and any battery that is joined. */
export function engineParts({ sources, chargers, otherBanks }: System): string[] {
  return [
    ...(sources ?? []).filter(({ kind }) => kind === 'alternator'),
    ...(chargers ?? []).filter(({ kind }) => kind !== 'mains'),
    ...(otherBanks ?? []).filter(({ joinedBy }) => joinedBy && joinedBy !== 'none'),
  ].map(({ id }) => id);
}

/** The runs that end at a part. */
export const runsOf = ({ runs }: System, id: string) => (runs ?? []).filter((run) => touches(run, id));
