import { moduleBox, placedType, type ModuleType, type Roof, type System } from '@true-lantern/core';

/** From the roof's millimetres to the drawing and back, and where a dragged module comes to rest. */

export type Point = readonly [x: number, y: number];
/** A rectangle along the axes, mm. */
export interface Box {
  left: number;
  right: number;
  foot: number;
  top: number;
}

/** A drawing of a roof: y ahead is up. */
export interface Scale {
  width: number;
  height: number;
  /** Pixels a millimetre. */
  perMm: number;
  x(mm: number): number;
  y(mm: number): number;
  back(px: number, py: number): Point;
}

const MARGIN = 34;

/** The roof with what stands on it, as large as the width and the height allow. */
export function scaleOf(roof: Roof, width: number, most: number): Scale {
  const points = roof.outline_mm ?? [];
  const [left, right] = [Math.min(...points.map(([x]) => x)), Math.max(...points.map(([x]) => x))];
  const [foot, top] = [Math.min(...points.map(([, y]) => y)), Math.max(...points.map(([, y]) => y))];
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
export const pathOf = (points: readonly Point[], { x, y }: Scale): string =>
  points.map(([px, py], i) => `${i === 0 ? 'M' : 'L'}${x(px).toFixed(1)} ${y(py).toFixed(1)}`).join('') + 'z';

type Placed = NonNullable<Roof['placed']>[number];
const GAP_MM = 20;
const EDGE_MM = 100;
const CLEARANCE_MM = 50;

/** The type of a placed module; undefined where that array has no such module any more. */
export const typeOf = (system: System, placed: Placed): ModuleType | undefined => {
  const id = placedType(system, placed);
  return (system.moduleTypes ?? []).find((one) => one.id === id);
};

/** Where a placed module lies, mm; null where its size is not known. */
export function boxOf(system: System, placed: Placed): Box | null {
  const type = typeOf(system, placed);
  return type?.length_mm && type.width_mm ? moduleBox(type, placed.x, placed.y, placed.turned ?? false) : null;
}

/**
 * Where a dragged module comes to rest: at the edge's distance, a gap beside another module, or clear of an obstacle, if
 * one of these is within reach; else on the whole centimetre.
 */
export function snapped(system: System, roof: Roof, index: number, [x, y]: Point, reach_mm: number): Point {
  const own = (roof.placed ?? [])[index];
  const box = own ? boxOf(system, { ...own, x, y }) : null;
  if (!box) return [Math.round(x), Math.round(y)];
  const [wide, high] = [box.right - box.left, box.top - box.foot];
  const gap = roof.gap_mm ?? GAP_MM;
  const edge = roof.edge_mm ?? EDGE_MM;
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
  for (const { outline_mm, circle_mm, clearance_mm } of roof.obstacles ?? []) {
    const clear = clearance_mm ?? CLEARANCE_MM;
    const points: Point[] = circle_mm
      ? [
          [circle_mm[0] - circle_mm[2], circle_mm[1] - circle_mm[2]],
          [circle_mm[0] + circle_mm[2], circle_mm[1] + circle_mm[2]],
        ]
      : (outline_mm ?? []);
    const left = Math.min(...points.map(([px]) => px));
    const right = Math.max(...points.map(([px]) => px));
    const foot = Math.min(...points.map(([, py]) => py));
    const top = Math.max(...points.map(([, py]) => py));
    xs.push(right + clear, left - clear - wide);
    ys.push(top + clear, foot - clear - high);
  }
  return [nearest(xs, x, reach_mm), nearest(ys, y, reach_mm)];
}

function nearest(lines: readonly number[], at: number, reach: number): number {
  const best = lines.reduce((found, line) => (Math.abs(line - at) < Math.abs(found - at) ? line : found), Infinity);
  return Math.abs(best - at) <= reach ? Math.round(best) : Math.round(at / 10) * 10;
}
