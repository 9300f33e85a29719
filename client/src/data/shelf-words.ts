import { figure, type ShelfItem, type ShelfKind } from '@true-lantern/core';
import { KIND_WORDS } from './fields';

/** What the kinds of the shelf are called; most are called as on the Line. */
export const shelfKindWord = (kind: ShelfKind): string =>
  kind === 'bank'
    ? 'Battery'
    : kind === 'fuse'
      ? 'Fuse or breaker'
      : kind === 'cable'
        ? 'Cable by the metre'
        : (KIND_WORDS[kind] ?? kind);

type Figures = Record<string, number | string | null | undefined>;

/** The figures by which a part is told from its neighbours, in a line. */
export function shelfFact({ kind, body }: ShelfItem): string {
  const b = body as Figures;
  const of = (field: string, unit: string, before = '') =>
    typeof b[field] === 'number' ? `${before}${figure(b[field], 5)} ${unit}` : null;
  const facts: Record<ShelfKind, (string | number | null | undefined)[]> = {
    moduleTypes: [of('pmax_W', 'W'), of('voc_V', 'V', 'open '), of('isc_A', 'A', 'short ')],
    controllers: [String(b.type ?? '').toUpperCase(), of('maxOutput_A', 'A'), of('maxPv_V', 'V', 'PV ')],
    bank: [b.chemistry, of('block_V', 'V'), of('blockCapacity_Ah', 'Ah')],
    inverters: [of('continuous_W', 'W'), of('surge_W', 'W', 'surge '), of('minDc_V', 'V', 'from ')],
    chargers: [b.kind, of('max_A', 'A')],
    converters: [of('in_V', 'V'), of('out_V', 'V', 'to '), of('max_A', 'A')],
    sources: [b.kind, of('power_W', 'W')],
    loads: [b.kind, b.type, of('power_W', 'W')],
    distribution: [of('slots', 'slots'), of('rating_A', 'A')],
    monitor: [of('shunt_A', 'A shunt')],
    fuse: [b.type, of('rating_A', 'A'), of('voltage_V', 'V')],
    cable: [b.size, b.material],
  };
  return facts[kind].filter(Boolean).join(' \u00b7 ');
}

/** "129 GBP"; null where no price is known. */
export const priceText = ({ price, currency }: ShelfItem) =>
  price === null || price === undefined ? null : `${figure(price, 6)} ${currency ?? ''}`.trim();
