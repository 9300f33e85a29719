import { doubleAt } from '../numeric/element';
import { between } from '../numeric/between';
import type { Weather } from './weather';
import { HOURS_Y } from './calendar';

/** From the sky to the plane of an array: Hay and Davies (Duffie and Beckman, 2.16.4), with what the horizon hides. */

const RAD = Math.PI / 180;
/** What the ground gives back of the light on it. */
export const ALBEDO = 0.2;
/** Nearer the horizon than this the beam on the level says nothing of the beam itself: all of it is diffuse. */
const LOWEST_COS = Math.cos(85 * RAD);

/** A point of the horizon, degrees. */
export interface Horizon {
  azimuth_deg: number;
  elevation_deg: number;
}

/** Elevation of the horizon by azimuth, degrees: the points joined straight, round the circle. */
function horizonAt(points: readonly Horizon[]): (azimuth_deg: number) => number {
  const sorted = points
    .map(({ azimuth_deg, elevation_deg }): [number, number] => [((azimuth_deg % 360) + 360) % 360, elevation_deg])
    .sort(([a], [b]) => a - b);
  const [first] = sorted;
  const last = sorted.at(-1);
  if (!first || !last) return () => 0;
  const round: [number, number][] = [[last[0] - 360, last[1]], ...sorted, [first[0] + 360, first[1]]];
  return (azimuth) => between(round, azimuth);
}

/** Which hours' sun stands above the horizon: 1, else 0. Kept with a weather, since every plane asks the same. */
export function sunSeen(weather: Weather, horizon: readonly Horizon[]): Uint8Array {
  const seen = new Uint8Array(HOURS_Y);
  const elevation = horizon.length > 0 ? horizonAt(horizon) : null;
  for (let h = 0; h < HOURS_Y; h++) {
    const up = weather.up[h] ?? 0;
    if (!elevation) {
      seen[h] = 1;
      continue;
    }
    const azimuth = Math.atan2(weather.east[h] ?? 0, weather.north[h] ?? 0) / RAD;
    const height = Math.asin(Math.max(-1, Math.min(1, up))) / RAD;
    seen[h] = height >= elevation((azimuth + 360) % 360) ? 1 : 0;
  }
  return seen;
}

/**
 * Irradiance on a plane, W/m2, written into `out`.
 * @param from the first hour, and the one before which it ends
 */
export function onPlane(
  weather: Weather,
  seen: Uint8Array,
  tilt_deg: number,
  azimuth_deg: number,
  out: Float64Array,
  from = 0,
  to = HOURS_Y,
): void {
  const { ghi, dhi, up, north, east, normal_W_m2 } = weather;
  const tilt = tilt_deg * RAD;
  const azimuth = azimuth_deg * RAD;
  const nUp = Math.cos(tilt);
  const nNorth = Math.sin(tilt) * Math.cos(azimuth);
  const nEast = Math.sin(tilt) * Math.sin(azimuth);
  const sky = (1 + nUp) / 2;
  const ground = (ALBEDO * (1 - nUp)) / 2;
  for (let h = from; h < to; h++) {
    const global = doubleAt(ghi, h);
    if (!(global > 0)) {
      out[h] = 0;
      continue;
    }
    const cosZenith = doubleAt(up, h);
    const normal = doubleAt(normal_W_m2, (h / 24) | 0);
    const level = Math.min(doubleAt(dhi, h), global);
    let beam = 0;
    if (cosZenith >= LOWEST_COS) {
      beam = (global - level) / cosZenith;
      if (beam > normal) beam = normal;
    }
    const diffuse = global - beam * cosZenith;
    let sum = ground * global;
    if (beam > 0 && seen[h] === 1) {
      const onto = cosZenith * nUp + doubleAt(north, h) * nNorth + doubleAt(east, h) * nEast;
      const cosine = onto > 0 ? onto : 0;
      const anisotropy = beam / normal;
      sum += beam * cosine + diffuse * ((anisotropy * cosine) / cosZenith + (1 - anisotropy) * sky);
    } else sum += diffuse * sky;
    out[h] = sum;
  }
}
