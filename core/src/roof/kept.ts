import { groupsOf, type Standing } from '../pv/curve';
import type { ModuleType } from '../system/schema';
import { wattsOf } from '../year/array-power';
import type { LitHour } from './light';

/** What shade leaves of a year, by the exact curves of the modules as they are wired (docs/roof.md). */

/** One input of a controller: its strings, module by module, and where each lies on the roof. */
export interface Input {
  type: 'mppt' | 'pwm';
  volts: number;
  worth_V: number;
  /** K above the air by W/m2. */
  heat_K_m2_W: number;
  strings: { module: ModuleType; face: number | null; array: string }[][];
}

/** Sums of a year, Wh: without any shade, with each module's mean share, and with whole groups of cells dark. */
export interface Yield {
  full: number;
  kept: number;
  hard: number;
}

/** Shares nearer to all of the light than this are all of it. */
const ALL = 0.9995;

/** The sums of some hours of one input, wired by strings of its own or others. */
export function yieldOf(input: Input, hours: readonly LitHour[], skies: readonly number[], hard = true): Yield {
  const sum: Yield = { full: 0, kept: 0, hard: 0 };
  for (const hour of hours) {
    const { beam, sky, ground, days, air_C } = hour;
    const light = beam + sky + ground;
    if (light <= 0) continue;
    const cell_C = air_C + input.heat_K_m2_W * light;
    const share = (lit: number, face: number) => (beam * lit + sky * (skies[face] ?? 1) + ground) / light;
    const full = fullWatts(input, light, cell_C) * days;
    const shares = input.strings.map((string) =>
      string.map(({ face }) => (face === null ? 1 : share(hour.lit[face] ?? 1, face))),
    );
    sum.full += full;
    const shaded = shares.some((string) => string.some((one) => one < ALL));
    const standing = ({ module }: { module: ModuleType }, part: number): Standing => ({
      module,
      cell_C,
      irradiance_W_m2: Math.max(1, light * part),
    });
    const soft = shaded
      ? wattsOf(
          input.strings.map((string, s) => string.map((one, m) => standing(one, shares[s]?.[m] ?? 1))),
          input,
        ) * days
      : full;
    sum.kept += soft;
    if (!hard) continue;
    const uneven = input.strings.some((string) =>
      string.some(({ face }) => face !== null && (hour.lit[face] ?? 1) > 0 && (hour.lit[face] ?? 1) < ALL),
    );
    sum.hard += uneven
      ? wattsOf(
          input.strings.map((string, s) =>
            string.flatMap((one, m): Standing[] => {
              const { face, module } = one;
              const whole = standing(one, shares[s]?.[m] ?? 1);
              if (face === null) return [whole];
              const count = groupsOf(module);
              const lit = hour.groups[face];
              if (!lit || lit.length !== count) return [whole];
              return Array.from(lit, (each) => ({
                ...whole,
                irradiance_W_m2: Math.max(1, light * share(each, face)),
                oneOf: count,
              }));
            }),
          ),
          input,
        ) * days
      : soft;
  }
  return sum;
}

const known = new WeakMap<Input, Map<string, number>>();
/** Without shade the wiring changes nothing but what it is: worked out once for each light. */
function fullWatts(input: Input, light: number, cell_C: number): number {
  const mine = known.get(input) ?? new Map<string, number>();
  known.set(input, mine);
  const key = `${light} ${cell_C}`;
  const found = mine.get(key);
  if (found !== undefined) return found;
  const watts = wattsOf(
    input.strings.map((string) => string.map(({ module }) => ({ module, cell_C, irradiance_W_m2: light }))),
    input,
  );
  mine.set(key, watts);
  return watts;
}
