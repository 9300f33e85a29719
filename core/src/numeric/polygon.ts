import { elementAt } from './element';
/** Plane geometry of outlines, millimetres. A polygon is its corners in order, either way round. */

export type Point = readonly [x: number, y: number];

/** Twice the area, above 0 where the corners run anticlockwise. */
export function twiceArea(polygon: readonly Point[]): number {
  let sum = 0;
  for (let i = 0, j = polygon.length - 1; i < polygon.length; j = i++) {
    const [a, b] = [elementAt(polygon, j), elementAt(polygon, i)];
    sum += a[0] * b[1] - b[0] * a[1];
  }
  return sum;
}
/** Area, mm2. */
export const areaOf = (polygon: readonly Point[]): number => Math.abs(twiceArea(polygon)) / 2;

/** Smallest upright rectangle around some points. */
export interface Box {
  left: number;
  right: number;
  foot: number;
  top: number;
}
/** The box of some points. */
export function boxOf(points: readonly Point[]): Box {
  const box = { left: Infinity, right: -Infinity, foot: Infinity, top: -Infinity };
  for (const [x, y] of points) {
    box.left = Math.min(box.left, x);
    box.right = Math.max(box.right, x);
    box.foot = Math.min(box.foot, y);
    box.top = Math.max(box.top, y);
  }
  return box;
}

/** Edges of a polygon. */
export const edgesOf = (polygon: readonly Point[]): (readonly [Point, Point])[] =>
  polygon.map((corner, i) => [corner, elementAt(polygon, (i + 1) % polygon.length)] as const);

const cross = (o: Point, a: Point, b: Point) => (a[0] - o[0]) * (b[1] - o[1]) - (a[1] - o[1]) * (b[0] - o[0]);

/** True where two segments have a point in common. */
export function meet([a, b]: readonly [Point, Point], [c, d]: readonly [Point, Point]): boolean {
  const [p, q, r, s] = [cross(a, b, c), cross(a, b, d), cross(c, d, a), cross(c, d, b)];
  if (((p > 0 && q < 0) || (p < 0 && q > 0)) && ((r > 0 && s < 0) || (r < 0 && s > 0))) return true;
  const on = (o: Point, e: Point, x: Point, side: number) =>
    side === 0 &&
    Math.min(o[0], e[0]) <= x[0] &&
    x[0] <= Math.max(o[0], e[0]) &&
    Math.min(o[1], e[1]) <= x[1] &&
    x[1] <= Math.max(o[1], e[1]);
  return on(a, b, c, p) || on(a, b, d, q) || on(c, d, a, r) || on(c, d, b, s);
}

/** Two edges that cross or touch where they should not, by their indexes; null for a simple polygon. */
export function crossing(polygon: readonly Point[]): [number, number] | null {
  const edges = edgesOf(polygon);
  const n = edges.length;
  for (let i = 0; i < n; i++) {
    const [a, b] = elementAt(edges, i);
    if (a[0] === b[0] && a[1] === b[1]) return [i, i];
    for (let j = i + 1; j < n; j++) {
      const [c, d] = elementAt(edges, j);
      const next = j === i + 1;
      const last = i === 0 && j === n - 1;
      if (!next && !last) {
        if (meet([a, b], [c, d])) return [i, j];
        continue;
      }
      // Neighbours share a corner; they may not run back over each other.
      const [shared, from, to] = next ? [b, a, d] : [a, b, c];
      const back = (from[0] - shared[0]) * (to[0] - shared[0]) + (from[1] - shared[1]) * (to[1] - shared[1]);
      if (cross(shared, from, to) === 0 && back > 0) return [i, j];
    }
  }
  return null;
}

