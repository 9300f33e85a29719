import { doubleAt, elementAt } from '../numeric/element';
import { stringCurve } from '../pv/curve';
import { knotsOf } from '../pv/several';
import { cellsIn, lightOn, type Input } from './kept';
import type { LitHour } from './light';

/**
 * A quick figure for what wirings of the same modules give: of each module and hour its volts stand in a table by the
 * current, and a string is their sum. It only says which wirings are worth working out by the curves themselves.
 */

type Strings = Input['strings'];
type Slot = Strings[number][number];

/** The volts of every module of an input in one hour, at the same currents, which rise. */
interface Table {
  days: number;
  amps: Float64Array;
  volts: Map<Slot, Float64Array>;
  /** The volts at which strings are added up; pwm: one. */
  looks: Float64Array;
}

/** Volts at which the currents of strings in parallel are added, from the fewest that the controller works at. */
const LOOKS = 40;

/** @returns Wh of the hours given, for the modules of the input wired in any other way; to be compared, not to be told */
export function quickScore(
  input: Input,
  hours: readonly LitHour[],
  skies: readonly number[],
): (strings: Strings) => number {
  const slots = input.strings.flat();
  const tables = hours.map((hour) => tableOf(input, slots, hour, skies));
  const known = new Map<string, Float64Array[]>();
  /** The currents of a string, hour by hour: two modules exchanged leave all other strings as they are. */
  const currentsOf = (string: Strings[number]): Float64Array[] => {
    const key = string
      .map((slot) => slots.indexOf(slot))
      .sort((a, b) => a - b)
      .join();
    const found = known.get(key) ?? tables.map((table) => currents(string, table));
    known.set(key, found);
    return found;
  };
  return (strings) => {
    const each = strings.map(currentsOf);
    return tables.reduce(
      (sum, { days, looks }, hour) =>
        sum +
        days *
          most(
            each.map((one) => elementAt(one, hour)),
            looks,
            input,
          ),
      0,
    );
  };
}

function tableOf(input: Input, slots: readonly Slot[], hour: LitHour, skies: readonly number[]): Table {
  const cell_C = cellsIn(input, hour);
  const curves = slots.map(({ module, face }) =>
    stringCurve([{ module, cell_C, irradiance_W_m2: lightOn(hour, skies, face) }]),
  );
  const rising = Float64Array.from(knotsOf(curves.map(({ most_A }) => most_A).sort((a, b) => a - b)));
  const highest = Math.max(
    ...input.strings.map(({ length }) => length * Math.max(...curves.map(({ open_V }) => open_V))),
  );
  const looks = input.type === 'pwm' ? 0 : LOOKS;
  return {
    days: hour.days,
    amps: rising,
    volts: new Map(slots.map((slot, i) => [slot, rising.map((current) => elementAt(curves, i).rough(current))])),
    looks: Float64Array.from({ length: looks + 1 }, (_, k) => input.volts + ((highest - input.volts) * k) / LOOKS),
  };
}

/** The current of a string at each of the volts looked at, straight between two of its table. */
function currents(string: Strings[number], { amps, volts, looks }: Table): Float64Array {
  const sum = new Float64Array(amps.length);
  for (const slot of string) {
    const own = volts.get(slot);
    if (own) for (let k = 0; k < sum.length; k++) sum[k] = doubleAt(sum, k) + doubleAt(own, k);
  }
  const out = new Float64Array(looks.length);
  let k = sum.length - 2;
  for (let look = 0; look < looks.length; look++) {
    const v = doubleAt(looks, look);
    // The more volts, the less current.
    while (k > 0 && doubleAt(sum, k) < v) k--;
    const [high, low] = [doubleAt(sum, k), doubleAt(sum, k + 1)];
    const share = Math.min(1, Math.max(0, (high - v) / (high - low)));
    out[look] = doubleAt(amps, k) + share * (doubleAt(amps, k + 1) - doubleAt(amps, k));
  }
  return out;
}

/** The most watts of some strings in parallel; pwm: those at its volts. */
function most(strings: readonly Float64Array[], looks: Float64Array, { type, worth_V }: Input): number {
  let best = 0;
  for (let look = 0; look < looks.length; look++) {
    let amps = 0;
    for (const string of strings) amps += doubleAt(string, look);
    const watts = amps * (type === 'pwm' ? worth_V : doubleAt(looks, look));
    if (watts > best) best = watts;
  }
  return best;
}
