import { area_mm2, awgNumber } from './sizes';

/**
 * Current that a conductor may carry, A, copper at 30 degC. Planning values after the building code's table for up to
 * three conductors in conduit, its table for single conductors in free air, the boat builders' table of single
 * conductors, and the metric table for cable clipped direct. The local code decides.
 */
export type Basis = 'building' | 'vehicle' | 'metric';

/** Sizes as AWG number (1/0 is 0) or mm2, ascending in area. */
const SIZES: Record<Basis, number[]> = {
  building: [14, 12, 10, 8, 6, 4, 3, 2, 1, 0, -1, -2, -3],
  vehicle: [18, 16, 14, 12, 10, 8, 6, 4, 2, 1, 0, -1, -2, -3],
  metric: [1.5, 2.5, 4, 6, 10, 16, 25, 35, 50, 70, 95, 120, 150, 185, 240],
};
const COLUMNS: Record<Basis, [insulation_C: number, amps: number[]][]> = {
  building: [
    [60, [15, 20, 30, 40, 55, 70, 85, 95, 110, 125, 145, 165, 195]],
    [75, [20, 25, 35, 50, 65, 85, 100, 115, 130, 150, 175, 200, 230]],
    [90, [25, 30, 40, 55, 75, 95, 115, 130, 145, 170, 195, 225, 260]],
  ],
  vehicle: [
    [75, [10, 15, 20, 25, 40, 65, 95, 125, 170, 195, 230, 265, 310, 360]],
    [90, [20, 25, 30, 40, 55, 70, 100, 135, 180, 210, 245, 285, 330, 385]],
    [105, [20, 25, 35, 45, 60, 80, 120, 160, 210, 245, 285, 330, 385, 445]],
  ],
  metric: [
    [70, [19.5, 27, 36, 46, 63, 85, 112, 138, 168, 213, 258, 299, 344, 392, 461]],
    [90, [24, 33, 45, 58, 80, 107, 138, 171, 209, 269, 328, 382, 441, 506, 599]],
  ],
};
/** Building basis, single conductors in free air (a battery lead among them). */
const FREE_AIR: [insulation_C: number, amps: number[]][] = [
  [60, [25, 30, 40, 60, 80, 105, 120, 140, 165, 195, 225, 260, 300]],
  [75, [30, 35, 50, 70, 95, 125, 145, 170, 195, 230, 265, 310, 360]],
  [90, [35, 40, 55, 80, 105, 140, 165, 190, 220, 260, 300, 350, 405]],
];
/** Small sizes that are the same on every basis and column, by mm2. */
const SMALL_MM2: Record<string, number> = { '0.5': 6, '0.75': 9, '1': 12 };
/** Small sizes of the building basis. */
const SMALL_BUILDING: Record<string, number> = { '1.5mm2': 15, '16AWG': 13, '18AWG': 10 };

/** One entry of an ampacity table: A in the column of a temperature, degC. */
export interface TableEntry {
  amps: number;
  column_C: number;
  /** The tabulated size that was used, where it is not the conductor's own. */
  converted: string | null;
  /** The AWG column that a building conductor takes: small ones have a largest fuse of their own. */
  awg: number | null;
}

const name = (basis: Basis, size: number) =>
  basis === 'metric' ? `${size} mm2` : size <= 0 ? `${1 - size}/0 AWG` : `${size} AWG`;
const areaOf = (basis: Basis, size: number) =>
  basis === 'metric' ? size : area_mm2(size <= 0 ? `${1 - size}/0AWG` : `${size}AWG`);

/**
 * The tabulated ampacity of one copper conductor for an insulation class; null where the book knows none. Between
 * columns the lower one counts; below the first column of vehicle and metric nothing does.
 */
export function tabulated_A(basis: Basis, size: string, insulation_C: number, freeAir = false): TableEntry | null {
  const columns = freeAir && basis === 'building' ? FREE_AIR : COLUMNS[basis];
  const column = [...columns].reverse().find(([degrees]) => degrees <= insulation_C);
  if (!column) return null;
  const [column_C, amps] = column;
  const metric = awgNumber(size) === null;
  const small = metric ? SMALL_MM2[String(Number.parseFloat(size))] : undefined;
  if (small !== undefined) return { amps: small, column_C, converted: null, awg: null };
  const sizes = SIZES[basis];
  const area = area_mm2(size);
  let at = -1;
  // A whisker of rounding must not cost a size: the same AWG computed twice is the same area.
  sizes.forEach((other, i) => {
    if (areaOf(basis, other) <= area * (1 + 1e-9)) at = i;
  });
  const found = amps[at];
  const tabulated = sizes[at];
  if (found === undefined || tabulated === undefined) {
    const own = basis === 'building' ? SMALL_BUILDING[metric ? `${Number.parseFloat(size)}mm2` : size] : undefined;
    return own === undefined ? null : { amps: own, column_C, converted: null, awg: null };
  }
  const exact = Math.abs(areaOf(basis, tabulated) - area) < 1e-6 * area && metric === (basis === 'metric');
  return {
    amps: found,
    column_C,
    converted: exact ? null : name(basis, tabulated),
    awg: basis === 'metric' ? null : tabulated,
  };
}

/** Steps of a bundling table: up to this many current-carrying conductors, this factor. */
const BUNDLES: Record<Basis, [upTo: number, factor: number][]> = {
  building: [
    [3, 1],
    [6, 0.8],
    [9, 0.7],
    [20, 0.5],
    [30, 0.45],
    [40, 0.4],
    [Infinity, 0.35],
  ],
  vehicle: [
    [2, 1],
    [3, 0.7],
    [6, 0.6],
    [24, 0.5],
    [Infinity, 0.4],
  ],
  metric: [
    [2, 1],
    [4, 0.8],
    [6, 0.7],
    [8, 0.65],
    [10, 0.6],
    [12, 0.57],
    [18, 0.5],
    [Infinity, 0.45],
  ],
};
/** Share of its ampacity that a conductor keeps among so many that carry current; by the basis' own table. */
export const bundleFactor = (basis: Basis, conductors: number) =>
  BUNDLES[basis].find(([upTo]) => conductors <= upTo)?.[1] ?? 0.35;

/** Ampacity against copper of the same size; clad aluminium counts as aluminium. */
export const MATERIAL_FACTOR = { copper: 1, aluminium: 0.78, cca: 0.78 } as const;
/** Vehicle conductors that pass the engine space. */
export const ENGINE_SPACE_FACTOR = 0.85;
/** Building basis: the largest fuse of the three smallest columns, whatever the table says. */
export const SMALL_BUILDING_FUSE_A: Record<number, number> = { 14: 15, 12: 20, 10: 30 };
