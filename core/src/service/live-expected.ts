import { expectedTests, judgeReading, type Judgement } from '../readings/expect';
import type { Conditions } from '../readings/conditions';
import type { Quantity } from '../readings/quantities';
import type { ExpectedTest } from '../readings/row';
import type { Model } from '../system/model';
import { cablesOnBank } from './bank-cables';

/** What live values should be, by what the system says of itself in the same moment (docs/live.md). */

/** One value as it was heard. */
export interface Heard {
  subject: string;
  quantity: Quantity;
  value: number;
  /** Milliseconds since 1970. */
  at: number;
}
/** A value with what the model expects of it. */
export interface LiveExpected {
  subject: string;
  quantity: Quantity;
  expected: number | null;
  low: number | null;
  high: number | null;
  judged: Judgement;
}

/**
 * A small current does not tell that a joint is good; a drop of many times its band tells all the same that it is bad.
 */
const lostFar = ({ quantity, expected, high }: ExpectedTest, value: number): boolean =>
  quantity === 'drop_V' && expected !== null && high !== null && value > expected + FAR * (high - expected);
const FAR = 4;

/** Values this far apart are of one moment, ms. */
const SAME_MS = 3 * 60_000;
/** A counter says the charge for longer. */
const CHARGE_MS = 30 * 60_000;
/** Hold whatever the sun and the loads do. */
const ALWAYS: ReadonlySet<Quantity> = new Set(['ac_V', 'ac_Hz']);

/**
 * What is expected, of those values of which anything can be: an AC voltage always; the volts of a bank that is
 * discharged by a known current at a known charge; the drop of a cable that carries all of that current. Of the sun
 * nothing is known here, so of what it drives nothing is said.
 */
export function liveExpected(model: Model, heard: readonly Heard[]): LiveExpected[] {
  const { system } = model;
  const near = (quantity: Quantity, at: number, within: number) =>
    heard.find((one) => one.quantity === quantity && Math.abs(one.at - at) <= within)?.value;
  const rows = new Map<string, ExpectedTest[]>();
  const rowOf = (quantity: Quantity, subject: string, given: Partial<Conditions>) => {
    const key = JSON.stringify([quantity, given]);
    const found = rows.get(key) ?? expectedTests(model, given, (one) => one === quantity).tests;
    rows.set(key, found);
    return found.find((row) => row.subject === subject && row.position === undefined);
  };
  const cables = cablesOnBank(system);
  const conditionsFor = ({ subject, quantity, at }: Heard): Partial<Conditions> | null => {
    if (ALWAYS.has(quantity)) return {};
    const current = near('head_A', at, SAME_MS);
    if (current === undefined) return null;
    const flowing = { current_A: Math.abs(current) };
    // More than one cable on the bank: which carries how much is not heard.
    if (quantity === 'drop_V') return cables.length === 1 && cables[0]?.id === subject ? flowing : null;
    if (quantity !== 'load_V' || current >= 0) return null;
    const soc = near('head_soc', at, CHARGE_MS);
    const bank_C = near('temp_C', at, CHARGE_MS);
    return soc === undefined ? null : { ...flowing, soc, ...(bank_C === undefined ? {} : { ambient_C: bank_C }) };
  };
  return heard.flatMap((one): LiveExpected[] => {
    const { subject, quantity, value } = one;
    const given = conditionsFor(one);
    const row = given && rowOf(quantity, subject, given);
    if (!row || row.expected === null) return [];
    const { expected, high } = row;
    // Less than nothing is lost nowhere: a drop has an upper end alone.
    const low = quantity === 'drop_V' && (row.low ?? 0) < 0 ? null : row.low;
    const judged = lostFar(row, value) ? 'outside' : judgeReading(row, value);
    return [{ subject, quantity, expected, low, high, judged }];
  });
}
