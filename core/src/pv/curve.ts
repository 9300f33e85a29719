import type { ModuleType } from '../system/schema';
import { newtonWithin } from '../numeric/roots';
import type { Ledger } from '../ledger/ledger';
import { currentAt, fit, lit, slopeOf, type Lit } from './diode';
import { cellsPrinted, TYPICAL_ALPHA_PCT_C, TYPICAL_BETA_PCT_C } from './nameplate';

/**
 * Curves of modules, strings and arrays. A module is equal cell groups in series, each with a bypass diode; in series
 * volts add at equal current, in parallel currents add at equal volts. No blocking diodes: a weak string sinks current.
 */

/** One module as it stands: its plate, light of each group, cell temperature. */
export interface Standing {
  module: ModuleType;
  irradiance_W_m2: number;
  cell_C: number;
  /** One cell group alone, of so many equal ones of the module. */
  oneOf?: number;
}

/** A module whose cell groups are lit each for itself, W/m2 from the first on; groups not named get the module's light. */
export const groupsApart = (standing: Standing, lights_W_m2: readonly (number | undefined)[]): Standing[] => {
  const count = groupsOf(standing.module);
  return Array.from({ length: count }, (_, group) => ({
    ...standing,
    irradiance_W_m2: lights_W_m2[group] ?? standing.irradiance_W_m2,
    oneOf: count,
  }));
};

const BOLTZMANN_EV = 8.617333262e-5;
/** The bypass diode: Shockley, n = 1, 0.50 V at 10 A and 25 degC. */
const BYPASS_A = 10 / Math.expm1(0.5 / (BOLTZMANN_EV * 298.15));

/** Groups of cells with a bypass diode each, as the plate says or as modules of so many cells are built. */
export const groupsOf = (module: ModuleType) => module.bypassDiodes ?? (cellsPrinted(module) <= 40 ? 2 : 3);

/** Notes what a curve of these modules rests on: coefficients, cells and bypass diodes that nobody read. */
export function noteCurve(io: Ledger, modules: readonly ModuleType[]): void {
  for (const module of new Set(modules)) {
    const { id, betaVoc_pct_C, alphaIsc_pct_C, cells, bypassDiodes } = module;
    io.or(`${id}.betaVoc_pct_C`, betaVoc_pct_C, TYPICAL_BETA_PCT_C);
    io.or(`${id}.alphaIsc_pct_C`, alphaIsc_pct_C, TYPICAL_ALPHA_PCT_C);
    io.or(`${id}.cells`, cells, cellsPrinted(module));
    io.or(`${id}.bypassDiodes`, bypassDiodes, groupsOf(module));
  }
}

/** A module's groups being equal and equally lit, it is one diode with one bypass across, so many times. */
interface Part {
  one: Lit;
  groups: number;
  thermal_V: number;
  /** How many of the string's modules stand just so. */
  count: number;
  /** The diode's own voltage at the last current asked for: neighbours are asked one after the other. */
  near_V: number;
}

/** Volts and their slope against the current, V and V/A. */
interface Reading {
  volts: number;
  slope: number;
}

const CLOSE = 1e-11;
/** Two currents of a string this near are one, A. */
const NEAR_A = 1e-9;

const PLAIN_STEPS = 12;

/** A module of which no bypass diode conducts; null where one does. From above Newton cannot miss: the current bends down. */
function withoutBypass({ light_A, saturation_A, a_V, series_ohm, shunt_S }: Lit, current_A: number): Reading | null {
  let x = a_V * Math.log1p((light_A - current_A) / saturation_A);
  for (let k = 0; k < PLAIN_STEPS; k++) {
    const grown = Math.exp(x / a_V);
    const slope = -(saturation_A / a_V) * grown - shunt_S;
    const step = (light_A - saturation_A * (grown - 1) - x * shunt_S - current_A) / slope;
    x -= step;
    if (Math.abs(step) > CLOSE * Math.max(1, x)) continue;
    const volts = x - current_A * series_ohm;
    return volts >= 0 ? { volts, slope: 1 / slope - series_ohm } : null;
  }
  return null;
}

/** Nearer to its own light than this a module is between both: there bounds that close in are needed, A. */
const BETWEEN_A = 0.02;

/** A module that its bypass diodes carry: what its cells give hardly follows the volts, so a few rounds settle it. */
function onBypass(
  { light_A, saturation_A, a_V, series_ohm, shunt_S }: Lit,
  diode_V: number,
  current_A: number,
): Reading | null {
  if (current_A < light_A + BETWEEN_A) return null;
  let volts = 0;
  let cells_A = light_A;
  for (let k = 0; k < PLAIN_STEPS; k++) {
    const x = volts + cells_A * series_ohm;
    const grown = Math.exp(x / a_V);
    cells_A = light_A - saturation_A * (grown - 1) - x * shunt_S;
    const next = -diode_V * Math.log1p((current_A - cells_A) / BYPASS_A);
    const moved = Math.abs(next - volts);
    volts = next;
    if (!(moved > CLOSE)) {
      const cells_S = -(saturation_A / a_V) * grown - shunt_S;
      const steep = 1 - cells_S * series_ohm;
      return { volts, slope: steep / (cells_S - (BYPASS_A / diode_V) * Math.exp(-volts / diode_V) * steep) };
    }
  }
  return null;
}

