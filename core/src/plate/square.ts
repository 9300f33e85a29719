import { elementAt } from '../numeric/element';
import { areaOf as areaWithin, hull, type Point } from '../numeric/polygon';

/**
 * A plate photographed at an angle, made square: its four corners, found by its border or put by thumb, become those of a
 * rectangle. Pictures are grey, one byte a pixel (0 black to 255 white), row after row.
 */

/** A place in a picture, pixels from its upper left. */
export interface Spot {
  x: number;
  y: number;
}
/** The corners of a plate: upper left, upper right, lower right, lower left. */
export type Corners = readonly [Spot, Spot, Spot, Spot];

/** Four spots as corners. @throws RangeError where they are not four */
export function cornersOf([a, b, c, d, ...more]: readonly Spot[]): Corners {
  if (!a || !b || !c || !d || more.length > 0) throw new RangeError('A plate has four corners');
  return [a, b, c, d];
}

/** A grey picture. */
export interface Grey {
  data: Uint8Array;
  width: number;
  height: number;
}

const apart = (a: Spot, b: Spot): number => Math.hypot(a.x - b.x, a.y - b.y);
/** Twice the area to the left of a to b to c: its sign tells which way they turn. */
const turn = (a: Spot, b: Spot, c: Spot): number => (b.x - a.x) * (c.y - a.y) - (b.y - a.y) * (c.x - a.x);

const pointOf = ({ x, y }: Spot): Point => [x, y];

/** Area of an outline, pixels squared. */
export const areaOf = (spots: readonly Spot[]): number => areaWithin(spots.map(pointOf));

/** True where the four corners, in their order, enclose a plate: none pushed in, none swapped. */
export const isPlate = (corners: Corners): boolean =>
  corners.every((a, i) => turn(a, elementAt(corners, (i + 1) % 4), elementAt(corners, (i + 2) % 4)) > 0);

/** The size of a plate as seen from straight before it, pixels: the longer of each two sides. */
export function sizeOf([a, b, c, d]: Corners): { width: number; height: number } {
  return {
    width: Math.max(1, Math.round(Math.max(apart(a, b), apart(d, c)))),
    height: Math.max(1, Math.round(Math.max(apart(a, d), apart(b, c)))),
  };
}

/** The projection that takes a square of side 1 to four corners, row after row: [x, y, 1] to [X W, Y W, W]. */
type Projection = readonly [number, number, number, number, number, number, number, number, number];

function ofSquare([a, b, c, d]: Corners): Projection {
  const [dx1, dx2, sx] = [b.x - c.x, d.x - c.x, a.x - b.x + c.x - d.x];
  const [dy1, dy2, sy] = [b.y - c.y, d.y - c.y, a.y - b.y + c.y - d.y];
  const whole = dx1 * dy2 - dx2 * dy1;
  const g = (sx * dy2 - dx2 * sy) / whole;
  const h = (dx1 * sy - sx * dy1) / whole;
  return [b.x - a.x + g * b.x, d.x - a.x + h * d.x, a.x, b.y - a.y + g * b.y, d.y - a.y + h * d.y, a.y, g, h, 1];
}

/**
 * The other way round: the projection that takes what lies between four corners to a rectangle, as the sixteen figures of a
 * style sheet's matrix3d, column after column.
 * @param at the rectangle's upper left corner and its size, in the unit of the corners
 * @see W3C, CSS Transforms Module Level 2, matrix3d()
 */
export function laidFlat(corners: Corners, at: Spot & { width: number; height: number }): number[] {
  const [a, b, c, d, e, f, g, h, i] = ofSquare(corners);
  // The inverse but for a factor, which a projection does not feel.
  const u = [e * i - f * h, c * h - b * i, b * f - c * e];
  const v = [f * g - d * i, a * i - c * g, c * d - a * f];
  const w = [d * h - e * g, b * g - a * h, a * e - b * d];
  const row = (size: number, from: number, of: readonly number[]) =>
    of.map((one, k) => size * one + from * (w[k] ?? 0));
  const [x, y] = [row(at.width, at.x, u), row(at.height, at.y, v)];
  const scale = w[2] ?? 1;
  const column = (k: number) => [x[k] ?? 0, y[k] ?? 0, 0, w[k] ?? 0].map((one) => one / scale);
  return [...column(0), ...column(1), 0, 0, 1, 0, ...column(2)];
}

/**
 * Where each place of a rectangle lies in the picture: the projection that takes the rectangle to the four corners.
 * @param width of the rectangle, in any unit that the answered function is asked in; likewise `height`
 * @see Heckbert, Fundamentals of Texture Mapping and Image Warping (1989), section 2.2.3: square to quadrilateral
 */
