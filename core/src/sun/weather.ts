import { faultAt, FaultError, faultsIn, type Fault } from '../system/faults';
import type { Model } from '../system/model';
import {
  dailyDiffuse,
  globalHours,
  hourAngle,
  MEAN_DAYS,
  monthlyDiffuse,
  normal_W_m2,
  RAD,
  solarDay,
  type SolarDay,
} from './day';
import { epwHead, HEADER_LINES, NO_SUN, NO_TEMPERATURE } from './epw';
import { sunPosition } from './position';
import { normals } from './random';
import { DAYS_Y, FIRST_DAY, HOURS_Y, MONTH_DAYS, MONTH_OF_DAY } from './calendar';

/**
 * A year of hourly weather: the mean of each month, seeded bad and good spells, or a file's (docs/year.md). Duffie
 * and Beckman, Solar Engineering of Thermal Processes, for the day and its hours; Bendt et al. (1981) for the distribution
 * of daily clearness; Graham et al. (1988) for its memory; Erbs et al. (1982) for the diffuse share.
 */
export interface Weather {
  /** Global and diffuse on the level, W/m2, hour by hour. */
  ghi: Float64Array;
  dhi: Float64Array;
  /** Air, degC. */
  temp_C: Float64Array;
  /** Where the sun is at the middle of each hour, as a vector: up, north, east. */
  up: Float64Array;
  north: Float64Array;
  east: Float64Array;
  /** Beam above the air, W/m2, day by day. */
  normal_W_m2: Float64Array;
  /** South of the equator winter is from April to September. */
  latitude_deg: number;
}

/** What a site says of its climate. */
export interface Climate {
  latitude_deg: number;
  /** kWh/m2 a day on the level, month by month. */
  level_kWh_m2_d: readonly number[];
  meanTemp_C: readonly number[];
}

/** What the site says of its climate; null where something of it is missing. */
export const knownClimate = (model: Model): Climate | null =>
  faultsIn(() => climateOf(model)).length > 0 ? null : climateOf(model);

/** The climate that a year of hours has: of a file's weather. */
export function climateIn({ ghi, temp_C, latitude_deg }: Weather): Climate {
  const mean = (hours: Float64Array, month: number) => {
    const [from, count] = [24 * (FIRST_DAY[month] ?? 0), 24 * (MONTH_DAYS[month] ?? 0)];
    return hours.subarray(from, from + count).reduce((sum, each) => sum + each, 0) / count;
  };
  const months = MONTH_DAYS.map((_, month) => month);
  return {
    latitude_deg,
    level_kWh_m2_d: months.map((month) => (mean(ghi, month) * 24) / 1000),
    meanTemp_C: months.map((month) => mean(temp_C, month)),
  };
}

/** What the site says of its climate. @throws FaultError by field */
export function climateOf({ site }: Model): Climate {
  const faults: Fault[] = [];
  const { latitude_deg, climate } = site;
  const twelve = (
    path: string,
    months: readonly (number | null | undefined)[] | null | undefined,
    expected: string,
  ) => {
    if (!months || months.length !== 12 || months.some((each) => each === null || each === undefined))
      faults.push({ path, message: `is unknown, expected ${expected}` });
  };
  if (latitude_deg === null || latitude_deg === undefined)
    faults.push({ path: 'site.latitude_deg', message: 'is unknown, expected the latitude of the site' });
  twelve(
    'site.climate.globalHorizontal_kWh_m2_d',
    climate?.globalHorizontal_kWh_m2_d,
    'twelve figures of the sun on the level, one a month',
  );
  twelve('site.climate.meanTemp_C', climate?.meanTemp_C, 'twelve mean temperatures, one a month');
  if (faults.length > 0) throw new FaultError(faults);
  return {
    latitude_deg: latitude_deg ?? Number.NaN,
    level_kWh_m2_d: climate?.globalHorizontal_kWh_m2_d ?? [],
    meanTemp_C: climate?.meanTemp_C ?? [],
  };
}

/** Less than this above the air is no day, Wh/m2. */
const NO_SUN_WH = 50;
const emptyWeather = (latitude_deg: number): Weather => ({
  ghi: new Float64Array(HOURS_Y),
  dhi: new Float64Array(HOURS_Y),
  temp_C: new Float64Array(HOURS_Y),
  up: new Float64Array(HOURS_Y),
  north: new Float64Array(HOURS_Y),
  east: new Float64Array(HOURS_Y),
  normal_W_m2: new Float64Array(DAYS_Y),
  latitude_deg,
});

