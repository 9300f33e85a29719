import { sizeWords, toCut_m } from '../conductors/sizes';
import type { ShelfItem } from '../shelf/item';
import { tellsParts } from '../parts/lists';
import { same } from '../system/changes';
import { flatFields } from '../system/members';
import { eachPart, KINDS, labelOf, type PartKind, type Placed } from '../system/parts';
import type { Bank, Run, System } from '../system/schema';

/** What a proposal buys, changes and takes out: one line a part. */
export interface KitLine {
  id: string;
  kind: PartKind;
  label: string;
  /** `buy` new or in place of another; `set` a setting or a regrouping; `out` taken away. */
  what: 'buy' | 'set' | 'out';
  /** Pieces, or metres of cable. */
  quantity: number;
  unit: 'pc' | 'm';
  /** What it is, for who packs it: "35 mm2". */
  detail: string | null;
  /** For all of them; null where the shelf has no such part or no price. */
  price: number | null;
  currency: string | null;
  mass_kg: number | null;
}
export interface Kit {
  lines: KitLine[];
  /** Parts that stay exactly as they are, of all that were there. */
  kept: number;
  outOf: number;
  /** Of the lines with a price, by currency. */
  totals: Record<string, number>;
  /** Lines to buy that have no price. */
  unpriced: number;
}

export function kitOf(before: System, after: System, shelf: readonly ShelfItem[]): Kit {
  const had = new Map(eachPart(before).map((placed) => [placed.part.id, placed]));
  const has = new Map(eachPart(after).map((placed) => [placed.part.id, placed]));
  const lines: KitLine[] = [...modules(before, after, shelf)];
  let kept = 0;
  for (const placed of has.values()) {
    const old = had.get(placed.part.id);
    const stays = old && same(old.part, placed.part);
    if (stays) kept++;
    if (stays || !isGoods(placed)) continue;
    const another = !old || plateOf(old) !== plateOf(placed);
    lines.push(another ? bought(placed, shelf) : { ...plain(placed), what: 'set' });
    if (placed.kind === 'runs') lines.push(...fuses(placed, old?.kind === 'runs' ? old.part : undefined, shelf));
    if (old?.kind === 'bank' && another) lines.push({ ...plain(old), what: 'out', quantity: blocks(old.part) });
  }
  for (const placed of had.values())
    if (!has.has(placed.part.id) && isGoods(placed)) lines.push({ ...plain(placed), what: 'out' });
  const buys = lines.filter(({ what }) => what === 'buy');
  const totals: Record<string, number> = {};
  for (const { price, currency } of buys)
    if (price !== null) totals[currency ?? ''] = (totals[currency ?? ''] ?? 0) + price;
  return { lines, kept, outOf: had.size, totals, unpriced: buys.filter(({ price }) => price === null).length };
}

const plain = ({ kind, part }: Placed): KitLine => ({
  id: part.id,
  kind,
  label: labelOf(part) ?? part.id,
  what: 'set',
  quantity: 1,
  unit: 'pc',
  detail: null,
  price: null,
  currency: null,
  mass_kg: null,
});

/** The members that make it that part, in a form that can be compared. */
const plateOf = ({ kind, part }: Placed) =>
  JSON.stringify(
    Object.entries(flatFields(part))
      .filter(([path, value]) => value !== null && value !== undefined && tellsParts(kind, path))
      .sort(([a], [b]) => (a < b ? -1 : 1)),
  );
/** What is made of others is counted by what it is made of: modules by their type. */
const isGoods = ({ kind }: Placed) => KINDS[kind].goods !== 'parts';

const blocks = ({ series, parallel }: Bank) => series * parallel;

/** "4 x Pell Cell 12-100" is four of what the shelf knows as "Pell Cell 12-100". */
const onShelf = (shelf: readonly ShelfItem[], kind: string, label: string) =>
  shelf.find((item) => item.kind === kind && item.label === label.replace(/^\d+ x /, ''));

function priced(line: KitLine, item: ShelfItem | undefined): KitLine {
  return {
    ...line,
    price: item?.price === null || item?.price === undefined ? null : item.price * line.quantity,
    currency: item?.currency ?? null,
  };
}

function bought(placed: Placed, shelf: readonly ShelfItem[]): KitLine {
  const { kind } = placed;
  const base: KitLine = { ...plain(placed), what: 'buy' };
  if (KINDS[kind].goods === 'own') return { ...base, what: 'set' };
  if (kind === 'runs') {
    const { size } = placed.part;
    const metres = Math.ceil(toCut_m(placed.part) * 10) / 10;
    const item = shelf.find(({ kind: of, body }) => of === 'cable' && body.size === size);
    return priced({ ...base, quantity: metres, unit: 'm', detail: sizeWords(size) }, item);
  }
  if (kind === 'bank') {
    const { series, parallel, block } = placed.part;
    const count = blocks(placed.part);
    const each = block?.mass_kg;
    return priced(
      {
        ...base,
        quantity: count,
        detail: `${series} in series, ${parallel} in parallel`,
        mass_kg: each ? each * count : null,
      },
      onShelf(shelf, kind, base.label),
    );
  }
  return priced(base, onShelf(shelf, kind, base.label));
}

/** A fuse that is new or another than before. */
function fuses(
  placed: Extract<Placed, { kind: 'runs' }>,
  old: Run | undefined,
  shelf: readonly ShelfItem[],
): KitLine[] {
  const { part: run } = placed;
  return ([run.protection, run.farProtection] as const).flatMap((device, i) => {
    const was = i === 0 ? old?.protection : old?.farProtection;
    if (!device?.type || device.type === 'none') return [];
    if (was?.type === device.type && was.rating_A === device.rating_A) return [];
    const item = shelf.find(
      ({ kind, body }) => kind === 'fuse' && body.type === device.type && body.rating_A === device.rating_A,
    );
    const detail = `${device.type} ${device.rating_A ?? '?'} A`;
    const line: KitLine = {
      ...plain(placed),
      id: `${run.id}.fuse${i}`,
      label: `Fuse, ${run.label ?? run.id}`,
      what: 'buy',
      detail,
    };
    return [priced(line, item)];
  });
}

/** Modules by type: more of them to buy, fewer to take down. */
function modules(before: System, after: System, shelf: readonly ShelfItem[]): KitLine[] {
  const count = ({ arrays }: System) => {
    const counts = new Map<string, number>();
    for (const type of (arrays ?? []).flatMap(({ strings }) => strings.flat()))
      counts.set(type, (counts.get(type) ?? 0) + 1);
    return counts;
  };
  const was = count(before);
  const is = count(after);
  return [...new Set([...was.keys(), ...is.keys()])].flatMap((id) => {
    const more = (is.get(id) ?? 0) - (was.get(id) ?? 0);
    if (more === 0) return [];
    const type = [...(after.moduleTypes ?? []), ...(before.moduleTypes ?? [])].find((one) => one.id === id);
    const line: KitLine = {
      id,
      kind: 'moduleTypes',
      label: type?.label ?? id,
      what: more > 0 ? 'buy' : 'out',
      quantity: Math.abs(more),
      unit: 'pc',
      detail: null,
      price: null,
      currency: null,
      mass_kg: type?.mass_kg ? type.mass_kg * Math.abs(more) : null,
    };
    return [more > 0 ? priced(line, onShelf(shelf, 'moduleTypes', line.label)) : line];
  });
}