export function onto(corners: Corners, width: number, height: number): (x: number, y: number) => Spot {
  const [a, b, c, d, e, f, g, h, i] = ofSquare(corners);
  return (x, y) => {
    const [u, v] = [x / width, y / height];
    const far = g * u + h * v + i;
    return { x: (a * u + b * v + c) / far, y: (d * u + e * v + f) / far };
  };
}

/** The plate between four corners as seen from straight before it. */
export function squared({ data, width, height }: Grey, corners: Corners): Grey {
  const size = sizeOf(corners);
  const at = onto(corners, size.width, size.height);
  const out = new Uint8Array(size.width * size.height);
  const pixel = (x: number, y: number): number =>
    data[Math.max(0, Math.min(height - 1, y)) * width + Math.max(0, Math.min(width - 1, x))] ?? 0;
  for (let row = 0; row < size.height; row++)
    for (let column = 0; column < size.width; column++) {
      const spot = at(column + 0.5, row + 0.5);
      const [x, y] = [spot.x - 0.5, spot.y - 0.5];
      const [left, top] = [Math.floor(x), Math.floor(y)];
      const [right, low] = [x - left, y - top];
      out[row * size.width + column] =
        (pixel(left, top) * (1 - right) + pixel(left + 1, top) * right) * (1 - low) +
        (pixel(left, top + 1) * (1 - right) + pixel(left + 1, top + 1) * right) * low;
    }
  return { data: out, ...size };
}

/** What is looked at to find the border is made so small: print goes, the plate stays. */
const LOOK_PX = 240;
/** A plate fills at least so much of a picture of it; more than the other and the picture is of nothing else. */
const LEAST_SHARE = 0.12;
const MOST_SHARE = 0.97;
/** Its outline fills so much of four straight sides, and itself so much of its outline: the rest is print. */
const LEAST_STRAIGHT = 0.95;
const LEAST_FILLED = 0.6;

/** The border is found to a pixel of the small picture: so much nearer the middle nothing of the wall is left. */
const RIM = 0.012;
const mean = (values: readonly number[]): number => values.reduce((sum, value) => sum + value, 0) / values.length;

/** The corners of the plate in a picture, found by its border; null where nothing in it is plainly a plate. */
export function plateIn(picture: Grey): Corners | null {
  const step = Math.max(1, Math.max(picture.width, picture.height) / LOOK_PX);
  const small = shrunk(picture, step);
  const cut = middleOf(small.data);
  const found = [true, false].flatMap((light) => {
    const patch = largest(small, (value) => (light ? value > cut : value <= cut));
    const outline = outlineOf(patch);
    const corners = fourOf(outline);
    const plain =
      corners &&
      isPlain(corners, small) &&
      areaOf(outline) > LEAST_STRAIGHT * areaOf(corners) &&
      patch.length > LEAST_FILLED * areaOf(outline);
    return plain ? [corners] : [];
  });
  const [best] = found.sort((a, b) => areaOf(b) - areaOf(a));
  if (!best) return null;
  const [x, y] = [mean(best.map((spot) => spot.x)), mean(best.map((spot) => spot.y))];
  const inward = (from: number, to: number) => (from + (to - from) * RIM) * step;
  return cornersOf(best.map((spot) => ({ x: inward(spot.x, x), y: inward(spot.y, y) })));
}

function shrunk({ data, width, height }: Grey, step: number): Grey {
  const [w, h] = [Math.floor(width / step), Math.floor(height / step)];
  const out = new Uint8Array(w * h);
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      let [sum, count] = [0, 0];
      for (let v = Math.floor(y * step); v < (y + 1) * step; v += Math.max(1, step >> 2))
        for (let u = Math.floor(x * step); u < (x + 1) * step; u += Math.max(1, step >> 2)) {
          sum += data[v * width + u] ?? 0;
          count++;
        }
      out[y * w + x] = sum / Math.max(1, count);
    }
  return { data: out, width: w, height: h };
}

/** The grey value between light and dark: where the two sides of it differ most (Otsu 1979). */
function middleOf(data: Uint8Array): number {
  const count = new Float64Array(256);
  for (const value of data) count[value] = (count[value] ?? 0) + 1;
  const total = data.reduce((sum, value) => sum + value, 0);
  let [below, sum, best, most] = [0, 0, 127, -1];
  for (let value = 0; value < 255; value++) {
    below += count[value] ?? 0;
    sum += value * (count[value] ?? 0);
    const above = data.length - below;
    if (below === 0 || above === 0) continue;
    const between = below * above * (sum / below - (total - sum) / above) ** 2;
    if (between > most) [best, most] = [value, between];
  }
  return best;
}

