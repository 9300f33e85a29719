import { CHEMISTRY, familyOf } from '../chemistry/chemistry';
import { usable_Wh } from '../power/energy';
import { createLedger } from '../ledger/ledger';
import { worseDay_Wh } from '../power/loads';
import type { Model } from '../system/model';
import type { Bank, Chemistry } from '../system/schema';

/** What a bank costs over the years, with its replacements; in today's money. */
export interface WholeLife {
  /** Years until the cycles or the calendar end it, whichever is sooner. */
  life_y: number;
  /** Sets of it that the horizon takes, the first included. */
  sets: number;
  total: number;
  /** The whole of it over the usable kWh that it holds. */
  perUsable_kWh: number;
  /** Over every kWh that passes through it in the horizon. */
  perDelivered_kWh: number;
}

/** Years over which alternatives are compared; planning value. */
export const HORIZON_Y = 15;
const DAYS_Y = 365.25;

/**
 * Cycles that a chemistry stands at a depth: N = N50 (.5 / D)^p through the two points of its table (engine, section 4).
 */
export function cyclesAt(chemistry: Chemistry, depth: number): number {
  const { cyclesAt50, cyclesAt80 } = CHEMISTRY[chemistry];
  const p = Math.log(cyclesAt50 / cyclesAt80) / Math.log(0.8 / 0.5);
  return cyclesAt50 * (0.5 / depth) ** p;
}

/** Calendar years at a mean temperature: lead halves for every 10 K above 25 degC. */
export function calendarLife_y(chemistry: Chemistry, mean_C = 25): number {
  const { calendar_y } = CHEMISTRY[chemistry];
  return !familyOf(chemistry).halvesInHeat ? calendar_y : calendar_y * 0.5 ** (Math.max(0, mean_C - 25) / 10);
}

/** What a whole life is reckoned from. */
export interface LifeQuestion {
  chemistry: Chemistry;
  /** Usable Wh at the depth that is allowed. */
  usable_Wh: number;
  /** The depth that the usable Wh stand for, 0 to 1. */
  depth: number;
  /** Wh a day that pass through the bank. */
  through_Wh_d: number;
  price: number;
  horizon_y?: number;
  mean_C?: number;
}

/** Whole-life price of a bank; null where nothing usable stands against the price. */
export function wholeLife({
  chemistry,
  usable_Wh: usable,
  depth,
  through_Wh_d,
  price,
  horizon_y = HORIZON_Y,
  mean_C = 25,
}: LifeQuestion): WholeLife | null {
  if (!(usable > 0) || !(depth > 0) || !(price >= 0) || !(horizon_y > 0)) return null;
  // A day that takes more than the bank holds fills and empties it once and more.
  const daily = Math.min(depth, (through_Wh_d / usable) * depth);
  const cyclesADay = daily > 0 ? Math.max(1, through_Wh_d / usable) : 0;
  const byCycles = daily > 0 ? cyclesAt(chemistry, daily) / (cyclesADay * DAYS_Y) : Infinity;
  const life_y = Math.min(byCycles, calendarLife_y(chemistry, mean_C));
  const sets = Math.max(1, Math.ceil(horizon_y / life_y - 1e-9));
  const total = sets * price;
  const delivered_kWh = (through_Wh_d * DAYS_Y * horizon_y) / 1000;
  return {
    life_y,
    sets,
    total,
    perUsable_kWh: (1000 * total) / usable,
    perDelivered_kWh: delivered_kWh > 0 ? total / delivered_kWh : Infinity,
  };
}

/** A bank of a model over its life at a price; half of what is used goes through it, the engine's own planning share. */
export function lifeOfBank(model: Model, bank: Bank, price: number, horizon_y = HORIZON_Y): WholeLife | null {
  const io = createLedger(model);
  const day = worseDay_Wh(io);
  const usable = usable_Wh(io, { ...bank, age_y: 0, health_pct: 100 }, day);
  if (io.missing.size > 0) return null;
  const depth = model.schools[familyOf(bank.chemistry).depthSchool] ?? CHEMISTRY[bank.chemistry].depth;
  const temps = model.site.climate?.meanTemp_C;
  const mean_C = temps ? temps.reduce((sum, each) => sum + each, 0) / temps.length : 25;
  return wholeLife({
    chemistry: bank.chemistry,
    usable_Wh: usable,
    depth,
    through_Wh_d: 0.5 * day,
    price,
    horizon_y,
    mean_C,
  });
}

/** What is paid now and would not be: fuel, the generator's own wear, a bill. */
export interface Spending {
  /** Hours a year that the generator runs, litres an hour, and the price of a litre. */
  generator_h_y?: number | null;
  fuel_L_h?: number | null;
  fuelPrice_L?: number | null;
  /** Service and wear per hour. */
  wear_h?: number | null;
  bill_month?: number | null;
}

/** Money a year; parts that are not known count nothing, and are named. */
export function yearly({ generator_h_y, fuel_L_h, fuelPrice_L, wear_h, bill_month }: Spending): {
  total: number;
  fuel: number | null;
  wear: number | null;
  bill: number | null;
} {
  const product = (...factors: (number | null | undefined)[]) =>
    factors.every((factor): factor is number => factor !== null && factor !== undefined)
      ? factors.reduce((value, factor) => value * factor, 1)
      : null;
  const fuel = product(generator_h_y, fuel_L_h, fuelPrice_L);
  const wear = product(generator_h_y, wear_h);
  const bill = product(bill_month, 12);
  return { fuel, wear, bill, total: (fuel ?? 0) + (wear ?? 0) + (bill ?? 0) };
}

/** Years after which an outlay is earned back; null where nothing is saved. */
export function payback_y(outlay: number, saved_y: number): number | null {
  return saved_y > 0 ? outlay / saved_y : null;
}
