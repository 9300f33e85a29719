import { CHEMISTRIES, isLithium } from '../chemistry/chemistry';
import { blocksInSeries } from '../bank/fresh';
import { lifeOfBank, type WholeLife } from '../proposal/money';
import type { ShelfItem } from '../shelf/item';
import { withSystem, type Model } from '../system/model';
import type { Bank, Chemistry } from '../system/schema';
import { specify } from './specify';

/** The bank that serves a system for least over its whole life, of one chemistry. */
export interface Life {
  chemistry: Chemistry;
  item: ShelfItem;
  /** Blocks in all. */
  count: number;
  /** For all of them, once. */
  price: number;
  life: WholeLife;
}

/** Strings in parallel where the maker names none, as in the rules. */
const MOST_STRINGS = 4;

/**
 * Of each chemistry the bank of the shelf that holds the days wanted at the least whole-life price, cheapest first. What
 * the rules would call over is no price to compare with; the prices must be of one currency.
 */
export function cheapestLives(model: Model, shelf: readonly ShelfItem[], horizon_y: number): Life[] {
  const banks = shelf.filter(({ kind, price }) => kind === 'bank' && price);
  const byPrice = (a: Life, b: Life) => a.life.perUsable_kWh - b.life.perUsable_kWh;
  return CHEMISTRIES.flatMap((chemistry) =>
    banks
      .filter(({ body }) => body.chemistry === chemistry)
      .flatMap((item) => lifeOf(model, chemistry, item, horizon_y) ?? [])
      .sort(byPrice)
      .slice(0, 1),
  ).sort(byPrice);
}

function lifeOf(model: Model, chemistry: Chemistry, item: ShelfItem, horizon_y: number): Life | null {
  const { bank, nominal_V } = model.system;
  const plate = item.body as unknown as Bank;
  const series = nominal_V ? blocksInSeries(nominal_V, plate.block_V) : null;
  if (!bank || series === null || (isLithium(chemistry) && series > (plate.maxSeries ?? 1))) return null;
  const withStrings = (parallel: number): Bank => ({
    ...bank,
    ...plate,
    id: bank.id,
    series,
    parallel,
    age_y: 0,
    health_pct: 100,
  });
  const asked = withSystem(model, { ...model.system, bank: withStrings(1) });
  const wanted = specify(asked, bank.id, 'part', { series, parallel: 1 })?.lines.find(
    ({ field, test }) => field === 'blockCapacity_Ah' && test === 'least',
  )?.exact;
  if (!wanted) return null;
  const parallel = Math.ceil(wanted / plate.blockCapacity_Ah);
  if (parallel > (plate.maxParallel ?? MOST_STRINGS)) return null;
  const count = series * parallel;
  const price = (item.price ?? 0) * count;
  const life = lifeOfBank(model, withStrings(parallel), price, horizon_y);
  return life && { chemistry, item, count, price, life };
}