/** Where the sun stands through the 24 solar hours of a day. */
function placeSun(weather: Weather, at: number, day: SolarDay): void {
  for (let h = 0; h < 24; h++) {
    const w = hourAngle(h);
    weather.up[at + h] = day.sinPhi * day.sinDelta + day.cosPhi * day.cosDelta * Math.cos(w);
    weather.north[at + h] = day.cosPhi * day.sinDelta - day.sinPhi * day.cosDelta * Math.cos(w);
    weather.east[at + h] = -day.cosDelta * Math.sin(w);
  }
}

/** The weights of the 24 hours in a day's global and diffuse, before they are scaled to their sums. */
const total = new Float64Array(24);
const low = new Float64Array(24);

/**
 * A day's Wh/m2 spread over its hours: global after Collares-Pereira and Rabl (2.13.2), diffuse after Liu and Jordan
 * (2.13.4), both scaled to their sums.
 */
function spreadDay(weather: Weather, at: number, { sunset }: SolarDay, global_Wh: number, diffuse_Wh: number): void {
  const [a, b] = globalHours(sunset);
  let sumTotal = 0;
  let sumLow = 0;
  for (let h = 0; h < 24; h++) {
    const w = hourAngle(h);
    const lit = Math.abs(w) < sunset;
    const rise = lit ? Math.cos(w) - Math.cos(sunset) : 0;
    low[h] = rise;
    total[h] = rise * (a + b * Math.cos(w));
    sumLow += rise;
    sumTotal += total[h] ?? 0;
  }
  if (sumLow <= 0 || sumTotal <= 0) return;
  for (let h = 0; h < 24; h++) {
    weather.ghi[at + h] = (global_Wh * (total[h] ?? 0)) / sumTotal;
    weather.dhi[at + h] = (diffuse_Wh * (low[h] ?? 0)) / sumLow;
  }
}

/** The month's mean temperature with a daily wave of 4 K, warmest at three in the afternoon. */
function warm(weather: Weather, at: number, mean_C: number): void {
  for (let h = 0; h < 24; h++) weather.temp_C[at + h] = mean_C + 4 * Math.cos((2 * Math.PI * (h + 0.5 - 15)) / 24);
}

/** Every day of a month alike: Klein's mean day with the month's mean sun. No bad spells: for checks. */
export function meanWeather({ latitude_deg, level_kWh_m2_d, meanTemp_C }: Climate): Weather {
  const weather = emptyWeather(latitude_deg);
  MONTH_DAYS.forEach((days, month) => {
    const first = FIRST_DAY[month] ?? 0;
    const day = solarDay(latitude_deg, MEAN_DAYS[month] ?? MEAN_DAYS[0]);
    const level_Wh = 1000 * (level_kWh_m2_d[month] ?? 0);
    for (let d = first; d < first + days; d++) {
      weather.normal_W_m2[d] = day.normal_W;
      placeSun(weather, 24 * d, day);
      warm(weather, 24 * d, meanTemp_C[month] ?? Number.NaN);
      if (day.outside_Wh < NO_SUN_WH) continue;
      spreadDay(weather, 24 * d, day, level_Wh, level_Wh * monthlyDiffuse(level_Wh / day.outside_Wh, day.sunset));
    }
  });
  return weather;
}

/** Memory of the Gaussian behind the daily clearness from one day to the next (Graham et al. 1988). */
const MEMORY = 0.29;
const LEAST_K = 0.05;
/** Years over which a seed's mean comes back. */
const SETTLING_Y = 50;

/** Bendt's distribution for a month of mean clearness: the clearness that a share `u` of its days do not reach. */
function bendt(mean: number): { most: number; at(u: number): number } {
  const k = Math.max(LEAST_K + 0.01, mean);
  const most = Math.max(k + 0.01, 0.6313 + 0.267 * k - 11.9 * (k - 0.75) ** 8);
  const x = (most - LEAST_K) / (most - k);
  const g = -1.498 + (1.184 * x - 27.182 * Math.exp(-1.5 * x)) / (most - LEAST_K);
  // Where all days are as likely the exponentials leave nothing to divide by.
  if (Math.abs(g) < 1e-6) return { most, at: (u) => LEAST_K + u * (most - LEAST_K) };
  const [bottom, top] = [Math.exp(g * LEAST_K), Math.exp(g * most)];
  return { most, at: (u) => Math.log(bottom - u * (bottom - top)) / g };
}

