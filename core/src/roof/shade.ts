import { elementAt } from '../numeric/element';
import { areaOf, boxOf, clipped, convexPieces, unionArea, type Box, type Point } from '../numeric/polygon';

/**
 * What stands on a roof as its modules see it (docs/roof.md): each obstacle a plumb prism whose shadow on the modules'
 * plane is its foot swept along one vector, and whose share of a module's sky is what lies below its top.
 */

/** A plumb prism: its foot where it pierces the modules' plane, mm, and how far it rises above there, plumb, mm. */
export interface Prism {
  /** Convex pieces of its foot. */
  pieces: Point[][];
  height: number;
}

/** The plane of the modules: x to the right, y up its slope, towards a compass direction. */
export interface Plane {
  tilt: number;
  heading: number;
}

const RAD = Math.PI / 180;
/** A round as so many corners, of the same area. */
const ROUND = 48;
const ROUND_SIZE = Math.sqrt((2 * Math.PI) / (ROUND * Math.sin((2 * Math.PI) / ROUND)));

/** A prism from what stands on the roof; null where it does not rise above the modules. */
export function prismOf(
  { outline, circle, height }: { outline?: readonly Point[] | null; circle?: readonly number[] | null; height: number },
  mount: number,
  tilt_deg: number,
): Prism | null {
  const tilt = tilt_deg * RAD;
  const above = height - mount / Math.cos(tilt);
  if (!(above > 0)) return null;
  // Plumb from the roof to the modules' plane is a step uphill.
  const up = mount * Math.tan(tilt);
  const [cx = 0, cy = 0, r = 0] = circle ?? [];
  const foot: Point[] = circle
    ? Array.from({ length: ROUND }, (_, i) => {
        const angle = (2 * Math.PI * i) / ROUND;
        return [cx + r * ROUND_SIZE * Math.cos(angle), cy + r * ROUND_SIZE * Math.sin(angle)];
      })
    : [...(outline ?? [])];
  return { pieces: convexPieces(foot).map((piece) => piece.map(([x, y]): Point => [x, y + up])), height: above };
}

/** A direction in the plane's own axes: to the right, up the slope, out of the plane; and how far it rises. */
export interface Ray {
  x: number;
  y: number;
  n: number;
}

/** A direction of the sky, up, north and east, in the axes of a plane. */
export function inPlane({ tilt, heading }: Plane, up: number, north: number, east: number): Ray {
  const [t, h] = [tilt * RAD, heading * RAD];
  const ahead = north * Math.cos(h) + east * Math.sin(h);
  return {
    x: east * Math.cos(h) - north * Math.sin(h),
    y: ahead * Math.cos(t) + up * Math.sin(t),
    n: up * Math.cos(t) - ahead * Math.sin(t),
  };
}

/** Shadows that rectangles are held against, each with the box around it. */
export type Shadows = readonly { corners: readonly Point[]; reach: Box }[];

/**
 * The shadows of prisms under a sun, as convex polygons on the modules' plane.
 * @param near only those that may come into this box
 */
export function shadows(prisms: readonly Prism[], { tilt }: Plane, sun: Ray, near?: Box): Shadows {
  const t = tilt * RAD;
  return prisms.flatMap(({ pieces, height }) => {
    const across = (Math.cos(t) / sun.n) * height;
    const [vx, vy] = [-sun.x * across, height * Math.sin(t) - sun.y * across];
    return pieces.flatMap((piece) => {
      const foot = boxOf(piece);
      const reach = {
        left: foot.left + Math.min(0, vx),
        right: foot.right + Math.max(0, vx),
        foot: foot.foot + Math.min(0, vy),
        top: foot.top + Math.max(0, vy),
      };
      return near && apart(reach, near) ? [] : [{ corners: swept(piece, vx, vy), reach }];
    });
  });
}

const apart = (a: Box, b: Box) => a.right <= b.left || a.left >= b.right || a.top <= b.foot || a.foot >= b.top;

/** What a convex polygon, its corners turning left, covers on its way along a vector: the edges that look ahead go with it. */
function swept(piece: readonly Point[], vx: number, vy: number): Point[] {
  const ahead = (a: Point, b: Point) => (b[1] - a[1]) * vx - (b[0] - a[0]) * vy > 0;
  const out: Point[] = [];
  let here = elementAt(piece, piece.length - 1);
  let [next] = piece;
  let before = next ? ahead(here, next) : false;
  for (let i = 0; i < piece.length; i++) {
    here = elementAt(piece, i);
    next = elementAt(piece, (i + 1) % piece.length);
    const after = ahead(here, next);
    if (before !== after && !before) out.push(here);
    out.push(before || after ? [here[0] + vx, here[1] + vy] : here);
    if (before !== after && before) out.push(here);
    before = after;
  }
  return out;
}