/** True inside or on the edge. */
export function holds(polygon: readonly Point[], [x, y]: Point): boolean {
  let inside = false;
  for (let i = 0, j = polygon.length - 1; i < polygon.length; j = i++) {
    const [a, b] = [elementAt(polygon, i), elementAt(polygon, j)];
    if (
      cross(a, b, [x, y]) === 0 &&
      Math.min(a[0], b[0]) <= x &&
      x <= Math.max(a[0], b[0]) &&
      Math.min(a[1], b[1]) <= y &&
      y <= Math.max(a[1], b[1])
    )
      return true;
    if (a[1] > y !== b[1] > y && x < ((b[0] - a[0]) * (y - a[1])) / (b[1] - a[1]) + a[0]) inside = !inside;
  }
  return inside;
}

/** Square of the distance from a point to a segment. */
export function toSegment2([x, y]: Point, [[ax, ay], [bx, by]]: readonly [Point, Point]): number {
  const [dx, dy] = [bx - ax, by - ay];
  const length2 = dx * dx + dy * dy;
  const t = length2 === 0 ? 0 : Math.max(0, Math.min(1, ((x - ax) * dx + (y - ay) * dy) / length2));
  return (x - ax - t * dx) ** 2 + (y - ay - t * dy) ** 2;
}

/** Square of the distance between two segments. */
export function between2(one: readonly [Point, Point], other: readonly [Point, Point]): number {
  if (meet(one, other)) return 0;
  return Math.min(
    toSegment2(one[0], other),
    toSegment2(one[1], other),
    toSegment2(other[0], one),
    toSegment2(other[1], one),
  );
}

/** The corners of an upright rectangle. */
export const rectangle = ({ left, right, foot, top }: Box): Point[] => [
  [left, foot],
  [right, foot],
  [right, top],
  [left, top],
];

/** The convex hull of points, anticlockwise (Andrew's monotone chain). */
export function hull(points: readonly Point[]): Point[] {
  const sorted = [...points].sort((a, b) => a[0] - b[0] || a[1] - b[1]);
  const half = (list: readonly Point[]) => {
    const chain: Point[] = [];
    for (const point of list) {
      while (
        chain.length >= 2 &&
        cross(elementAt(chain, chain.length - 2), elementAt(chain, chain.length - 1), point) <= 0
      )
        chain.pop();
      chain.push(point);
    }
    chain.pop();
    return chain;
  };
  return [...half(sorted), ...half(sorted.reverse())];
}

/** A polygon as convex pieces: itself where it is convex, else its triangles (ear clipping). */
export function convexPieces(polygon: readonly Point[]): Point[][] {
  const turned = twiceArea(polygon) < 0 ? [...polygon].reverse() : [...polygon];
  const convex = turned.every(
    (corner, i) =>
      cross(
        elementAt(turned, (i + turned.length - 1) % turned.length),
        corner,
        elementAt(turned, (i + 1) % turned.length),
      ) >= 0,
  );
  if (convex) return [turned];
  const left = [...turned];
  const pieces: Point[][] = [];
  while (left.length > 3) {
    const ear = left.findIndex((corner, i) => {
      const [before, after] = [
        elementAt(left, (i + left.length - 1) % left.length),
        elementAt(left, (i + 1) % left.length),
      ];
      if (cross(before, corner, after) <= 0) return false;
      return left.every(
        (other) =>
          other === before ||
          other === corner ||
          other === after ||
          !(cross(before, corner, other) >= 0 && cross(corner, after, other) >= 0 && cross(after, before, other) >= 0),
      );
    });
    const at = ear < 0 ? 0 : ear;
    pieces.push([
      elementAt(left, (at + left.length - 1) % left.length),
      elementAt(left, at),
      elementAt(left, (at + 1) % left.length),
    ]);
    left.splice(at, 1);
  }
  pieces.push(left);
  return pieces;
}

