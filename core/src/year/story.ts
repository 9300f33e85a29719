import { keysOf } from '../parts/objects';
import { elementAt } from '../numeric/element';
import type { Model } from '../system/model';
import { refusedOnRoof } from '../roof/room';
import { rewired } from '../system/string-runs';
import type { Change } from '../system/schema';
import { partTitle } from '../conductors/names';
import { counted } from '../ledger/figures';
import { DAYS_Y, MONTH_DAYS, MONTH_OF_DAY } from '../sun/calendar';
import { MONTHS } from '../sun/months';
import {
  emptyTrace,
  withBands,
  YearSimulator,
  type DayBand,
  type WeatherChoice,
  type YearResult,
  type YearSums,
} from './year';

/** A year, or many, as a person looks at it. */
export interface YearStory {
  /** How many years it is of. */
  count: number;
  /** Of each day's lowest state of charge. */
  days: DayBand[];
  /** By day of the year: the share of years with any hour off, the generator's mean hours, the year in which the bank is lowest. */
  darkDays: number[];
  generatorDays_h: number[];
  lowYears: number[];
  /** Means over the years. */
  months: YearSums[];
  totals: YearSums;
  life_y: number;
  /** Mean depth of discharge a day on which `life_y` rests, 0 to 1. */
  dailyDepth: number;
  /** By month: whether somebody is there. */
  occupied: readonly boolean[];
  /** By month, and of whole years: the share with any hour dark. */
  darkMonths: number[];
  darkYears: number;
  /** The longest spell off or below the planning depth in any of the years. */
  worst: { year: number; start_h: number; hours: number };
  /** States of charge at which the planning depth and the cut-off lie, 0 to 1. */
  depthAt: number;
  cutAt: number;
}

/**
 * What some years say of a system.
 * @param progress share done, 0 to 1
 */
export const yearStory = (
  model: Model,
  choice: WeatherChoice,
  count: number,
  progress: (share: number) => void = () => undefined,
): YearStory => storyOf([yearSlice(model, choice, 0, count, progress)]);

/** Some of a model's years, as one thread of several works them out. */
export interface YearSlice {
  from: number;
  years: YearResult[];
  /** By year: the lowest charge of each day, its hours off, its hours of generator. */
  lows: Float64Array[];
  off_h: Float64Array[];
  generator_h: Float64Array[];
  depth: number;
  cut: number;
  occupied: readonly boolean[];
}

/** Years `from` up to `from + count` of a model. @throws FaultError that names each field which is lacking */
export function yearSlice(
  model: Model,
  choice: WeatherChoice,
  from: number,
  count: number,
  progress: (share: number) => void = () => undefined,
): YearSlice {
  const simulator = simulatorOf(model, choice);
  const slice: YearSlice = {
    from,
    years: [],
    lows: [],
    off_h: [],
    generator_h: [],
    depth: simulator.depth,
    cut: simulator.cut,
    occupied: simulator.occupied,
  };
  for (let index = 0; index < count; index++) {
    slice.years.push(simulator.year(from + index));
    slice.lows.push(simulator.dayLow.slice());
    slice.off_h.push(simulator.byDay('off_h'));
    slice.generator_h.push(simulator.byDay('generator_h'));
    if (index % 10 === 9) progress((index + 1) / count);
  }
  return slice;
}

