import { elementAt } from '../numeric/element';
import type { Model } from '../system/model';
import type { Load } from '../system/schema';
import { DAYS_Y, FIRST_DAY } from '../sun/calendar';
import { runYear } from '../year/loop';
import { emptyGiven, emptyRun, SUMS, SUM_COUNT, type Given } from '../year/run';
import { rankOf, yearPlan, type YearPlan } from '../year/setup';
import { Sky } from '../year/sky-to-bus';
import { firstGenerator } from '../year/sources';
import { climateOf, seededWeather, type Climate, type SeededWeather } from '../sun/weather';
import { bandOf, type DayBand } from '../year/year';
import { calendarOf, dateOf } from './days';

/**
 * The days ahead (docs/service.md): the year's own loop from today's charge on, once for each of many weathers. Not a
 * weather forecast: what the climate of the place makes of this charge.
 */

/** A day to come: its lowest state of charge over the draws, and the share in which it has an hour without power. */
export interface DayAhead extends DayBand {
  date: string;
  dark: number;
}

/** Something that keeps the lights on, and how many draws go dark all the same. */
export interface AheadCure {
  /** Ids of loads, or of the generator. */
  what: string;
  watts_off?: number;
  generator_h?: number;
  dark: number;
}

/** What is said of the days to come. */
export interface Ahead {
  days: DayAhead[];
  /** Share of draws with any hour off. */
  dark: number;
  firstDark?: { date: string; share: number };
  cures: AheadCure[];
}

/** From when, from what charge, how far and by which weathers. */
export interface AheadAsked {
  /** The first day, counted from 1970. */
  on: number;
  /** State of charge at its start, 0 to 1. */
  soc: number;
  days?: number;
  seed?: number;
  draws?: number;
}

/** Up to here it is left as it is: one draw in twenty. */
const ACCEPTED = 0.05;

/** @throws FaultError that names each field which is lacking */
export function aheadOf(model: Model, asked: AheadAsked): Ahead {
  const { on, soc, days = 7, seed = 1, draws = 200 } = asked;
  const runner = new Runner(model, { on, days, soc, seed, draws });
  const lows = new Float64Array(draws * days);
  const { dark, byDay } = elementAt(runner.run([runner.plan], lows), 0);
  const sorted = new Float64Array(draws);
  const list = Array.from({ length: days }, (_, day): DayAhead => {
    for (let k = 0; k < draws; k++) sorted[k] = lows[k * days + day] ?? 0;
    sorted.sort();
    return { date: dateOf(on + day), ...bandOf(sorted), dark: byDay[day] ?? 0 };
  });
  const first = list.find((day) => day.dark > 0);
  return {
    days: list,
    dark,
    ...(first ? { firstDark: { date: first.date, share: first.dark } } : {}),
    cures: dark >= ACCEPTED ? curesOf(model, runner) : [],
  };
}

/** What keeps the dark away: loads left off, or the generator for some hours a day. */
function curesOf(model: Model, runner: Runner): AheadCure[] {
  const optional = (model.system.loads ?? []).filter((load) => rankOf(load) > 1 && load.power_W > 0);
  const watts = ({ power_W, quantity }: Load) => power_W * (quantity ?? 1);
  const without = (loads: readonly Load[]) => {
    const gone = new Set(loads.map(({ id }) => id));
    const system = { ...model.system, loads: (model.system.loads ?? []).filter(({ id }) => !gone.has(id)) };
    return {
      plan: runner.planOf({ ...model, system }),
      what: loads.map(({ id }) => id).join(', '),
      watts_off: loads.reduce((sum, load) => sum + watts(load), 0),
    };
  };
  const alone = runner
    .tried(optional.map((load) => without([load])))
    .sort((a, b) => a.watts_off - b.watts_off || (a.what < b.what ? -1 : 1));
  if (alone.length > 0) return [...alone, ...generatorCure(model, runner)];
  // Together, from what was ranked last upwards.
  const ranks = [...new Set(optional.map(rankOf))].sort((a, b) => b - a);
  const together = runner.tried(ranks.map((rank) => without(optional.filter((load) => rankOf(load) >= rank))));
  return [...together.slice(0, 1), ...generatorCure(model, runner)];
}

