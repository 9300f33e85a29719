/** Batteries in a compartment: how many stand in it, side by side in one layer. */

/** A thing or a place by its sides, mm. */
export interface Box {
  length_mm: number;
  width_mm: number;
  height_mm: number;
}
/** A block as it stands in the bay, seen from above; from the far left corner, the front being at the bay's width, mm. */
export interface Place {
  x_mm: number;
  y_mm: number;
  along_mm: number;
  across_mm: number;
  up_mm: number;
  /** On a side, its terminals facing out. */
  lies: boolean;
}
/** How blocks stand in the place of the bank, mm. */
export interface Fit {
  /** How many go in. */
  count: number;
  places: Place[];
  /** Clear above the highest of them. */
  above_mm: number;
}

/** Air between blocks and to the walls, mm: for heat, hands and swelling. Planning value. */
export const CLEARANCE_MM = 10;
/** Clear above terminals for a spanner and a hand; less, and each is drawn out to be reached. Planning value. */
export const HAND_MM = 60;

interface Way {
  along_mm: number;
  across_mm: number;
  up_mm: number;
  lies: boolean;
}

/**
 * The most blocks that stand in a bay in one layer: every way in which the block may stand, and any two of them side by
 * side, the one filling the bay's length as far as the other does better with the rest. Lead stands upright; a sealed
 * lithium block may lie on a side as well, never on its terminals. Headroom for terminals is the clearance, once above.
 */
export function fit(bay: Box, block: Box, mayLie: boolean, clearance_mm = CLEARANCE_MM): Fit {
  const { length_mm: l, width_mm: w, height_mm: h } = block;
  const way = (along_mm: number, across_mm: number, up_mm: number, lies: boolean): Way => ({
    along_mm,
    across_mm,
    up_mm,
    lies,
  });
  const ways = [
    way(l, w, h, false),
    way(w, l, h, false),
    ...(mayLie ? [way(l, h, w, true), way(h, l, w, true), way(w, h, l, true), way(h, w, l, true)] : []),
  ].filter(({ up_mm }) => up_mm + clearance_mm <= bay.height_mm);
  const fits = (room: number, each: number) => Math.max(0, Math.floor((room - clearance_mm) / (each + clearance_mm)));
  const grid = (from_mm: number, columns: number, { along_mm, across_mm, up_mm, lies }: Way): Place[] =>
    Array.from({ length: columns }, (_, i) =>
      Array.from({ length: fits(bay.width_mm, across_mm) }, (__, j) => ({
        x_mm: from_mm + clearance_mm + i * (along_mm + clearance_mm),
        y_mm: clearance_mm + j * (across_mm + clearance_mm),
        along_mm,
        across_mm,
        up_mm,
        lies,
      })),
    ).flat();
  let best: { first: Way; columns: number; second: Way; rest: number; count: number } | null = null;
  for (const first of ways)
    for (let columns = fits(bay.length_mm, first.along_mm); columns >= 0; columns--)
      for (const second of ways) {
        const used = columns * (first.along_mm + clearance_mm);
        const rest = fits(bay.length_mm - used, second.along_mm);
        const count = columns * fits(bay.width_mm, first.across_mm) + rest * fits(bay.width_mm, second.across_mm);
        if (!best || count > best.count) best = { first, columns, second, rest, count };
      }
  if (!best || best.count === 0) return { count: 0, places: [], above_mm: 0 };
  const { first, columns, second, rest, count } = best;
  const places = [...grid(0, columns, first), ...grid(columns * (first.along_mm + clearance_mm), rest, second)];
  return { count, places, above_mm: bay.height_mm - Math.max(...places.map(({ up_mm }) => up_mm)) };
}

/** All three measures, or null: a bay of which one is unknown is not measured. */
export function boxOf(part: { [K in keyof Box]?: number | null | undefined } | null | undefined): Box | null {
  const { length_mm, width_mm, height_mm } = part ?? {};
  return length_mm && width_mm && height_mm ? { length_mm, width_mm, height_mm } : null;
}
