import { sizeWords, toCut_m } from '../conductors/sizes';
import type { ShelfItem } from '../shelf/item';
import { eachPart, type AnyPart, type PartKind } from '../system/parts';
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
  of: number;
  /** Of the lines with a price, by currency. */
  totals: Record<string, number>;
  /** Lines to buy that have no price. */
  unpriced: number;
}

/** Members that say how a part is set or joined, not which part it is. */
const NOT_THE_PART = new Set([
  'label',
  'settings',
  'outputGroup',
  'tapping',
  'fusedStrings',
  'link',
  'place',
  'controllerId',
  'converterId',
  'inverterId',
  'circuits',
  'strings',
  'shade',
  'from',
  'to',
  'protection',
  'chargeLimited',
  'onInverterOutput',
  'overlap',
  'priority',
  'hours_d',
  'winterHours_d',
  'idleHours_d',
  'tilt_deg',
  'azimuth_deg',
  'heated',
  'ageSpread_months',
  'series',
  'parallel',
  'length_m',
  'joints',
  'remoteSense',
  'negativeThroughShunt',
  'stringFuse_A',
  'precharge',
  'quantity',
]);
/** Made of other parts, or no goods at all. */
const NO_GOODS = new Set<PartKind>(['arrays', 'moduleTypes']);

export function kitOf(before: System, after: System, shelf: readonly ShelfItem[]): Kit {
  const had = new Map(eachPart(before).map((placed) => [placed.part.id, placed]));
  const has = new Map(eachPart(after).map((placed) => [placed.part.id, placed]));
  const lines: KitLine[] = [...modules(before, after, shelf)];
  let kept = 0;
  for (const { kind, part } of has.values()) {
    const old = had.get(part.id);
    const same = old && JSON.stringify(old.part) === JSON.stringify(part);
    if (same) kept++;
    if (same || NO_GOODS.has(kind)) continue;
    if (!old || plateOf(old.part) !== plateOf(part)) lines.push(...bought(kind, part, shelf));
    else lines.push({ ...plain(kind, part), what: 'set' });
    if (kind === 'runs') lines.push(...fuses(part as Run, old?.part as Run | undefined, shelf));
    if (kind === 'bank' && old && plateOf(old.part) !== plateOf(part))
      lines.push({ ...plain(kind, old.part), what: 'out', quantity: blocks(old.part as Bank) });
  }
  for (const { kind, part } of had.values())
    if (!has.has(part.id) && !NO_GOODS.has(kind)) lines.push({ ...plain(kind, part), what: 'out' });
  const buys = lines.filter(({ what }) => what === 'buy');
  const totals: Record<string, number> = {};
  for (const { price, currency } of buys)
    if (price !== null) totals[currency ?? ''] = (totals[currency ?? ''] ?? 0) + price;
  return { lines, kept, of: had.size, totals, unpriced: buys.filter(({ price }) => price === null).length };
}

const plain = (kind: PartKind, part: AnyPart): KitLine => ({
  id: part.id,
  kind,
  label: part.label ?? part.id,
  what: 'set',
  quantity: 1,
  unit: 'pc',
  detail: null,
  price: null,
  currency: null,
  mass_kg: null,
});

/** The members that make it that part, in a form that can be compared. */
const plateOf = (part: AnyPart) =>
  JSON.stringify(
    Object.entries(part)
      .filter(([name, value]) => !NOT_THE_PART.has(name) && value !== null && value !== undefined)
      .sort(([a], [b]) => (a < b ? -1 : 1)),
  );

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

function bought(kind: PartKind, part: AnyPart, shelf: readonly ShelfItem[]): KitLine[] {
  const base: KitLine = { ...plain(kind, part), what: 'buy' };
  // A load is the customer's own.
  if (kind === 'loads') return [{ ...base, what: 'set' }];
  if (kind === 'runs') {
    const run = part as Run;
    const metres = Math.ceil(toCut_m(run) * 10) / 10;
    const item = shelf.find(({ kind: of, body }) => of === 'cable' && body.size === run.size);
    return [priced({ ...base, quantity: metres, unit: 'm', detail: sizeWords(run.size) }, item)];
  }
  if (kind === 'bank') {
    const bank = part as Bank;
    const count = blocks(bank);
    const each = bank.block?.mass_kg;
    return [
      priced(
        {
          ...base,
          quantity: count,
          detail: `${bank.series} in series, ${bank.parallel} in parallel`,
          mass_kg: each ? each * count : null,
        },
        onShelf(shelf, kind, base.label),
      ),
    ];
  }
  return [priced(base, onShelf(shelf, kind, base.label))];
}

/** A fuse that is new or another than before. */
function fuses(run: Run, old: Run | undefined, shelf: readonly ShelfItem[]): KitLine[] {
  return ([run.protection, run.farProtection] as const).flatMap((device, i) => {
    const was = i === 0 ? old?.protection : old?.farProtection;
    if (!device?.type || device.type === 'none') return [];
    if (was?.type === device.type && was.rating_A === device.rating_A) return [];
    const item = shelf.find(
      ({ kind, body }) => kind === 'fuse' && body.type === device.type && body.rating_A === device.rating_A,
    );
    const detail = `${device.type} ${device.rating_A ?? '?'} A`;
    const line: KitLine = {
      ...plain('runs', run),
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
      ...plain('moduleTypes', { id, label: type?.label ?? id }),
      what: more > 0 ? 'buy' : 'out',
      quantity: Math.abs(more),
      mass_kg: type?.mass_kg ? type.mass_kg * Math.abs(more) : null,
    };
    return [more > 0 ? priced(line, onShelf(shelf, 'moduleTypes', line.label)) : line];
  });
}
