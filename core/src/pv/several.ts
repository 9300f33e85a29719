import { elementAt } from '../numeric/element';
import { stringAt, type Several, type StringCurve } from './curve';

/**
 * The most power of unlike strings side by side. Their power has several tops, and to ask the curves for a current at
 * some volts is dear: so a rough curve of each string says about where the tops are, and only those that may be the
 * highest are closed in on by the curves themselves.
 */

/** Volts at which the rough currents are added. */
const LOOKS = 64;
/** Currents at even steps at which a rough curve is known, as shares of the largest: the first is pushed back into it. */
const BACK = -0.3;
const STEPS = 20;
/** Near the light current of a module its volts fall: there the currents stand closer, as shares of it. */
const KNEE = [0.85, 0.92, 0.96, 0.985, 1];
/** Light currents nearer to each other than this share of the largest have one knee. */
const SAME_KNEE = 0.03;
/** The rough curve is this much off at most, as a share of the power: every top above is closed in on. */
const ROUGH = 0.03;
/** Of its height a top is known to within this share. */
const LEVEL = 1e-6;
/** Of the way to a top by its rough bend. */
const BEYOND = 1.2;
const MOST_LOOKS = 40;

/** A voltage, the power there, and how it rises with the volts, W/V. */
interface Look {
  v: number;
  watts: number;
  rise: number;
}

/**
 * The most watts of them; where that is, is not closed in on, since the top is level.
 * @param from_V the fewest volts at which they may work, below `highest_V`, the highest open circuit among them, V
 */
export function wattsOfSeveral(strings: readonly Several[], from_V: number, highest_V: number): number {
  const step = (highest_V - from_V) / LOOKS;
  const { watts, amps } = roughPower(strings, from_V, step);
  const enough = (1 - ROUGH) * Math.max(...watts);
  let best = 0;
  for (let k = 0; k <= LOOKS; k++) {
    const [before, here, after] = [watts[k - 1] ?? -Infinity, elementAt(watts, k), watts[k + 1] ?? -Infinity];
    // Of a level stretch its first point.
    if (here < enough || here <= before || here < after) continue;
    const first = strings.map((_, s) => elementAt(elementAt(amps, s), k));
    const found = closeIn(
      lookFrom(strings, first),
      { at_V: from_V + k * step, step, before, here, after },
      from_V,
      highest_V,
    );
    best = Math.max(best, found);
  }
  return best;
}

/** Rough watts at even volts, and the amperes of each string; nothing where the volts are too few for the highest top. */
function roughPower(
  strings: readonly Several[],
  from_V: number,
  step: number,
): { watts: Float64Array; amps: Float64Array[] } {
  const watts = new Float64Array(LOOKS + 1);
  const amps = strings.map(() => new Float64Array(LOOKS + 1));
  const rough = strings.map(({ curve }) => roughAmps(curve));
  const most_A = strings.reduce((sum, { curve, count }) => sum + count * curve.most_A, 0);
  let best = 0;
  for (let k = LOOKS; k >= 0; k--) {
    const v = from_V + k * step;
    let sum = 0;
    strings.forEach(({ count }, s) => {
      const own = elementAt(rough, s)(v);
      elementAt(amps, s)[k] = own;
      sum += count * own;
    });
    watts[k] = Math.max(0, sum) * v;
    best = Math.max(best, v * sum);
    // Fewer volts at all the light there is would not reach the highest top.
    if (v * most_A < (1 - ROUGH) * best) break;
  }
  return { watts, amps };
}

/**
 * Currents at which a rough curve is known, rising: at even steps, and closer where the volts of a module fall.
 * @param lights_A the light currents of its modules, rising, A
 */
export function knotsOf(lights_A: readonly number[]): number[] {
  const most_A = lights_A.at(-1) ?? 0;
  const knots = [BACK * most_A];
  for (let k = 0; k <= STEPS; k++) knots.push((most_A * k) / STEPS);
  let knee = -Infinity;
  for (const light_A of lights_A) {
    if (light_A - knee < SAME_KNEE * most_A) continue;
    knee = light_A;
    for (const share of KNEE) knots.push(share * light_A);
  }
  return knots.sort((a, b) => a - b);
}

