import { MONTH_STARTS, type YearStory, type YearSums } from '@true-lantern/core';
import { bandPath } from '../ui/band-path';
import { tenth } from '../ui/tenth';

/** Where the ribbon and the strip below it are drawn: pure, so that a test can look at it. */

/** Below the ribbon: how often each day is dark, and how long the generator runs, px each. */
export const MARKS = { dark: 16, generator: 12 } as const;
/** The ribbon's height and margins, px. */
export const RIBBON = { height: 222, left: 50, right: 12, top: 8, bottom: 54 } as const;
/** The strip's height and margins, px. */
export const STRIP = { height: 150, left: 50, right: 12, top: 8, bottom: 24 } as const;
/** First letters of the months. */
export const MONTH_LETTERS = 'JFMAMJJASOND';

/** The lowest charge of each day over many years, as bands in px. */
export interface RibbonLayout {
  /** From the fifth to the ninety-fifth percentile, and from the quarter to three quarters. */
  outer: string;
  inner: string;
  middle: string;
  y(soc: number): number;
  /** The day under a point from the left edge, 0 to 364. */
  dayAt(x: number): number;
  x(day: number): number;
  /** Days on which the bank lets go in some year, and on which the generator runs: strokes up from their feet. */
  dark: string;
  generator: string;
  /** Feet of these two rows, px from the top. */
  feet: { dark: number; generator: number };
  /** Middle of each month's letter. */
  letters: { x: number; letter: string }[];
}

/** The same laid out for a width in px. */
export function ribbonLayout(
  { days, darkDays, generatorDays_h }: Pick<YearStory, 'days' | 'darkDays' | 'generatorDays_h'>,
  width: number,
): RibbonLayout {
  const across = width - RIBBON.left - RIBBON.right;
  const down = RIBBON.height - RIBBON.top - RIBBON.bottom;
  const x = (day: number) => RIBBON.left + (across * day) / Math.max(1, days.length - 1);
  const y = (soc: number) => RIBBON.top + down * (1 - Math.max(0, Math.min(1, soc)));
  const band = (low: (day: YearStory['days'][number]) => number, high: typeof low) =>
    bandPath(
      days,
      x,
      (day) => y(low(day)),
      (day) => y(high(day)),
    );
  const feet = {
    dark: RIBBON.top + down + MARKS.dark + 2,
    generator: RIBBON.top + down + MARKS.dark + MARKS.generator + 6,
  };
  // Of days in a row that are alike a stroke each: together they read as a bar.
  const strokes = (shares: readonly number[], foot: number, high: number) =>
    shares
      .map((share, i) =>
        share > 0 ? `M${tenth(x(i))} ${foot}V${tenth(foot - Math.max(2, high * Math.min(1, share)))}` : '',
      )
      .join('');
  /** The middle year's line, broken where that year's bank has let go. */
  const middle = () => {
    let pen = false;
    return days
      .map(({ p50 }, i) => {
        if ((darkDays[i] ?? 0) >= 0.5) {
          pen = false;
          return '';
        }
        const at = `${pen ? 'L' : 'M'}${tenth(x(i))} ${tenth(y(p50))}`;
        pen = true;
        return at;
      })
      .join('');
  };
  return {
    x,
    dayAt: (at) =>
      Math.max(0, Math.min(days.length - 1, Math.round(((at - RIBBON.left) / across) * (days.length - 1)))),
    dark: strokes(darkDays, feet.dark, MARKS.dark),
    generator: strokes(
      generatorDays_h.map((hours) => hours / 24),
      feet.generator,
      MARKS.generator,
    ),
    feet,
    outer: band(
      ({ p5 }) => p5,
      ({ p95 }) => p95,
    ),
    inner: band(
      ({ p25 }) => p25,
      ({ p75 }) => p75,
    ),
    middle: middle(),
    y,
    letters: [...MONTH_LETTERS].map((letter, month) => ({
      letter,
      x: RIBBON.left + across * ((MONTH_STARTS[month] ?? 0) + 1 / 24),
    })),
  };
}

/** One month's two bars: what the sun brought (and what of it nobody took), and what was used (and what was missing). */
export interface MonthBars {
  x: number;
  width: number;
  /** From the foot up: heights in px. */
  sun: number;
  engine: number;
  unused: number;
  used: number;
  unserved: number;
}
/** One year, day by day, in px. */
export interface StripLayout {
  bars: MonthBars[];
  /** kWh at the top. */
  most_kWh: number;
  foot: number;
}

/** All months on one scale, that of the largest bar. */
export function stripLayout(months: readonly YearSums[], width: number): StripLayout {
  const down = STRIP.height - STRIP.top - STRIP.bottom;
  const most = Math.max(
    1e-9,
    ...months.map(
      ({ harvest_kWh, unused_kWh, engine_kWh, generator_kWh }) => harvest_kWh + unused_kWh + engine_kWh + generator_kWh,
    ),
    ...months.map(({ used_kWh, unserved_kWh }) => used_kWh + unserved_kWh),
  );
  const each = (width - STRIP.left - STRIP.right) / 12;
  const px = (kWh: number) => (down * kWh) / most;
  return {
    most_kWh: most,
    foot: STRIP.top + down,
    bars: months.map((month, i) => ({
      x: STRIP.left + each * i + each * 0.12,
      width: each * 0.36,
      sun: px(month.harvest_kWh),
      engine: px(month.engine_kWh + month.generator_kWh),
      unused: px(month.unused_kWh),
      used: px(month.used_kWh),
      unserved: px(month.unserved_kWh),
    })),
  };
}
