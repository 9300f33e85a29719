import { DAYS_Y, HOURS_Y } from '../sun/calendar';
import { type YearPlan } from './setup';

/**
 * The hours of a year (docs/year.md, sections 3 to 6). Typed arrays that are made once and written over; nothing is allocated per
 * hour, and the same run twice gives the same numbers to the last bit.
 */

/** What is summed up by month, in this order. Wh, L, hours. */
export const SUMS = {
  harvest: 0,
  used: 1,
  unserved: 2,
  unused: 3,
  clipped: 4,
  generator: 5,
  generator_h: 6,
  generator_L: 7,
  engine: 8,
  losses: 9,
  belowDepth_h: 10,
  off_h: 11,
  coldCharge_h: 12,
  inlet: 13,
} as const;

/** How many sums a run keeps. */
export const SUM_COUNT = 14;

/** What the sky and the season give, hour by hour: written anew for each year's weather. */
export interface Given {
  /** W at the bank from all controllers, and what they could not put out. */
  available_W: Float64Array;
  excess_W: Float64Array;
  engine_W: Float64Array;
  /** The part of each hour in which the mains of a house are there, 0 to 1. */
  inlet: Float64Array;
  /** Hours in which somebody drives, whatever that brings: no generator runs beside it. */
  driving: Uint8Array;
  /** Of the bank, day by day: degC, the share of its capacity that is there, and the most that it takes, A. */
  bank_C: Float64Array;
  factor: Float64Array;
  most_A: Float64Array;
}

/** Room for what a year is given, hour by hour, W. */
export const emptyGiven = (): Given => ({
  available_W: new Float64Array(HOURS_Y),
  excess_W: new Float64Array(HOURS_Y),
  engine_W: new Float64Array(HOURS_Y),
  inlet: new Float64Array(HOURS_Y),
  driving: new Uint8Array(HOURS_Y),
  bank_C: new Float64Array(DAYS_Y),
  factor: new Float64Array(DAYS_Y),
  most_A: new Float64Array(DAYS_Y),
});

/** Where a run begins and ends, and what it leaves behind. */
export interface Run {
  /** Wh in the store, whether the inverter is off, whether the generator runs. */
  store_Wh: number;
  off: boolean;
  generating: boolean;
  /** By month: `[month * SUM_COUNT + sum]`, `[month * priorities + p]`. */
  sums: Float64Array;
  unservedBy: Float64Array;
  minSoc: Float64Array;
  /** The lowest state of charge of each day. */
  dayLow: Float64Array;
  discharged_Wh: number;
  /** The longest run of hours off or below depth. */
  worstStart_h: number;
  worstHours: number;
  /** Day by day: what the sums are made of, and how each day began. */
  days: Days;
}

interface Days {
  /** `[day * SUM_COUNT + sum]`, `[day * priorities + p]`. */
  sums: Float64Array;
  unservedBy: Float64Array;
  discharged_Wh: Float64Array;
  /** The longest spell that a day saw, however far back it began, and the hour at which it began. */
  worst: Float64Array;
  worstStart_h: Float64Array;
  /** At the day's start: the store, off, generating, and how long a spell has lasted. */
  store_Wh: Float64Array;
  off: Uint8Array;
  generating: Uint8Array;
  spell: Float64Array;
}

/** A run before its first hour, the bank full. */
export const emptyRun = (plan: YearPlan): Run => ({
  store_Wh: plan.bank.capacity_Wh,
  off: false,
  generating: false,
  sums: new Float64Array(12 * SUM_COUNT),
  unservedBy: new Float64Array(12 * plan.demand.priorities.length),
  minSoc: new Float64Array(12),
  dayLow: new Float64Array(DAYS_Y),
  discharged_Wh: 0,
  worstStart_h: 0,
  worstHours: 0,
  days: {
    sums: new Float64Array(DAYS_Y * SUM_COUNT),
    unservedBy: new Float64Array(DAYS_Y * plan.demand.priorities.length),
    discharged_Wh: new Float64Array(DAYS_Y),
    worst: new Float64Array(DAYS_Y),
    worstStart_h: new Float64Array(DAYS_Y),
    store_Wh: new Float64Array(DAYS_Y),
    off: new Uint8Array(DAYS_Y),
    generating: new Uint8Array(DAYS_Y),
    spell: new Float64Array(DAYS_Y),
  },
});

/** Hour by hour, for a screen or a file. */
export interface Trace {
  soc: Float64Array;
  demand_W: Float64Array;
  served_W: Float64Array;
  generator: Uint8Array;
}

/** Room for what is traced, hour by hour. */
export const emptyTrace = (): Trace => ({
  soc: new Float64Array(HOURS_Y),
  demand_W: new Float64Array(HOURS_Y),
  served_W: new Float64Array(HOURS_Y),
  generator: new Uint8Array(HOURS_Y),
});