/**
 * A module at a current. Both its current and its volts follow plainly from the diode's own voltage x, and the current
 * falls as x rises: so x is found by Newton, kept within bounds that close in.
 */
function moduleAt(part: Part, current_A: number): Reading {
  const { one, groups, thermal_V } = part;
  const { light_A, saturation_A, a_V, series_ohm, shunt_S } = one;
  const diode_V = groups * thermal_V;
  const plain = current_A < light_A ? withoutBypass(one, current_A) : onBypass(one, diode_V, current_A);
  if (plain !== null) return plain;
  // Below `low` the current is too large, above `high` too small, whatever the bypass diode does.
  const low = current_A <= light_A ? 0 : -diode_V * Math.log1p(current_A / BYPASS_A);
  const open_V = a_V * Math.log1p(Math.max(0, light_A - current_A) / saturation_A);
  // From here on up the volts are the right way round: no bypass adds to the current.
  const high = Math.max(open_V, light_A * series_ohm) + CLOSE;
  let volts = 0;
  let steep = 1;
  let slope = -1;
  const x = newtonWithin(
    (guess, out) => {
      const grown = Math.exp(guess / a_V);
      const cells_A = light_A - saturation_A * (grown - 1) - guess * shunt_S;
      const cells_S = -(saturation_A / a_V) * grown - shunt_S;
      volts = guess - cells_A * series_ohm;
      steep = 1 - cells_S * series_ohm;
      // With volts the right way round the bypass leaks some nA: left out, as below a thousandth of a thousandth of Isc.
      const across = volts < 0 ? Math.exp(-volts / diode_V) : 1;
      slope = cells_S - (volts < 0 ? (BYPASS_A / diode_V) * across * steep : 0);
      out.value = cells_A + BYPASS_A * (across - 1) - current_A;
      out.slope = slope;
    },
    { low, high, start: part.near_V > low && part.near_V < high ? part.near_V : open_V, close: CLOSE },
  );
  part.near_V = x;
  return { volts, slope: steep / slope };
}

/** Newton's steps for volts that need not be exact. */
const ROUGH_STEPS = 2;

/** Volts at a current to within a few in a thousand, without a search. */
function roughVolts({ one, groups, thermal_V }: Part, current_A: number): number {
  const { light_A, saturation_A, a_V, series_ohm, shunt_S } = one;
  if (current_A >= light_A) return -groups * thermal_V * Math.log1p((current_A - light_A) / BYPASS_A);
  let x = a_V * Math.log1p((light_A - current_A) / saturation_A);
  for (let k = 0; k < ROUGH_STEPS; k++) {
    const grown = Math.exp(x / a_V);
    x += (light_A - saturation_A * (grown - 1) - x * shunt_S - current_A) / ((saturation_A / a_V) * grown + shunt_S);
  }
  return Math.max(0, x - current_A * series_ohm);
}

/** The curve of one string, V and A. */
export interface StringCurve {
  /** Volts at a current; falls as the current rises. */
  voltsAt(current_A: number): number;
  /** As `voltsAt`, with the slope. */
  at(current_A: number): Reading;
  /** As `voltsAt`, to within a few in a thousand, for looking where the curve itself is worth asking. */
  rough(current_A: number): number;
  /** With no current drawn, V. */
  open_V: number;
  /** The largest light current of its modules, A. */
  most_A: number;
  /** The light currents of its modules, each once, the smallest first, A. */
  lights_A: number[];
  /** Where all modules stand alike: the string is so many times one of them, and no bypass diode conducts. */
  alike: { one: Lit; count: number } | null;
}

/** One of several equal groups in series: the current is the module's, the volts are its share. */
const groupLit = (one: Lit, count: number): Lit => ({
  ...one,
  a_V: one.a_V / count,
  series_ohm: one.series_ohm / count,
  shunt_S: one.shunt_S * count,
});

