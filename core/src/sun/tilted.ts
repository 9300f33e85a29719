import { kept } from '../numeric/kept';
import { globalHours, hourAngle, MEAN_DAYS, monthlyDiffuse, RAD, solarDay, type SolarDay } from './day';

/**
 * Mean daily irradiation of a tilted plane by month. Duffie and Beckman, Solar Engineering of Thermal Processes:
 * Klein's mean days, Erbs' monthly diffuse share (eq. 2.12.1), Collares-Pereira and Rabl's hours (2.13.2), Liu and
 * Jordan's diffuse hours (2.13.4), the plane after Hay and Davies (2.16.4). No horizon.
 */

const ALBEDO = 0.2;
/** Beyond this zenith the beam's ratio runs away without meaning anything. */
const LOWEST_COS = Math.cos(85 * RAD);

/** A tilted plane on the earth, degrees. */
export interface Plane {
  latitude_deg: number;
  tilt_deg: number;
  /** From north through east: 180 faces south. */
  azimuth_deg: number;
}

/** kWh/m2 a day on the plane (so "sun hours"), from kWh/m2 a day on the level, for a month 1 to 12. */
export function sunHours(plane: Plane, month: number, level_kWh_m2_d: number): number {
  const { latitude_deg, tilt_deg, azimuth_deg } = plane;
  return hoursKept(`${latitude_deg} ${tilt_deg} ${azimuth_deg} ${month} ${level_kWh_m2_d}`, () =>
    computed(plane, month, level_kWh_m2_d),
  );
}

const hoursKept = kept<string, number>(5000);

/** Klein's mean day of a month at a latitude. */
const meanDay = (latitude_deg: number, month: number): SolarDay =>
  solarDay(latitude_deg, MEAN_DAYS[month - 1] ?? MEAN_DAYS[0]);

/** kWh/m2 a day on the level above the air, mean day of a month 1 to 12 (Duffie and Beckman, eq. 1.10.3). */
export const aboveTheAir_kWh_m2_d = (latitude_deg: number, month: number) =>
  Math.max(0, meanDay(latitude_deg, month).outside_Wh / 1000);

function computed(plane: Plane, month: number, level_kWh_m2_d: number): number {
  const { sinPhi, cosPhi, sinDelta, cosDelta, sunset, normal_W, outside_Wh } = meanDay(plane.latitude_deg, month);
  const outside = outside_Wh / 1000;
  if (outside <= 0 || level_kWh_m2_d <= 0) return 0;
  const diffuseDay = level_kWh_m2_d * monthlyDiffuse(level_kWh_m2_d / outside, sunset);

  const hours = Array.from({ length: 24 }, (_, hour) => hourAngle(hour)).filter((w) => Math.abs(w) < sunset);
  const [a, b] = globalHours(sunset);
  const low = hours.map((w) => Math.cos(w) - Math.cos(sunset));
  const total = hours.map((w, i) => (a + b * Math.cos(w)) * (low[i] ?? 0));
  const sumTotal = total.reduce((sum, value) => sum + value, 0);
  const sumLow = low.reduce((sum, value) => sum + value, 0);
  if (sumTotal <= 0 || sumLow <= 0) return 0;

  const tilt = plane.tilt_deg * RAD;
  const azimuth = plane.azimuth_deg * RAD;
  let sum = 0;
  hours.forEach((w, i) => {
    const global = (level_kWh_m2_d * (total[i] ?? 0)) / sumTotal;
    const diffuse = Math.min(global, (diffuseDay * (low[i] ?? 0)) / sumLow);
    const beam = global - diffuse;
    // Sun as a vector: up, north, east.
    const up = sinPhi * sinDelta + cosPhi * cosDelta * Math.cos(w);
    const north = cosPhi * sinDelta - sinPhi * cosDelta * Math.cos(w);
    const east = -cosDelta * Math.sin(w);
    const onPlane =
      up * Math.cos(tilt) + north * Math.sin(tilt) * Math.cos(azimuth) + east * Math.sin(tilt) * Math.sin(azimuth);
    const cosZenith = Math.max(up, LOWEST_COS);
    const ratio = Math.max(0, onPlane) / cosZenith;
    const anisotropy = beam / ((normal_W * cosZenith) / 1000);
    sum +=
      (beam + diffuse * anisotropy) * ratio +
      (diffuse * (1 - anisotropy) * (1 + Math.cos(tilt))) / 2 +
      (global * ALBEDO * (1 - Math.cos(tilt))) / 2;
  });
  return sum;
}
