/** Batteries in a compartment: how many stand in it, side by side in one layer. */

export interface Box {
  length_mm: number;
  width_mm: number;
  height_mm: number;
}
export interface Fit {
  /** How many go in. */
  count: number;
  /** Along the bay's length and across it. */
  along: number;
  across: number;
  /** The block as it stands in the bay: along, across, up. */
  standing: Box;
}

/** Air between blocks and to the walls, mm: for heat, hands and swelling. Planning value. */
export const CLEARANCE_MM = 10;

/**
 * The most blocks that stand in a bay in one layer, over the ways in which the block may stand. Lead stands upright;
 * a sealed lithium block may lie on a side as well, never on its terminals. Headroom for terminals and tools is the
 * clearance, once above.
 */
export function fit(bay: Box, block: Box, mayLie: boolean, clearance_mm = CLEARANCE_MM): Fit {
  const { length_mm: l, width_mm: w, height_mm: h } = block;
  const upright: [number, number, number][] = [
    [l, w, h],
    [w, l, h],
  ];
  const lying: [number, number, number][] = [
    [l, h, w],
    [h, l, w],
    [w, h, l],
    [h, w, l],
  ];
  return [...upright, ...(mayLie ? lying : [])]
    .map(([along_mm, across_mm, up_mm]): Fit => {
      const fits = (room: number, each: number) =>
        Math.max(0, Math.floor((room - clearance_mm) / (each + clearance_mm)));
      const along = fits(bay.length_mm, along_mm);
      const across = up_mm + clearance_mm <= bay.height_mm ? fits(bay.width_mm, across_mm) : 0;
      return {
        count: along * across,
        along,
        across,
        standing: { length_mm: along_mm, width_mm: across_mm, height_mm: up_mm },
      };
    })
    .reduce((best, next) => (next.count > best.count ? next : best));
}

/** All three measures, or null: a bay of which one is unknown is not measured. */
export function boxOf(part: { [K in keyof Box]?: number | null } | null | undefined): Box | null {
  const { length_mm, width_mm, height_mm } = part ?? {};
  return length_mm && width_mm && height_mm ? { length_mm, width_mm, height_mm } : null;
}
