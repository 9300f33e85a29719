import { doubleAt, elementAt } from '../numeric/element';
import { kept } from '../numeric/kept';
import { arrayWatts, type Wired } from '../pv/array-power';

/**
 * Arrays of unlike strings on one controller input drag each other to one voltage (docs/year.md, section 2): the share of
 * their watts that the common best point keeps, by the light on each. What `pv.parallel-match` warns of, in energy.
 */
export interface Mix {
  /** Places of the two among the arrays of their input. */
  first: number;
  second: number;
  /** Share kept, 0 to 1: `[light of the first * LIGHTS + light of the second]`. */
  share: Float64Array;
}

/** W/m2 on either array at which the share is worked out; between them straight, beyond them their ends. */
export const MIX_LIGHTS_W_M2 = [0, 100, 200, 400, 700, 1000] as const;
const LIGHTS = MIX_LIGHTS_W_M2.length;
/** degC of the air at which it is. */
const MIX_AIR_C = 20;

/** An array on an input: how it is wired, and K of its cells above the air for each W/m2. */
export interface Mixed {
  wired: Wired;
  heat_K_m2_W: number;
}

/** Every pair of arrays of one input whose strings are unlike; a pwm input and like strings have none. */
export function mixesOf(arrays: readonly Mixed[]): Mix[] {
  return arrays.flatMap((a, first) =>
    arrays.slice(first + 1).flatMap((b, i): Mix[] => {
      if (a.wired.type === 'pwm' || alike(a.wired, b.wired)) return [];
      return [{ first, second: first + 1 + i, share: shares(JSON.stringify([a, b]), () => made(a, b)) }];
    }),
  );
}

const shares = kept<string, Float64Array>(40);

/** True where every string of both is of the same modules in the same order. */
function alike(a: Wired, b: Wired): boolean {
  const shapes = new Set([...a.strings, ...b.strings].map((string) => JSON.stringify(string)));
  return shapes.size === 1;
}

function made(a: Mixed, b: Mixed): Float64Array {
  const table = new Float64Array(LIGHTS * LIGHTS).fill(1);
  MIX_LIGHTS_W_M2.forEach((lightA, i) =>
    MIX_LIGHTS_W_M2.forEach((lightB, j) => {
      const larger = Math.max(lightA, lightB);
      if (larger === 0) return;
      const cellA = MIX_AIR_C + a.heat_K_m2_W * larger;
      const cellB = MIX_AIR_C + b.heat_K_m2_W * larger;
      const apart =
        (lightA > 0 ? arrayWatts(a.wired, lightA, cellA) : 0) + (lightB > 0 ? arrayWatts(b.wired, lightB, cellB) : 0);
      const together = bothWatts([
        { ...a, light: lightA, cell_C: cellA },
        { ...b, light: lightB, cell_C: cellB },
      ]);
      if (apart > 0) table[i * LIGHTS + j] = Math.min(1, together / apart);
    }),
  );
  return table;
}

/** Watts of several arrays at their common best point, each with its own light and warmth. */
export function bothWatts(arrays: readonly (Mixed & { light: number; cell_C: number })[]): number {
  const [one] = arrays;
  if (!one) return 0;
  return arrayWatts(
    {
      ...one.wired,
      strings: arrays.flatMap(({ wired }) => wired.strings),
      // One light for all, and the share of it that each module gets.
      shade: arrays.flatMap(({ wired, light }) =>
        wired.strings.map((string, s) => string.map((_, m) => (light * (wired.shade?.[s]?.[m] ?? 1)) / FULL)),
      ),
    },
    FULL,
    (s) => stringOwner(arrays, s).cell_C,
  );
}
const FULL = 1000;

function stringOwner<T extends Mixed>(arrays: readonly T[], index: number): T {
  let left = index;
  for (const array of arrays) {
    if (left < array.wired.strings.length) return array;
    left -= array.wired.strings.length;
  }
  throw new Error(`string ${index} is of none of these arrays`);
}

/** The share that a pair keeps at two lights, straight between its points. */
export function readMix(share: Float64Array, lightA: number, lightB: number): number {
  const [i, x] = place(lightA);
  const [j, y] = place(lightB);
  const at = i * LIGHTS + j;
  const low = doubleAt(share, at) + y * (doubleAt(share, at + 1) - doubleAt(share, at));
  const high = doubleAt(share, at + LIGHTS) + y * (doubleAt(share, at + LIGHTS + 1) - doubleAt(share, at + LIGHTS));
  return low + x * (high - low);
}

function place(light: number): [index: number, share: number] {
  for (let i = 1; i < LIGHTS; i++) {
    const [from, to] = [elementAt(MIX_LIGHTS_W_M2, i - 1), elementAt(MIX_LIGHTS_W_M2, i)];
    if (light < to) return [i - 1, Math.max(0, light - from) / (to - from)];
  }
  return [LIGHTS - 2, 1];
}
