import { modulesOf } from '../pv/strings';
import { SOLD_V } from '../conductors/fuses';
import { inEachString, pvStringFuse_A } from '../rules/wires/string-own';
import { type Model } from '../system/model';

import type { Change, PvArray } from '../system/schema';
import { rewiredOnRoofs, type Wiring } from '../system/on-roofs';
import { stringRuns } from '../system/string-runs';
import { takenOut } from '../system/taken-out';
import type { Share } from './groupings';
import type { Pooled } from './pool';

/** Modules put into strings: which stands where, and the changes that make it so. */

/** Strings of one controller with the modules that stand in them. */
export interface PlacedShare {
  controllerId: string;
  strings: Pooled[][];
}

/**
 * Which module stands where: modules of a type in the order in which they stand, or the shaded ones last, so that they
 * share a string or a controller of their own. Shares of one controller stand on its one input together.
 */
export function placed(shares: readonly Share[], pool: readonly Pooled[], shadedLast = false): PlacedShare[] {
  const order = shadedLast ? [...pool].sort((a, b) => b.light - a.light) : [...pool];
  const take = (type: string | null): Pooled => {
    const at = type === null ? 0 : order.findIndex((one) => one.type === type);
    return order.splice(Math.max(0, at), 1)[0] ?? { type: type ?? '', light: 1 };
  };
  const byController = new Map<string, Pooled[][]>();
  for (const { controllerId, block } of shares) {
    const strings = block.lengths.map((length) => Array.from({ length }, () => take(block.type)));
    byController.set(controllerId, [...(byController.get(controllerId) ?? []), ...strings]);
  }
  return [...byController].map(([controllerId, strings]) => ({ controllerId, strings }));
}

/** The first array of each controller takes the new strings; other arrays of the controllers used are emptied into it. */
export function changesFor(model: Model, shares: readonly PlacedShare[]): Change[] {
  const arrays = model.system.arrays ?? [];
  const used = new Set(shares.map(({ controllerId }) => controllerId));
  const idle = arrays.filter(({ controllerId }) => controllerId && !used.has(controllerId));
  const wired = new Map<string, Wiring>();
  const changes = shares.flatMap((share) => {
    const [first, ...others] = arrays.filter((array) => array.controllerId === share.controllerId);
    const arrayId = first?.id ?? newId(share.controllerId);
    share.strings.forEach((string, s) =>
      string.forEach(({ onRoof }, m) => {
        if (onRoof) wired.set(JSON.stringify(onRoof), { arrayId, string: s, index: m });
      }),
    );
    return [...stringsInto(model, share, first), ...others.flatMap((array) => out(model, array))];
  });
  // Last, over all arrays at once: each module stays where it lies, however it is wired now.
  const roofs = rewiredOnRoofs(model.system, (one) =>
    arrays.some(({ id, controllerId }) => id === one.arrayId && !controllerId)
      ? one
      : (wired.get(JSON.stringify(one)) ?? null),
  );
  return [...changes, ...idle.flatMap((array) => out(model, array)), ...roofs];
}
const out = (model: Model, array: PvArray) => takenOut(model.system, 'arrays', array.id);

/** An array takes new strings; its cables then carry all of them. A controller without one gets one. */
export function stringsInto(
  model: Model,
  { controllerId, strings }: PlacedShare,
  array: PvArray | undefined,
): Change[] {
  const types = strings.map((string) => string.map(({ type }) => type));
  const lights = strings.map((string) => string.map(({ light, noted }) => noted ?? light));
  const shaded = lights.some((string) => string.some((light) => light < 1));
  const shade = shaded ? { shade: lights } : {};
  if (!array) {
    const value = { ...newArray(model.system.arrays?.[0], controllerId, types), ...shade };
    return [{ op: 'add', at: 'arrays', value }];
  }
  const value = { strings: types, ...(array.shade && !shaded ? { shade: null } : shade) };
  return [...stringRuns(model.system, array, types.length), { op: 'set', at: 'arrays', id: array.id, value }];
}

/** An array of some strings on a controller, standing as the one that it is like. */
export function newArray(like: PvArray | undefined, controllerId: string, strings: string[][]): PvArray {
  const { tilt_deg, azimuth_deg, mounting } = like ?? {};
  return { id: newId(controllerId), label: 'New array', strings, tilt_deg, azimuth_deg, mounting, controllerId };
}

const newId = (controllerId: string) => `array-${controllerId}`;

/** A fuse for each string of an array: so many of a rating. */
export interface StringFuses {
  arrayId: string;
  count: number;
  /** Of the kind that is made for strings: full volts of direct current. */
  type: 'pv';
  rating_A: number;
}

/** A fuse for each string of these arrays, from the smallest sold that does not blow in bright sun. */
export function fusesFor(model: Model, arrayIds: readonly string[]): { fuses: StringFuses[]; changes: Change[] } {
  const fuses = (model.system.arrays ?? [])
    .filter(({ id }) => arrayIds.includes(id))
    .flatMap(({ id, strings }): StringFuses[] => {
      const rating_A = pvStringFuse_A(strings.map((string) => modulesOf(model.system, string)));
      return rating_A ? [{ arrayId: id, type: 'pv', rating_A, count: strings.length }] : [];
    });
  const changes = fuses.map(({ arrayId, type, rating_A }) => inEachString(arrayId, type, rating_A, SOLD_V[type]));
  return { fuses, changes };
}
