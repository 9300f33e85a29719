import { between } from '../numeric/between';
import { aboveTheAir_kWh_m2_d } from './tilted';

/**
 * A climate where nothing better is at hand: zonal means by latitude and elevation. A planning value of our own, drawn
 * through published zonal averages; a coast, a valley or a desert is off it by a quarter and more. Whoever stores it
 * grades it `assumed`.
 */
export interface ClimateEstimate {
  globalHorizontal_kWh_m2_d: number[];
  meanTemp_C: number[];
  recordLow_C: number;
  recordHigh_C: number;
}

/** Share of the light above the air that reaches the level, mean of the year, by degrees from the equator. */
const CLEARNESS = [
  [0, 0.5],
  [20, 0.56],
  [30, 0.56],
  [40, 0.5],
  [50, 0.42],
  [60, 0.4],
  [90, 0.42],
] as const;
/** Clearer in summer than in winter by plus and minus this. */
const CLEARNESS_SWING = [
  [0, 0],
  [15, 0],
  [40, 0.05],
  [90, 0.06],
] as const;
/** Mean of the year at sea level, degC. */
const MEAN_C = [
  [0, 27],
  [20, 25],
  [30, 20],
  [40, 14],
  [50, 9],
  [60, 3],
  [70, -7],
  [90, -22],
] as const;
/** Half of what lies between the means of January and July, K. */
const SWING_K = [
  [0, 1],
  [20, 4],
  [30, 7],
  [40, 9],
  [50, 9],
  [60, 10],
  [70, 14],
  [90, 16],
] as const;
/** Standard atmosphere. */
const LAPSE_K_M = 0.0065;
const COLDER_THAN_MEAN_K = 20;
const HOTTER_THAN_MEAN_K = 16;

/** For a latitude of -90 to 90 degrees, elevation in m. */
export function estimateClimate(latitude_deg: number, elevation_m = 0): ClimateEstimate {
  const away = Math.abs(latitude_deg);
  const south = latitude_deg < 0;
  const clearness = between(CLEARNESS, away);
  const swing = between(CLEARNESS_SWING, away);
  const mean = between(MEAN_C, away) - LAPSE_K_M * elevation_m;
  const amplitude = between(SWING_K, away);
  // 1 in the middle of summer, -1 in the middle of winter; temperature follows the sun by a month.
  const season = (month: number, late: number) =>
    Math.cos(((month - (6.7 + late)) / 12) * 2 * Math.PI) * (south ? -1 : 1);
  const months = Array.from({ length: 12 }, (_, i) => i + 1);
  const meanTemp_C = months.map((month) => tenth(mean + amplitude * season(month, 0.6)));
  return {
    globalHorizontal_kWh_m2_d: months.map((month) =>
      tenth(aboveTheAir_kWh_m2_d(latitude_deg, month) * (clearness + swing * season(month, 0))),
    ),
    meanTemp_C,
    recordLow_C: Math.floor(Math.min(...meanTemp_C) - COLDER_THAN_MEAN_K),
    recordHigh_C: Math.ceil(Math.max(...meanTemp_C) + HOTTER_THAN_MEAN_K),
  };
}

const tenth = (value: number) => Math.round(value * 10) / 10 || 0;
