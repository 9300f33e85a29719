import type { Bay } from '@true-lantern/core';

/** Where everything stands in the drawings of a bay, from above and from the front, px. Pure: one bay, one drawing. */
export interface BayLayout {
  width: number;
  height: number;
  bay: Rect;
  blocks: (Rect & { used: boolean; lies: boolean; posts: { x: number; y: number; r: number }[] })[];
  front: {
    height: number;
    bay: Rect;
    blocks: (Rect & { used: boolean; lies: boolean })[];
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
const MOST_HIGH = 260;
const RADIUS = 5;

/** Both views on one scale. */
export function bayLayout({ bay, fit: { places, above_mm }, wanted, cable, lying }: Bay): BayLayout {
  const scale = Math.min((WIDTH - SIDE) / bay.length_mm, MOST_HIGH / bay.width_mm, MOST_HIGH / bay.height_mm);
  const [w, h, up] = [bay.length_mm * scale, bay.width_mm * scale, bay.height_mm * scale];
  const foot = TOP + up;
  const front = places
    .map((place, i) => ({ ...place, used: i < wanted }))
    // What stands nearest to the door hides what is behind it.
    .filter(({ x_mm, y_mm }) => !places.some((other) => other.x_mm === x_mm && other.y_mm > y_mm))
    .map(({ x_mm, along_mm, up_mm, used, lies }) => ({
      x: x_mm * scale,
      y: foot - up_mm * scale,
      w: along_mm * scale,
      h: up_mm * scale,
      used,
      lies,
    }));
  const top = TOP + above_mm * scale;
  const [first] = front;
  return {
    width: WIDTH,
    height: h + TOP + FOOT,
    bay: { x: 0, y: TOP, w, h },
    blocks: places.map(({ x_mm, y_mm, along_mm, across_mm, lies }, i) => {
      const rect = { x: x_mm * scale, y: TOP + y_mm * scale, w: along_mm * scale, h: across_mm * scale };
      const post = (share: number) => ({
        x: rect.x + rect.w * share,
        y: rect.y + rect.h / 2,
        r: Math.min(RADIUS, rect.h / 5),
      });
      return { ...rect, used: i < wanted, lies, posts: lies ? [] : [post(0.2), post(0.8)] };
    }),
    front: {
      height: foot + FOOT,
      bay: { x: 0, y: TOP, w, h: up },
      blocks: front,
      clear: { x: 0, y: TOP, w, h: top - TOP },
      bend: cable && first && !lying ? { x: first.x + first.w * 0.2, y: first.y, r: cable.bend_mm * scale } : null,
    },
  };
}
