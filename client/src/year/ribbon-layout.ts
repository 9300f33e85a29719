import { MONTH_STARTS, type YearStory, type YearSums } from '@true-lantern/core';

/** Where the ribbon and the strip below it are drawn: pure, so that a test can look at it. */

export const RIBBON = { height: 190, left: 50, right: 12, top: 8, bottom: 22 } as const;
export const STRIP = { height: 150, left: 50, right: 12, top: 8, bottom: 24 } as const;
export const MONTH_LETTERS = 'JFMAMJJASOND';

export interface RibbonLayout {
  /** From the fifth to the ninety-fifth percentile, and from the quarter to three quarters. */
  outer: string;
  inner: string;
  middle: string;
  y(soc: number): number;
  /** Middle of each month's letter. */
  letters: { x: number; letter: string }[];
}

export function ribbonLayout({ days }: Pick<YearStory, 'days'>, width: number): RibbonLayout {
  const across = width - RIBBON.left - RIBBON.right;
  const down = RIBBON.height - RIBBON.top - RIBBON.bottom;
  const x = (day: number) => RIBBON.left + (across * day) / Math.max(1, days.length - 1);
  const y = (soc: number) => RIBBON.top + down * (1 - Math.max(0, Math.min(1, soc)));
  const tenth = (value: number) => Math.round(value * 10) / 10;
  const line = (pick: (day: YearStory['days'][number]) => number) =>
    days.map((day, i) => `${tenth(x(i))} ${tenth(y(pick(day)))}`);
  const band = (low: (day: YearStory['days'][number]) => number, high: typeof low) =>
    days.length === 0 ? '' : `M${line(high).join('L')}L${line(low).reverse().join('L')}Z`;
  return {
    outer: band(
      ({ p5 }) => p5,
      ({ p95 }) => p95,
    ),
    inner: band(
      ({ p25 }) => p25,
      ({ p75 }) => p75,
    ),
    middle: days.length === 0 ? '' : `M${line(({ p50 }) => p50).join('L')}`,
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
