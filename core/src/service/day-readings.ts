import { c20_Ah } from '../bank/bank';
import { createLedger } from '../ledger/ledger';
import type { Quantity } from '../readings/quantities';
import type { Model } from '../system/model';
import type { Reading } from '../system/schema';
import { cablesOnBank } from './bank-cables';
import { median } from './fit';
import { courseOf, STEP_MS, type LiveStep } from './live-step';
import { sunReadings } from './sun-readings';

/**
 * A day of live values as the readings that a person would have taken: the bank at rest, under its steadiest large load, the
 * drop of its only cable, what the inverter makes, and what the sun brought under a clear sky. So trends and causes follow a
 * system that nobody visits (docs/live.md).
 */

/** A bank rests below its capacity over so many hours (engine 4), for so long. */
const RESTING_H = 100;
const RESTED_MS = 2 * 3_600_000;
/** A load worth judging: more than the capacity over so many hours, and steady over three steps to this share. */
const LOADED_H = 40;
const STEADY = 0.1;
/** Volts and hertz of a day: so many steps at least. */
const LEAST_STEPS = 12;

/**
 * @param day "2026-12-01", UTC: readings carry it as their visit, so that each finds the charge of its moment
 * @param steps from BEFORE_MS before that day to its end, any order
 */
export function dayReadings(model: Model, day: string, steps: readonly LiveStep[]): Reading[] {
  const begin = Date.parse(`${day}T00:00:00Z`);
  const own = steps.filter(({ at }) => at >= begin);
  return [...steadyReadings(model, day, own), ...sunReadings(model, day, steps)];
}

function steadyReadings(model: Model, day: string, steps: readonly LiveStep[]): Reading[] {
  const { bank, inverters } = model.system;
  const of = (subject: string | undefined, quantity: Quantity) => courseOf(steps, subject, quantity);
  const reading = (quantity: Quantity, subject: string, at: number, value: number, more: Partial<Reading> = {}) => ({
    id: `live-${day}-${quantity}-${subject}`,
    at: new Date(at).toISOString(),
    subject,
    quantity,
    value,
    ...more,
  });
  const found: Reading[] = [];
  for (const { id } of inverters ?? [])
    for (const quantity of ['ac_V', 'ac_Hz'] as const) {
      const values = [...of(id, quantity)];
      const [last] = values.at(-1) ?? [];
      // Of a device that is off the meter shows nothing.
      const on = values.filter(([, value]) => value > 1).map(([, value]) => value);
      if (on.length >= LEAST_STEPS && last !== undefined) found.push(reading(quantity, id, last, median(on)));
    }
  if (!bank) return found;
  const [volts, amps, charge, warmth] = (['load_V', 'head_A', 'head_soc', 'temp_C'] as const).map((quantity) =>
    of(bank.id, quantity),
  ) as [Map<number, number>, Map<number, number>, Map<number, number>, Map<number, number>];
  const rest_V = of(bank.id, 'rest_V');
  const capacity_Ah = c20_Ah(createLedger(model), bank);
  const moments = [...amps.keys()].sort((a, b) => a - b);
  const ambientAt = (at: number) => {
    const bank_C = warmth.get(at);
    return bank_C === undefined ? {} : { ambient_C: bank_C };
  };
  /** With the charge of the same moment beside it, as a visit of its own. */
  const withCharge = (name: string, one: Reading, at: number): Reading[] => {
    const soc = charge.get(at);
    if (soc === undefined) return [];
    const visit = `live-${day}-${name}`;
    const head = reading('head_soc', bank.id, at, soc, { id: `${visit}-head_soc`, visit });
    return [{ ...one, visit }, head];
  };

  const rested = restEnd(moments, amps, capacity_Ah / RESTING_H);
  const resting = rested === null ? undefined : (rest_V.get(rested) ?? volts.get(rested));
  if (rested !== null && resting !== undefined) {
    const conditions = { current_A: 0, rested_h: RESTED_MS / 3_600_000, ...ambientAt(rested) };
    found.push(...withCharge('rest', reading('rest_V', bank.id, rested, resting, { conditions }), rested));
  }
  const loaded = loadedAt(moments, amps, capacity_Ah / LOADED_H);
  if (loaded !== null) {
    const current_A = Math.abs(amps.get(loaded) ?? 0);
    const conditions = { current_A, ...ambientAt(loaded) };
    const under = volts.get(loaded);
    if (under !== undefined)
      found.push(...withCharge('load', reading('load_V', bank.id, loaded, under, { conditions }), loaded));
    // More than one cable on the bank: which carries how much is not heard.
    const cables = cablesOnBank(model.system);
    const [cable] = cables;
    const lost = cable && cables.length === 1 ? of(cable.id, 'drop_V').get(loaded) : undefined;
    if (cable && lost !== undefined) found.push(reading('drop_V', cable.id, loaded, lost, { conditions }));
  }
  return found;
}

/** The last moment of the day at which next to no current had flowed for long enough, without a gap; null: none. */
function restEnd(moments: readonly number[], amps: ReadonlyMap<number, number>, least_A: number): number | null {
  let end: number | null = null;
  let since: number | null = null;
  let before = Number.NEGATIVE_INFINITY;
  for (const at of moments) {
    const still = Math.abs(amps.get(at) ?? Infinity) < least_A;
    if (!still) since = null;
    else if (since === null || at - before > STEP_MS) since = at;
    if (since !== null && at - since >= RESTED_MS) end = at;
    before = at;
  }
  return end;
}

/** The middle of the three steps of the largest discharge that was steady; null: none was worth judging. */
function loadedAt(moments: readonly number[], amps: ReadonlyMap<number, number>, least_A: number): number | null {
  let best: number | null = null;
  let most = least_A;
  for (const at of moments) {
    const three = [at - STEP_MS, at, at + STEP_MS].map((one) => -(amps.get(one) ?? Number.NaN));
    const [low, high] = [Math.min(...three), Math.max(...three)];
    if (!(low > most) || high - low > STEADY * high) continue;
    [best, most] = [at, low];
  }
  return best;
}