/** The part of a convex polygon within an upright rectangle (Sutherland and Hodgman). */
export function clipped(polygon: readonly Point[], { left, right, foot, top }: Box): readonly Point[] {
  let now = polygon;
  const cut = (axis: 0 | 1, at: number, sign: 1 | -1) => {
    let before = now[now.length - 1];
    if (!before || now.every((point) => sign * (point[axis] - at) >= 0)) return;
    const out: Point[] = [];
    let a = sign * (before[axis] - at);
    for (const point of now) {
      const b = sign * (point[axis] - at);
      if (a >= 0 !== b >= 0) {
        const t = a / (a - b);
        out.push([before[0] + t * (point[0] - before[0]), before[1] + t * (point[1] - before[1])]);
      }
      if (b >= 0) out.push(point);
      [before, a] = [point, b];
    }
    now = out;
  };
  cut(0, left, 1);
  cut(0, right, -1);
  cut(1, foot, 1);
  cut(1, top, -1);
  return now;
}

/**
 * Area covered by convex polygons together, exact: between the x of corners and crossings all edges are straight, and
 * what they cover of a line is the union of intervals that change straight with x.
 */
export function unionArea(polygons: readonly (readonly Point[])[]): number {
  const real = polygons.filter((polygon) => polygon.length >= 3 && areaOf(polygon) > 1e-9);
  if (real.length === 0) return 0;
  if (real.length === 1) return areaOf(elementAt(real, 0));
  const cuts = new Set<number>();
  const shapes = real.map((polygon) => ({ edges: edgesOf(polygon), box: boxOf(polygon) }));
  for (const { edges } of shapes) for (const [a] of edges) cuts.add(a[0]);
  // The edges of one convex polygon do not cross.
  shapes.forEach((one, i) => {
    for (const other of shapes.slice(i + 1)) if (near(one.box, other.box)) addCrossings(one.edges, other.edges, cuts);
  });
  const xs = [...cuts].sort((a, b) => a - b);
  let area = 0;
  for (let i = 1; i < xs.length; i++) {
    const [from, to] = [elementAt(xs, i - 1), elementAt(xs, i)];
    // Straight between the cuts: the middle line's cover is the mean.
    if (to - from > 1e-9) area += (to - from) * covered(real, (from + to) / 2);
  }
  return area;
}

const near = (a: Box, b: Box) => a.left <= b.right && b.left <= a.right && a.foot <= b.top && b.foot <= a.top;

/** Adds the x at which the edges of two polygons cross. */
function addCrossings(
  some: readonly (readonly [Point, Point])[],
  others: readonly (readonly [Point, Point])[],
  cuts: Set<number>,
): void {
  for (const one of some)
    for (const other of others) {
      const x = crossX(one, other);
      if (x !== null) cuts.add(x);
    }
}

function crossX([a, b]: readonly [Point, Point], [c, d]: readonly [Point, Point]): number | null {
  const [rx, ry, sx, sy] = [b[0] - a[0], b[1] - a[1], d[0] - c[0], d[1] - c[1]];
  const bottom = rx * sy - ry * sx;
  if (bottom === 0) return null;
  const t = ((c[0] - a[0]) * sy - (c[1] - a[1]) * sx) / bottom;
  const u = ((c[0] - a[0]) * ry - (c[1] - a[1]) * rx) / bottom;
  return t > 0 && t < 1 && u > 0 && u < 1 ? a[0] + t * rx : null;
}

/** How much of an upright line the polygons cover. */
function covered(polygons: readonly (readonly Point[])[], x: number): number {
  const spans: [number, number][] = [];
  for (const polygon of polygons) {
    let [low, high] = [Infinity, -Infinity];
    for (let i = 0, j = polygon.length - 1; i < polygon.length; j = i++) {
      const [a, b] = [elementAt(polygon, j), elementAt(polygon, i)];
      if (a[0] > x === b[0] > x) continue;
      const y = a[1] + ((x - a[0]) / (b[0] - a[0])) * (b[1] - a[1]);
      low = Math.min(low, y);
      high = Math.max(high, y);
    }
    if (high > low) spans.push([low, high]);
  }
  spans.sort((a, b) => a[0] - b[0]);
  let sum = 0;
  let reach = -Infinity;
  for (const [low, high] of spans) {
    if (high <= reach) continue;
    sum += high - Math.max(low, reach);
    reach = high;
  }
  return sum;
}
