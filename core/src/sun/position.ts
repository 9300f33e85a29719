/**
 * Where the sun stands, after NOAA's Solar Calculator (Meeus, Astronomical Algorithms, low accuracy: 0.01 degree of
 * ecliptic longitude between 1950 and 2050). Zenith with refraction for the air of the elevation.
 */
export interface SunPosition {
  /** From straight up, degrees, refraction included. */
  zenith_deg: number;
  /** From north through east, degrees. */
  azimuth_deg: number;
}

const RAD = Math.PI / 180;
const sin = (deg: number) => Math.sin(deg * RAD);
const cos = (deg: number) => Math.cos(deg * RAD);
const tan = (deg: number) => Math.tan(deg * RAD);
const turn = (deg: number) => ((deg % 360) + 360) % 360;

const MS_PER_DAY = 86_400_000;
const UNIX_EPOCH_JD = 2_440_587.5;
const J2000_JD = 2_451_545;

/** For a latitude and longitude in degrees (north and east above 0), a moment in ms since 1970 UTC, and elevation in m. */
export function sunPosition(latitude_deg: number, longitude_deg: number, at_ms: number, elevation_m = 0): SunPosition {
  const century = (at_ms / MS_PER_DAY + UNIX_EPOCH_JD - J2000_JD) / 36_525;
  const meanLongitude = turn(280.46646 + century * (36_000.76983 + century * 0.0003032));
  const meanAnomaly = 357.52911 + century * (35_999.05029 - 0.0001537 * century);
  const eccentricity = 0.016708634 - century * (0.000042037 + 0.0000001267 * century);
  const centre =
    sin(meanAnomaly) * (1.914602 - century * (0.004817 + 0.000014 * century)) +
    sin(2 * meanAnomaly) * (0.019993 - 0.000101 * century) +
    sin(3 * meanAnomaly) * 0.000289;
  const node = 125.04 - 1934.136 * century;
  const longitude = meanLongitude + centre - 0.00569 - 0.00478 * sin(node);
  const obliquity =
    23 +
    (26 + (21.448 - century * (46.815 + century * (0.00059 - century * 0.001813))) / 60) / 60 +
    0.00256 * cos(node);
  const declination = Math.asin(sin(obliquity) * sin(longitude)) / RAD;
  const y = tan(obliquity / 2) ** 2;
  const equationOfTime_min =
    (4 / RAD) *
    (y * sin(2 * meanLongitude) -
      2 * eccentricity * sin(meanAnomaly) +
      4 * eccentricity * y * sin(meanAnomaly) * cos(2 * meanLongitude) -
      0.5 * y * y * sin(4 * meanLongitude) -
      1.25 * eccentricity * eccentricity * sin(2 * meanAnomaly));
  const minutes = (((at_ms % MS_PER_DAY) + MS_PER_DAY) % MS_PER_DAY) / 60_000;
  const hourAngle = (minutes + equationOfTime_min + 4 * longitude_deg) / 4 - 180;

  const up = sin(latitude_deg) * sin(declination) + cos(latitude_deg) * cos(declination) * cos(hourAngle);
  const north = cos(latitude_deg) * sin(declination) - sin(latitude_deg) * cos(declination) * cos(hourAngle);
  const east = -cos(declination) * sin(hourAngle);
  const altitude = Math.asin(Math.max(-1, Math.min(1, up))) / RAD;
  return {
    zenith_deg: 90 - altitude - refraction_deg(altitude, elevation_m),
    azimuth_deg: turn(Math.atan2(east, north) / RAD),
  };
}

/** Saemundsson's formula at 10 degC, thinned with the air above the elevation (standard atmosphere); none below the horizon. */
function refraction_deg(altitude_deg: number, elevation_m: number): number {
  if (altitude_deg < -0.6) return 0;
  const pressure = (1 - 2.25577e-5 * elevation_m) ** 5.25588;
  return (pressure * 1.02) / tan(altitude_deg + 10.3 / (altitude_deg + 5.11)) / 60;
}