/** The rough current of a string, to be asked at ever fewer volts: straight between two of its points, none beyond. */
function roughAmps(curve: StringCurve): (v: number) => number {
  const knots = knotsOf(curve.lights_A);
  let k = 1;
  let [low, high] = [elementAt(knots, 0), elementAt(knots, 1)];
  let [low_V, high_V] = [curve.rough(low), curve.rough(high)];
  return (v) => {
    // The fewer volts, the more current.
    while (high_V > v && k < knots.length - 1) {
      k++;
      [low, low_V] = [high, high_V];
      high = elementAt(knots, k);
      high_V = curve.rough(high);
    }
    const share = low_V > high_V ? Math.min(1, Math.max(0, (low_V - v) / (low_V - high_V))) : 0;
    return low + share * (high - low);
  };
}

/** How near two steps to the current of a string must be, A: the last one is then far nearer. */
const NEAR_A = 1e-5;

/** What flows at some volts, by the curves: begun from currents near it, then from where the last look leads. */
function lookFrom(strings: readonly Several[], first_A: readonly number[]): (v: number) => Look {
  const last = first_A.map((amps) => ({ amps, slope: 0 }));
  let last_V = 0;
  return (v) => {
    let [amps, slope] = [0, 0];
    strings.forEach(({ curve, count }, s) => {
      const was = elementAt(last, s);
      const draw = stringAt(curve, v, was.amps + was.slope * (v - last_V), NEAR_A);
      last[s] = draw;
      amps += count * draw.amps;
      slope += count * draw.slope;
    });
    last_V = v;
    return { v, watts: v * amps, rise: amps + v * slope };
  };
}

/** A top of the rough curve: where, and its power there and a step to either side. */
interface RoughTop {
  at_V: number;
  step: number;
  before: number;
  here: number;
  after: number;
}

/**
 * The watts of a top by the curves themselves, from a rough one: along the slope until it lies between two looks, then between those
 * by the straight line of their slopes; by half where that hardly moved, as near a knee.
 */
function closeIn(look: (v: number) => Look, rough: RoughTop, from_V: number, highest_V: number): number {
  const { at_V, step, before, here, after } = rough;
  const within = (v: number) => Math.min(highest_V, Math.max(from_V, v));
  const bend = Math.max(before, 0) + Math.max(after, 0) - 2 * here;
  // The vertex through the three rough points; at an end of the curve, its end.
  const inside = before >= 0 && after >= 0 && bend < 0;
  let now = look(within(at_V + (inside ? ((before - after) / (2 * bend)) * step : 0)));
  let best = now.watts;
  let [low, high]: (Look | null)[] = [null, null];
  // A little beyond where the top is by the rough bend, so that it lies between.
  let stride = inside
    ? Math.min(step, Math.max(step / 64, (BEYOND * Math.abs(now.rise) * step * step) / -bend))
    : step / 4;
  let wide = Infinity;
  for (let k = 0; k < MOST_LOOKS; k++) {
    if (now.rise > 0) low = now;
    else high = now;
    if (low && high) {
      const was = wide;
      wide = high.v - low.v;
      // A curve that bends down lies below its tangents.
      if (Math.min(low.watts + low.rise * wide, high.watts - high.rise * wide) <= best * (1 + LEVEL)) break;
      const line = Math.min(0.95, Math.max(0.05, low.rise / (low.rise - high.rise)));
      now = look(low.v + (wide > was / 2 && Number.isFinite(was) ? 0.5 : line) * wide);
    } else {
      const next = within(now.v + (now.rise > 0 ? stride : -stride));
      if (next === now.v) break;
      stride *= 2;
      now = look(next);
    }
    best = Math.max(best, now.watts);
  }
  return best;
}
