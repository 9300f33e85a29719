import { elementAt } from '../numeric/element';
import { kept } from '../numeric/kept';
import { inParallel, type Standing } from './curve';
import { wattsOfSeveral } from './several';
import { topOfString } from './top';
import type { Ledger } from '../ledger/ledger';
import type { ModuleType, PvArray } from '../system/schema';
import { modulesOfArray } from './strings';
import { heat_K_m2_W, MOUNTING_K } from './temperature';

/**
 * Power of a whole array as it is wired, by the light on its plane and the temperature of its cells: a table from the
 * curves, straight between its points and its ends beyond. Within 1 % of the curves above 50 W/m2 (test).
 */
export interface PowerTable {
  /** W, light by light, each with all temperatures. */
  watts: Float64Array;
}

/** 0, 25, 50, 100, 200 ... 1200 W/m2. */
export const LIGHTS_W_M2 = [0, 25, 50, 100, 200, 300, 400, 500, 600, 700, 800, 900, 1000, 1100, 1200] as const;
/** -30 ... 90 degC by 10. */
export const TEMPERATURES_C = Array.from({ length: 13 }, (_, i) => -30 + 10 * i);
const WARM = TEMPERATURES_C.length;
const COLDEST_C = -30;
const PER_STEP = 1 / 10;

/** Modules wired to one input, with the light of each. */
export interface Wired {
  strings: readonly (readonly ModuleType[])[];
  /** Share of the light that each module gets; absent: all of it. */
  shade: readonly (readonly number[])[] | null;
  /** mppt: the best point from here up; pwm: the current at these volts. */
  type: 'mppt' | 'pwm';
  volts: number;
  /** pwm: the volts at which its current is worth something, V. */
  worth_V: number;
}

/** Where a controller works an array, by the volts at which the sun's energy goes into the bank. */
export const worksAt = (type: Wired['type'], float_V: number): Pick<Wired, 'type' | 'volts' | 'worth_V'> => ({
  type,
  volts: float_V + (type === 'pwm' ? 0.5 : 1),
  worth_V: float_V,
});

/** Where and how its controller works an array, and how warm that gets: K above the air by W/m2. */
export interface Working extends Pick<Wired, 'type' | 'volts' | 'worth_V'> {
  heat_K_m2_W: number;
}

/** How a controller of a type works an array, with what is usual where nobody read it. */
export function workingOf(io: Ledger, array: PvArray, type: Wired['type'], float_V: number): Working {
  const modules = modulesOfArray(io.model.system, array);
  const noct =
    modules.reduce((sum, { id, noct_C }) => sum + io.or(`${id}.noct_C`, noct_C, 45), 0) / Math.max(1, modules.length);
  const mounting = MOUNTING_K[io.word(`${array.id}.mounting`, array.mounting, 'raised')];
  return { ...worksAt(type, float_V), heat_K_m2_W: heat_K_m2_W(noct, mounting) };
}

/** The table of an array; kept by what it follows from, since a year is asked for again and again. */
export const powerTable = (wired: Wired): PowerTable => tables(JSON.stringify(wired), () => made(wired));

const tables = kept<string, PowerTable>(60);

function made(wired: Wired): PowerTable {
  const watts = new Float64Array(LIGHTS_W_M2.length * WARM);
  LIGHTS_W_M2.forEach((light, g) =>
    TEMPERATURES_C.forEach((cell_C, t) => {
      watts[g * WARM + t] = light === 0 ? 0 : arrayWatts(wired, light, cell_C);
    }),
  );
  return { watts };
}

/**
 * Watts at one light and temperature, from the curves themselves.
 * @param cells degC of all cells, or of each string's
 */
export function arrayWatts(
  { strings, shade, ...at }: Wired,
  light: number,
  cells: number | ((string: number) => number),
): number {
  return wattsOf(
    strings.map((string, s) =>
      string.map((module, m): Standing => ({
        module,
        cell_C: typeof cells === 'number' ? cells : cells(s),
        irradiance_W_m2: Math.max(1, light * (shade?.[s]?.[m] ?? 1)),
      })),
    ),
    at,
  );
}

/** Watts of strings side by side, each module or group of cells in its own light. */
export function wattsOf(
  strings: readonly (readonly Standing[])[],
  { type, volts, worth_V }: Pick<Wired, 'type' | 'volts' | 'worth_V'>,
): number {
  const { currentAt, curves, highest_V, same } = inParallel(strings);
  if (type === 'pwm') return Math.max(0, currentAt(volts)) * worth_V;
  if (highest_V <= volts) return 0;
  if (same) {
    const { v, i } = topOfString(same.curve, volts);
    return Math.max(0, v * i * same.count);
  }
  return wattsOfSeveral(curves, volts, highest_V);
}

/** Reads a table, W: straight between its points, its ends beyond. */
export function readTable(watts: Float64Array, light: number, cell_C: number): number {
  if (light <= 0) return 0;
  let g: number;
  let share: number;
  if (light >= 1200) {
    g = 13;
    share = 1;
  } else if (light >= 100) {
    const hundreds = light * 0.01;
    const whole = hundreds | 0;
    g = 2 + whole;
    share = hundreds - whole;
  } else if (light >= 50) {
    g = 2;
    share = (light - 50) / 50;
  } else if (light >= 25) {
    g = 1;
    share = (light - 25) / 25;
  } else {
    g = 0;
    share = light / 25;
  }
  let warm = (cell_C - COLDEST_C) * PER_STEP;
  if (warm < 0) warm = 0;
  else if (warm > WARM - 1) warm = WARM - 1;
  let t = warm | 0;
  if (t > WARM - 2) t = WARM - 2;
  const part = warm - t;
  const at = g * WARM + t;
  const lower = elementAt(watts, at) + part * (elementAt(watts, at + 1) - elementAt(watts, at));
  const upper = elementAt(watts, at + WARM) + part * (elementAt(watts, at + WARM + 1) - elementAt(watts, at + WARM));
  return lower + share * (upper - lower);
}
