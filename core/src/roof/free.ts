import { elementAt } from '../numeric/element';
import { boxOf, convexPieces, edgesOf, holds, type Box, type Point } from '../numeric/polygon';

/**
 * Where a module may lie, by what is fixed: the roof's edge, what stands on it, what is kept clear (docs/roof.md). For a
 * module of some size at some height y the x that hold are whole-number intervals, found in closed form: what is fixed
 * is points, segments and convex pieces, each with its clearance, and the x at which a module comes too near to one of
 * them are one interval.
 */

/** Something that a module keeps away from; a clearance of 0 may be touched, not overlapped. */
export interface Fixed {
  points: readonly Point[];
  clearance: number;
  /** True where it is an area, or a point with a clearance; a single segment of the roof's edge otherwise. */
  solid: boolean;
}

/** A roof as its fixed things. */
export interface Ground {
  outline: readonly Point[];
  box: Box;
  fixed: readonly Fixed[];
}

/** Whole numbers from one to another, both in. */
export interface Span {
  from: number;
  to: number;
}

/** Rounding of what is computed, mm: what touches a limit holds. */
const HAIR = 1e-7;

/** An outline with its edge kept free, and the things on it. */
export function groundOf(
  outline: readonly Point[],
  edge: number,
  things: readonly { outline?: readonly Point[]; circle?: readonly [number, number, number]; clearance: number }[],
): Ground {
  return {
    outline,
    box: boxOf(outline),
    fixed: [
      ...edgesOf(outline).map(([a, b]): Fixed => ({ points: [a, b], clearance: edge, solid: false })),
      ...things.flatMap(({ outline: shape, circle, clearance }): Fixed[] =>
        circle
          ? [{ points: [[circle[0], circle[1]]], clearance: clearance + circle[2], solid: true }]
          : convexPieces(shape ?? []).map((points) => ({ points, clearance, solid: true })),
      ),
    ],
  };
}

/** The x at which a module of a width and height, its foot at y, holds; in their order. */
export function freeSpans({ outline, box, fixed }: Ground, width: number, height: number, y: number): Span[] {
  const first = Math.ceil(box.left - HAIR);
  const last = Math.floor(box.right - width + HAIR);
  if (last < first || y < box.foot - HAIR || y + height > box.top + HAIR) return [];
  const barred: Span[] = [];
  for (const one of fixed) {
    const reach = reachOf(one, y, y + height);
    if (!reach) continue;
    const from = Math.floor(reach[0] - width + HAIR) + 1;
    const to = Math.ceil(reach[1] - HAIR) - 1;
    if (to >= from) barred.push({ from, to });
  }
  barred.sort((a, b) => a.from - b.from);
  const spans: Span[] = [];
  let next = first;
  const take = (to: number) => {
    if (to < next) return;
    // No edge passes through any of them: all lie inside, or all outside.
    const middle = (next + to) / 2 + width / 2;
    if (holds(outline, [middle, y + height / 2])) spans.push({ from: next, to });
  };
  for (const { from, to } of barred) {
    take(Math.min(last, from - 1));
    next = Math.max(next, to + 1);
    if (next > last) return spans;
  }
  take(last);
  return spans;
}

/**
 * The leftmost and rightmost x that a thing with its clearance comes to beside a band from `foot` to `top`; null where it
 * is too far above or below.
 */
function reachOf({ points, clearance: c }: Fixed, foot: number, top: number): [number, number] | null {
  let [low, high] = [Infinity, -Infinity];
  for (const [, y] of points) {
    low = Math.min(low, y);
    high = Math.max(high, y);
  }
  if (high + c <= foot + HAIR || low - c >= top - HAIR) return null;
  let [left, right] = [Infinity, -Infinity];
  const see = (x: number, y: number) => {
    const d = y < foot ? foot - y : y > top ? y - top : 0;
    if (d > c) return;
    const side = Math.sqrt(c * c - d * d);
    left = Math.min(left, x - side);
    right = Math.max(right, x + side);
  };
  points.forEach((a, i) => {
    see(a[0], a[1]);
    if (points.length < 2) return;
    const b = elementAt(points, (i + 1) % points.length);
    const rise = b[1] - a[1];
    if (rise === 0) return;
    const lean = (b[0] - a[0]) / rise;
    const at = (y: number) => {
      const t = (y - a[1]) / rise;
      if (t >= 0 && t <= 1) see(a[0] + lean * (y - a[1]), y);
    };
    at(foot);
    at(top);
    // Where the side and the clearance's arc lean alike it comes furthest.
    const d = (c * Math.abs(lean)) / Math.sqrt(1 + lean * lean);
    for (const y of [foot - d, top + d, foot - c, top + c]) at(y);
  });
  return left <= right ? [left, right] : null;
}

