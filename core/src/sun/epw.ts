import { faultAt as fault } from '../system/faults';

/** What a site's climate needs of a year of hourly weather. */
export interface EpwClimate {
  place: string;
  latitude_deg: number;
  longitude_deg: number;
  elevation_m: number;
  globalHorizontal_kWh_m2_d: number[];
  meanTemp_C: number[];
  /** Coldest and hottest hour of the file: of one typical year, so not the record. */
  low_C: number;
  high_C: number;
}

/** Lines of a weather file before its hours. */
export const HEADER_LINES = 8;
const HOURS = 8760;
const MONTH = 1;
const DRY_BULB_C = 6;
const GLOBAL_WH_M2 = 13;
/** The format's marks for "not measured". */
export const NO_TEMPERATURE = 99.9;
/** What stands in a weather file for light that was not measured. */
export const NO_SUN = 9999;

/** The lines of a weather file, and where it is by the first of them; `number` reads a place of that line, counted from 0. */
export interface EpwHead {
  lines: string[];
  place: string;
  latitude_deg: number;
  longitude_deg: number;
  elevation_m: number;
  number(place: number, what: string, low: number, high: number): number;
}

/** @throws FaultError where it is no weather file, or does not say where it is */
export function epwHead(text: string): EpwHead {
  const lines = text.replace(/^\uFEFF/, '').split(/\r?\n/);
  const head = lines[0]?.split(',') ?? [];
  if (head[0]?.trim().toUpperCase() !== 'LOCATION')
    throw fault('line 1', 'does not begin with LOCATION, expected an EPW weather file');
  const number = (i: number, what: string, low: number, high: number) => {
    const value = Number(head[i]);
    if (!head[i]?.trim() || !(value >= low && value <= high))
      throw fault('line 1', `has no ${what} in place ${i + 1}, expected a number from ${low} to ${high}`);
    return value;
  };
  return {
    lines,
    number,
    place: head[1]?.trim() ?? '',
    latitude_deg: number(6, 'latitude', -90, 90),
    longitude_deg: number(7, 'longitude', -180, 180),
    elevation_m: number(9, 'elevation', -1000, 9999),
  };
}

/**
 * Reads an EnergyPlus weather file (EPW): eight header lines, then one line an hour, columns as in the EnergyPlus
 * auxiliary programs manual: month second, dry bulb degC seventh, global horizontal Wh/m2 fourteenth.
 * @throws FaultError by line
 */
export function readEpw(text: string): EpwClimate {
  const { lines, place, latitude_deg, longitude_deg, elevation_m } = epwHead(text);

  const sun = new Float64Array(12);
  const sunHours = new Float64Array(12);
  const heat = new Float64Array(12);
  const heatHours = new Float64Array(12);
  let hours = 0;
  let low = Infinity;
  let high = -Infinity;
  lines.slice(HEADER_LINES).forEach((line, i) => {
    if (line.trim() === '') return;
    const cells = line.split(',');
    const at = `line ${i + HEADER_LINES + 1}`;
    const month = Number(cells[MONTH]) - 1;
    if (!Number.isInteger(month) || month < 0 || month > 11)
      throw fault(at, 'has no month in its second place, expected 1 to 12');
    const temperature = Number(cells[DRY_BULB_C] || Number.NaN);
    const light = Number(cells[GLOBAL_WH_M2] || Number.NaN);
    if (!Number.isFinite(temperature) || !Number.isFinite(light))
      throw fault(at, 'lacks temperature or sun, expected numbers in places 7 and 14');
    hours += 1;
    if (temperature < NO_TEMPERATURE) {
      heat[month] = (heat[month] ?? 0) + temperature;
      heatHours[month] = (heatHours[month] ?? 0) + 1;
      low = Math.min(low, temperature);
      high = Math.max(high, temperature);
    }
    if (light < NO_SUN) {
      sun[month] = (sun[month] ?? 0) + light;
      sunHours[month] = (sunHours[month] ?? 0) + 1;
    }
  });
  if (hours < HOURS || sunHours.includes(0) || heatHours.includes(0))
    throw fault(
      'file',
      `holds ${hours} hours, expected a whole year of ${HOURS} with sun and temperature in each month`,
    );
  return {
    place,
    latitude_deg,
    longitude_deg,
    elevation_m,
    globalHorizontal_kWh_m2_d: [...sun].map((sum, i) => round(((sum / (sunHours[i] ?? 1)) * 24) / 1000, 100)),
    meanTemp_C: [...heat].map((sum, i) => round(sum / (heatHours[i] ?? 1), 10)),
    low_C: low,
    high_C: high,
  };
}

const round = (value: number, per: number) => Math.round(value * per) / per || 0;
