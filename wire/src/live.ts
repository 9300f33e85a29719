import type { Quantity, Reading, RefusedLine } from '@true-lantern/core';

/** What a system says of itself: one value a line, as JSON (docs/live.md). */

/** POST /live */
export interface LiveAnswer {
  kept: number;
  refused: RefusedLine[];
}

/** Of one quantity of a part: the newest value, and the times before it. */
export interface LiveSeries {
  subject: string;
  quantity: Quantity;
  at: string;
  value: number;
  /** Least, mean and largest of each step, the oldest first; null where nothing came. */
  steps: ([min: number, mean: number, max: number] | null)[];
}
export type LiveSpan = 'day' | 'month' | 'year';
/** GET /sites/:id/live?span=day */
export interface LiveAnswerOfSite {
  from: string;
  step_s: number;
  series: LiveSeries[];
  /** By the id of a device that the server asks: what came of it. */
  polled: Record<string, PolledState>;
  /** Whether this server asks devices at all (MODBUS_ALLOW). */
  asks: boolean;
}
/** GET /sites/:id/live/readings: what each day of live values comes to. */
export interface LiveReadingsAnswer {
  readings: Reading[];
}
/** A device that the server asks. */
export interface PolledState {
  asked: string;
  heard: string | null;
  /** What was wrong the last time, in words. */
  why: string | null;
  /** Figures that nothing here can have, so far. */
  dropped: number;
}
/** GET /sites/:id/feeds; POST answers with the token, told once. */
export interface Feed {
  id: string;
  createdAt: string;
  by: string | null;
  used: number;
  token?: string;
}
