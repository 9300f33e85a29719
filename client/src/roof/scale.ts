import {
  boundsOf,
  clearanceOf,
  edgeOf,
  gapOf,
  lyingOf,
  nearestLine,
  obstacleBox,
  type Bounds,
  type Roof,
  type RoofPoint,
  type System,
} from '@true-lantern/core';

/** From the roof's millimetres to the drawing and back, and where a dragged module comes to rest. */

/** A drawing of a roof: y ahead is up. */
export interface Scale {
  width: number;
  height: number;
  /** Pixels a millimetre. */
  perMm: number;
  x(mm: number): number;
  y(mm: number): number;
  back(px: number, py: number): RoofPoint;
}

const MARGIN = 34;

/** The roof with what stands on it, as large as the width and the height allow. */
export function scaleOf(roof: Roof, width: number, most: number): Scale {
  const { left, right, foot, top } = boundsOf(roof.outline_mm ?? []);
  const perMm = Math.min((width - 2 * MARGIN) / (right - left), (most - 2 * MARGIN) / (top - foot));
  const inset = (width - perMm * (right - left)) / 2;
  const height = perMm * (top - foot) + 2 * MARGIN;
  return {
    width,
    height,
    perMm,
    x: (mm) => inset + (mm - left) * perMm,
    y: (mm) => height - MARGIN - (mm - foot) * perMm,
    back: (px, py) => [(px - inset) / perMm + left, (height - MARGIN - py) / perMm + foot],
  };
}

/** A path of points in the drawing. */
export const pathOf = (points: readonly RoofPoint[], { x, y }: Scale): string =>
  points.map(([px, py], i) => `${i === 0 ? 'M' : 'L'}${x(px).toFixed(1)} ${y(py).toFixed(1)}`).join('') + 'z';

type Placed = NonNullable<Roof['placed']>[number];
/** Where a placed module lies, mm; null where its size is not known. */
export function boxOf(system: System, placed: Placed): Bounds | null {
  const lying = lyingOf(system, placed);
  return lying?.module.length_mm && lying.module.width_mm ? lying.box : null;
}

/**
 * Where a dragged module comes to rest: at the edge's distance, a gap beside another module, or clear of an obstacle, if
 * one of these is within reach; else on the whole centimetre.
 */
export function snapped(system: System, roof: Roof, index: number, [x, y]: RoofPoint, reach_mm: number): RoofPoint {
  const own = (roof.placed ?? [])[index];
  const box = own ? boxOf(system, { ...own, x, y }) : null;
  if (!box) return [Math.round(x), Math.round(y)];
  const [wide, high] = [box.right - box.left, box.top - box.foot];
  const gap = gapOf(roof);
  const edge = edgeOf(roof);
  const xs: number[] = [];
  const ys: number[] = [];
  for (const [px, py] of roof.outline_mm ?? []) {
    xs.push(px + edge, px - edge - wide);
    ys.push(py + edge, py - edge - high);
  }
  (roof.placed ?? []).forEach((other, i) => {
    const at = i === index ? null : boxOf(system, other);
    if (!at) return;
    xs.push(at.right + gap, at.left - gap - wide, at.left, at.right - wide);
    ys.push(at.top + gap, at.foot - gap - high, at.foot, at.top - high);
  });
  for (const obstacle of roof.obstacles ?? []) {
    const clear = clearanceOf(obstacle);
    const { left, right, foot, top } = obstacleBox(obstacle);
    xs.push(right + clear, left - clear - wide);
    ys.push(top + clear, foot - clear - high);
  }
  return [nearestLine(xs, x, reach_mm), nearestLine(ys, y, reach_mm)];
}

/** An outline moved and stretched into another box: what is measured anew keeps its shape. */
export function fittedInto(outline: readonly RoofPoint[], to: Bounds): RoofPoint[] {
  const from = boundsOf(outline);
  const along = (value: number, [a, b]: [number, number], [c, d]: [number, number]) =>
    b > a ? c + ((value - a) * (d - c)) / (b - a) : (c + d) / 2;
  return outline.map(([x, y]): RoofPoint => [
    Math.round(along(x, [from.left, from.right], [to.left, to.right])),
    Math.round(along(y, [from.foot, from.top], [to.foot, to.top])),
  ]);
}
