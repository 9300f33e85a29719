import { elementAt } from '../numeric/element';
import { c20_Ah, cellsInSeries } from '../bank/bank';
import { chargingDevices } from '../bank/charging';
import { CHEMISTRY, familyOf, isLithium } from '../chemistry/chemistry';
import { createLedger } from '../ledger/ledger';
import { figure } from '../ledger/figures';
import { partTitle } from '../conductors/names';
import type { Model } from '../system/model';
import type { Bank } from '../system/schema';

/**
 * Two procedures by the clock: a capacity test and a charge acceptance test. What to prepare, when the next reading is
 * due, what the readings come to. Planning values: a maker's manual overrides each of them (docs/service.md).
 */

/** Read together at a moment. */
export interface Sample {
  /** ISO 8601. */
  at: string;
  volts: number;
  /** Drawn from the bank, or taken by it: never below 0. */
  amps: number;
}

/** A capacity test of the bank of a site. */
export interface CapacityPlan {
  bank: string;
  /** At the posts, under load: the test ends here, V. */
  end_V: number;
  /** A 20 h current, and the most that a test should draw, A. */
  gentle_A: number;
  most_A: number;
  /** C20 as labelled, all strings, Ah. */
  labelled_Ah: number;
  rest_h: number;
  /** What to do before, in its order. */
  prepare: string[];
  /** What ends the test at once. */
  stop: string[];
}

/** A test of the charge acceptance: how much the bank takes at its absorption voltage, and how soon that falls. */
export interface AcceptancePlan {
  bank: string;
  absorb_V: number;
  /** Below it the bank is full, A. */
  tail_A: number;
  prepare: string[];
  stop: string[];
}

/** What a plan lacks, as paths of the file. */
export interface Lacking {
  missing: string[];
}

const MINUTE_MS = 60_000;
/** Minutes between two readings, and once the end is near. */
const EVERY_MIN = 10;
const NEAR_MIN = 2;
/** As near to the end voltage as this share of it. */
const NEAR = 0.02;
/** Faster than the five-hour rate the end voltage no longer tells the capacity. */
const FASTEST_H = 5;
/** Rest after charging until the surface charge is gone, h: lead as IEC 60896, lithium by makers' sheets. */
const REST_H = { lead: 4, lithium: 1 };
/** A block of a string this far below its share of the end voltage is about to be reversed. */
const REVERSED = 0.92;
/** Current at absorption below which a bank is full, share of C20 (Practice, A). */
const TAIL = { lead: 0.02, lithium: 0.04 };

/** What a capacity test of the bank needs, and how it ends; what it lacks where it cannot be planned. */
export function capacityPlan(model: Model): CapacityPlan | Lacking {
  const known = bankFigures(model);
  if ('missing' in known) return known;
  const { bank, cells, labelled_Ah } = known;
  const table = CHEMISTRY[bank.chemistry];
  const lithium = isLithium(bank.chemistry);
  // Of lithium the volts at which its protection opens are no end of a test: the cut-off above it is.
  const end_V = cells * (lithium ? table.cutoff_V : table.empty_V);
  const rest_h = lithium ? REST_H.lithium : REST_H.lead;
  const block_V = (end_V / bank.series) * REVERSED;
  return {
    bank: bank.id,
    end_V,
    gentle_A: labelled_Ah / 20,
    most_A: labelled_Ah / FASTEST_H,
    labelled_Ah,
    rest_h,
    prepare: [
      'Agree a day: the bank is empty after the test, and must be charged at once.',
      'Charge the bank fully, until the current at absorption falls to the tail current.',
      ...sourcesOff(model),
      `Let the bank rest ${rest_h} h with all loads off.`,
      `Connect a steady DC load of ${figure(labelled_Ah / 20, 2)} to ${figure(labelled_Ah / 10, 2)} A, and clamp the current at the bank.`,
      ...cutoffs(model, end_V),
      ...(lithium ? [] : ['Ventilate the battery space, and keep flames away.']),
    ],
    stop: [
      `The bank reaches ${figure(end_V, 4)} V under load.`,
      ...(bank.series > 1 ? [`One battery falls below ${figure(block_V, 3)} V: it is about to be reversed.`] : []),
      'A battery, cable or lug gets too hot to touch, smells or swells.',
    ],
  };
}

/** What charges during the test is not the bank's. */
function sourcesOff({ system }: Model): string[] {
  const names = chargingDevices(system).filter(({ occasion }) => occasion !== 'sun');
  return [
    ...((system.arrays ?? []).length > 0 ? ['Switch the solar array off at its isolator.'] : []),
    ...(names.length > 0 ? [`Switch off what else charges: ${names.map(({ name }) => name).join(', ')}.`] : []),
  ];
}