/** Heights at which a module of one height may come to rest against what is fixed, from above and from below. */
export function restsOf({ box, fixed }: Ground, height: number): { up: number[]; down: number[] } {
  const up = new Set<number>();
  const down = new Set<number>();
  for (const { points, clearance } of fixed)
    for (const [, y] of points) {
      up.add(Math.ceil(y + clearance - HAIR));
      down.add(Math.floor(y - clearance - height + HAIR));
    }
  const inside = (y: number) => y >= box.foot - HAIR && y + height <= box.top + HAIR;
  return { up: [...up].filter(inside), down: [...down].filter(inside) };
}

/**
 * Heights of a module's foot at which something fixed leans under its lower left corner: a round, or a side that is
 * neither upright nor level. There alone can it rest at a height that what lies above it gives.
 */
export function leaningAt({ fixed }: Ground): (y: number) => boolean {
  const bands = fixed.flatMap(({ points, clearance }): [number, number][] => [
    ...(clearance > 0 ? points.map(([, y]): [number, number] => [y, y + clearance]) : []),
    ...points.flatMap(([x, y], i): [number, number][] => {
      const [nextX, nextY] = elementAt(points, (i + 1) % points.length);
      return x !== nextX && y !== nextY ? [[Math.min(y, nextY), Math.max(y, nextY) + clearance]] : [];
    }),
  ]);
  return (at) => bands.some(([from, to]) => from < at && at < to);
}

/** The same ground with x and y exchanged. */
export function turnedGround({ outline, fixed }: Ground): Ground {
  const swap = ([x, y]: Point): Point => [y, x];
  const shape = outline.map(swap);
  return {
    outline: shape,
    box: boxOf(shape),
    fixed: fixed.map((one) => ({ ...one, points: one.points.map(swap) })),
  };
}

/** The x that a thing with its clearance bars on one line; null where it does not come so far. */
export const acrossLine = (one: Fixed, y: number): [number, number] | null => reachOf(one, y, y);

/**
 * Whether what is barred may differ between two lines: something begins, ends, leans or bends between them. Bands are kept
 * merged and in their order, and lines are asked for from the foot up.
 */
export function bendsOf(fixed: readonly Fixed[]): (from: number, to: number) => boolean {
  const bands = fixed
    .flatMap(({ points, clearance: c }): [number, number][] => [
      ...points.map(([, y]): [number, number] => [y - c, y + c]),
      ...points.flatMap(([x, y], i): [number, number][] => {
        const [nextX, nextY] = elementAt(points, (i + 1) % points.length);
        return x !== nextX && y !== nextY ? [[Math.min(y, nextY) - c, Math.max(y, nextY) + c]] : [];
      }),
    ])
    .sort((a, b) => a[0] - b[0]);
  let [at, until] = [0, -Infinity];
  return (from, to) => {
    for (; at < bands.length && elementAt(bands, at)[0] <= to + HAIR; at++)
      until = Math.max(until, elementAt(bands, at)[1]);
    return until >= from - HAIR;
  };
}

/** Squares along a slanting side, and uprights in a round: enough that no module's corner slips far between. */
const ALONG = 6;
const ROUND_DEG = [15, 45, 75] as const;

/**
 * The same ground with a little more room: every thing and clearance only as upright rectangles that lie within it. A
 * placement that holds on the ground holds here too.
 */
export function easedGround(ground: Ground): Ground {
  const block = (left: number, right: number, foot: number, top: number): Fixed[] =>
    right > left || top > foot
      ? [
          {
            points: [
              [left, foot],
              [right, foot],
              [right, top],
              [left, top],
            ],
            clearance: 0,
            solid: true,
          },
        ]
      : [];
  const fixed = ground.fixed.flatMap(({ points, clearance: c }): Fixed[] => {
    const { left, right, foot, top } = boxOf(points);
    if (points.length === 1)
      return ROUND_DEG.flatMap((degrees) => {
        const [dx, dy] = [c * Math.cos((degrees * Math.PI) / 180), c * Math.sin((degrees * Math.PI) / 180)];
        return block(left - dx, right + dx, foot - dy, top + dy);
      });
    const level = left === right || foot === top;
    const upright =
      points.length === 4 && points.every(([x, y]) => (x === left || x === right) && (y === foot || y === top));
    if (level || upright) return [...block(left - c, right + c, foot, top), ...block(left, right, foot - c, top + c)];
    const edges = points.length === 2 ? [[points[0], points[1]] as [Point, Point]] : edgesOf(points);
    const half = c * Math.SQRT1_2;
    return edges.flatMap(([a, b]) =>
      Array.from({ length: ALONG + 1 }, (_, i) => i / ALONG).flatMap((t) => {
        const [x, y] = [a[0] + t * (b[0] - a[0]), a[1] + t * (b[1] - a[1])];
        return half > 0 ? block(x - half, x + half, y - half, y + half) : [];
      }),
    );
  });
  return { ...ground, fixed };
}