/** The story of all years that slices hold, in whatever order they came: the same for one thread and for many. */
export function storyOf(slices: readonly YearSlice[]): YearStory {
  const ordered = [...slices].sort((a, b) => a.from - b.from);
  const [head] = ordered;
  if (!head) throw new Error('no year to tell of');
  const years = ordered.flatMap((slice) => slice.years);
  const lows = ordered.flatMap((slice) => slice.lows);
  const off_h = ordered.flatMap((slice) => slice.off_h);
  const generator_h = ordered.flatMap((slice) => slice.generator_h);
  const count = years.length;
  const { days = [], outageChance = [] } = withBands(years, lows);
  const mean = (pick: (year: YearResult) => YearSums): YearSums => meanOf(years.map(pick));
  const worst = years.reduce(
    (worst, { worst: { hours } }, year) => (hours > (years[worst]?.worst.hours ?? 0) ? year : worst),
    0,
  );
  const byDay = (of: (day: number) => number) => Array.from({ length: DAYS_Y }, (_, day) => of(day));
  return {
    count,
    days,
    darkDays: byDay((day) => off_h.filter((year) => (year[day] ?? 0) > 0).length / count),
    generatorDays_h: byDay((day) => generator_h.reduce((sum, year) => sum + (year[day] ?? 0), 0) / count),
    lowYears: byDay((day) =>
      lows.reduce((lowest, year, i) => ((year[day] ?? 1) < (lows[lowest]?.[day] ?? 1) ? i : lowest), 0),
    ),
    months: (years[0]?.months ?? []).map((_, month) => mean(({ months }) => elementAt(months, month))),
    totals: mean(({ totals }) => totals),
    life_y: years.reduce((sum, { life_y }) => sum + life_y, 0) / count,
    dailyDepth: years.reduce((sum, { cycles }) => sum + cycles, 0) / count / DAYS_Y,
    occupied: head.occupied,
    darkMonths: outageChance,
    darkYears: years.filter(({ totals }) => totals.off_h > 0).length / count,
    worst: { year: worst, ...(years[worst]?.worst ?? { start_h: 0, hours: 0 }) },
    depthAt: 1 - head.depth,
    cutAt: head.cut,
  };
}

/** The simulator that was made last: slices of one model are asked for one after the other. */
let last: { key: string; simulator: YearSimulator } | null = null;
function simulatorOf(model: Model, choice: WeatherChoice): YearSimulator {
  // A file's hours are many: they are asked for once.
  if (choice.kind === 'hours') return new YearSimulator(model, choice);
  const { site, system, schools } = model;
  const key = JSON.stringify([site, system, schools, choice]);
  if (last?.key !== key) last = { key, simulator: new YearSimulator(model, choice) };
  return last.simulator;
}

/** One day of one of a model's years, hour by hour. W, state of charge 0 to 1 at each hour's end. */
export interface YearDay {
  /** Counted from 0: the year among the seed's, the day of it. */
  year: number;
  day: number;
  sun_W: number[];
  demand_W: number[];
  served_W: number[];
  soc: number[];
  /** Hours in which the generator ran. */
  generator: boolean[];
}

/** The hours of one day of one year. */
export function yearDay(model: Model, choice: WeatherChoice, year: number, day: number): YearDay {
  const simulator = simulatorOf(model, choice);
  const trace = emptyTrace();
  simulator.year(year, trace);
  const hours = (of: ArrayLike<number>) => Array.from(of).slice(24 * day, 24 * day + 24);
  return {
    year,
    day,
    sun_W: hours(simulator.available_W),
    demand_W: hours(trace.demand_W),
    served_W: hours(trace.served_W),
    soc: hours(trace.soc),
    generator: hours(trace.generator).map(Boolean),
  };
}

/** The mean of several sums, member by member. */
export function meanOf(all: readonly YearSums[]): YearSums {
  const [first] = all;
  if (!first) throw new Error('no year to take the mean of');
  const mean = (pick: (sums: YearSums) => number) => all.reduce((sum, one) => sum + pick(one), 0) / all.length;
  const sums = Object.fromEntries(
    keysOf(first)
      .filter((key) => key !== 'unservedBy_kWh')
      .map((key) => [key, mean((one) => one[key])]),
  );
  return {
    ...(sums as unknown as YearSums),
    unservedBy_kWh: Object.fromEntries(
      Object.keys(first.unservedBy_kWh).map((priority) => [priority, mean((one) => one.unservedBy_kWh[priority] ?? 0)]),
    ),
  };
}

const PLURALS = MONTHS.map((month) => (month.endsWith('y') ? `${month.slice(0, -1)}ies` : `${month}s`));

/**
 * "Simulated over 200 years: the power fails in 19 of 200 Januaries.": the question that customers ask, by the month
 * that is worst while somebody is there. A bank that nothing charges is said to be that, not to be dark: no weather
 * decides it.
 */