/** Devices that would end the test before the bank is empty. */
const cutoffs = ({ system }: Model, end_V: number): string[] =>
  (system.inverters ?? [])
    .filter(({ lowCutoff_V }) => lowCutoff_V && lowCutoff_V > end_V)
    .map(
      ({ id, lowCutoff_V }) =>
        `${partTitle(system, id) ?? 'The inverter'} switches off at ${figure(lowCutoff_V ?? 0)} V, before the end of the test: use a DC load without it.`,
    );

/** What an acceptance test of the bank needs; what it lacks where it cannot be planned. */
export function acceptancePlan(model: Model): AcceptancePlan | Lacking {
  const known = bankFigures(model);
  if ('missing' in known) return known;
  const { bank, cells, labelled_Ah } = known;
  const set = chargingDevices(model.system).flatMap(({ settings }) => settings?.absorb_V ?? []);
  const absorb_V = set.length > 0 ? Math.max(...set) : cells * CHEMISTRY[bank.chemistry].absorb_V;
  const lithium = isLithium(bank.chemistry);
  return {
    bank: bank.id,
    absorb_V,
    tail_A: labelled_Ah * (lithium ? TAIL.lithium : TAIL.lead),
    prepare: [
      'Charge from a source that can hold the absorption voltage: full sun, generator or mains.',
      'Switch the loads off, or clamp the current at the bank itself.',
      ...(lithium ? [] : ['Ventilate the battery space: it gasses now.']),
    ],
    stop: [
      lithium
        ? 'The protection switches the charge off: read the cells, one is full before the others.'
        : 'The current rises while the voltage stands still: the bank is overheating. Stop the charge.',
      'A battery gets hotter than the others, smells or swells.',
    ],
  };
}

function bankFigures(model: Model): { bank: Bank; cells: number; labelled_Ah: number } | Lacking {
  const { bank } = model.system;
  if (!bank) return { missing: ['system.bank'] };
  const io = createLedger(model);
  const cells = cellsInSeries(io, bank);
  const labelled_Ah = c20_Ah(io, { ...bank, health_pct: 100 });
  if (Number.isFinite(cells) && Number.isFinite(labelled_Ah) && labelled_Ah > 0) return { bank, cells, labelled_Ah };
  return { missing: [`system.bank.${Number.isFinite(cells) ? 'blockCapacity_Ah' : 'cells'}`] };
}

/** Readings in their order, each moment once; what is no figure is left out. */
export const inOrder = (samples: readonly Sample[]): Sample[] =>
  samples
    .filter(({ at, volts, amps }) => Number.isFinite(Date.parse(at)) && volts > 0 && amps >= 0)
    .sort((a, b) => Date.parse(a.at) - Date.parse(b.at))
    .filter(({ at }, i, all) => Date.parse(at) !== Date.parse(all[i - 1]?.at ?? ''));

/** Hours of a reading after the first. */
export const hoursAfter =
  (first: Sample) =>
  (one: Sample): number =>
    (Date.parse(one.at) - Date.parse(first.at)) / (60 * MINUTE_MS);

/** When the next reading of a capacity test is due, ms since 1970; null once it has come to its end. */
export function nextReadingAt(plan: Pick<CapacityPlan, 'end_V'>, samples: readonly Sample[]): number | null {
  const last = inOrder(samples).at(-1);
  if (!last) return null;
  if (last.volts <= plan.end_V) return null;
  const near = last.volts <= plan.end_V * (1 + NEAR);
  return Date.parse(last.at) + (near ? NEAR_MIN : EVERY_MIN) * MINUTE_MS;
}

/** What a capacity test came to. */
export interface CapacityResult {
  /** False where it was stopped early: the bank has at least this. */
  ended: boolean;
  hours: number;
  drawn_Ah: number;
  /** What the last two readings leave open, Ah: above the end at the first, below it at the second. */
  between_Ah: [low: number, high: number];
  mean_A: number;
  /** At the 20 h rate, at the temperature of the test: the figure to record, Ah. */
  capacity_Ah: number;
  /** The same at 25 degC. */
  at25_Ah: number;
  /** Of the label, percent, at 25 degC. */
  ofLabel_pct: number;
  /** Why the figure is not sound, in sentences; empty where it is. */
  doubts: string[];
}

/** More than this between two readings, and nobody knows what went on, min. */
const GAP_MIN = 45;
/** Volts that rise this much while the bank is discharged: something charges it. */
const RISES = 0.015;
/** Currents further apart than this are not one current. */
const VARIES = 1.25;

/**
 * What the readings come to: ampere-hours by trapezoids until the end voltage, straight between the last two readings;
 * to the 20 h rate by Peukert, I^k t being one constant; to 25 degC by the chemistry's own share.
 * @returns null with fewer than two readings
 */
