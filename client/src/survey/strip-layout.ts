import type { DayStrip } from '@true-lantern/core';
import { tenth } from '../ui/tenth';

/** Where a day of loads is drawn: what each draws in its hours on one another, and across them what may run at once. Pure. */
export const STRIP = { height: 220, left: 50, right: 12, top: 12, bottom: 24 } as const;

/** The loads of a day as bars in px. */
export interface StripLayout {
  most_W: number;
  foot: number;
  x(hour: number): number;
  y(watts: number): number;
  /** By load, by hour of its window: its piece of the stack, and the share of that time in which it runs. */
  pieces: { id: string; hour: number; x: number; y: number; width: number; height: number; runs: number }[];
  /** What may run at once, as a step line. */
  together: string;
}

/** The hours of a day, 0 to 24, with each load's use, laid out for a width in px. */
export function stripLayout({ loads, together_W }: DayStrip, width: number): StripLayout {
  const across = width - STRIP.left - STRIP.right;
  const foot = STRIP.height - STRIP.bottom;
  const draws = ({ running_W, shares, mean_W }: DayStrip['loads'][number], h: number) =>
    (mean_W[h] ?? 0) > 0 ? running_W * (shares[h] ?? 0) : 0;
  const stacks = Array.from({ length: 24 }, (_, h) => loads.reduce((sum, load) => sum + draws(load, h), 0));
  const most = Math.max(1, ...together_W, ...stacks);
  const x = (hour: number) => STRIP.left + (across * hour) / 24;
  const y = (watts: number) => foot - ((foot - STRIP.top) * watts) / most;
  const pieces: StripLayout['pieces'] = [];
  for (let hour = 0; hour < 24; hour++) {
    let sum = 0;
    for (const load of loads) {
      const watts = draws(load, hour);
      if (watts <= 0) continue;
      const top = y(sum + watts);
      pieces.push({
        id: load.id,
        hour,
        x: x(hour) + 0.5,
        y: top,
        width: across / 24 - 1,
        height: y(sum) - top,
        runs: (load.mean_W[hour] ?? 0) / watts,
      });
      sum += watts;
    }
  }
  return {
    most_W: most,
    foot,
    x,
    y,
    pieces,
    together: together_W
      .map((watts, h) => `${h === 0 ? `M${tenth(x(0))} ` : 'V'}${tenth(y(watts))}H${tenth(x(h + 1))}`)
      .join(''),
  };
}