export function darkSentence({ count, darkMonths, darkYears, occupied, totals }: YearStory): string {
  if (chargedBy_kWh(totals) === 0) return 'Nothing recorded here charges this bank. It runs flat and stays flat.';
  const over = count === 1 ? 'In an average year' : `Simulated over ${count} years:`;
  if (darkYears === 0) return `${over} the power never fails.`;
  const worstOf = (there: boolean) =>
    darkMonths
      .map((chance, month) => ({ chance, month }))
      .filter(({ month }) => occupied[month] === there)
      .reduce((worst, one) => (one.chance > worst.chance ? one : worst), { chance: 0, month: 0 });
  const [there, away] = [worstOf(true), worstOf(false)];
  const lived = there.chance > 0;
  const { chance, month: worst } = lived ? there : away;
  const times = Math.round(chance * count);
  const when =
    count === 1
      ? `in ${MONTHS[worst]}`
      : times === count
        ? `in every ${MONTHS[worst]}`
        : `in ${times} of ${count} ${PLURALS[worst]}`;
  return `${over} the power fails ${when}${lived ? '' : ', while nobody is there'}.`;
}

/** All that reaches the bank or its loads in a year, kWh. */
const chargedBy_kWh = ({ harvest_kWh, engine_kWh, generator_kWh, inlet_kWh }: YearSums): number =>
  harvest_kWh + engine_kWh + generator_kWh + inlet_kWh;

/** "Longest stretch without power or below the planned depth of discharge: 3 days from 9 January, in one year of 200." */
export function spellSentence({ worst, count }: YearStory): string {
  if (worst.hours === 0) return 'The bank never goes below its planned depth of discharge.';
  const long = worst.hours < 48 ? counted(worst.hours, 'hour') : counted(Math.round(worst.hours / 24), 'day');
  return `Longest stretch without power or below the planned depth of discharge: ${long} from ${dayName(Math.floor(worst.start_h / 24))}${count > 1 ? `, in one year of ${count}` : ''}.`;
}

/** "9 January" of a day of the year, counted from 0. */
export function dayName(day: number): string {
  const month = MONTH_OF_DAY[day] ?? 0;
  return `${day - MONTH_DAYS.slice(0, month).reduce((sum: number, days) => sum + days, 0) + 1} ${MONTHS[month] ?? ''}`;
}

/** What one would like to try at once; each is the changes of a proposal. */
export interface YearWhatIf {
  id: 'bank' | 'string' | 'less';
  title: string;
  changes: Change[];
}

/** The three questions that a year leads to: twice the bank, a string more, a load for half the hours. */
export function yearWhatIfs(model: Model): YearWhatIf[] {
  const { system } = model;
  const { bank, arrays, loads } = system;
  const array = arrays?.find(({ controllerId }) => controllerId);
  const [string] = array?.strings ?? [];
  const largest = [...(loads ?? [])].sort((a, b) => b.power_W * b.hours_d - a.power_W * a.hours_d)[0];
  return [
    ...(bank && bank.parallel * 2 <= 64
      ? [
          {
            id: 'bank' as const,
            title: 'Twice the bank capacity',
            changes: [{ op: 'set' as const, at: 'bank' as const, value: { parallel: bank.parallel * 2 } }],
          },
        ]
      : []),
    ...(array && string && !refusedOnRoof(model, array, string)
      ? [
          {
            id: 'string' as const,
            title: `One more string on ${partTitle(system, array.id) ?? 'the array'}`,
            changes: rewired(system, array, [...array.strings, string]),
          },
        ]
      : []),
    ...(largest && largest.hours_d > 0
      ? [
          {
            id: 'less' as const,
            title: `${partTitle(system, largest.id) ?? largest.label} for half the hours`,
            changes: [
              {
                op: 'set' as const,
                at: 'loads' as const,
                id: largest.id,
                value: {
                  hours_d: largest.hours_d / 2,
                  ...(largest.winterHours_d ? { winterHours_d: largest.winterHours_d / 2 } : {}),
                },
              },
            ],
          },
        ]
      : []),
  ];
}

/** Day of the year on which each month begins, as a share of the year. */
export const MONTH_STARTS: readonly number[] = MONTH_DAYS.map(
  (_, month) => MONTH_DAYS.slice(0, month).reduce((sum: number, days) => sum + days, 0) / DAYS_Y,
);
