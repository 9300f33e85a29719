import { LIGHT_ERROR, type Conditions } from '../readings/conditions';

/**
 * What nobody knows and all readings share: the gain of the light, the cells' temperature, the state of charge, the
 * bank's resistance, what runs. Marginalised over a small grid (docs/faults.md); a reading depends on some of them alone.
 */

/** The unknowns, in the order in which a cell of the grid counts them. */
export const AXES = ['gain', 'cell', 'soc', 'ohm', 'load'] as const;
export type Axis = (typeof AXES)[number];
/** Which of them a reading depends on. */
export type Mask = number;
/** Each of them as a bit. */
export const MASK: Readonly<Record<Axis, Mask>> = { gain: 1, cell: 2, soc: 4, ohm: 8, load: 16 };
/** All of them. */
export const ALL: Mask = (1 << AXES.length) - 1;

/** A grid: the values of each axis with their weights, and for each mask where a cell of all axes lies in it. */
export interface Grid {
  /** Of the light's error: sigmas. */
  gain: readonly number[];
  /** K beside what is taken. */
  cell: readonly number[];
  soc: readonly number[];
  /** Factors of the bank's resistance. */
  ohm: readonly number[];
  /** A that run on the DC side. */
  load: readonly number[];
  cells: number;
  /** By mask: index into a field of that mask, for each cell. */
  at(mask: Mask): Int32Array;
  /** By mask: how many values a field of it has. */
  size(mask: Mask): number;
  /** The values of the axes at an index of a mask; axes outside it at their middle. */
  valuesAt(mask: Mask, index: number): Place;
  /** Weight of each cell without the state of charge, which each cause knows its own way. */
  weight: Float64Array;
  /** Index on the axis of charge, for each cell. */
  socOf: Int32Array;
}
/** The unknowns at one place of the grid. */
export interface Place {
  gain: number;
  cell_K: number;
  soc: number;
  ohm: number;
  load_A: number;
}

/** Charge as it may be where nobody counted, and as it is where the bank is full. */
export const SOC_OPEN = Array.from({ length: 13 }, (_, i) => 0.2 + 0.0625 * i);
/** Charge of a full bank. */
export const SOC_FULL = [0.97, 0.985, 1];
const OHM = [0.75, 1, 1.33];
const LOAD_A = [0, 2.5, 5];
/** Sigma of the cells' temperature, K: half of the 4 K of Practice, D. */
const CELL_SIGMA_K = 2;
/** Steps of the light that are finer than a clamp tells strings apart. */
const GAIN_STEP = 0.035;

const gauss = (z: number) => Math.exp(-0.5 * z * z);
const normed = (weights: number[]) => {
  const sum = weights.reduce((all, one) => all + one, 0);
  return weights.map((one) => one / sum);
};

/** Sigma of the light by how it is known, as a share. */
export const gainSigma = (by: Conditions['irradianceBy']) => LIGHT_ERROR[by] / 2;

/** @param used the axes that any reading depends on; the others stand at their middle. @param sigma of the coarsest light */
export function gridOf(used: Mask, sigma: number): Grid {
  const steps = Math.max(2, Math.ceil((2 * sigma) / GAIN_STEP));
  const gain = used & MASK.gain ? Array.from({ length: 2 * steps + 1 }, (_, i) => (2 * (i - steps)) / steps) : [0];
  const cell = used & MASK.cell ? [-1.22 * CELL_SIGMA_K, 0, 1.22 * CELL_SIGMA_K] : [0];
  const soc = used & MASK.soc ? [...SOC_OPEN, ...SOC_FULL] : [SOC_OPEN[9] ?? 0.75, SOC_FULL[2] ?? 1];
  const ohm = used & MASK.ohm ? OHM : [1];
  const load = used & MASK.load ? LOAD_A : [0];
  const axes = [gain, cell, soc, ohm, load];
  const cells = axes.reduce((all, { length }) => all * length, 1);
  const gainWeight = normed(gain.map(gauss));
  // Three points with these weights have the spread of a normal error.
  const cellWeight = cell.length === 1 ? [1] : [0.336, 0.328, 0.336];
  const lengths = axes.map(({ length }) => length);
  /** Index on each axis of an index over the axes of a mask. */
  const split = (mask: Mask, index: number) => {
    let rest = index;
    return lengths.map((length, axis) => {
      if (!(mask & (1 << axis))) return null;
      const own = rest % length;
      rest = (rest - own) / length;
      return own;
    });
  };
  const { weight, socOf } = weightsOf(cells, (k) => split(ALL, k) as number[], [
    gainWeight,
    cellWeight,
    ohm.length === 1 ? [1] : [0.3, 0.4, 0.3],
    load.length === 1 ? [1] : [0.4, 0.3, 0.3],
  ]);
  const placeAt = (mask: Mask, index: number): Place => {
    const own = split(mask, index);
    const middle = (axis: number) => Math.floor((lengths[axis] ?? 1) / 2);
    const value = (axis: number, list: readonly number[]) => list[own[axis] ?? middle(axis)] ?? 0;
    return {
      gain: value(0, gain),
      cell_K: value(1, cell),
      soc: value(2, soc),
      ohm: value(3, ohm),
      load_A: value(4, load),
    };
  };
  const places = new Map<Mask, Place[]>();
  const maps = new Map<Mask, Int32Array>();
  const size = (mask: Mask) => lengths.reduce((all, length, axis) => (mask & (1 << axis) ? all * length : all), 1);
  return {
    gain,
    cell,
    soc,
    ohm,
    load,
    cells,
    size,
    at(mask) {
      const known = maps.get(mask);
      if (known) return known;
      const map = new Int32Array(cells);
      for (let k = 0; k < cells; k++) {
        let index = 0;
        let stride = 1;
        split(ALL, k).forEach((own, axis) => {
          if (!(mask & (1 << axis))) return;
          index += (own ?? 0) * stride;
          stride *= lengths[axis] ?? 1;
        });
        map[k] = index;
      }
      maps.set(mask, map);
      return map;
    },
    valuesAt(mask, index) {
      const list = places.get(mask) ?? [];
      places.set(mask, list);
      return (list[index] ??= placeAt(mask, index));
    },
    weight,
    socOf,
  };
}

/** Weight of each cell but for its charge, and where it lies on the axis of charge. */
function weightsOf(
  cells: number,
  split: (k: number) => number[],
  [ofGain, ofCell, ofOhm, ofLoad]: [number[], number[], number[], number[]],
) {
  const weight = new Float64Array(cells);
  const socOf = new Int32Array(cells);
  for (let k = 0; k < cells; k++) {
    const [g = 0, c = 0, s = 0, o = 0, l = 0] = split(k);
    weight[k] = (ofGain[g] ?? 0) * (ofCell[c] ?? 0) * (ofOhm[o] ?? 0) * (ofLoad[l] ?? 0);
    socOf[k] = s;
  }
  return { weight, socOf };
}

/** A grid of a single place: what a system really is, where it is known. */
export const onePlace = (place: Place): Grid => ({ ...gridOf(0, GAIN_STEP), size: () => 1, valuesAt: () => place });