/** The share of a rectangle that no shadow covers, and of each of some parts of it. */
export function litShares(whole: Box, parts: readonly Box[], dark: Shadows): { lit: number; parts: Float64Array } {
  const within = darkIn(whole, dark);
  return {
    lit: litOf(whole, within),
    parts: Float64Array.from(parts, (part) => (within.length === 0 ? 1 : litOf(part, darkIn(part, within)))),
  };
}

/** What of some shadows lies in a rectangle. */
function darkIn(box: Box, dark: Shadows): Shadows {
  const within: { corners: readonly Point[]; reach: Box }[] = [];
  for (const { corners, reach } of dark) {
    if (apart(reach, box)) continue;
    const part = clipped(corners, box);
    if (part.length >= 3 && areaOf(part) > 1e-9) within.push({ corners: part, reach: boxOf(part) });
  }
  return within;
}

function litOf({ left, right, foot, top }: Box, within: Shadows): number {
  if (within.length === 0) return 1;
  const covered = unionArea(within.map(({ corners }) => corners));
  return Math.max(0, Math.min(1, 1 - covered / ((right - left) * (top - foot))));
}

/** Directions round the compass in which the sky is looked at. */
const COMPASS = 360;

/**
 * Of what a plane sees of the sky, all of it even, the share that a point of it still gets.
 * @param heading does not matter here: obstacles and plane turn together
 */
export function skyShare(prisms: readonly Prism[], tilt_deg: number, [px, py]: Point): number {
  const tilt = tilt_deg * RAD;
  const [sin, cos, tan] = [Math.sin(tilt), Math.cos(tilt), Math.tan(tilt)];
  const flat = prisms.map(({ pieces, height }) => ({
    height,
    // From above: the slope is shortened.
    pieces: pieces.map((piece) => {
      const corners = piece.map(([x, y]): Point => [x - px, (y - py) * cos]);
      return { corners, span: bearingsOf(corners) };
    }),
  }));
  let seen = 0;
  let all = 0;
  for (let k = 0; k < COMPASS; k++) {
    const psi = (2 * Math.PI * (k + 0.5)) / COMPASS;
    const [dx, dy] = [Math.sin(psi), Math.cos(psi)];
    // How steep the plane itself rises that way: below it nothing is seen.
    const rise = tan * dy;
    const from = Math.max(0, rise);
    let hidden = from;
    for (const { pieces, height } of flat)
      for (const { corners, span } of pieces) {
        if (span && !facing(span, psi)) continue;
        const away = distance(corners, dx, dy);
        if (away !== null) hidden = Math.max(hidden, rise + height / Math.max(away, 1e-6));
      }
    /** The light from a slope upwards to the top of the sky, by how the plane takes it. */
    const light = (slope: number) => {
      const a = Math.atan(slope);
      const [s, c] = [Math.sin(a), Math.cos(a)];
      return cos * 0.5 * (1 - s * s) - sin * dy * (Math.PI / 4 - a / 2 - (s * c) / 2);
    };
    seen += light(hidden);
    all += light(from);
  }
  return all > 0 ? Math.max(0, Math.min(1, seen / all)) : 1;
}

/** Bearings between which a convex polygon is seen from the origin, its middle and half of what it takes up, rad. */
interface Bearings {
  middle: number;
  half: number;
}
/** Seen under a wider angle than this it may be all round: then every direction is looked along, rad. */
const WIDE = 2.5;

function bearingsOf(corners: readonly Point[]): Bearings | null {
  const [first] = corners;
  if (!first) return null;
  const start = Math.atan2(first[0], first[1]);
  let [least, most] = [0, 0];
  for (const [x, y] of corners) {
    const off = turnedBy(Math.atan2(x, y) - start);
    least = Math.min(least, off);
    most = Math.max(most, off);
  }
  return most - least > WIDE ? null : { middle: start + (least + most) / 2, half: (most - least) / 2 + 1e-9 };
}
const facing = ({ middle, half }: Bearings, psi: number) => Math.abs(turnedBy(psi - middle)) <= half;
/** An angle as one between -pi and pi. */
const turnedBy = (angle: number) => angle - 2 * Math.PI * Math.round(angle / (2 * Math.PI));

/** How far it is to a convex polygon from the origin, in a direction; null where it lies elsewhere, 0 within it. */
function distance(polygon: readonly Point[], dx: number, dy: number): number | null {
  let nearest = Infinity;
  let inside = true;
  for (let i = 0, j = polygon.length - 1; i < polygon.length; j = i++) {
    const [a, b] = [elementAt(polygon, j), elementAt(polygon, i)];
    const [ex, ey] = [b[0] - a[0], b[1] - a[1]];
    if (ex * -a[1] - ey * -a[0] < 0) inside = false;
    const bottom = dx * ey - dy * ex;
    if (bottom === 0) continue;
    const t = (a[0] * ey - a[1] * ex) / bottom;
    const u = (a[0] * dy - a[1] * dx) / bottom;
    if (t >= 0 && u >= 0 && u <= 1) nearest = Math.min(nearest, t);
  }
  if (inside) return 0;
  return nearest === Infinity ? null : nearest;
}
