import { createLedger } from '../ledger/ledger';
import { CONDITIONS, LEAST_LIGHT_W_M2, type Conditions } from '../readings/conditions';
import { controllersAt } from '../readings/sun-at';
import { clearLight_W_m2, type PlaneThere } from '../sun/clear';
import { arraysOf, isVehicle, type Model } from '../system/model';
import type { Controller, Reading } from '../system/schema';
import { median } from './fit';
import { courseOf, STEP_MS, type LiveStep } from './live-step';

/**
 * What a controller gave under a sky that was clear for certain. Nobody measured the light, but the course of a few hours
 * tells: what rises and falls with the light of a cloudless sky, step by step, was lit by one. Clouds are never so even,
 * nor is a hill, a mast or a controller that holds back. An even grey sky can be: it gives far less, and less than half of
 * what is expected is not told from a fault here. Silence is right then; a wrong "your array is failing" is not.
 */

const HOUR_MS = 3_600_000;
/** The hours from noon around which a window is looked for, and its length. */
const AROUND_H = [0, -1, 1, -2, 2, -3, 3] as const;
const WINDOW_H = 3;
/** How long before the beginning of a day its own sun may have risen, by a longitude far from Greenwich. */
export const BEFORE_MS = 9 * HOUR_MS;
/** In a window all of what came, divided by the clear light, lies within this share. */
const EVEN = 0.1;
/** Steps that may be missing. */
const HEARD = 0.9;
/** Of what is expected: below this it may as well have been an even grey sky. */
const LEAST_SHARE = 0.45;
/** Planes that differ by less see the same light. */
const SAME_PLANE_DEG = 5;

/**
 * @param day "2026-12-01", UTC: readings are of the solar day whose light hours end within it
 * @param steps from BEFORE_MS before that day on, any order
 */
export function sunReadings(model: Model, day: string, steps: readonly LiveStep[]): Reading[] {
  const { bank, controllers } = model.system;
  if (!bank || isVehicle(model.site)) return [];
  const volts = courseOf(steps, bank.id, 'load_V');
  const charge = courseOf(steps, bank.id, 'head_soc');
  const warmth = courseOf(steps, bank.id, 'temp_C');
  return (controllers ?? []).flatMap((controller): Reading[] => {
    // Of several inputs with one output, nobody knows whether each tells its own share or the whole.
    const plane = controller.outputGroup ? null : planeOf(model, controller);
    if (!plane) return [];
    const amps = courseOf(steps, controller.id, 'out_A');
    // An mppt brings the watts of the light at whatever volts the bank has; a pwm passes the array's own amperes.
    const brought = (at: number) =>
      (amps.get(at) ?? Number.NaN) * (controller.type === 'pwm' ? 1 : (volts.get(at) ?? Number.NaN));
    const best = windowsOf(plane, day)
      .filter((window) => evenly(window, brought))
      .sort((a, b) => b.light_W_m2 - a.light_W_m2)[0];
    const soc = best && charge.get(best.at);
    if (!best || soc === undefined) return [];
    // Days of the same light are looked up once; the sky is not known to ten watts.
    const irradiance_W_m2 = 10 * Math.round(best.light_W_m2 / 10);
    const ambient_C = airOf(model, best.at) ?? warmth.get(best.at) ?? CONDITIONS.ambient_C;
    const at: Conditions = { ...CONDITIONS, irradiance_W_m2, irradianceBy: 'sky', ambient_C, soc };
    const expected = controllersAt(createLedger(model), at).get(controller);
    const value = median([-1, 0, 1].flatMap((k) => amps.get(best.at + k * STEP_MS) ?? []));
    if (expected?.binds !== 'array' || !(value >= LEAST_SHARE * expected.out_A)) return [];
    const visit = `live-${day}-sun-${controller.id}`;
    const of = (subject: string, quantity: LiveStep['quantity'], told: number): Reading => ({
      id: `${visit}-${quantity}`,
      at: new Date(best.at).toISOString(),
      subject,
      quantity,
      value: told,
      visit,
    });
    return [
      {
        ...of(controller.id, 'out_A', value),
        conditions: { irradiance_W_m2, irradianceBy: 'sky', ambient_C },
      },
      of(bank.id, 'head_soc', soc),
    ];
  });
}

interface Window {
  /** The step in its middle, ms since 1970, and its clear light. */
  at: number;
  light_W_m2: number;
  steps: { at: number; light_W_m2: number }[];
}

/** Windows of the solar day that ends within this one, as far as a clear sky lights the plane well through them. */
function windowsOf(plane: PlaneThere, day: string): Window[] {
  const begin = Date.parse(`${day}T00:00:00Z`);
  const noonOf = (from: number) => from + (12 - plane.longitude_deg / 15) * HOUR_MS;
  // The last window ends this long after noon.
  const last_ms = (Math.max(...AROUND_H) + WINDOW_H / 2) * HOUR_MS;
  const own = [begin - 24 * HOUR_MS, begin].find((from) => noonOf(from) + last_ms >= begin) ?? begin;
  return AROUND_H.flatMap((hour) => {
    const middle = Math.round((noonOf(own) + hour * HOUR_MS) / STEP_MS) * STEP_MS;
    const half = (WINDOW_H * HOUR_MS) / 2 / STEP_MS;
    const steps = Array.from({ length: 2 * half + 1 }, (_, i) => {
      const at = middle + (i - half) * STEP_MS;
      return { at, light_W_m2: clearLight_W_m2(plane, at + STEP_MS / 2) };
    });
    if (steps.some(({ light_W_m2 }) => light_W_m2 < LEAST_LIGHT_W_M2)) return [];
    return [{ at: middle, light_W_m2: steps[half]?.light_W_m2 ?? 0, steps }];
  });
}

/** Whether what came followed the clear light all through. */
function evenly({ steps }: Window, brought: (at: number) => number): boolean {
  const shares = steps.map(({ at, light_W_m2 }) => brought(at) / light_W_m2).filter(Number.isFinite);
  if (shares.length < HEARD * steps.length) return false;
  const [least, most] = [Math.min(...shares), Math.max(...shares)];
  return most - least <= EVEN * most;
}

/** The plane of all arrays of a controller; null: not known, or not one. */
function planeOf({ site, system }: Model, { id }: Controller): PlaneThere | null {
  const { latitude_deg, longitude_deg, elevation_m } = site;
  const arrays = arraysOf(system, id).filter(({ strings }) => strings.length > 0);
  const planes = arrays.map(({ tilt_deg, azimuth_deg }) => ({
    tilt_deg,
    azimuth_deg: tilt_deg === 0 ? 0 : azimuth_deg,
  }));
  const [first] = planes;
  if (!first || !known(latitude_deg) || !known(longitude_deg)) return null;
  const { tilt_deg, azimuth_deg } = first;
  if (!known(tilt_deg) || !known(azimuth_deg)) return null;
  const near = (a: number | null | undefined, b: number) =>
    known(a) && Math.abs(((((a - b + 180) % 360) + 360) % 360) - 180) <= SAME_PLANE_DEG;
  if (!planes.every((one) => near(one.tilt_deg, tilt_deg) && near(one.azimuth_deg, azimuth_deg))) return null;
  return { latitude_deg, longitude_deg, elevation_m: elevation_m ?? 0, tilt_deg, azimuth_deg };
}

const known = (value: number | null | undefined): value is number => value !== null && value !== undefined;

/** The mean temperature of the month, degC; null where the site does not say. */
const airOf = ({ site }: Model, at: number): number | null =>
  site.climate?.meanTemp_C?.[new Date(at).getUTCMonth()] ?? null;