/** The fewest whole hours a day of the generator that do. */
function generatorCure({ system }: Model, runner: Runner): AheadCure[] {
  const { generator } = runner.plan;
  const source = firstGenerator(system);
  if (!generator || !source) return [];
  // In the morning, for whoever wakes to a low bank, or in the evening before the quiet hours: whichever takes fewer.
  const wakes = Array.from({ length: 24 }, (_, h) => h).find(
    (h) => generator.quiet[h] !== 1 && generator.quiet[(h + 23) % 24] === 1,
  );
  const morning = Array.from({ length: 24 }, (_, i) => ((wakes ?? 0) + i) % 24).filter((h) => generator.quiet[h] !== 1);
  const evening = [...morning].reverse();
  const tries = morning.flatMap((_, i) =>
    [morning, evening].map((order) => {
      const daily = new Uint8Array(24);
      for (const h of order.slice(0, i + 1)) daily[h] = 1;
      const plan = { ...runner.plan, generator: { ...generator, daily } };
      return { plan, what: source.id, generator_h: i + 1 };
    }),
  );
  return runner.tried(tries).slice(0, 1);
}

/** What came of all draws for one plan. */
interface Drawn {
  /** Share of draws with an hour off, at all and on each day. */
  dark: number;
  byDay: Float64Array;
}

/** A stretch of one calendar year: its days there, and where it stands among the days asked for. */
interface Stretch {
  year: number;
  first: number;
  end: number;
  at: number;
}

/** The draws, over one plan or another of the same sky. */
class Runner {
  readonly plan: YearPlan;
  private readonly climate: Climate;
  private readonly weather: SeededWeather;
  private readonly stretches: Stretch[];

  constructor(
    model: Model,
    private readonly asked: Required<AheadAsked>,
  ) {
    this.climate = climateOf(model);
    this.plan = this.planOf(model);
    this.weather = seededWeather(this.climate, asked.seed);
    this.stretches = stretchesOf(asked.on, asked.days);
  }

  planOf(model: Model): YearPlan {
    return yearPlan(model, this.climate);
  }

  /** Of some plans those under which few enough draws go dark, each with how many, in their order. */
  tried<T extends { plan: YearPlan }>(plans: readonly T[]): (Omit<T, 'plan'> & { dark: number })[] {
    const drawn = this.run(plans.map(({ plan }) => plan));
    return plans.flatMap(({ plan: _, ...rest }, i) => {
      const { dark } = elementAt(drawn, i);
      return dark < ACCEPTED ? [{ ...rest, dark }] : [];
    });
  }

  /**
   * All draws for each of some plans that differ in what is drawn and what runs: the sky above them is the same.
   * @param lows takes the lowest state of charge by draw and day, of one plan
   */
  run(plans: readonly YearPlan[], lows: Float64Array | null = null): Drawn[] {
    const { days, draws, soc } = this.asked;
    const sky = new Sky(this.plan);
    const given: Given = emptyGiven();
    const each = plans.map((plan) => ({
      plan,
      run: emptyRun(plan),
      drawn: { dark: 0, byDay: new Float64Array(days) },
      any: false,
    }));
    for (let k = 0; k < draws; k++) {
      this.stretches.forEach(({ year, first, end, at }, i) => {
        sky.write(this.weather.year(k + year, [first, end]), given, [first, end]);
        for (const one of each) {
          const { plan, run, drawn } = one;
          if (i === 0) {
            run.store_Wh = plan.bank.capacity_Wh * (1 - (given.factor[first] ?? 1) * (1 - soc));
            run.off = false;
            run.generating = false;
            one.any = false;
          }
          runYear(plan, given, run, null, null, [first, end]);
          for (let day = first; day < end; day++) {
            if (lows) lows[k * days + at + day - first] = run.dayLow[day] ?? 0;
            if (!((run.days.sums[day * SUM_COUNT + SUMS.off_h] ?? 0) > 0)) continue;
            drawn.byDay[at + day - first] = (drawn.byDay[at + day - first] ?? 0) + 1;
            one.any = true;
          }
        }
      });
      for (const { drawn, any } of each) if (any) drawn.dark += 1;
    }
    return each.map(({ drawn: { dark, byDay } }) => ({
      dark: dark / draws,
      byDay: byDay.map((count) => count / draws),
    }));
  }
}

/** The day of the year's 365, from 0; a 29 February has the weather of the 28th. */
export function yearDayOf(day: number): number {
  const { month, date } = calendarOf(day);
  const leap = month === 1 && date === 29;
  return Math.min(DAYS_Y - 1, (FIRST_DAY[month] ?? 0) + date - (leap ? 2 : 1));
}

/** The days asked for as stretches of the year's 365; a 29 February by itself. */
function stretchesOf(on: number, days: number): Stretch[] {
  const stretches: Stretch[] = [];
  const start = calendarOf(on).year;
  for (let at = 0; at < days; at++) {
    const { year } = calendarOf(on + at);
    const day = yearDayOf(on + at);
    const last = stretches.at(-1);
    if (last && last.year === year - start && last.end === day) last.end = day + 1;
    else stretches.push({ year: year - start, first: day, end: day + 1, at });
  }
  return stretches;
}