/** The share of a standard normal below z (Abramowitz and Stegun 26.2.17, error below 7.5e-8). */
function below(z: number): number {
  const t = 1 / (1 + 0.2316419 * Math.abs(z));
  const tail =
    (Math.exp((-z * z) / 2) / Math.sqrt(2 * Math.PI)) *
    t *
    (0.31938153 + t * (-0.356563782 + t * (1.781477937 + t * (-1.821255978 + t * 1.330274429))));
  return z >= 0 ? 1 - tail : tail;
}

/** A seed's years of weather: the same seed gives the same years, whoever asks for which of them. */
export interface SeededWeather {
  /**
   * Weather of a year counted from 0, written over the one before: copy what is to be kept. Of some of its days alone, the
   * others keep what they had.
   */
  year(index: number, days?: readonly [first: number, end: number]): Weather;
  /** Daily clearness of a year before the distribution: standard normal, with memory. For tests of the memory. */
  gaussian(index: number): Float64Array;
}

/** A year of weather drawn by a seed, on the climate's monthly means. */
export function seededWeather({ latitude_deg, level_kWh_m2_d, meanTemp_C }: Climate, seed: number): SeededWeather {
  const days = Array.from({ length: DAYS_Y }, (_, d) => solarDay(latitude_deg, d + 1));
  const lit = days.map(({ outside_Wh }) => outside_Wh >= NO_SUN_WH);
  const next = normals(seed);
  const waves: Float64Array[] = [];
  let z = next();
  /** Years are drawn in their order, whichever is asked for: the memory goes on from one to the next. */
  const gaussian = (index: number): Float64Array => {
    while (waves.length <= index) {
      const wave = new Float64Array(DAYS_Y);
      for (let d = 0; d < DAYS_Y; d++) {
        wave[d] = z;
        z = MEMORY * z + Math.sqrt(1 - MEMORY ** 2) * next();
      }
      waves.push(wave);
    }
    return waves[index] ?? new Float64Array(DAYS_Y);
  };
  const outsideOf = (month: number) => {
    const first = FIRST_DAY[month] ?? 0;
    let sum = 0;
    for (let d = first; d < first + (MONTH_DAYS[month] ?? 0); d++) sum += lit[d] ? (days[d]?.outside_Wh ?? 0) : 0;
    return sum / (MONTH_DAYS[month] ?? 1);
  };
  const months = MONTH_DAYS.map((count, month) => {
    const outside = outsideOf(month);
    const level_Wh = 1000 * (level_kWh_m2_d[month] ?? 0);
    const shape = bendt(outside > 0 ? Math.min(0.99, level_Wh / outside) : 0);
    // What the distribution and the clipping lose is given back by a constant, so that the mean is the one that was given.
    const first = FIRST_DAY[month] ?? 0;
    const drawn: number[] = [];
    const weight: number[] = [];
    for (let year = 0; year < SETTLING_Y; year++) {
      const wave = gaussian(year);
      for (let d = first; d < first + count; d++) {
        drawn.push(shape.at(below(wave[d] ?? 0)));
        weight.push(lit[d] ? (days[d]?.outside_Wh ?? 0) : 0);
      }
    }
    const meanOf = (shift: number) => {
      let sum = 0;
      for (let i = 0; i < drawn.length; i++)
        sum += Math.max(LEAST_K, Math.min(shape.most, (drawn[i] ?? 0) + shift)) * (weight[i] ?? 0);
      return sum / drawn.length;
    };
    let [from, to] = [-1, 1];
    for (let i = 0; i < 15; i++) {
      const middle = (from + to) / 2;
      if (meanOf(middle) < level_Wh) from = middle;
      else to = middle;
    }
    return { shape, shift: (from + to) / 2 };
  });
  const weather = emptyWeather(latitude_deg);
  for (let d = 0; d < DAYS_Y; d++) {
    const day = days[d];
    if (!day) continue;
    weather.normal_W_m2[d] = day.normal_W;
    placeSun(weather, 24 * d, day);
    warm(weather, 24 * d, meanTemp_C[MONTH_OF_DAY[d] ?? 0] ?? Number.NaN);
  }
  return {
    gaussian,
    year(index, [first, end] = [0, DAYS_Y]) {
      const wave = gaussian(index);
      for (let d = first; d < end; d++) {
        const day = days[d];
        const month = months[MONTH_OF_DAY[d] ?? 0];
        if (!day || !month || !lit[d]) continue;
        const { shape, shift } = month;
        const k = Math.max(LEAST_K, Math.min(shape.most, shape.at(below(wave[d] ?? 0)) + shift));
        const global = k * day.outside_Wh;
        spreadDay(weather, 24 * d, day, global, global * dailyDiffuse(k, day.sunset));
      }
      return weather;
    },
  };
}

