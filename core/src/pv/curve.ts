import type { ModuleType } from '../system/schema';
import { currentAt, fit, lit, voltageAt, type Lit } from './diode';

/**
 * Curves of modules, strings and arrays. A module is equal cell groups in series, each with a bypass diode; in series
 * volts add at equal current, in parallel currents add at equal volts. No blocking diodes: a weak string sinks current.
 */

/** One module as it stands: its plate, light of each group, cell temperature. */
export interface Standing {
  module: ModuleType;
  irradiance_W_m2: number;
  cell_C: number;
}

const BOLTZMANN_EV = 8.617333262e-5;
/** The bypass diode: Shockley, n = 1, 0.50 V at 10 A and 25 degC. */
const BYPASS_A = 10 / Math.expm1(0.5 / (BOLTZMANN_EV * 298.15));

const printedCells = ({ cells, voc_V }: ModuleType) => cells ?? Math.round(voc_V / 0.65);
export const groupsOf = (module: ModuleType) => module.bypassDiodes ?? (printedCells(module) <= 40 ? 2 : 3);

/** Volts of a module at a current, its groups being equal and equally lit. */
function moduleVolts(one: Lit, groups: number, thermal_V: number, current_A: number): number {
  // A group is a share of the module: its volts are the module's over the groups, with a diode across it.
  const group = (through: number) => voltageAt(one, through) / groups;
  const open = group(current_A);
  if (open > 0) return groups * open;
  // Below zero the bypass diode takes the rest: find the share through the cells at which both have the same volts.
  let low = 0;
  let high = current_A;
  const reach = (cells: number) => group(cells) + thermal_V * Math.log1p(Math.max(0, current_A - cells) / BYPASS_A);
  for (let i = 0; i < 60; i++) {
    const middle = (low + high) / 2;
    if (reach(middle) > 0) low = middle;
    else high = middle;
  }
  return groups * group((low + high) / 2);
}

export interface StringCurve {
  /** Volts at a current; falls as the current rises. */
  voltsAt(current_A: number): number;
  /** The largest light current of its modules, A. */
  most_A: number;
  /** Where all modules stand alike: the string is so many times one of them, and no bypass diode conducts. */
  alike: { one: Lit; count: number } | null;
}

export function stringCurve(standing: readonly Standing[]): StringCurve {
  const parts = standing.map(({ module, irradiance_W_m2, cell_C }) => {
    const one = lit(fit(module), irradiance_W_m2, cell_C);
    return { one, groups: groupsOf(module), thermal_V: BOLTZMANN_EV * (cell_C + 273.15) };
  });
  const first = parts[0];
  const sameAll =
    first !== undefined &&
    standing.every(
      ({ module, irradiance_W_m2, cell_C }) =>
        module === standing[0]?.module &&
        irradiance_W_m2 === standing[0].irradiance_W_m2 &&
        cell_C === standing[0].cell_C,
    );
  return {
    voltsAt: (current) =>
      parts.reduce((sum, { one, groups, thermal_V }) => sum + moduleVolts(one, groups, thermal_V, current), 0),
    alike: sameAll ? { one: first.one, count: parts.length } : null,
    most_A: Math.max(...parts.map(({ one }) => one.light_A)),
  };
}

/** Current of a string at a voltage, A; below zero where the others push current into it. */
export function stringCurrent(curve: StringCurve, volts: number): number {
  if (curve.alike && volts >= 0) return currentAt(curve.alike.one, volts / curve.alike.count);
  let low = -Math.max(1, curve.most_A);
  while (curve.voltsAt(low) < volts && low > -1e6) low *= 4;
  let high = curve.most_A * 1.001 + 1e-6;
  for (let i = 0; i < 80 && high - low > 1e-10; i++) {
    const middle = (low + high) / 2;
    if (curve.voltsAt(middle) > volts) low = middle;
    else high = middle;
  }
  return (low + high) / 2;
}

export interface Point {
  v: number;
  i: number;
}
export interface PowerPoint extends Point {
  p: number;
}
export interface ArrayCurve {
  points: Point[];
  maxima: PowerPoint[];
  best: PowerPoint;
  currentAt(volts: number): number;
}

const POINTS = 400;

/** The curve of strings in parallel, from 0 V to open circuit, with every local maximum of its power. */
export function arrayCurve(strings: readonly (readonly Standing[])[]): ArrayCurve {
  const curves = strings.map(stringCurve);
  const sumAt = (volts: number) => curves.reduce((sum, curve) => sum + stringCurrent(curve, volts), 0);
  // Open circuit of the whole: strings of unequal volts settle between their own.
  let low = 0;
  let high = Math.max(...curves.map((curve) => curve.voltsAt(0)));
  for (let i = 0; i < 60; i++) {
    const middle = (low + high) / 2;
    if (sumAt(middle) > 0) low = middle;
    else high = middle;
  }
  const open = high;
  const points = Array.from({ length: POINTS + 1 }, (_, k) => {
    const v = (open * k) / POINTS;
    return { v, i: k === POINTS ? 0 : sumAt(v) };
  });
  const maxima: PowerPoint[] = [];
  for (let k = 1; k < POINTS; k++) {
    const [before, here, after] = [points[k - 1], points[k], points[k + 1]];
    if (!before || !here || !after) continue;
    const p = here.v * here.i;
    if (p > before.v * before.i && p >= after.v * after.i) maxima.push(peak(sumAt, before.v, after.v));
  }
  const nothing: PowerPoint = { v: 0, i: points[0]?.i ?? 0, p: 0 };
  const best = maxima.reduce((a, b) => (b.p > a.p ? b : a), nothing);
  return { points, maxima, best, currentAt: sumAt };
}

/** The top between two voltages, by golden section. */
function peak(currentAt: (v: number) => number, from: number, to: number): PowerPoint {
  const ratio = (Math.sqrt(5) - 1) / 2;
  let [low, high] = [from, to];
  for (let i = 0; i < 40; i++) {
    const a = high - ratio * (high - low);
    const b = low + ratio * (high - low);
    if (a * currentAt(a) > b * currentAt(b)) high = b;
    else low = a;
  }
  const v = (low + high) / 2;
  const i = currentAt(v);
  return { v, i, p: v * i };
}
