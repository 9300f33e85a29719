import { doubleAt } from '../numeric/element';
import { SLOTS, type YearPlan } from './setup';

/** Of one rank's loads what stays on the bank while the mains carry as much as they can, the first rank first. */
export function leftOnBank(
  { demand: { bank_W, carried_W, carriedBank_W } }: YearPlan,
  slot: number,
  rank: number,
  ac_W: number,
  part: number,
): number {
  let left = ac_W;
  for (let p = 0; p <= rank; p++) {
    const at = p * SLOTS + slot;
    const ac = doubleAt(carried_W, at);
    const taken = ac * part < left ? ac * part : left;
    left -= taken;
    if (p === rank) return doubleAt(bank_W, at) - (ac > 0 ? (doubleAt(carriedBank_W, at) * taken) / ac : 0);
  }
  return 0;
}
