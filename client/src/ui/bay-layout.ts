import type { Arrangement, Bay } from '@true-lantern/core';

/** Where everything stands in the drawings of a bay, from above and from the front, px. Pure: one bay, one drawing. */
export interface BayLayout {
  width: number;
  height: number;
  /** Pixels a millimetre. */
  perMm: number;
  bay: Rect;
  items: (Rect & {
    index: number;
    isBlock: boolean;
    wrong: boolean;
    lies: boolean;
    posts: { x: number; y: number; r: number }[];
  })[];
  /** Room for more blocks than the bank has, in outline. */
  spare: Rect[];
  front: {
    height: number;
    bay: Rect;
    items: (Rect & { index: number; isBlock: boolean; wrong: boolean })[];
    /** Free above the blocks: what a hand and a cable have. */
    clear: Rect;
    /** The bend of the thickest cable at the first post: its quarter circle, begun at the post; null: none is known. */
    bend: { x: number; y: number; r: number } | null;
  };
}
interface Rect {
  x: number;
  y: number;
  w: number;
  h: number;
}

/** Width of the drawing, px. */
export const WIDTH = 340;
/** Room for the measures above and beside the bay. */
const TOP = 26;
const SIDE = 64;
const FOOT = 8;
/** Where the bay opens, in a word below it. */
const FRONT = 24;
const MOST_HIGH = 260;
const RADIUS = 5;

/** Both views on one scale. */
export function bayLayout(
  { bay, fit: { places, above_mm }, wanted, cable, lying }: Bay,
  { items, faults }: Pick<Arrangement, 'items' | 'faults'>,
): BayLayout {
  const scale = Math.min((WIDTH - SIDE) / bay.length_mm, MOST_HIGH / bay.width_mm, MOST_HIGH / bay.height_mm);
  const [w, h, up] = [bay.length_mm * scale, bay.width_mm * scale, bay.height_mm * scale];
  const foot = TOP + up;
  const wrong = new Set(faults.flatMap((fault) => [fault.index, ...('with' in fault ? [fault.with] : [])]));
  const rectOf = ({
    x_mm,
    y_mm,
    along_mm,
    across_mm,
  }: {
    x_mm: number;
    y_mm: number;
    along_mm: number;
    across_mm: number;
  }) => ({
    x: x_mm * scale,
    y: TOP + y_mm * scale,
    w: along_mm * scale,
    h: across_mm * scale,
  });
  const front = [...items.entries()]
    // What stands nearest to the front hides what is behind it.
    .sort(([, a], [, b]) => a.y_mm + a.across_mm - b.y_mm - b.across_mm)
    .map(([index, { x_mm, along_mm, up_mm, block }]) => ({
      x: x_mm * scale,
      y: foot - up_mm * scale,
      w: along_mm * scale,
      h: up_mm * scale,
      index,
      isBlock: block !== null,
      wrong: wrong.has(index),
    }));
  const top = TOP + above_mm * scale;
  const first = front.find(({ isBlock }) => isBlock);
  // Where somebody has arranged them, or an inverter stands beside them, what else would go in is another question.
  const isPlain =
    items.length === wanted && items.every(({ x_mm, y_mm }, i) => x_mm === places[i]?.x_mm && y_mm === places[i]?.y_mm);
  return {
    width: WIDTH,
    height: h + TOP + FRONT,
    perMm: scale,
    bay: { x: 0, y: TOP, w, h },
    items: items.map((item, index) => {
      const rect = rectOf(item);
      const isBlock = item.block !== null;
      const post = (share: number) => ({
        x: rect.x + rect.w * share,
        y: rect.y + rect.h / 2,
        r: Math.min(RADIUS, rect.h / 5),
      });
      return {
        ...rect,
        index,
        isBlock,
        wrong: wrong.has(index),
        lies: item.lies !== null,
        posts: item.lies !== null || !isBlock ? [] : [post(0.2), post(0.8)],
      };
    }),
    spare: isPlain ? places.slice(wanted).map(rectOf) : [],
    front: {
      height: foot + FOOT,
      bay: { x: 0, y: TOP, w, h: up },
      items: front,
      clear: { x: 0, y: TOP, w, h: top - TOP },
      bend: cable && first && !lying ? { x: first.x + first.w * 0.2, y: first.y, r: cable.bend_mm * scale } : null,
    },
  };
}