/** The curve of a string; modules that stand alike are reckoned once. */
export function stringCurve(standings: readonly Standing[]): StringCurve {
  const parts: (Part & { standing: Standing })[] = [];
  for (const one of standings) {
    const known = parts.find(
      ({ standing: { module, irradiance_W_m2, cell_C, oneOf } }) =>
        module === one.module &&
        irradiance_W_m2 === one.irradiance_W_m2 &&
        cell_C === one.cell_C &&
        oneOf === one.oneOf,
    );
    if (known) known.count += 1;
    else
      parts.push({
        standing: one,
        one: groupLit(lit(fit(one.module), one.irradiance_W_m2, one.cell_C), one.oneOf ?? 1),
        groups: groupsOf(one.module) / (one.oneOf ?? 1),
        thermal_V: BOLTZMANN_EV * (one.cell_C + 273.15),
        count: 1,
        near_V: Number.NaN,
      });
  }
  const at = (current_A: number): Reading => {
    let volts = 0;
    let slope = 0;
    for (const part of parts) {
      const reading = moduleAt(part, current_A);
      volts += part.count * reading.volts;
      slope += part.count * reading.slope;
    }
    return { volts, slope };
  };
  const [first] = parts;
  const lights_A = [...new Set(parts.map(({ one }) => one.light_A))].sort((a, b) => a - b);
  return {
    at,
    open_V: at(0).volts,
    voltsAt: (current_A) => at(current_A).volts,
    rough: (current_A) => parts.reduce((sum, part) => sum + part.count * roughVolts(part, current_A), 0),
    alike: parts.length === 1 && first ? { one: first.one, count: first.count } : null,
    most_A: lights_A.at(-1) ?? -Infinity,
    lights_A,
  };
}

/** Current of a string at a voltage, A; below zero where the others push current into it. */
export const stringCurrent = (curve: StringCurve, volts: number, guess_A?: number): number =>
  stringAt(curve, volts, guess_A).amps;

/** A current and its slope against the volts, A and A/V. */
export interface Draw {
  amps: number;
  slope: number;
}

/** As `stringCurrent`, with the slope; `close` is how near two steps must be, A. */
export function stringAt(curve: StringCurve, volts: number, guess_A?: number, close = NEAR_A): Draw {
  if (curve.alike && volts >= 0) {
    const { one, count } = curve.alike;
    const amps = currentAt(one, volts / count);
    const cells_S = slopeOf(one, volts / count + amps * one.series_ohm);
    return { amps, slope: cells_S / (1 - cells_S * one.series_ohm) / count };
  }
  // Only above its own open circuit does a string take current in.
  let low = volts <= curve.open_V ? -1e-9 : -Math.max(1, curve.most_A);
  if (low < -1e-6) while (curve.voltsAt(low) < volts && low > -1e6) low *= 4;
  const high = low < -1e-6 ? 1e-9 : curve.most_A * 1.001 + 1e-6;
  let slope = Number.NEGATIVE_INFINITY;
  // Where a bypass diode takes over the slope changes a thousandfold: bounds that close in hold the steps.
  const amps = newtonWithin(
    (current, out) => {
      const reading = curve.at(current);
      out.value = reading.volts - volts;
      out.slope = reading.slope;
      slope = reading.slope;
    },
    {
      low,
      high,
      start: guess_A !== undefined && guess_A > low && guess_A < high ? guess_A : (low + high) / 2,
      close,
    },
  );
  return { amps, slope: 1 / slope };
}

/** A point of a curve: V and A. */
export interface Point {
  v: number;
  i: number;
}
/** Strings that stand alike: the curve of one, and how many there are. */
export interface Several {
  curve: StringCurve;
  count: number;
}
/** Strings in parallel: their current at a voltage, and the highest open circuit among them. */
export interface Parallel {
  currentAt(volts: number): number;
  highest_V: number;
  /** One string, or several that stand alike, without a bypass diode that conducts: its power has one top. */
  oneTop: boolean;
  /** Where all strings stand alike: one of them, and how many there are. */
  same?: Several | undefined;
}

/** Strings in parallel; those that stand alike are reckoned once: `curves` has each once, and how many there are. */
export function inParallel(strings: readonly (readonly Standing[])[]): Parallel & { curves: Several[] } {
  // Strings that stand alike are one string so many times.
  const alike = new Map<string, Several>();
  for (const string of strings) {
    const key = string
      .map(({ module, ...at }) => `${module.id} ${at.irradiance_W_m2} ${at.cell_C} ${at.oneOf ?? ''}`)
      .join();
    const known = alike.get(key);
    if (known) known.count += 1;
    else alike.set(key, { curve: stringCurve(string), count: 1 });
  }
  const curves = [...alike.values()];
  // Neighbouring points are asked one after the other: the last answer is the best guess for the next.
  const last = curves.map((): number | undefined => undefined);
  const currentAt = (volts: number): number => {
    let sum = 0;
    for (const [k, { curve, count }] of curves.entries()) {
      const { amps } = stringAt(curve, volts, last[k]);
      last[k] = amps;
      sum += count * amps;
    }
    return sum;
  };
  return {
    curves,
    currentAt,
    highest_V: Math.max(...curves.map(({ curve }) => curve.open_V)),
    oneTop: curves.length === 1 && Boolean(curves[0]?.curve.alike),
    same: curves.length === 1 ? curves[0] : undefined,
  };
}
