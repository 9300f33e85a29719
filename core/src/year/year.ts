import type { Model } from '../system/model';
import { calendarLife_y, cyclesAt } from '../proposal/money';
import { DAYS_Y } from '../sun/calendar';
import { runYear } from './loop';
import { emptyGiven, emptyRun, SUMS, SUM_COUNT, type Given, type Run, type Trace } from './run';
import { yearPlan, type YearPlan } from './setup';
import { Sky } from './sky-to-bus';
import { climateIn, climateOf, meanWeather, seededWeather, type SeededWeather, type Weather } from '../sun/weather';

/** A month's or a year's sums (docs/year.md). */
export interface YearSums {
  /** Sun that reached the bank or the loads. */
  harvest_kWh: number;
  /** Demand served, idle and the controllers' own use too. */
  used_kWh: number;
  unserved_kWh: number;
  /** By priority: `{ "1": 0, "3": 1.2 }`. */
  unservedBy_kWh: Record<string, number>;
  unused_kWh: number;
  clipped_kWh: number;
  generator_kWh: number;
  generator_h: number;
  generator_L: number;
  engine_kWh: number;
  /** Of the mains of a house: what it carried, and what it charged with. */
  inlet_kWh: number;
  /** What is lost in charging, and self-discharge. */
  losses_kWh: number;
  minSoc: number;
  belowDepth_h: number;
  off_h: number;
  coldCharge_h: number;
}

/** One year: months and totals in Wh, hours and litres. */
export interface YearResult {
  seed: number;
  months: YearSums[];
  totals: YearSums;
  minSoc: number;
  /** The longest run of hours off or below the planning depth. */
  worst: { start_h: number; hours: number };
  /** Energy drawn over the capacity. */
  cycles: number;
  /** Of a new bank used like this, years. */
  life_y: number;
  balanceError: number;
}

/** Shares of a day's lowest charge over the years. */
export interface DayBand {
  p5: number;
  p25: number;
  p50: number;
  p75: number;
  p95: number;
}
/** Many years, each and by day. */
export interface ManyYears {
  years: YearResult[];
  /** Planning values that they rest on, by path. */
  assumed: string[];
  /** Of each day's lowest state of charge over all years. */
  days?: DayBand[];
  /** By month: the share of years with any hour off. */
  outageChance?: number[];
}

export type WeatherChoice =
  | { kind: 'mean' }
  | { kind: 'seeded'; seed: number }
  | { kind: 'hours'; weather: Weather; name?: string };

/** One simulator for a model: what does not change from one weather to the next is made once. */
export class YearSimulator {
  private readonly plan: YearPlan;
  private readonly sky: Sky;
  private readonly given: Given = emptyGiven();
  private readonly first: Run;
  private readonly run: Run;
  private readonly seeded: SeededWeather | null;
  private readonly fixed: Weather | null;
  private written = false;

  /** @throws FaultError that names each field which is lacking */
  constructor(
    readonly model: Model,
    readonly choice: WeatherChoice,
  ) {
    const climate = choice.kind === 'hours' ? climateIn(choice.weather) : climateOf(model);
    this.plan = yearPlan(model, climate);
    this.sky = new Sky(this.plan);
    this.first = emptyRun(this.plan);
    this.run = emptyRun(this.plan);
    this.seeded = choice.kind === 'seeded' ? seededWeather(climate, choice.seed) : null;
    this.fixed = choice.kind === 'hours' ? choice.weather : choice.kind === 'mean' ? meanWeather(climate) : null;
  }

  /** A year by its number, counted from 0; with a trace hour by hour. */
  year(index: number, trace: Trace | null = null): YearResult {
    if (this.fixed === null || !this.written) {
      const weather = this.fixed ?? this.seeded?.year(index);
      if (weather) this.sky.write(weather, this.given);
      this.written = true;
    }
    const { plan, given, first, run } = this;
    // From full once through, to find the state in which such a year begins.
    first.store_Wh = plan.bank.capacity_Wh;
    first.off = false;
    first.generating = false;
    runYear(plan, given, first);
    const start_Wh = first.store_Wh;
    run.store_Wh = start_Wh;
    run.off = first.off;
    run.generating = first.generating;
    runYear(plan, given, run, trace, first);
    return this.result(run, run.store_Wh - start_Wh);
  }

  /** The lowest state of charge of each day of the year that was last asked for. */
  get dayLow(): Float64Array {
    return this.run.dayLow;
  }
  /** One of the sums day by day, of the year that was last asked for: an array of the asker's own. */
  byDay(sum: keyof typeof SUMS): Float64Array {
    const { sums } = this.run.days;
    return Float64Array.from({ length: DAYS_Y }, (_, day) => sums[day * SUM_COUNT + SUMS[sum]] ?? 0);
  }
  /** Sun at the bank, hour by hour, of the year that was last asked for, W. */
  get available_W(): Float64Array {
    return this.given.available_W;
  }
  /** Planning values that the answer rests on, by path. */
  get assumed(): readonly string[] {
    return this.plan.assumed;
  }
  /** By month: whether somebody is there. */
  get occupied(): readonly boolean[] {
    return this.plan.occupied;
  }
  /** At which the year reckons the bank's side, V. */
  get float_V(): number {
    return this.plan.float_V;
  }
  get depth(): number {
    return this.plan.bank.depth;
  }
  get cut(): number {
    return this.plan.bank.cut;
  }

