import type { Rung } from '@true-lantern/core';

/** A line of text, px: rungs are never closer. */
export const ROW = 74;
/** The topmost rung by its watts alone. */
const TALL = 300;

/** Heights from the ground: as far apart as their watts, but never closer than a line of text. */
export function climbed(rungs: readonly Rung[]): { rung: Rung; up: number }[] {
  const most = Math.max(1, ...rungs.map(({ extra_W }) => extra_W));
  return rungs.reduce<{ rung: Rung; up: number }[]>((below, rung) => {
    const last = below.at(-1);
    const up = last ? Math.max(last.up + ROW, (TALL * rung.extra_W) / most) : ROW / 2;
    return [...below, { rung, up }];
  }, []);
}
