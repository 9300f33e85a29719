import { cutTenths_m, sizeWords } from '../conductors/sizes';
import type { ShelfItem } from '../shelf/item';
import { tellsParts } from '../parts/lists';
import { partTitle } from '../conductors/names';
import { same } from '../system/changes';
import { flatFields } from '../system/members';
import { eachPart, KINDS, type PartKind, type Placed } from '../system/parts';
import type { System } from '../system/schema';
import {
  type PartsLine,
  bankLines,
  fittings,
  fuseLines,
  isFitted,
  lineOf,
  lugLines,
  moduleLines,
  regrouped,
} from './parts-lines';

/** What a proposal needs bought, with the sum by currency. */
export interface PartsList {
  lines: PartsLine[];
  /** Parts that stay exactly as they are, of all that were there. */
  kept: number;
  outOf: number;
  /** Of the lines with a price, by currency. */
  totals: Record<string, number>;
  /** Lines to buy that have no price. */
  unpriced: number;
}

/** The kit between two systems, priced by the shelf. */
export function partsListOf(before: System, after: System, shelf: readonly ShelfItem[]): PartsList {
  const had = new Map(eachPart(before).map((placed) => [placed.part.id, placed]));
  const has = new Map(eachPart(after).map((placed) => [placed.part.id, placed]));
  const lines: PartsLine[] = moduleLines(before, after);
  let kept = 0;
  for (const placed of has.values()) {
    const old = had.get(placed.part.id);
    const stays = old && same(old.part, placed.part);
    if (stays) kept++;
    if (stays) continue;
    if (!old || !onlyFitted(placed, old)) lines.push(...linesOf(placed, old, before, after));
    lines.push(...fittings(placed, old));
  }
  for (const placed of had.values())
    if (!has.has(placed.part.id) && isGoods(placed)) lines.push({ ...plain(placed, before), what: 'out' });
  lines.push(...lugLines(lines, after));
  const priced = lines.map((line) => withPrice(line, shelf));
  const buys = priced.filter(({ what }) => what === 'buy');
  const totals: Record<string, number> = {};
  for (const { price, currency } of buys)
    if (price !== null) totals[currency ?? ''] = (totals[currency ?? ''] ?? 0) + price;
  return {
    lines: priced,
    kept,
    outOf: had.size,
    totals,
    unpriced: buys.filter(({ price }) => price === null).length,
  };
}

/** Whether nothing changes but what is fetched and fitted, which has lines of its own. */
function onlyFitted({ kind, part }: Placed, old: Placed): boolean {
  const [was, is] = [flatFields(old.part), flatFields(part)];
  const changed = [...new Set([...Object.keys(was), ...Object.keys(is)])].filter((path) => !same(was[path], is[path]));
  return changed.length > 0 && changed.every((path) => isFitted(kind, path));
}

/** The lines of one part that is new or not as it was. */
function linesOf(placed: Placed, old: Placed | undefined, before: System, after: System): PartsLine[] {
  if (!isGoods(placed)) return regrouped(placed, old, after);
  const another = !old || plateOf(old) !== plateOf(placed);
  if (placed.kind === 'bank')
    return bankLines(placed.part, old?.kind === 'bank' ? old.part : null, another, {
      now: plain(placed, after),
      was: old ? plain(old, before) : null,
    });
  if (placed.kind === 'runs') {
    const was = old?.kind === 'runs' ? old.part : undefined;
    const cable = plain(placed, after);
    const cut: PartsLine[] = another
      ? [{ ...cable, what: 'buy', quantity: cutTenths_m(placed.part), unit: 'm', detail: sizeWords(placed.part.size) }]
      : [];
    const fuses = fuseLines(placed.part, was, cable);
    // What is neither cut nor fused anew was joined elsewhere, or its negative moved.
    const moved = cut.length + fuses.length === 0 ? [{ ...cable, what: 'set' as const, detail: 'reconnected' }] : [];
    return [...cut, ...fuses, ...moved];
  }
  const line = plain(placed, after);
  if (!another) return [{ ...line, what: 'set', detail: SET_WORDS[placed.kind] ?? 'settings' }];
  if (KINDS[placed.kind].goods === 'own') return [{ ...line, what: 'set', detail: 'supplied by the customer' }];
  const out: PartsLine[] = old ? [{ ...plain(old, before), id: `${placed.part.id}.out`, what: 'out' }] : [];
  return [{ ...line, what: 'buy' }, ...out];
}
const SET_WORDS: Partial<Record<PartKind, string>> = {
  loads: 'how it is used',
  distribution: 'its circuits',
  otherBanks: 'what joins it',
  switches: 'where it sits',
};

const plain = ({ kind, part }: Placed, system: System): PartsLine =>
  lineOf(part.id, kind, partTitle(system, part.id) ?? KINDS[kind].word);

/** The members that make it that part, in a form that can be compared. */
const plateOf = ({ kind, part }: Placed) =>
  JSON.stringify(
    Object.entries(flatFields(part))
      .filter(([path, value]) => value !== null && value !== undefined && tellsParts(kind, path))
      .sort(([a], [b]) => (a < b ? -1 : 1)),
  );
/** What is made of others is counted by what it is made of: modules by their type. */
const isGoods = ({ kind }: Placed) => KINDS[kind].goods !== 'parts';

/** What the shelf has of a line's kind: by its words, a cable by its size, a fuse by its type and rating. */
function withPrice(line: PartsLine, shelf: readonly ShelfItem[]): PartsLine {
  if (line.what !== 'buy') return line;
  const item = shelf.find(({ kind, label, body }) => {
    if (line.fuse) return kind === 'fuse' && body.type === line.fuse.type && body.rating_A === line.fuse.rating_A;
    if (line.unit === 'm') return kind === 'cable' && sizeWords(String(body.size)) === line.detail;
    // "4 x Pell Cell 12-100" is four of what the shelf knows as "Pell Cell 12-100".
    return kind === line.kind && label === line.label.replace(/^\d+ x /, '');
  });
  return {
    ...line,
    price: item?.price === null || item?.price === undefined ? null : item.price * line.quantity,
    currency: item?.currency ?? null,
  };
}
