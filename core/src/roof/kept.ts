import { groupsOf, type Standing } from '../pv/curve';
import type { ModuleType } from '../system/schema';
import { wattsOf, type Working } from '../pv/array-power';
import type { LitHour } from './light';

/** What shade leaves of a year, by the exact curves of the modules as they are wired (docs/roof.md). */

/** One input of a controller: its strings, module by module, and where each lies on the roof. */
export interface Input extends Working {
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
    const { full, kept } = wattsIn(input, hour, skies);
    sum.full += full * hour.days;
    sum.kept += kept * hour.days;
    if (hard) sum.hard += (hardWatts(input, hour, skies) ?? kept) * hour.days;
  }
  return sum;
}

/** Watts of an input in one hour: without any shade, and with each module's mean share. */
export function wattsIn(input: Input, hour: LitHour, skies: readonly number[]): { full: number; kept: number } {
  const light = lightIn(hour);
  if (light <= 0) return { full: 0, kept: 0 };
  const cell_C = cellsIn(input, hour);
  const full = fullWatts(input, light, cell_C);
  const shares = input.strings.map((string) => string.map(({ face }) => shareOf(hour, skies, face)));
  if (!shares.some((string) => string.some((one) => one < ALL))) return { full, kept: full };
  const kept = wattsOf(
    input.strings.map((string, s) =>
      string.map(({ module }, m): Standing => ({
        module,
        cell_C,
        irradiance_W_m2: Math.max(1, light * (shares[s]?.[m] ?? 1)),
      })),
    ),
    input,
  );
  return { full, kept };
}

/** The same with whole groups of cells dark; null where no module is lit in part. */
function hardWatts(input: Input, hour: LitHour, skies: readonly number[]): number | null {
  const uneven = input.strings.some((string) =>
    string.some(({ face }) => face !== null && (hour.lit[face] ?? 1) > 0 && (hour.lit[face] ?? 1) < ALL),
  );
  const light = lightIn(hour);
  if (!uneven || light <= 0) return null;
  const cell_C = cellsIn(input, hour);
  return wattsOf(
    input.strings.map((string) =>
      string.flatMap(({ face, module }): Standing[] => {
        const whole = { module, cell_C, irradiance_W_m2: lightOn(hour, skies, face) };
        const lit = face === null ? undefined : hour.groups[face];
        const count = groupsOf(module);
        if (face === null || !lit || lit.length !== count) return [whole];
        return Array.from(lit, (each) => ({
          ...whole,
          irradiance_W_m2: lightOn(hour, skies, face, each),
          oneOf: count,
        }));
      }),
    ),
    input,
  );
}

const lightIn = ({ beam, sky, ground }: LitHour) => beam + sky + ground;
/** Temperature of an input's cells in an hour, degC. */
export const cellsIn = (input: Input, hour: LitHour): number => hour.air_C + input.heat_K_m2_W * lightIn(hour);
/** W/m2 on a module in an hour, or on a group of its cells; on one that lies nowhere all of it. */
export const lightOn = (hour: LitHour, skies: readonly number[], face: number | null, lit?: number): number =>
  Math.max(1, lightIn(hour) * shareOf(hour, skies, face, lit));

/** The share of an hour's light that a module gets, or a group of its cells; one that lies nowhere gets all. */
function shareOf(hour: LitHour, skies: readonly number[], face: number | null, lit?: number): number {
  if (face === null) return 1;
  const { beam, sky, ground } = hour;
  return (beam * (lit ?? hour.lit[face] ?? 1) + sky * (skies[face] ?? 1) + ground) / (beam + sky + ground);
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
