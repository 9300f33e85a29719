import type { SystemFigures } from '../plan/needs-of-site';
import type { Comparison } from '../proposal/compare';
import type { PartsList } from '../proposal/parts-list';
import { CONSEQUENCE_ORDER } from '../rules/finding';
import type { Model } from '../system/model';
import { withUnit } from '../written/units';
import type { YearStory } from '../year/story';
import { nameIn } from './names';

/** Proposals side by side in figures: on the screen where they are compared, and on the paper for the customer. */

/** One system of the comparison: as found, or with a proposal. */
export interface Column {
  id: string;
  title: string;
  model: Model;
  comparison: Comparison | null;
  partsList: PartsList | null;
  /** Changes of the proposal that no longer apply. */
  lost: number;
}

/** What is worked out elsewhere: null as long as it is awaited; a year that cannot be said is `unknown`. */
export interface Worked {
  figures: SystemFigures | null;
  year: YearStory | 'unknown' | null;
}

/** A figure by which proposals are compared. */
export interface CompareRow {
  label: string;
  value(column: Column, worked: Worked): string;
  /** A figure that may be drawn as a bar beside the others'; null where there is none. */
  figure?(worked: Worked): number | null;
}

/** "1,240 GBP", with what has no price said. */
export function totalText({ totals, unpriced }: Pick<PartsList, 'totals' | 'unpriced'>): string {
  const sums = Object.entries(totals).map(([currency, sum]) => withUnit(Math.round(sum), currency || null, 6));
  const open = unpriced > 0 ? `${unpriced} without a price` : null;
  return [sums.join(' and ') || null, open].filter(Boolean).join(', ') || 'nothing to buy';
}

const AWAITED = '\u2026';
const NONE = '\u2013';
const known = (value: number | null | undefined, say: (value: number) => string) =>
  value === null || value === undefined ? 'not known' : say(value);

/** A row that is one figure with its unit. */
const figured = (
  label: string,
  pick: (figures: SystemFigures) => number | null,
  unit: string,
  digits = 3,
): CompareRow => ({
  label,
  value: (_, { figures }) => (figures ? known(pick(figures), (value) => withUnit(value, unit, digits)) : AWAITED),
  figure: ({ figures }) => (figures ? pick(figures) : null),
});

/** A row of the year that is one figure. */
const ofYear = (label: string, pick: (year: YearStory) => number, say: (value: number) => string): CompareRow => ({
  label,
  value: (_, { year }) => (year === null ? AWAITED : year === 'unknown' ? 'not known' : say(pick(year))),
  figure: ({ year }) => (year === null || year === 'unknown' ? null : pick(year)),
});

/** What a generator's year costs: the year's own litres and hours at the site's prices. Null: no price, or no year yet. */
export function spentOf({ site: { money } }: Pick<Model, 'site'>, year: Worked['year']): number | null {
  if (year === null || year === 'unknown') return null;
  const { generator_L, generator_h } = year.totals;
  if (generator_h === 0) return 0;
  const price = money?.fuelPrice_L;
  return typeof price === 'number' ? generator_L * price + generator_h * (money?.wear_h ?? 0) : null;
}

/** How many limits are exceeded. */
export const overIn = ({ over }: Pick<SystemFigures, 'over'>): number =>
  CONSEQUENCE_ORDER.reduce((sum, name) => sum + over[name], 0);

/** The figures, in the order in which they are shown. */
export const COMPARE_ROWS: readonly CompareRow[] = [
  {
    label: 'Over',
    value: (_, { figures }) => {
      if (!figures) return AWAITED;
      const parts = CONSEQUENCE_ORDER.filter((name) => figures.over[name] > 0).map(
        (name) => `${figures.over[name]} ${name}`,
      );
      return parts.join(', ') || 'nothing';
    },
    figure: ({ figures }) => (figures ? overIn(figures) : null),
  },
  { label: 'Fixes', value: ({ comparison }) => (comparison ? String(comparison.cured.length) : NONE) },
  { label: 'Makes worse', value: ({ comparison }) => (comparison ? String(comparison.worse.length) : NONE) },
  { label: 'Causes', value: ({ comparison }) => (comparison ? String(comparison.broken.length) : NONE) },
  { label: 'Unknown', value: (_, { figures }) => (figures ? String(figures.unknown) : AWAITED) },
  {
    label: 'More load possible',
    value: ({ model }, { figures }) =>
      !figures
        ? AWAITED
        : !figures.load
          ? 'not known'
          : figures.load.extra_W === 0
            ? `none: ${nameIn(model, figures.load.subject)} is over`
            : `${withUnit(figures.load.extra_W, 'W')}, then ${nameIn(model, figures.load.subject)}`,
    figure: ({ figures }) => figures?.load?.extra_W ?? null,
  },
  figured('More energy a day', ({ energy }) => energy.extra_Wh_d, 'Wh'),
  figured('Usable in the bank', ({ usable_Wh }) => (usable_Wh === null ? null : usable_Wh / 1000), 'kWh'),
  figured('Days without sun', ({ autonomy_d }) => autonomy_d, 'days', 2),
  figured('Worst month', ({ worstMonth_pct }) => worstMonth_pct, '% of need'),
  ofYear(
    'Chance of a power cut in a year',
    ({ darkYears }) => darkYears,
    (share) => `${Math.round(100 * share)} of 100 years`,
  ),
  ofYear(
    'Energy not supplied, a year',
    ({ totals }) => totals.unserved_kWh,
    (value) => withUnit(value, 'kWh'),
  ),
  ofYear(
    'Generator hours a year',
    ({ totals }) => totals.generator_h,
    (value) => withUnit(value, 'h'),
  ),
  ofYear(
    'Fuel a year',
    ({ totals }) => totals.generator_L,
    (value) => withUnit(value, 'L'),
  ),
  {
    label: 'Fuel and wear a year',
    value: ({ model }, { year }) => {
      const spent = spentOf(model, year);
      return spent === null
        ? year === null
          ? AWAITED
          : 'not known'
        : withUnit(spent, model.site.money?.currency ?? null, 4);
    },
  },
  ofYear(
    'Life of a new bank',
    ({ life_y }) => life_y,
    (value) => withUnit(value, 'years', 2),
  ),
  figured('Weight of the bank', ({ mass_kg }) => mass_kg, 'kg'),
  { label: 'To buy', value: ({ partsList }) => (partsList ? totalText(partsList) : NONE) },
  { label: 'Parts kept', value: ({ partsList }) => (partsList ? `${partsList.kept} of ${partsList.outOf}` : 'all') },
  {
    label: 'Still applies',
    value: ({ lost, comparison }) =>
      !comparison ? NONE : lost === 0 ? 'all changes' : `${lost} of changes do not apply`,
  },
];

/** A bar of the comparison. */
export interface Bar {
  /** Shares of the widest: of this column, and of the system as found. */
  share: number;
  found: number | null;
}

/** A row as bars on one scale, with the line of what was found; null where fewer than two figures are there to compare. */
export function barsOf(figures: readonly (number | null)[], found: number | null): (Bar | null)[] {
  const most = Math.max(0, ...figures.flatMap((figure) => figure ?? []));
  const several = figures.filter((figure) => figure !== null).length > 1;
  return figures.map((figure) =>
    figure === null || !several || most <= 0
      ? null
      : { share: Math.max(0, figure) / most, found: found === null ? null : Math.max(0, found) / most },
  );
}
