/**
 * Student's t of two sides at 95 %, by degrees of freedom: the value that |t| passes in one case of twenty. Found by
 * bisection on the distribution itself, which for whole degrees is a finite sum (Abramowitz and Stegun 26.7.3 and 26.7.4).
 */
export function student95(freedom: number): number {
  const found = known.get(freedom);
  if (found !== undefined) return found;
  let [low, high] = [1.9, 13];
  for (let i = 0; i < 60; i++) {
    const middle = (low + high) / 2;
    if (within(middle, freedom) < 0.95) low = middle;
    else high = middle;
  }
  const value = (low + high) / 2;
  known.set(freedom, value);
  return value;
}
const known = new Map<number, number>();

/** The share of cases in which |t| is at most so large. */
function within(t: number, freedom: number): number {
  const angle = Math.atan(t / Math.sqrt(freedom));
  const cosine = Math.cos(angle);
  const odd = freedom % 2 === 1;
  let term = odd ? cosine : 1;
  let sum = freedom === 1 ? 0 : term;
  for (let k = odd ? 3 : 2; k <= freedom - 2; k += 2) {
    term *= ((k - 1) / k) * cosine * cosine;
    sum += term;
  }
  return odd ? (2 / Math.PI) * (angle + Math.sin(angle) * sum) : Math.sin(angle) * sum;
}
