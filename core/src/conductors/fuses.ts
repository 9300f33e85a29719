import type { Protection } from '../system/schema';

/** Ratings that can be bought of any type, A: the largest fuse for a conductor is one of these. */
export const FUSES_A = [
  1, 2, 3, 5, 6, 7.5, 10, 12, 15, 16, 20, 25, 30, 32, 35, 40, 50, 60, 63, 70, 80, 90, 100, 110, 125, 150, 160, 175, 200,
  225, 250, 300, 315, 350, 400, 500, 600,
] as const;

type Type = Exclude<NonNullable<Protection['type']>, 'none'>;

/** Ratings sold of each type: a specification names only what exists. */
const RANGE: Record<Type, readonly number[]> = {
  blade: [1, 2, 3, 4, 5, 7.5, 10, 15, 20, 25, 30, 40],
  strip: [30, 40, 50, 60, 70, 80, 100, 125, 150, 175, 200, 250, 300],
  terminal: [30, 40, 50, 60, 75, 80, 90, 100, 125, 150, 175, 200, 225, 250, 300],
  'class-t': [60, 70, 80, 90, 100, 110, 125, 150, 175, 200, 225, 250, 300, 350, 400, 450, 500, 600],
  nh: [16, 20, 25, 35, 40, 50, 63, 80, 100, 125, 160, 200, 250, 315, 400],
  pv: [1, 2, 3, 4, 5, 6, 8, 10, 12, 15, 16, 20, 25, 30, 32],
  // Up to 63 A on the rail; above it the panel kind.
  breaker: [6, 10, 15, 16, 20, 25, 30, 32, 40, 50, 63, 80, 100, 125, 150, 175, 200, 250],
  'thermal-breaker': [30, 40, 50, 60, 80, 100, 120, 150, 200],
};
/** Ratings of a type that are sold, A, rising. */
export const ratingsSold = (type: Type) => RANGE[type];

/** Breaking capacity where none is recorded: [up to this bank emf in V, A], first row that reaches. */
const INTERRUPT: Record<Type, [emf_V: number, amps: number][]> = {
  blade: [[32, 1000]],
  strip: [[32, 2000]],
  terminal: [
    [14, 10_000],
    [32, 5000],
    [58, 2000],
  ],
  'class-t': [[125, 20_000]],
  nh: [[250, 25_000]],
  pv: [[1000, 20_000]],
  breaker: [[60, 3000]],
  'thermal-breaker': [
    [14, 3000],
    [28, 1500],
    [42, 1000],
  ],
};
/** A fault that a device breaks at this bank voltage; none listed: 0. */
export const interrupt_A = (type: Type, emf_V: number) => INTERRUPT[type].find(([upTo]) => emf_V <= upTo)?.[1] ?? 0;

/** Times its rating that clears a device quickly enough at the far end of the run. */
export const CLEARING: Record<Type, number> = {
  blade: 3,
  strip: 3,
  terminal: 3,
  'class-t': 4,
  nh: 4,
  pv: 4,
  'thermal-breaker': 4,
  breaker: 5,
};
/** Volts lost across a fuse, breaker or shunt at its rating; planning value. */
export const DEVICE_V = 0.05;

/** DC volts that each type is commonly sold for; planning values, as for its breaking capacity. */
export const SOLD_V: Record<Type, number> = {
  blade: 32,
  strip: 32,
  terminal: 58,
  'class-t': 125,
  nh: 250,
  // 10 x 38 mm, in a holder that cannot be touched.
  pv: 1000,
  breaker: 60,
  'thermal-breaker': 42,
};
