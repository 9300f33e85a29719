import type { Bank } from '@true-lantern/core';

/** Where everything stands in the drawing of a bank's shares, px. Pure: the same shares give the same drawing. */
export interface SharesLayout {
  width: number;
  height: number;
  rails: { x1: number; x2: number; plus: number; minus: number };
  strings: {
    x: number;
    left: number;
    top: number;
    tall: number;
    fillTop: number;
    fill: number;
    /** The blocks in series, from the plus rail down. */
    blocks: { top: number; tall: number }[];
  }[];
  /** Height of an equal share. */
  even: number;
  /** Where the leads are; none on bus bars. */
  taps: { x: number; y: number }[];
}

const COLUMN = 64;
const TALL = 150;
/** Height of a block, px. */
export const BLOCK = 34;
const TOP = 20;
const RAIL = 10;
/** Room beside the blocks for the taps, px. */
export const TAP = 14;
/** A share a quarter above its own still fits. */
const HEADROOM = 1.25;

/** Between two blocks of a string: the link is seen. */
const LINK = 6;

/** A bank's strings drawn with the share of the current that each takes, 0 to 1, and where the cables tap it. */
export function sharesLayout(shares: readonly number[], tapping: Bank['tapping'], series = 1): SharesLayout {
  const even = 1 / shares.length;
  const most = Math.max(even * HEADROOM, ...shares);
  const width = COLUMN * shares.length;
  // Many in series are drawn as few as can be told apart.
  const count = Math.max(1, Math.min(series, 8));
  const each = (TALL - LINK * (count - 1)) / count;
  const blocks = Array.from({ length: count }, (_, i) => ({ top: TOP + i * (each + LINK), tall: each }));
  const centre = (i: number) => COLUMN * i + COLUMN / 2;
  const minus = TOP + TALL + RAIL;
  const tap = (i: number, rail: number) => ({ x: centre(i) - TAP / 2, y: rail - TAP / 2 - 1 });
  return {
    width,
    height: minus + RAIL,
    rails: { x1: centre(0), x2: width - COLUMN / 2, plus: RAIL, minus },
    strings: shares.map((share, i) => {
      const fill = (TALL * share) / most;
      return {
        x: centre(i),
        left: centre(i) - BLOCK / 2,
        top: TOP,
        tall: TALL,
        fillTop: TOP + TALL - fill,
        fill,
        blocks,
      };
    }),
    even: TOP + TALL - (TALL * even) / most,
    taps:
      tapping === 'busbar' || !tapping
        ? []
        : [tap(0, RAIL), tap(tapping === 'same-end' ? 0 : shares.length - 1, minus)],
  };
}
