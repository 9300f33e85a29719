import type { ModuleType } from '../system/schema';
import { bisect, newton } from '../numeric/roots';
import { cellsPrinted, seriesCells, TYPICAL_ALPHA_PCT_C, TYPICAL_BETA_PCT_C } from './nameplate';

/**
 * The single-diode model of a module, after De Soto, Klein and Beckman, Solar Energy 80 (2006). Five parameters from
 * the three points of the plate, dP/dV = 0 at the best one, and Voc at 35 degC by its coefficient.
 */
export interface Diode {
  /** Light current at 1000 W/m2 and 25 degC, A, and its change, A/K. */
  light_A: number;
  alpha_A_K: number;
  saturation_A: number;
  /** Modified ideality of the whole module at 25 degC, V. */
  a_V: number;
  series_ohm: number;
  /** Conductance of the shunt at 1000 W/m2, S. */
  shunt_S: number;
  /** Cells in series. */
  cells: number;
  /** False where no set of parameters meets all five conditions: then the coefficient is met as well as may be. */
  exact: boolean;
}

/** A diode under given light and warmth: I = light - I0 (exp((V + I Rs)/a) - 1) - (V + I Rs) G. */
export interface Lit {
  light_A: number;
  saturation_A: number;
  a_V: number;
  series_ohm: number;
  shunt_S: number;
}

const T_REF = 298.15;
/** Steps of the search for the ideality and the series resistance, before each is closed in on. */
const STEPS = 80;
const BOLTZMANN_EV = 8.617333262e-5;
const GAP_EV = 1.121;
const GAP_SLOPE = 0.0002677;

const gap_eV = (kelvin: number) => GAP_EV * (1 - GAP_SLOPE * (kelvin - T_REF));
const saturationFactor = (kelvin: number) =>
  (kelvin / T_REF) ** 3 * Math.exp(GAP_EV / (BOLTZMANN_EV * T_REF) - gap_eV(kelvin) / (BOLTZMANN_EV * kelvin));

/** The diode at an irradiance and a cell temperature. Darkness is taken as 1 W/m2. */
export function lit(diode: Diode, irradiance_W_m2: number, cell_C: number): Lit {
  const kelvin = cell_C + 273.15;
  const suns = Math.max(1, irradiance_W_m2) / 1000;
  return {
    light_A: suns * (diode.light_A + diode.alpha_A_K * (kelvin - T_REF)),
    saturation_A: diode.saturation_A * saturationFactor(kelvin),
    a_V: (diode.a_V * kelvin) / T_REF,
    series_ohm: diode.series_ohm,
    shunt_S: diode.shunt_S * suns,
  };
}

/** Current at a voltage, A: the one root, by Newton on the diode's own voltage from the safe side. */
export function currentAt(lit: Lit, volts: number): number {
  const { series_ohm: rs } = lit;
  const at = (x: number) => lit.light_A - lit.saturation_A * Math.expm1(x / lit.a_V) - x * lit.shunt_S;
  if (rs === 0) return at(volts);
  // x = V + I Rs solves V = x - Rs I(x), which rises throughout and bends upwards: Newton from above cannot miss.
  const x = newton(
    (guess, out) => {
      out.value = guess - rs * at(guess) - volts;
      out.slope = 1 + rs * ((lit.saturation_A / lit.a_V) * Math.exp(guess / lit.a_V) + lit.shunt_S);
    },
    Math.max(volts, Math.min(volts + rs * lit.light_A, openOf(lit))),
    1e-12,
  );
  return at(x);
}

/** How a module's current falls with the diode's own voltage, A/V. */
export const slopeOf = ({ saturation_A, a_V, shunt_S }: Lit, own_V: number): number =>
  -(saturation_A / a_V) * Math.exp(own_V / a_V) - shunt_S;

/** Upper bound of the diode's own voltage with no current drawn. */
const openOf = ({ light_A, saturation_A, a_V }: Lit) => a_V * Math.log1p(Math.max(0, light_A) / saturation_A);

const fitted = new Map<string, Diode>();
/** The same by the plate itself: none is changed once it is read. */
const own = new WeakMap<ModuleType, Diode>();

/** The five parameters of a module; kept, since the same plate is asked for again and again. */
export function fit(module: ModuleType): Diode {
  const mine = own.get(module);
  if (mine) return mine;
  const { isc_A, voc_V, imp_A, vmp_V, betaVoc_pct_C, alphaIsc_pct_C, cells, halfCut } = module;
  const key = JSON.stringify([isc_A, voc_V, imp_A, vmp_V, betaVoc_pct_C, alphaIsc_pct_C, cells, halfCut]);
  const made = fitted.get(key) ?? solve(module);
  fitted.set(key, made);
  own.set(module, made);
  return made;
}

interface Linear {
  light: number;
  i0: number;
  g: number;
}

type Leveled = { rs: number; linear: Linear };