/**
 * The hours of an EnergyPlus weather file (EPW): columns as in the EnergyPlus auxiliary programs manual, dry bulb seventh,
 * global horizontal fourteenth, diffuse sixteenth; a line's hour is the hour ending, in the file's standard time. The sun
 * stands where it is at the hour's middle. A leap day is dropped.
 * @throws FaultError with the line's number
 */
export function epwWeather(text: string): Weather {
  const { lines, number, latitude_deg, longitude_deg, elevation_m } = epwHead(text);
  const zone_h = number(8, 'time zone', -12, 14);
  const weather = emptyWeather(latitude_deg);
  let count = 0;
  let clock = -1;
  let end = lines.length;
  while (end > 0 && lines[end - 1]?.trim() === '') end--;
  for (let i = HEADER_LINES; i < end; i++) {
    const at = `line ${i + 1}`;
    const cells = (lines[i] ?? '').split(',');
    const [year, month, day, hour] = [Number(cells[0]), Number(cells[1]), Number(cells[2]), Number(cells[3])];
    const length = (MONTH_DAYS[month - 1] ?? 0) + (month === 2 ? 1 : 0);
    if (!(month >= 1 && month <= 12 && day >= 1 && day <= length && hour >= 1 && hour <= 24))
      throw faultAt(at, 'has no month, day and hour in places 2 to 4, expected a clock of 1 to 24 hours');
    // Typical years are made of several: years may jump, the clock within them may not.
    const now = (month * 32 + day) * 25 + hour;
    if (now <= clock)
      throw faultAt(at, `is ${month}/${day} ${hour} h, expected a clock that runs on from the line before`);
    clock = now;
    if (month === 2 && day === 29) continue;
    const temp_C = cell(cells[6], at, 'temperature', 7);
    const ghi = cell(cells[13], at, 'global sun', 14);
    const dhi = cell(cells[15], at, 'diffuse sun', 16);
    if (temp_C >= NO_TEMPERATURE) throw faultAt(at, 'has no temperature (99.9), expected a number in place 7');
    if (ghi >= NO_SUN) throw faultAt(at, 'has no global sun (9999), expected a number in place 14');
    if (dhi >= NO_SUN) throw faultAt(at, 'has no diffuse sun (9999), expected a number in place 16');
    if (count >= HOURS_Y) throw faultAt(at, `is more than a year, expected ${HOURS_Y} hours`);
    weather.ghi[count] = Math.max(0, ghi);
    weather.dhi[count] = Math.max(0, dhi);
    weather.temp_C[count] = temp_C;
    const middle_ms = Date.UTC(year, month - 1, day, 0) + (hour - 0.5 - zone_h) * 3_600_000;
    const { zenith_deg, azimuth_deg } = sunPosition(latitude_deg, longitude_deg, middle_ms, elevation_m);
    const level = Math.sin(zenith_deg * RAD);
    weather.up[count] = Math.cos(zenith_deg * RAD);
    weather.north[count] = level * Math.cos(azimuth_deg * RAD);
    weather.east[count] = level * Math.sin(azimuth_deg * RAD);
    count += 1;
  }
  if (count !== HOURS_Y)
    throw faultAt(`line ${end}`, `ends the file after ${count} hours, expected ${HOURS_Y} (a leap day apart)`);
  for (let d = 0; d < DAYS_Y; d++) weather.normal_W_m2[d] = normal_W_m2(d + 1);
  return weather;
}

function cell(text: string | undefined, at: string, what: string, place: number): number {
  const value = Number(text?.trim() || Number.NaN);
  if (!Number.isFinite(value)) throw faultAt(at, `lacks ${what}, expected a number in place ${place}`);
  return value;
}
