import { kept } from '../numeric/kept';

/**
 * Mean daily irradiation of a tilted plane by month. Duffie and Beckman, Solar Engineering of Thermal Processes:
 * Klein's mean days, Erbs' monthly diffuse share (eq. 2.12.1), Collares-Pereira and Rabl's hours (2.13.2), Liu and
 * Jordan's diffuse hours (2.13.4), the plane after Hay and Davies (2.16.4). No horizon.
 */

const RAD = Math.PI / 180;

/** Klein's mean day of each month. */
const MEAN_DAYS = [17, 47, 75, 105, 135, 162, 198, 228, 258, 288, 318, 344] as const;
const SOLAR_W_M2 = 1367;
const ALBEDO = 0.2;
/** Beyond this zenith the beam's ratio runs away without meaning anything. */
const LOWEST_COS = Math.cos(85 * RAD);

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

interface MeanDay {
  phi: number;
  delta: number;
  /** Hour angle of sunset, radians. */
  sunset: number;
  normal_W: number;
  /** On the level above the air, kWh/m2 a day. */
  outside: number;
}

/** Klein's mean day of a month at a latitude. */
function meanDay(latitude_deg: number, month: number): MeanDay {
  const day = MEAN_DAYS[month - 1] ?? MEAN_DAYS[0];
  const phi = latitude_deg * RAD;
  const delta = 23.45 * RAD * Math.sin(((360 * (284 + day)) / 365) * RAD);
  // Midnight sun and polar night: the day is as long or as short as it can be.
  const sunset = Math.acos(Math.max(-1, Math.min(1, -Math.tan(phi) * Math.tan(delta))));
  const normal_W = SOLAR_W_M2 * (1 + 0.033 * Math.cos(((360 * day) / 365) * RAD));
  const outside =
    ((24 / Math.PI) *
      normal_W *
      (Math.cos(phi) * Math.cos(delta) * Math.sin(sunset) + sunset * Math.sin(phi) * Math.sin(delta))) /
    1000;
  return { phi, delta, sunset, normal_W, outside };
}

/** kWh/m2 a day on the level above the air, mean day of a month 1 to 12 (Duffie and Beckman, eq. 1.10.3). */
export const aboveTheAir_kWh_m2_d = (latitude_deg: number, month: number) =>
  Math.max(0, meanDay(latitude_deg, month).outside);

function computed(plane: Plane, month: number, level_kWh_m2_d: number): number {
  const { phi, delta, sunset, normal_W, outside } = meanDay(plane.latitude_deg, month);
  if (outside <= 0 || level_kWh_m2_d <= 0) return 0;
  const diffuseDay = level_kWh_m2_d * diffuseShare(level_kWh_m2_d / outside, sunset);

  const hours = Array.from({ length: 24 }, (_, hour) => (hour + 0.5 - 12) * 15 * RAD).filter(
    (w) => Math.abs(w) < sunset,
  );
  const a = 0.409 + 0.5016 * Math.sin(sunset - 60 * RAD);
  const b = 0.6609 - 0.4767 * Math.sin(sunset - 60 * RAD);
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
    const up = Math.sin(phi) * Math.sin(delta) + Math.cos(phi) * Math.cos(delta) * Math.cos(w);
    const north = Math.cos(phi) * Math.sin(delta) - Math.sin(phi) * Math.cos(delta) * Math.cos(w);
    const east = -Math.cos(delta) * Math.sin(w);
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

/** Erbs' diffuse share of a month by its clearness; the correlation holds between 0.3 and 0.8. */
function diffuseShare(clearness: number, sunset: number): number {
  const k = Math.max(0.3, Math.min(0.8, clearness));
  return sunset <= 81.4 * RAD
    ? 1.391 - 3.56 * k + 4.189 * k ** 2 - 2.137 * k ** 3
    : 1.311 - 3.022 * k + 3.427 * k ** 2 - 1.821 * k ** 3;
}