export function capacityResult(
  model: Model,
  plan: CapacityPlan,
  samples: readonly Sample[],
  ambient_C: number,
): CapacityResult | null {
  const { bank } = model.system;
  const all = inOrder(samples);
  const first = all[0];
  if (!bank || !first || all.length < 2) return null;
  const end = all.findIndex(({ volts }) => volts <= plan.end_V);
  const used = end < 0 ? all : all.slice(0, end + 1);
  if (used.length < 2) return null;
  const hour = hoursAfter(first);
  let [drawn, before] = [0, 0];
  let longest = 0;
  let hours = 0;
  for (let i = 1; i < used.length; i++) {
    const [a, b] = [elementAt(used, i - 1), elementAt(used, i)];
    const whole = hour(b) - hour(a);
    longest = Math.max(longest, whole * 60);
    const last = i === used.length - 1 && end >= 0;
    // Where between the last two the volts came to the end.
    const share = last && a.volts > b.volts ? (a.volts - plan.end_V) / (a.volts - b.volts) : 1;
    const meanHere = a.amps + (share * (b.amps - a.amps)) / 2;
    before = drawn;
    drawn += whole * share * meanHere;
    hours = hour(a) + whole * share;
  }
  const [a, b] = [used.at(-2) as Sample, used.at(-1) as Sample];
  const between: [number, number] =
    end < 0 ? [drawn, drawn] : [before, before + (hour(b) - hour(a)) * ((a.amps + b.amps) / 2)];
  const mean = hours > 0 ? drawn / hours : 0;
  const { peukert } = CHEMISTRY[bank.chemistry];
  const at20 = mean > 0 ? 20 * mean * (hours / 20) ** (1 / peukert) : 0;
  const at25 = at20 / familyOf(bank.chemistry).coldCapacity(ambient_C);
  return {
    ended: end >= 0,
    hours,
    drawn_Ah: drawn,
    between_Ah: between,
    mean_A: mean,
    capacity_Ah: at20,
    at25_Ah: at25,
    ofLabel_pct: (100 * at25) / plan.labelled_Ah,
    doubts: doubtsOf(plan, used, longest, mean),
  };
}

function doubtsOf(plan: CapacityPlan, used: readonly Sample[], longest_min: number, mean_A: number): string[] {
  const rising = used.findIndex(({ volts }, i) => i > 0 && volts > (used[i - 1]?.volts ?? 0) * (1 + RISES));
  const amps = used.map((one) => one.amps);
  return [
    ...(rising > 0
      ? [
          `The voltage rose from ${figure(used[rising - 1]?.volts ?? 0)} to ${figure(used[rising]?.volts ?? 0)} V: something charged the bank, or the load was off.`,
        ]
      : []),
    ...(longest_min > GAP_MIN ? [`There was no reading for ${Math.round(longest_min)} min.`] : []),
    ...(Math.max(...amps) > VARIES * Math.min(...amps)
      ? [`The current varied between ${figure(Math.min(...amps), 3)} and ${figure(Math.max(...amps), 3)} A.`]
      : []),
    ...(mean_A > plan.most_A
      ? [
          `${figure(mean_A, 3)} A empties the bank in under ${FASTEST_H} h: it shows less than it has at ordinary loads.`,
        ]
      : []),
  ];
}

/** What an acceptance test came to. */
export interface AcceptanceResult {
  /** Hours from the first reading at absorption until the tail current; null: not yet. */
  toTail_h: number | null;
  first_A: number;
  last_A: number;
  hours: number;
  /** True where the current rises while the voltage stands still. */
  rising: boolean;
}

/** Volts within this share of absorption are at absorption. */
const AT_ABSORB = 0.015;
/** A rise above the lowest current seen by this much is no scatter of the meter. */
const RISE = 1.15;

/** @returns null before the first reading at the absorption voltage */
export function acceptanceResult(plan: AcceptancePlan, samples: readonly Sample[]): AcceptanceResult | null {
  const held = inOrder(samples).filter(({ volts }) => volts >= plan.absorb_V * (1 - AT_ABSORB));
  const [first, last] = [held[0], held.at(-1)];
  if (!first || !last) return null;
  const hours = hoursAfter(first);
  const tail = held.find(({ amps }) => amps <= plan.tail_A);
  const least = Math.min(...held.map(({ amps }) => amps));
  return {
    toTail_h: tail ? hours(tail) : null,
    first_A: first.amps,
    last_A: last.amps,
    hours: hours(last),
    rising: last.amps > RISE * least && last.amps - least > plan.tail_A / 2,
  };
}
