import { elementAt } from '../numeric/element';
import type { Controller } from '../system/schema';
import type { BankNow } from './altered';
import type { Place } from './grid';
import type { Held } from './sun';

/** The moment at which all controllers, what runs and the bank agree. */

/** What a controller shows. */
export interface Given {
  out_A: number;
  pv_V: number;
  pv_A: number;
  /** At its own battery terminals, V. */
  volts: number;
  /** True where the bank holds it back. */
  bank: boolean;
}

const ROUNDS = 4;

/** A controller with its arrays, its way to the bank and its limit. */
export interface Input {
  controller: Controller;
  held: Held;
  pwm: boolean;
  efficiency: number;
  own_ohm: number;
  shared_ohm: number;
  limit_A: number;
}

/** What one of the controllers shows once everything has settled, place by place. */
export function settler(inputs: readonly Input[], which: number): (bank: BankNow, place: Place) => Given | null {
  const n = inputs.length;
  const [amps, volts] = [new Float64Array(n), new Float64Array(n)];
  const working = new Map<number, { v: Float64Array; i: Float64Array }>();
  // Neighbouring places have the same light.
  const workingAt = ({ gain, cell_K }: Place) => {
    const known = working.get(gain);
    if (known) return known;
    const made = {
      v: Float64Array.from(inputs, ({ held }) => held.v(gain, cell_K)),
      i: Float64Array.from(inputs, ({ held }) => Math.max(0, held.i(gain, cell_K))),
    };
    working.set(gain, made);
    return made;
  };
  return (bank: BankNow, place: Place): Given | null =>
    settled(inputs, which, bank, place, workingAt(place), amps, volts);
}

function settled(
  inputs: readonly Input[],
  which: number,
  bank: BankNow,
  place: Place,
  { v, i }: { v: Float64Array; i: Float64Array },
  amps: Float64Array,
  volts: Float64Array,
): Given | null {
  const n = inputs.length;
  amps.fill(0);
  const draw = (posts_V: number, bank_A: number) => {
    let sum = 0;
    for (let c = 0; c < n; c++) {
      const { shared_ohm, own_ohm, pwm, efficiency, limit_A } = elementAt(inputs, c);
      const at_V = Math.max(1, posts_V + bank_A * shared_ohm + (amps[c] ?? 0) * own_ohm);
      const could_A = pwm ? (i[c] ?? 0) : ((v[c] ?? 0) * (i[c] ?? 0) * efficiency) / at_V;
      volts[c] = at_V;
      amps[c] = Math.min(could_A, limit_A);
      sum += amps[c] ?? 0;
    }
    return sum;
  };
  let into_A = 0;
  let sum = 0;
  for (let round = 0; round < ROUNDS; round++) {
    const flows = Math.max(0, into_A);
    sum = draw(bank.posts.volts(flows), flows);
    into_A = Math.min(sum - place.load_A, 4 * Math.max(1, bank.takes_A));
  }
  const full = sum - place.load_A > bank.takes_A;
  if (full) sum = draw(bank.posts.absorb_V, bank.takes_A);
  const input = inputs[which];
  const own_A = amps[which] ?? 0;
  if (!input) return null;
  const wanted_A = place.load_A + bank.takes_A;
  const out_A = full && sum > 0 ? Math.min(own_A, (wanted_A * own_A) / sum) : own_A;
  const [best_V, best_A, at_V] = [v[which] ?? 0, i[which] ?? 0, volts[which] ?? 1];
  const could_W = best_V * best_A;
  const takes_W = input.pwm ? out_A * best_V : (out_A * at_V) / input.efficiency;
  const share = could_W > 0 ? Math.min(1, takes_W / could_W) : 1;
  const pv_V = best_V * (share < 1 - 1e-6 ? input.held.backed(share) : 1);
  return {
    out_A,
    pv_V,
    pv_A: input.pwm ? out_A : pv_V > 0 ? takes_W / pv_V : 0,
    volts: at_V,
    bank: full && out_A < own_A * (1 - 1e-6),
  };
}
