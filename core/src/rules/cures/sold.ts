import { ratingsSold } from '../../conductors/fuses';

/** What can be bought: a specification names only sizes that exist. Planning lists, smallest first. */
export const CONTROLLER_OUTPUT_A = [10, 15, 20, 30, 40, 50, 60, 70, 80, 85, 100, 120] as const;
/** PV volts for which controllers are sold, V. */
export const CONTROLLER_PV_V = [50, 75, 100, 150, 175, 200, 250, 300, 450, 500, 600] as const;
/** PV current for which controllers are sold, A. */
export const CONTROLLER_PV_A = [10, 15, 20, 30, 35, 40, 50, 60, 70, 80, 100, 120] as const;
/** Outputs for which chargers are sold, A. */
export const CHARGER_A = [5, 10, 15, 20, 25, 30, 40, 50, 60, 70, 80, 100, 120, 150, 200] as const;
/** Ratings of fuses for strings of modules, A. */
export const PV_FUSE_A = ratingsSold('pv');

/** The smallest size sold that is not below `least`; undefined where nothing is sold that large. */
export const sizeSold = (sizes: readonly number[], least: number) => sizes.find((size) => size >= least - 1e-9);
/** Watts for which inverters are sold, W. */
export const INVERTER_W = [
  150, 300, 500, 700, 800, 1000, 1200, 1500, 1600, 2000, 2500, 3000, 3500, 4000, 5000, 6000, 8000, 10_000, 12_000,
  15_000,
] as const;
/** Ratings of shunts, A. */
export const SHUNT_A = [50, 100, 150, 200, 300, 500, 1000, 1500] as const;