/** What a plate says of a module's curve, as equations in a (V), the series resistance (ohm) and what is linear in them. */
function equationsOf(module: ModuleType) {
  const { isc_A: isc, voc_V: voc, imp_A: imp, vmp_V: vmp } = module;
  const alpha = ((module.alphaIsc_pct_C ?? TYPICAL_ALPHA_PCT_C) / 100) * isc;
  const beta = module.betaVoc_pct_C ?? TYPICAL_BETA_PCT_C;

  /** With a and Rs given, the three points are linear in light current, saturation current and shunt. */
  const linear = (a: number, rs: number): Linear | null => {
    // Scaled by exp(voc/a), so that nothing overflows: unknown j = I0 exp(voc/a).
    const row = (v: number, i: number) => {
      const x = v + i * rs;
      return { e: Math.exp((x - voc) / a) - Math.exp(-voc / a), x, i };
    };
    const [s, o, m] = [row(0, isc), row(voc, 0), row(vmp, imp)];
    // Differences against the open circuit take the light current out: i = j (eo - e) + g (xo - x).
    const [se, sx] = [o.e - s.e, o.x - s.x];
    const [me, mx] = [o.e - m.e, o.x - m.x];
    const det = se * mx - sx * me;
    if (!Number.isFinite(det) || det === 0) return null;
    const j = (s.i * mx - sx * m.i) / det;
    const g = (se * m.i - s.i * me) / det;
    return { light: j * o.e + g * o.x, i0: j * Math.exp(-voc / a), g };
  };
  /** dP/dV at the maximum-power point, as a share of its current. */
  const slope = (a: number, rs: number, { i0, g }: Linear) => {
    const steep = (i0 / a) * Math.exp((vmp + imp * rs) / a) + g;
    return 1 - (vmp * steep) / ((1 + rs * steep) * imp);
  };
  /** What is missing at 35 degC for the open circuit to stand where its coefficient puts it, as a share of Isc. */
  const warm = (a: number, { light, i0, g }: Linear) => {
    const kelvin = T_REF + 10;
    const volts = voc * (1 + beta / 10);
    const a2 = (a * kelvin) / T_REF;
    return (light + alpha * 10 - i0 * saturationFactor(kelvin) * Math.expm1(volts / a2) - volts * g) / isc;
  };

  /** For an a the series resistance that levels the power curve; null where none does. */
  const level = (a: number): Leveled | null => {
    const value = (rs: number) => {
      const found = linear(a, rs);
      return found ? slope(a, rs, found) : Number.NaN;
    };
    const most = (voc - vmp) / imp;
    let previous = value(0);
    for (let k = 1; k <= STEPS; k++) {
      const rs = (most * k) / STEPS;
      const now = value(rs);
      if (Number.isFinite(previous) && Number.isFinite(now) && previous * now <= 0) {
        const root = bisect(value, (most * (k - 1)) / STEPS, rs);
        const at = linear(a, root);
        return at && at.i0 > 0 ? { rs: root, linear: at } : null;
      }
      previous = now;
    }
    return null;
  };
  return { alpha, warm, level };
}

function solve(module: ModuleType): Diode {
  const cells = seriesCells(module) ?? cellsPrinted(module);
  const { alpha, warm, level } = equationsOf(module);
  const diode = (a: number, rs: number, { light, i0, g }: Linear, exact: boolean): Diode => {
    return { light_A: light, alpha_A_K: alpha, saturation_A: i0, a_V: a, series_ohm: rs, shunt_S: g, cells, exact };
  };
  // The a that meets the coefficient: looked for on a grid, then between two of its points.
  const perCell = cells * BOLTZMANN_EV * T_REF;
  const grid: { a: number; rs: number; linear: Linear; miss: number }[] = [];
  for (let k = 0; k <= STEPS; k++) {
    const a = perCell * (0.5 + (2 * k) / STEPS);
    const at = level(a);
    if (at) grid.push({ a, ...at, miss: warm(a, at.linear) });
  }
  const sound = (g: Leveled) => g.rs >= 0 && g.linear.g > 0;
  for (let k = 1; k < grid.length; k++) {
    const [before, after] = [grid[k - 1], grid[k]];
    if (!before || !after || before.miss * after.miss > 0) continue;
    const a = bisect(
      (x) => {
        const at = level(x);
        return at ? warm(x, at.linear) : Number.NaN;
      },
      before.a,
      after.a,
    );
    const at = level(a);
    if (at && sound(at)) return diode(a, at.rs, at.linear, true);
  }
  // No five parameters meet all: the three points and the level power curve stand, the coefficient as near as may be.
  const best = grid.filter(sound).sort((x, y) => Math.abs(x.miss) - Math.abs(y.miss))[0];
  if (best) {
    const edge = refine(level, warm, sound, best.a, (2 * perCell) / STEPS);
    return diode(edge.a, edge.rs, edge.linear, false);
  }
  return diode(1.1 * perCell, 0, loose(module, 1.1 * perCell), false);
}

/** A plate that no diode can have made: the two ends and a middling shape, so that there is a curve at all. */
function loose({ isc_A, voc_V }: ModuleType, a: number): Linear {
  const g = 1e-3 * (isc_A / voc_V);
  return { light: isc_A, i0: Math.max(1e-30, (isc_A - g * voc_V) / Math.expm1(voc_V / a)), g };
}

/** Walks from the best point of the grid toward the edge of what is possible, halving its step. */
function refine(
  level: (a: number) => { rs: number; linear: Linear } | null,
  warm: (a: number, linear: Linear) => number,
  sound: (at: { rs: number; linear: Linear }) => boolean,
  start: number,
  width: number,
): { a: number; rs: number; linear: Linear } {
  const at = (a: number) => {
    const found = level(a);
    return found && sound(found) ? { a, ...found, miss: Math.abs(warm(a, found.linear)) } : null;
  };
  let best = at(start);
  for (let step = width; step > 1e-9 * start; step /= 2)
    for (const direction of [-1, 1]) {
      const next = at((best?.a ?? start) + direction * step);
      if (next && (!best || next.miss < best.miss)) best = next;
    }
  return best ?? { a: start, rs: 0, linear: { light: 0, i0: 1e-30, g: 0 } };
}
