import type { Quantity } from '../readings/quantities';

/** Five minutes of one quantity. */
export interface LiveStep {
  subject: string;
  quantity: Quantity;
  /** Its beginning, ms since 1970. */
  at: number;
  mean: number;
}

/** The length of a step, ms. */
export const STEP_MS = 5 * 60_000;

/** The means of one quantity of a part by their moments. */
export const courseOf = (
  steps: readonly LiveStep[],
  subject: string | undefined,
  quantity: Quantity,
): Map<number, number> =>
  new Map(
    steps.filter((step) => step.subject === subject && step.quantity === quantity).map(({ at, mean }) => [at, mean]),
  );
