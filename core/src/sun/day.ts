/**
 * The sun of one day at a latitude, and how a day's light spreads over its hours. Duffie and Beckman, Solar Engineering of
 * Thermal Processes; the numbers are those of its equations.
 */

/** Radians of a degree. */
export const RAD = Math.PI / 180;
/** Above the air, mean of the year, W/m2. */
export const SOLAR_W_M2 = 1367;

/** Klein's mean day of each month, counted from the first of January. */
export const MEAN_DAYS = [17, 47, 75, 105, 135, 162, 198, 228, 258, 288, 318, 344] as const;

/** The sun's geometry on one day at one latitude. */
export interface SolarDay {
  sinPhi: number;
  cosPhi: number;
  sinDelta: number;
  cosDelta: number;
  /** Hour angle of sunset, radians. */
  sunset: number;
  /** Beam above the air, W/m2. */
  normal_W: number;
  /** On the level above the air, Wh/m2 a day; below 0 in the polar night. */
  outside_Wh: number;
}

/** Beam above the air on a day of the year (1 to 365), W/m2 (1.4.1a). */
export const normal_W_m2 = (day: number) => SOLAR_W_M2 * (1 + 0.033 * Math.cos(((360 * day) / 365) * RAD));

/** The sun of a day of the year (1 to 365): Cooper's declination (1.6.1a), the light above the air (1.10.3). */
export function solarDay(latitude_deg: number, day: number): SolarDay {
  const phi = latitude_deg * RAD;
  const delta = 23.45 * RAD * Math.sin(((360 * (284 + day)) / 365) * RAD);
  // Midnight sun and polar night: the day is as long or as short as it can be.
  const sunset = Math.acos(Math.max(-1, Math.min(1, -Math.tan(phi) * Math.tan(delta))));
  const normal_W = normal_W_m2(day);
  const [sinPhi, cosPhi, sinDelta, cosDelta] = [Math.sin(phi), Math.cos(phi), Math.sin(delta), Math.cos(delta)];
  const outside_Wh = (24 / Math.PI) * normal_W * (cosPhi * cosDelta * Math.sin(sunset) + sunset * sinPhi * sinDelta);
  return { sinPhi, cosPhi, sinDelta, cosDelta, sunset, normal_W, outside_Wh };
}

/** Beyond this sunset hour angle Erbs' other fits count. */
const LONG_DAY = 81.4 * RAD;

/** Erbs' diffuse share of a month by its clearness (2.12.1); the correlation holds between 0.3 and 0.8. */
export function monthlyDiffuse(clearness: number, sunset: number): number {
  const k = Math.max(0.3, Math.min(0.8, clearness));
  return sunset <= LONG_DAY
    ? 1.391 - 3.56 * k + 4.189 * k ** 2 - 2.137 * k ** 3
    : 1.311 - 3.022 * k + 3.427 * k ** 2 - 1.821 * k ** 3;
}

/** Erbs' diffuse share of one day by its clearness. */
export function dailyDiffuse(k: number, sunset: number): number {
  if (sunset <= LONG_DAY)
    return k < 0.715 ? 1 - 0.2727 * k + 2.4495 * k ** 2 - 11.9514 * k ** 3 + 9.3879 * k ** 4 : 0.143;
  return k < 0.722 ? 1 + 0.2832 * k - 2.5557 * k ** 2 + 0.8448 * k ** 3 : 0.175;
}

/** The a and b by which Collares-Pereira and Rabl's global hours differ from the diffuse ones (2.13.2). */
export const globalHours = (sunset: number): [a: number, b: number] => [
  0.409 + 0.5016 * Math.sin(sunset - 60 * RAD),
  0.6609 - 0.4767 * Math.sin(sunset - 60 * RAD),
];

/** Hour angle of the middle of a solar hour, 0 to 23, radians. */
export const hourAngle = (hour: number) => 15 * (hour + 0.5 - 12) * RAD;
