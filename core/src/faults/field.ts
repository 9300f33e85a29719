import type { Grid, Mask, Place } from './grid';

/** How a value is weighed against what is predicted: on its own scale, by its ratio, or against a bound. */
export type Scale = 'plain' | 'ratio' | 'most' | 'least';

/** What one reading should be, over the part of the grid that it depends on. */
export interface Field {
  mask: Mask;
  scale: Scale;
  /** Predicted, in the reading's unit. */
  mu: Float64Array;
  /** Sigma, in the reading's unit; of ratios and bounds as a natural logarithm. */
  sigma: Float64Array;
}

/** A field from what is predicted at each place; null where nothing can be said. */
export function fieldOf(
  grid: Grid,
  mask: Mask,
  at: (place: Place) => { mu: number; sigma: number },
  scale: Scale = 'plain',
): Field | null {
  const length = grid.size(mask);
  const mu = new Float64Array(length);
  const sigma = new Float64Array(length);
  for (let index = 0; index < length; index++) {
    const found = at(grid.valuesAt(mask, index));
    if (!Number.isFinite(found.mu) || !(found.sigma > 0)) return null;
    mu[index] = found.mu;
    sigma[index] = found.sigma;
  }
  return { mask, scale, mu, sigma };
}

/** The same value everywhere. */
export const scalar = (grid: Grid, mu: number, sigma: number, scale: Scale = 'plain'): Field | null =>
  fieldOf(grid, 0, () => ({ mu, sigma }), scale);

/** Student's t with 4 degrees of freedom, its constant: ln(gamma(5/2) / (gamma(2) sqrt(4 pi))). */
const STUDENT_4 = Math.log(0.375);
/** A ratio is never below this: a reading of 0 is small, not infinitely small. */
const LEAST = 1e-9;

/** How far a value is from what is predicted, in sigmas, above it positive. */
export function sigmasOff({ scale, mu, sigma }: Field, index: number, value: number): number {
  const m = mu[index] ?? NaN;
  const s = sigma[index] ?? NaN;
  if (scale === 'plain') return (value - m) / s;
  const ratio = Math.log(Math.max(LEAST, Math.abs(value))) - Math.log(Math.max(LEAST, Math.abs(m)));
  if (scale === 'most') return Math.max(0, ratio) / s;
  if (scale === 'least') return Math.min(0, ratio) / s;
  return ratio / s;
}

/** Natural logarithm of the density of a value; of ratios over the logarithm of the value. */
export function logDensity(field: Field, index: number, value: number): number {
  const z = sigmasOff(field, index, value);
  return STUDENT_4 - Math.log(field.sigma[index] ?? NaN) - 2.5 * Math.log1p((z * z) / 4);
}

/** Insulation, neutral: within a factor of three. */
export const FACTOR = Math.log(3);
