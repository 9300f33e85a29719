import { boxOf, fit, isLithium, type Bank, type Fit } from '@true-lantern/core';

/** Where everything stands in the drawing of a bay from above, px. Pure: the same bank gives the same drawing. */
export interface FitLayout {
  width: number;
  height: number;
  bay: Rect & { length_mm: number; width_mm: number };
  blocks: (Rect & { used: boolean; lies: boolean; posts: { x: number; y: number; r: number }[] })[];
  /** Blocks that the bay takes, and those that are wanted. */
  count: number;
  wanted: number;
  above_mm: number;
  lying: boolean;
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

/** What was not measured, or the drawing. */
export function fitLayout(bank: Bank): FitLayout | 'block' | 'place' {
  const bay = boxOf(bank.place);
  const block = boxOf(bank.block);
  if (!bay) return 'place';
  if (!block) return 'block';
  const { count, places, above_mm }: Fit = fit(bay, block, isLithium(bank.chemistry));
  const wanted = bank.series * bank.parallel;
  const scale = Math.min((WIDTH - SIDE) / bay.length_mm, MOST_HIGH / bay.width_mm);
  const [w, h] = [bay.length_mm * scale, bay.width_mm * scale];
  return {
    width: WIDTH,
    height: h + TOP + FOOT,
    bay: { x: 0, y: TOP, w, h, length_mm: bay.length_mm, width_mm: bay.width_mm },
    blocks: places.map(({ x_mm, y_mm, along_mm, across_mm, lies }, i) => {
      const rect = { x: x_mm * scale, y: TOP + y_mm * scale, w: along_mm * scale, h: across_mm * scale };
      const post = (share: number) => ({
        x: rect.x + rect.w * share,
        y: rect.y + rect.h / 2,
        r: Math.min(RADIUS, rect.h / 5),
      });
      return { ...rect, used: i < wanted, lies, posts: lies ? [] : [post(0.2), post(0.8)] };
    }),
    count,
    wanted,
    above_mm,
    lying: places.some(({ lies }) => lies),
  };
}
