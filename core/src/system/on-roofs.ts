import type { Change, PvArray, Roof, System } from './schema';

/** Modules that lie on a roof keep their place there when they are wired otherwise. */

/** Where a module is wired: the array, the string and its place in it, counted from 0. */
export interface Wiring {
  arrayId: string;
  string: number;
  index: number;
}
type Placed = NonNullable<Roof['placed']>[number];

/** Where a placed module is wired. */
export const wiringOf = ({ arrayId, string, index }: Placed): Wiring => ({
  arrayId,
  string: string ?? 0,
  index: index ?? 0,
});

/** The changes that follow modules on the roofs; null: that module is taken down. */
export function rewiredOnRoofs(system: System, where: (wired: Wiring) => Wiring | null): Change[] {
  return (system.roofs ?? []).flatMap((roof): Change[] => {
    const placed = (roof.placed ?? []).flatMap((one): Placed[] => {
      const to = where(wiringOf(one));
      return to ? [{ ...one, ...to }] : [];
    });
    const before = (roof.placed ?? []).map((one) => ({ ...one, ...wiringOf(one) }));
    return JSON.stringify(placed) === JSON.stringify(before)
      ? []
      : [{ op: 'set', at: 'roofs', id: roof.id, value: { placed } }];
  });
}

/** Read off string by string: the modules of an array that get other strings, in the order in which they stand. */
export function inOrder(array: PvArray, strings: readonly (readonly string[])[]): (wired: Wiring) => Wiring | null {
  const to = strings.flatMap((string, s) => string.map((_, m): [number, number] => [s, m]));
  const before = (s: number) => array.strings.slice(0, s).reduce((sum, string) => sum + string.length, 0);
  return (wired) => {
    if (wired.arrayId !== array.id) return wired;
    const at = to[before(wired.string) + wired.index];
    return at ? { arrayId: array.id, string: at[0], index: at[1] } : null;
  };
}
