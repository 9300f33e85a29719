/**
 * How many systems a property is tried on: one in seven of those it is meant for, so that all checks together end
 * within a quarter of an hour. `PROPERTY_RUNS=1 npm test` tries all.
 */
export const runs = (all: number): number => Math.ceil(all * Number(process.env.PROPERTY_RUNS ?? 0.15));