/** The spots of the largest patch that hangs together. */
function largest({ data, width, height }: Grey, isIn: (value: number) => boolean): Spot[] {
  const seen = new Uint8Array(data.length);
  let best: number[] = [];
  for (let start = 0; start < data.length; start++) {
    if (seen[start] || !isIn(data[start] ?? 0)) continue;
    const patch = [start];
    seen[start] = 1;
    for (let i = 0; i < patch.length; i++) {
      const at = elementAt(patch, i);
      const x = at % width;
      for (const next of [x > 0 ? at - 1 : -1, x < width - 1 ? at + 1 : -1, at - width, at + width])
        if (next >= 0 && next < width * height && !seen[next] && isIn(data[next] ?? 0)) {
          seen[next] = 1;
          patch.push(next);
        }
    }
    if (patch.length > best.length) best = patch;
  }
  return best.map((at) => ({ x: at % width, y: Math.floor(at / width) }));
}

/** The convex outline of a patch, pixels taken whole; clockwise on the screen. Of each row its two ends tell all. */
function outlineOf(patch: readonly Spot[]): Spot[] {
  const rows = new Map<number, [left: number, right: number]>();
  for (const { x, y } of patch) {
    const [left, right] = rows.get(y) ?? [x, x];
    rows.set(y, [Math.min(left, x), Math.max(right, x)]);
  }
  const ends = [...rows].flatMap(([y, [left, right]]): Point[] => [
    [left, y],
    [left, y + 1],
    [right + 1, y],
    [right + 1, y + 1],
  ]);
  return hull(ends).map(([x, y]) => ({ x, y }));
}

/** Four corners around an outline: sides are dropped, the one whose neighbours then reach least beyond it first. */
function fourOf(outline: readonly Spot[]): Corners | null {
  let spots = [...outline];
  while (spots.length > 4) {
    const n = spots.length;
    let best: { at: number; spot: Spot; extra: number } | null = null;
    for (let i = 0; i < n; i++) {
      const around = (k: number) => elementAt(spots, (i + k + n) % n);
      const [a, b, c, d] = [around(-1), around(0), around(1), around(2)];
      const spot = crossing(a, b, d, c);
      if (!spot) continue;
      const extra = Math.abs(turn(b, spot, c)) / 2;
      if (!best || extra < best.extra) best = { at: i, spot, extra };
    }
    if (!best) return null;
    const { at, spot } = best;
    const after = (at + 1) % n;
    spots = spots.flatMap((one, i) => (i === at ? [spot] : i === after ? [] : [one]));
  }
  if (spots.length < 4) return null;
  // Begun at the corner nearest the picture's upper left.
  const first = spots.reduce((best, { x, y }, i) => {
    const spot = elementAt(spots, best);
    return x + y < spot.x + spot.y ? i : best;
  }, 0);
  return cornersOf([0, 1, 2, 3].map((i) => elementAt(spots, (first + i) % 4)));
}

/** Where the line from a through b, drawn on, meets that from d through c; null where they part. */
function crossing(a: Spot, b: Spot, d: Spot, c: Spot): Spot | null {
  const [ux, uy, vx, vy] = [b.x - a.x, b.y - a.y, c.x - d.x, c.y - d.y];
  const whole = ux * vy - uy * vx;
  if (Math.abs(whole) < 1e-9) return null;
  const along = ((d.x - a.x) * vy - (d.y - a.y) * vx) / whole;
  const other = ((d.x - a.x) * uy - (d.y - a.y) * ux) / whole;
  return along < 1 || other < 1 ? null : { x: a.x + along * ux, y: a.y + along * uy };
}

/** Plainly a plate: large enough, not the whole picture, its corners in it and not far from square. */
function isPlain(corners: Corners, { data, width, height }: Grey): boolean {
  const share = areaOf(corners) / data.length;
  if (share < LEAST_SHARE || share > MOST_SHARE || !isPlate(corners)) return false;
  const inside = corners.every(({ x, y }) => x > -1 && y > -1 && x < width + 1 && y < height + 1);
  const angles = corners.map((b, i) => {
    const [a, c] = [elementAt(corners, (i + 3) % 4), elementAt(corners, (i + 1) % 4)];
    return ((Math.atan2(c.y - b.y, c.x - b.x) - Math.atan2(a.y - b.y, a.x - b.x)) * 180) / Math.PI;
  });
  return inside && angles.every((angle) => Math.abs(Math.abs(((angle + 540) % 360) - 180) - 90) < 35);
}