  private result(run: Run, change_Wh: number): YearResult {
    const { plan, given } = this;
    const months = Array.from({ length: 12 }, (_, month) => this.sumsOf(run, [month]));
    const totals = this.sumsOf(
      run,
      months.map((_, month) => month),
    );
    const cycles = run.discharged_Wh / plan.bank.capacity_Wh;
    const mean_C = given.bank_C.reduce((sum, at) => sum + at, 0) / DAYS_Y;
    // A cycle a day, as deep as the mean day goes.
    const byCycles = cycles > 0 ? cyclesAt(plan.bank.chemistry, cycles / DAYS_Y) / DAYS_Y : Infinity;
    const { harvest_kWh, generator_kWh, engine_kWh, inlet_kWh, used_kWh, losses_kWh } = totals;
    const brought = harvest_kWh + generator_kWh + engine_kWh + inlet_kWh;
    const gap = Math.abs(brought - used_kWh - losses_kWh - change_Wh / 1000);
    return {
      seed: this.choice.kind === 'seeded' ? this.choice.seed : 0,
      months,
      totals,
      minSoc: totals.minSoc,
      worst: { start_h: run.worstStart_h, hours: run.worstHours },
      cycles,
      life_y: Math.min(byCycles, calendarLife_y(plan.bank.chemistry, mean_C)),
      balanceError: gap / Math.max(used_kWh, 1e-9),
    };
  }

  private sumsOf({ sums, unservedBy, minSoc }: Run, months: readonly number[]): YearSums {
    const { priorities } = this.plan.demand;
    const sum = (which: number) => months.reduce((all, month) => all + (sums[month * SUM_COUNT + which] ?? 0), 0);
    const kWh = (which: number) => sum(which) / 1000;
    return {
      harvest_kWh: kWh(SUMS.harvest),
      used_kWh: kWh(SUMS.used),
      unserved_kWh: kWh(SUMS.unserved),
      unservedBy_kWh: Object.fromEntries(
        priorities.map((priority, p) => [
          String(priority),
          months.reduce((all, month) => all + (unservedBy[month * priorities.length + p] ?? 0), 0) / 1000,
        ]),
      ),
      unused_kWh: kWh(SUMS.unused),
      clipped_kWh: kWh(SUMS.clipped),
      generator_kWh: kWh(SUMS.generator),
      generator_h: sum(SUMS.generator_h),
      generator_L: sum(SUMS.generator_L),
      engine_kWh: kWh(SUMS.engine),
      inlet_kWh: kWh(SUMS.inlet),
      losses_kWh: kWh(SUMS.losses),
      minSoc: months.reduce((least, month) => Math.min(least, minSoc[month] ?? 1), 1),
      belowDepth_h: sum(SUMS.belowDepth_h),
      off_h: sum(SUMS.off_h),
      coldCharge_h: sum(SUMS.coldCharge_h),
    };
  }
}

/**
 * Years of a model, with the bands of all of them where there are several.
 * @param count how many; of the mean and of a file's weather all years are alike, so one is worked out
 */
export function simulateYears(
  model: Model,
  choice: WeatherChoice,
  count = 1,
  progress: (share: number) => void = () => undefined,
): ManyYears {
  const simulator = new YearSimulator(model, choice);
  const lows: Float64Array[] = [];
  const years: YearResult[] = [];
  for (let index = 0; index < count; index++) {
    years.push(simulator.year(index));
    if (count > 1) lows.push(simulator.dayLow.slice());
    progress((index + 1) / count);
  }
  const assumed = [...simulator.assumed];
  return count > 1 ? withBands(years, lows, assumed) : { years, assumed };
}

/** Bands of many years, whoever worked them out: the same for one worker and for several. */
export function withBands(
  years: YearResult[],
  lows: readonly Float64Array[],
  assumed: readonly string[] = [],
): ManyYears {
  const sorted = new Float64Array(lows.length);
  const days = Array.from({ length: DAYS_Y }, (_, day): DayBand => {
    lows.forEach((low, i) => (sorted[i] = low[day] ?? 0));
    sorted.sort();
    return bandOf(sorted);
  });
  const outageChance = Array.from(
    { length: 12 },
    (_, month) => years.filter(({ months }) => (months[month]?.off_h ?? 0) > 0).length / years.length,
  );
  return { years, assumed: [...assumed], days, outageChance };
}

/** The bands of sorted figures. */
export const bandOf = (sorted: Float64Array): DayBand => ({
  p5: shareOf(sorted, 0.05),
  p25: shareOf(sorted, 0.25),
  p50: shareOf(sorted, 0.5),
  p75: shareOf(sorted, 0.75),
  p95: shareOf(sorted, 0.95),
});

/** A percentile of sorted figures, straight between its neighbours. */
function shareOf(sorted: Float64Array, at: number): number {
  const place = at * (sorted.length - 1);
  const below = Math.floor(place);
  const low = sorted[below] ?? 0;
  return low + (place - below) * ((sorted[Math.min(below + 1, sorted.length - 1)] ?? low) - low);
}

export { emptyTrace, type Trace } from './run';
