/** Roots, tops and turning points of functions of one number: each method once. */

/**
 * Root of a function that changes sign between two points, by halving; to the last bit, or to `width` where a coarser
 * one will do. At most 80 halvings.
 */
export function bisect(f: (x: number) => number, from: number, to: number, width = 0): number {
  let [low, high] = [from, to];
  const sign = Math.sign(f(low));
  for (let i = 0; i < 80 && high - low > width; i++) {
    const middle = (low + high) / 2;
    const value = f(middle);
    if (value === 0) return middle;
    if (Math.sign(value) === sign) low = middle;
    else high = middle;
  }
  return (low + high) / 2;
}

/** What a Newton step rests on; filled in by the function that is solved, so that nothing is allocated on the way. */
export interface Tangent {
  value: number;
  slope: number;
}

const MOST_STEPS = 80;

/**
 * Root of a falling function by Newton, kept within bounds that close in: where a step would leave them they are halved
 * instead. `close` is how near two steps must be, absolute below 1 and relative above.
 */
export function newtonWithin(
  at: (x: number, out: Tangent) => void,
  bounds: { low: number; high: number; start: number; close: number },
): number {
  let { low, high } = bounds;
  const { start, close } = bounds;
  const out: Tangent = { value: 0, slope: 0 };
  let x = start;
  for (let k = 0; k < MOST_STEPS; k++) {
    at(x, out);
    if (out.value > 0) low = x;
    else high = x;
    let next = x - out.value / out.slope;
    // Out of bounds, or about to be (NaN too): halve instead.
    if (!(next > low && next < high)) next = (low + high) / 2;
    if (Math.abs(next - x) <= close * Math.max(1, Math.abs(x)) || high - low <= close) return next;
    x = next;
  }
  return x;
}

/**
 * Root of a rising function that is nearly straight, by the secant through the last two points: three or four questions
 * where halving needs thirty. `close` is how near to nothing the function must come.
 */
export function secant(f: (x: number) => number, first: number, second: number, close: number): number {
  let [x0, x1] = [first, second];
  let [f0, f1] = [f(x0), f(x1)];
  for (let k = 0; k < MOST_STEPS && Math.abs(f1) > close && f1 !== f0; k++) {
    const next = x1 - (f1 * (x1 - x0)) / (f1 - f0);
    [x0, f0] = [x1, f1];
    x1 = next;
    f1 = f(x1);
  }
  return x1;
}

/**
 * Root of a continuous function that changes sign between two points, within `close`: regula falsi with the factor of
 * Bjorck (BIT 13, 1973), which lets neither end stand still. Some eight questions where halving needs thirty; halves instead
 * whenever three of them have not halved the bounds.
 */
export function straddled(f: (x: number) => number, from: number, to: number, close: number): number {
  let [a, b] = [from, to];
  let [fa, fb] = [f(a), f(b)];
  if (fa === 0) return a;
  if (fb === 0) return b;
  let width = Math.abs(b - a);
  for (let k = 1; k <= MOST_STEPS && Math.abs(b - a) > close; k++) {
    const halve = k % 3 === 0 && Math.abs(b - a) > width / 2;
    if (k % 3 === 0) width = Math.abs(b - a);
    const x = halve ? (a + b) / 2 : b - (fb * (b - a)) / (fb - fa);
    const fx = f(x);
    if (fx === 0) return x;
    // The end that stays has its value lessened, so that the next step falls short of it on the other side.
    if (Math.sign(fx) === Math.sign(fb)) fa *= fx / fb < 1 ? 1 - fx / fb : 0.5;
    else [a, fa] = [b, fb];
    const moved = Math.abs(x - b);
    [b, fb] = [x, fx];
    if (moved <= close / 4) return b;
  }
  return (a + b) / 2;
}

/** Root by plain Newton, for functions that bend one way only and are begun from the side on which it cannot miss. */
export function newton(at: (x: number, out: Tangent) => void, start: number, close: number): number {
  const out: Tangent = { value: 0, slope: 0 };
  let x = start;
  for (let k = 0; k < MOST_STEPS; k++) {
    at(x, out);
    const step = out.value / out.slope;
    x -= step;
    if (Math.abs(step) < close * Math.max(1, Math.abs(x))) break;
  }
  return x;
}

const GOLDEN = (Math.sqrt(5) - 1) / 2;

/** Where a function of one top between two points has it, by golden section: 40 steps are eight figures. */
export function topOf(f: (x: number) => number, from: number, to: number, steps = 40): number {
  let [low, high] = [from, to];
  let a = high - GOLDEN * (high - low);
  let b = low + GOLDEN * (high - low);
  let [fa, fb] = [f(a), f(b)];
  for (let i = 0; i < steps; i++) {
    if (fa > fb) {
      [high, b, fb] = [b, a, fa];
      a = high - GOLDEN * (high - low);
      fa = f(a);
    } else {
      [low, a, fa] = [a, b, fb];
      b = low + GOLDEN * (high - low);
      fb = f(b);
    }
  }
  return (low + high) / 2;
}

/**
 * Where something stops holding, between a point at which it holds and one at which it does not: the last point known to
 * hold, `width` or less below the first known not to.
 */
export function lastHolding(holds: (x: number) => boolean, from: number, to: number, width: number): number {
  let [low, high] = [from, to];
  while (high - low > width) {
    const middle = (low + high) / 2;
    if (holds(middle)) low = middle;
    else high = middle;
  }
  return low;
}

/** Where something begins to hold: the mirror of `lastHolding`, for a point that holds above one that does not. */
export const firstHolding = (holds: (x: number) => boolean, from: number, to: number, width: number): number =>
  -lastHolding((x) => holds(-x), -to, -from, width);

/**
 * The largest whole number from `from` for which something holds; `from - 1` where not even that does; null where it
 * holds as far as `most`. Asked at growing steps first, so that a near answer is quick.
 */
export function largestWhole(holds: (value: number) => boolean, from: number, most: number): number | null {
  if (!holds(from)) return from - 1;
  let low = from;
  let step = 64;
  while (low + step < most && holds(low + step)) {
    low += step;
    step *= 2;
  }
  const high = Math.min(most, low + step);
  if (high === most && holds(most)) return null;
  return Math.floor(lastHolding((value) => holds(Math.floor(value)), low, high, 1));
}
