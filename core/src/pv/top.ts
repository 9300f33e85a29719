import { lastHolding, topOf } from '../numeric/roots';
import { stringCurrent, type Point, type StringCurve } from './curve';
import { currentAt } from './diode';

/**
 * The best point of one string. At a current the volts of its modules follow plainly, at a voltage its current does not:
 * so it is looked for along the current.
 */

/** Where the slope of the power is known its sign is closed in on to this share of what it is looked for in. */
const CLOSE = 1e-4;
const STEPS = 22;

/** @param from_V the fewest volts at which it may work, V @returns no current where the string does not come to that */
export function topOfString(curve: StringCurve, from_V: number): Point {
  if (curve.open_V <= from_V) return { v: curve.open_V, i: 0 };
  return curve.alike ? topOfAlike(curve.alike, curve.open_V, from_V) : highestTop(curve, from_V);
}

/** Modules that stand alike have one top, and volts and current both follow from the diode's own voltage. */
function topOfAlike({ one, count }: NonNullable<StringCurve['alike']>, open_V: number, from_V: number): Point {
  const { light_A, saturation_A, a_V, series_ohm, shunt_S } = one;
  const at = (x: number): Point => {
    const i = light_A - saturation_A * Math.expm1(x / a_V) - x * shunt_S;
    return { v: count * (x - i * series_ohm), i };
  };
  const power = (x: number) => {
    const { v, i } = at(x);
    return v * i;
  };
  const least = from_V / count;
  const from = least + currentAt(one, least) * series_ohm;
  const x = topOf(power, from, open_V / count, STEPS);
  return at(power(from) >= power(x) ? from : x);
}

/**
 * Between the light currents of two of its modules the volts bend one way only, and so has the power one top: the
 * weaker modules are bypassed there, the stronger not.
 */
function highestTop(curve: StringCurve, from_V: number): Point {
  const most_A = stringCurrent(curve, from_V);
  let best: Point = { v: from_V, i: most_A };
  const ends = [...curve.lights_A.filter((light) => light < most_A), most_A];
  ends.forEach((high, k) => {
    const low = ends[k - 1] ?? 0;
    // No point of this stretch has more volts than its weakest current, nor more amperes than its strongest.
    if (high * curve.voltsAt(low) <= best.v * best.i) return;
    const rises = (current: number) => {
      const { volts, slope } = curve.at(current);
      return volts + current * slope > 0;
    };
    const i = lastHolding(rises, low, high, CLOSE * (high - low));
    const v = curve.voltsAt(i);
    if (v * i > best.v * best.i) best = { v, i };
  });
  return best;
}
