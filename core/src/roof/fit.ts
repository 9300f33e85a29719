import type { Point } from '../numeric/polygon';
import type { ModuleType, Obstacle, Roof } from '../system/schema';
import { groundOf, type Ground } from './free';
import { packMixed, type MixedSpot } from './mixed';
import { pack } from './pack';
import type { Spot } from './spots';
import { clearanceOf, edgeOf, mountOf, sizeOf } from './size';

/** What fits on a roof with what stands on it. */

/** How many modules, where, and whether more is ruled out. */
export interface RoofFit {
  count: number;
  watts: number;
  /** Of several types each spot says which. */
  placed: (Spot & { module?: string })[];
  bound: number;
  proved: boolean;
  /** Of several types: how many of each, and watts that no placement can pass. */
  kinds?: { module: string; count: number }[];
  bound_W?: number;
}

/** What fits on a roof, and whether more is ruled out. */
export function fitOn(roof: Roof, standing: readonly Obstacle[], module: ModuleType, go: () => boolean): RoofFit {
  const { spots, bound } = pack(groundFor(roof, standing), sizeOf(module, roof), go);
  const count = spots.length;
  return { count, watts: count * module.pmax_W, placed: spots, bound, proved: bound === count };
}

/**
 * What fits of several types, with the most watts.
 * @param kinds `most`: how many there are of each
 */
export function mixedFitOn(
  roof: Roof,
  standing: readonly Obstacle[],
  kinds: readonly { type: ModuleType; most: number }[],
  go: () => boolean,
): RoofFit & { placed: MixedSpot[] } {
  const { spots, watts, bound, bound_W } = packMixed(
    groundFor(roof, standing),
    kinds.map(({ type, most }) => ({ module: type.id, size: sizeOf(type, roof), watts: type.pmax_W, most })),
    go,
  );
  return {
    count: spots.length,
    watts,
    placed: spots,
    bound,
    proved: watts === bound_W,
    kinds: kinds.map(({ type }) => ({
      module: type.id,
      count: spots.filter(({ module }) => module === type.id).length,
    })),
    bound_W,
  };
}

/** The roof as a ground for modules: edge, clearances, what is kept clear; what they may lie over is not there. */
export function groundFor(
  roof: Roof,
  obstacles: readonly Obstacle[],
  outline: readonly Point[] = outlineOf(roof),
): Ground {
  return groundOf(outline, edgeOf(roof), [
    ...obstacles
      .filter((one) => !liesUnder(roof, one))
      .map((one) => ({
        ...(one.circle_mm ? { circle: one.circle_mm } : { outline: one.outline_mm ?? [] }),
        clearance: clearanceOf(one),
      })),
    ...(roof.keepClear ?? []).map((one) => ({ outline: one.outline_mm ?? [], clearance: 0 })),
  ]);
}
/** The roof's corners, mm. */
export const outlineOf = ({ outline_mm }: Roof): readonly Point[] => outline_mm ?? [];

/** True for what modules may lie over: low enough, and meant to be covered. */
export const liesUnder = (roof: Roof, { cover, height_mm }: Obstacle): boolean =>
  Boolean(cover) && (height_mm ?? 0) <= mountOf(roof);
