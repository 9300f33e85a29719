import type { Box } from '../numeric/polygon';

/** What is laid out on a roof: modules of one size, each one way round or the other. */

/** Where one module lies: its lower left corner, mm, and whether its length lies along x. */
export interface Spot {
  x: number;
  y: number;
  turned: boolean;
}

/** The module: along x and along y when it is not turned, and what lies between two, mm. */
export interface Size {
  width: number;
  length: number;
  gap: number;
}

/** The rectangle of a module where it lies, mm. */
export function boxOfSpot({ width, length }: Pick<Size, 'width' | 'length'>, { x, y, turned }: Spot): Box {
  const [wide, high] = turned ? [length, width] : [width, length];
  return { left: x, right: x + wide, foot: y, top: y + high };
}

/** A module one way round: along x and along y. */
export interface Way {
  turned: boolean;
  width: number;
  height: number;
}
