import { area_mm2 } from '../conductors/sizes';

/** Stroke of a conductor: 3 to 14 px, by the root of its area, so that it grows with its diameter. */
export const strokeOf = (size: string, perPole = 1) =>
  Math.max(3, Math.min(14, 1.15 * Math.sqrt(area_mm2(size) * perPole)));
