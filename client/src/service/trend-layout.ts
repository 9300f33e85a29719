import { dayOf, straight, type Trend } from '@true-lantern/core';
import { tenth } from '../ui/tenth';

/** Where a small multiple is drawn, px: pure, so that a test can look at it. */
export const TREND = { height: 132, left: 40, right: 12, top: 10, bottom: 24 } as const;

/** One series in px: its band, its points, its line and the cone of where it may go. */
export interface TrendLayout {
  /** Top and foot of the band within which all is well. */
  band: { top: number; foot: number };
  points: { x: number; y: number; left: boolean }[];
  line: string;
  cone: string;
  years: { x: number; label: string }[];
}

const DAY_MS = 86_400_000;
/** The band and half as much again is always there; what is far out makes room up to here. */
const LEAST_Z = 1.5;
const MOST_Z = 4;
/** A look ahead, as a share of what was read. */
const AHEAD = 0.35;
const STEPS = 12;
const MOST_YEARS = 6;

/** The drawing of a series for a width in px. */
export function trendLayout(trend: Pick<Trend, 'points' | 'perYear' | 'bound'>, width: number): TrendLayout {
  const dated = trend.points.map(({ at, z, left }) => ({ day: dayOf(at) ?? 0, z, left: left ?? false }));
  const first = dated[0]?.day ?? 0;
  const last = dated.at(-1)?.day ?? 0;
  const span = Math.max(30, (last - first) * (1 + AHEAD));
  const across = width - TREND.left - TREND.right;
  const down = TREND.height - TREND.top - TREND.bottom;
  const x = (day: number) => TREND.left + (across * (day - first)) / span;
  const far = dated.reduce((most, { z, left }) => (left ? most : Math.max(most, Math.abs(z) * 1.15)), LEAST_Z);
  const edge = Math.min(MOST_Z, far);
  const y = (z: number) => TREND.top + (down * (edge - Math.max(-edge, Math.min(edge, z)))) / (2 * edge);
  const [from, to] = [new Date(first * DAY_MS).getUTCFullYear(), new Date((first + span) * DAY_MS).getUTCFullYear()];
  const every = Math.max(1, Math.ceil((to - from) / MOST_YEARS));
  return {
    band: { top: y(1), foot: y(trend.bound ? -edge : -1) },
    points: dated.map(({ day, z, left }) => ({ x: x(day), y: y(z), left })),
    ...(trend.perYear === undefined ? { line: '', cone: '' } : lines()),
    years: Array.from({ length: to - from }, (_, i) => from + i + 1)
      .filter((_, i) => i % every === 0)
      .map((year) => ({ x: x(Date.UTC(year, 0, 1) / DAY_MS), label: String(year) })),
  };

  function lines() {
    const fit = straight(dated.filter(({ left }) => !left));
    const days = Array.from({ length: STEPS + 1 }, (_, i) => first + (span * i) / STEPS);
    const at = (day: number, z: number) => `${tenth(x(day))} ${tenth(y(z))}`;
    return {
      line: `M${[first, first + span].map((day) => at(day, fit.on(day))).join('L')}`,
      cone: `M${[
        ...days.map((day) => at(day, fit.on(day) + fit.doubt(day))),
        ...days.map((day) => at(day, fit.on(day) - fit.doubt(day))).reverse(),
      ].join('L')}Z`,
    };
  }
}
