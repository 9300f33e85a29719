import { partTitle } from '../conductors/names';
import { createLedger } from '../ledger/ledger';
import type { Model } from '../system/model';
import type { Load } from '../system/schema';
import { together, unit_W } from './loads';

/** One load in the day: when it may run, and what it draws then. W at the load. */
export interface StripLoad {
  id: string;
  title: string;
  kind: Load['kind'];
  /** All of it at once. */
  running_W: number;
  /** Its energy spread evenly over its window, hour by hour: what the year counts with. */
  mean_W: number[];
  /** Share of each hour that lies in its window. */
  shares: number[];
  overlap: NonNullable<Load['overlap']>;
}
/** A day of loads on twenty-four hours, W. */
export interface DayStrip {
  loads: StripLoad[];
  /** By hour: what may run at once of those whose window lies in it: base and may, and the largest of each group that runs alone. */
  together_W: number[];
}

/** The day of a system's loads, those that are always on first. */
export function dayStrip(model: Model): DayStrip {
  const { system } = model;
  const io = createLedger(model);
  const all = [...(system.loads ?? [])].sort((a, b) => RANK[overlapOf(a)] - RANK[overlapOf(b)]);
  const strips = all.map((load): StripLoad => {
    const { shares, hours } = windowOf(load);
    const running_W = unit_W(load) * (load.quantity ?? 1);
    return {
      id: load.id,
      title: partTitle(system, load.id) ?? load.label,
      kind: load.kind,
      running_W,
      mean_W: shares.map((share) => (running_W * load.hours_d * share) / hours),
      shares,
      overlap: overlapOf(load),
    };
  });
  const together_W = Array.from({ length: 24 }, (_, h) =>
    together(
      io,
      all.filter((load, i) => load.hours_d > 0 && (strips[i]?.shares[h] ?? 0) > 0),
      unit_W,
    ),
  );
  return { loads: strips, together_W };
}

const overlapOf = ({ overlap }: Load) => overlap ?? 'may';
const RANK: Readonly<Record<StripLoad['overlap'], number>> = { base: 0, may: 1, alone: 2 };

/** The share of each hour of the day that lies in a load's window, and how long the window is. */
export function windowOf({ from_h, to_h }: Pick<Load, 'from_h' | 'to_h'>): { shares: number[]; hours: number } {
  const known = typeof from_h === 'number' && typeof to_h === 'number' && from_h !== to_h;
  const hours = known ? (((to_h - from_h) % 24) + 24) % 24 || 24 : 24;
  if (!known || hours === 24) return { shares: Array.from({ length: 24 }, () => 1), hours: 24 };
  const overlap = (low: number, high: number, h: number) => Math.max(0, Math.min(high, h + 1) - Math.max(low, h));
  const shares = Array.from({ length: 24 }, (_, h) =>
    to_h > from_h ? overlap(from_h, to_h, h) : overlap(from_h, 24, h) + overlap(0, to_h, h),
  );
  return { shares, hours };
}
