import { SURGE, SURGE_UNTYPED } from '../power/loads';
import type { Load } from '../system/schema';

/** How many times its running power a load takes to start, as the plate or its type says; 1 where it has no start. */
export function startFactorOf({ surge_W, power_W, type }: Load): number {
  if (surge_W && power_W > 0) return surge_W / power_W;
  return type ? SURGE[type] : SURGE_UNTYPED;
}
