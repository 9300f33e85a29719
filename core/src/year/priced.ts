import { figure } from '../ledger/figures';
import type { Remedy } from '../rules/finding';
import { FaultError } from '../system/faults';
import { type Model, withChanges } from '../system/model';
import { simulateYears, type YearSums } from './year';

/**
 * What a cure that holds back charging or hours costs in energy: a year with it and one without, in mean weather. It has
 * nothing to buy and is not free; and where the page says that energy is short, none that makes it shorter is offered.
 */
export function priced(model: Model, remedies: readonly Remedy[]): Remedy[] {
  if (!remedies.some(({ limits }) => limits)) return [...remedies];
  const before = yearOf(model);
  return remedies.flatMap((remedy): Remedy[] => {
    if (!remedy.limits) return [remedy];
    const after = before && yearOf(withChanges(model, remedy.changes));
    if (!before || !after)
      return [{ ...remedy, detail: `${remedy.detail}; its cost in energy is not known: the year has no figures` }];
    const darker = after.unserved_kWh - before.unserved_kWh;
    if (darker >= SHORT_KWH && before.unserved_kWh >= SHORT_KWH) return [];
    return [{ ...remedy, detail: `${remedy.detail}; ${priceText(before, after)}` }];
  });
}

/** Less than this in a year is no price, and no shortage, kWh. */
const SHORT_KWH = 1;

function priceText(before: YearSums, after: YearSums): string {
  const less = before.harvest_kWh - after.harvest_kWh;
  const darker = after.unserved_kWh - before.unserved_kWh;
  const engine = after.generator_kWh - before.generator_kWh;
  const parts = [
    ...(less >= SHORT_KWH ? [`${figure(Math.round(less))} kWh less solar energy`] : []),
    ...(engine >= SHORT_KWH ? [`${figure(Math.round(engine))} kWh more from the generator`] : []),
    ...(darker >= SHORT_KWH ? [`${figure(Math.round(darker))} kWh of demand goes unserved`] : []),
  ];
  return parts.length > 0 ? `in an average year ${parts.join(', ')}` : 'in an average year it costs no energy';
}

const known = new WeakMap<Model, YearSums | null>();
/** Sums of a mean year; null where the site has no figures for one. */
function yearOf(model: Model): YearSums | null {
  const found = known.get(model);
  if (found !== undefined) return found;
  const sums = worked(model);
  known.set(model, sums);
  return sums;
}

function worked(model: Model): YearSums | null {
  try {
    return simulateYears(model, { kind: 'mean' }).years[0]?.totals ?? null;
  } catch (error) {
    if (error instanceof FaultError) return null;
    throw error;
  }
}
