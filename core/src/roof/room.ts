import type { Model } from '../system/model';
import type { PvArray } from '../system/schema';
import { fitOn } from './fit';

/** How many modules of a type the roofs of a site hold, beside how many would lie there. */
export interface RoofRoom {
  /** The most that was found. */
  count: number;
  /** False where more could not be ruled out. */
  proved: boolean;
  /** Modules that are there and do not stand on the ground or are carried about. */
  there: number;
}

const ELSEWHERE = new Set(['ground', 'portable']);
/** True for an array that does not stand on the ground and is not carried about. */
export const liesOnRoof = ({ mounting }: Pick<PvArray, 'mounting'>): boolean => !ELSEWHERE.has(mounting ?? '');

/**
 * @param go false ends the search: what was found so far counts
 * @returns null where no roof is measured, or the size of the module is not recorded
 */
export function roofRoom({ system }: Model, module: string, go: () => boolean = () => true): RoofRoom | null {
  const type = (system.moduleTypes ?? []).find(({ id }) => id === module);
  const roofs = system.roofs ?? [];
  if (roofs.length === 0 || !type?.length_mm || !type.width_mm) return null;
  const fits = roofs.map((roof) => fitOn(roof, roof.obstacles ?? [], type, go));
  return {
    count: fits.reduce((sum, { count }) => sum + count, 0),
    proved: fits.every(({ proved }) => proved),
    there: (system.arrays ?? []).filter(liesOnRoof).reduce((sum, { strings }) => sum + strings.flat().length, 0),
  };
}

/** How many more modules find a place; null where no roof is measured. */
export const roofSpare = (room: RoofRoom | null): number | null => room && Math.max(0, room.count - room.there);

/** What is said of so many more; null where they find a place, or no roof is measured. */
export function roofRefusal(room: RoofRoom | null, more: number): { says: string; certain: boolean } | null {
  if (!room || more <= 0) return null;
  const { count, proved, there } = room;
  if (there + more <= count) return null;
  const holds = `The measured roof holds ${count} ${count === 1 ? 'module' : 'modules'} of this size`;
  return proved
    ? { says: `${holds}: ${there + more} do not fit.`, certain: true }
    : { says: `${holds} as far as was found: no place was found for ${there + more}.`, certain: false };
}
