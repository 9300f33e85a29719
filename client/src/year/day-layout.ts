import type { YearDay } from '@true-lantern/core';
import { tenth } from '../ui/tenth';

/** Where a day's hours are drawn: charge above, watts below, both against the hour. Pure, so that a test can look at it. */

/** The drawing's height and margins, px. */
export const DAY = { height: 240, left: 50, right: 12, top: 10, charge: 80, gap: 16, bottom: 24 } as const;

/** A day of the year in px: sun, demand, what was served, and the charge. */
export interface DayLayout {
  /** Charge at each hour's end as a line; its ground at 0. */
  charge: string;
  chargeY(soc: number): number;
  /** By hour: bars of the sun and of what was served, and what was asked and not served, px from the foot up. */
  hours: { x: number; width: number; sun: number; served: number; unserved: number; generator: boolean }[];
  foot: number;
  most_W: number;
  x(hour: number): number;
}

/** The hours of a day laid out for a width in px: W upward to the largest of them, charge from 0 to 1. */
export function dayLayout({ sun_W, demand_W, served_W, soc, generator }: YearDay, width: number): DayLayout {
  const across = width - DAY.left - DAY.right;
  const foot = DAY.height - DAY.bottom;
  const down = foot - DAY.top - DAY.charge - DAY.gap;
  const x = (hour: number) => DAY.left + (across * hour) / 24;
  const chargeY = (share: number) => DAY.top + DAY.charge * (1 - Math.max(0, Math.min(1, share)));
  const most = Math.max(1, ...sun_W, ...demand_W);
  const px = (watts: number) => (down * Math.max(0, watts)) / most;
  return {
    x,
    foot,
    most_W: most,
    chargeY,
    charge: soc.map((share, h) => `${h === 0 ? 'M' : 'L'}${tenth(x(h + 1))} ${tenth(chargeY(share))}`).join(''),
    hours: sun_W.map((sun, h) => {
      const served = served_W[h] ?? 0;
      return {
        x: x(h) + across * 0.002,
        width: across / 24 / 2 - 1,
        sun: px(sun),
        served: px(served),
        unserved: px((demand_W[h] ?? 0) - served),
        generator: generator[h] ?? false,
      };
    }),
  };
}
