import { between } from '../numeric/between';

/** Tables that a single rule reads. Planning values; each with its source. */

/** Freezing point of lead acid by state of charge: Vinal, Storage Batteries, table of sulphuric acid by density. */
const FREEZES: readonly (readonly [charge: number, t_C: number])[] = [
  [0, -8],
  [0.2, -13],
  [0.4, -19],
  [0.5, -23],
  [0.6, -28],
  [0.8, -40],
  [1, -58],
];
/**
 * Temperature at which lead of a charge freezes, degC.
 * @param charge share, 0 to 1
 */
export const freezes_C = (charge: number) => between(FREEZES, charge);

/** Input capacitors of inverters, uF per watt of rating, up to this nominal voltage; by boards that were opened. */
export const PRECHARGE_UF_W: readonly (readonly [upTo_V: number, uF_W: number])[] = [
  [15, 10],
  [30, 4],
  [Infinity, 1.5],
];
