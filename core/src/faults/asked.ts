import type { Reading } from '../system/schema';
import type { Conditions } from '../readings/conditions';
import type { Quantity } from '../readings/quantities';
import type { Position } from '../readings/row';

/** One thing that was read, or can be: where, what, and under which conditions. */
export interface Asked {
  subject: string;
  quantity: Quantity;
  position?: Position | undefined;
  at: Conditions;
  /** True where the current that flows was recorded with it. */
  currentKnown: boolean;
}
/** A reading as it is weighed. */
export interface Read extends Asked {
  id: string;
  value: number;
  reading: Reading;
}
