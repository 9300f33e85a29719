import type { Model } from '../system/model';
import type { PvArray } from '../system/schema';
import { kept } from '../numeric/kept';
import { fitOn } from './fit';

/** How many modules of a type the roofs of a site hold, beside how many would lie there. */
export interface RoofRoom {
  /** The most that was found. */
  count: number;
  /** No placement has more. */
  most: number;
  /** Modules that are there and do not stand on the ground or are carried about. */
  there: number;
  /** Some of them are smaller: then their number says less of the room that they take. */
  smaller: boolean;
}

const ELSEWHERE = new Set(['ground', 'portable']);
/** True for an array that does not stand on the ground and is not carried about. */
export const liesOnRoof = ({ mounting }: Pick<PvArray, 'mounting'>): boolean => !ELSEWHERE.has(mounting ?? '');

/**
 * @param go false ends the search: what was found so far counts
 * @returns null where no roof is measured, or the size of the module is not recorded
 */
export function roofRoom(
  { system }: Pick<Model, 'system'>,
  module: string,
  go: () => boolean = () => true,
): RoofRoom | null {
  const types = system.moduleTypes ?? [];
  const type = types.find(({ id }) => id === module);
  const roofs = system.roofs ?? [];
  if (roofs.length === 0 || !type?.length_mm || !type.width_mm) return null;
  const fits = roofs.map((roof) => fitOn(roof, roof.obstacles ?? [], type, go));
  const there = (system.arrays ?? []).filter(liesOnRoof).flatMap(({ strings }) => strings.flat());
  const area = type.length_mm * type.width_mm;
  return {
    count: fits.reduce((sum, { count }) => sum + count, 0),
    most: fits.reduce((sum, { bound }) => sum + bound, 0),
    there: there.length,
    smaller: types.some(
      ({ id, length_mm, width_mm }) => there.includes(id) && (length_mm ?? 0) * (width_mm ?? 0) < area,
    ),
  };
}

/** How many more modules find a place; null where no roof is measured. */
export const roofSpare = (room: RoofRoom | null): number | null => room && Math.max(0, room.count - room.there);

/** What is said of so many more; null where they find a place, or no roof is measured. */
export function roofRefusal(room: RoofRoom | null, more: number): { says: string; certain: boolean } | null {
  if (!room || more <= 0) return null;
  const { count, most, there, smaller } = room;
  if (there + more <= count) return null;
  const holds = (so: number) => `The measured roof holds ${so} ${so === 1 ? 'module' : 'modules'} of this size`;
  if (there + more > most && !smaller)
    return { says: `${holds(most)}${most === count ? '' : ' at most'}: ${there + more} do not fit.`, certain: true };
  return { says: `${holds(count)} as far as was found: no place was found for ${there + more}.`, certain: false };
}

/**
 * The room of the roofs for more modules of an array, as far as it is told at once; kept, since many remedies ask for it.
 * @returns null too for an array that does not lie on a roof
 */
export function quickRoom({ system }: Pick<Model, 'system'>, array: PvArray, module: string): RoofRoom | null {
  const { roofs, arrays, moduleTypes } = system;
  if (!liesOnRoof(array) || !roofs || roofs.length === 0) return null;
  return rooms(JSON.stringify([module, roofs, arrays, moduleTypes]), () => roofRoom({ system }, module, () => false));
}
const rooms = kept<string, RoofRoom | null>(20);

/** What is said of more of an array's modules that certainly find no place on the measured roofs; null where they may. */
export function refusedOnRoof(model: Pick<Model, 'system'>, array: PvArray, modules: readonly string[]): string | null {
  for (const module of new Set(modules)) {
    const refusal = roofRefusal(quickRoom(model, array, module), modules.filter((one) => one === module).length);
    if (refusal?.certain) return refusal.says;
  }
  return null;
}
