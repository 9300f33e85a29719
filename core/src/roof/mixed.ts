import { elementAt } from '../numeric/element';
import type { Box } from '../numeric/polygon';
import { uniforms } from '../sun/random';
import { freeSpans, restsOf, type Fixed, type Ground } from './free';
import { pack, roomOf } from './pack';
import { boxOfSpot, type Size, type Spot } from './spots';

/**
 * Modules of several sizes on one roof (docs/roof.md): the aim is watts. What each type alone holds is searched exactly
 * (pack.ts); then orders of modules are tried, each laid as low and as far left as it goes, and the best order is varied.
 * More than what is found may be possible: the bound says by how much.
 */

/** A type of module to be laid, and how many there are; Infinity: as many as fit. */
export interface Kind {
  module: string;
  size: Size;
  watts: number;
  most: number;
}
/** A module of one of the types where it lies. */
export interface MixedSpot extends Spot {
  module: string;
}
/** What was found, and what no placement can pass. */
export interface MixedPacking {
  spots: MixedSpot[];
  watts: number;
  bound: number;
  bound_W: number;
}

/** Orders that are tried where the clock does not end it before: a second or so. */
const ORDERS = 300;
/** Modules of one type in an order, and how far into it orders differ: what a larger roof holds comes from each type alone. */
const LONGEST = 60;

interface Item {
  kind: Kind;
  turned: boolean;
}

/**
 * @param kinds at least one, their sizes known
 * @param go asked now and then; false stops, and what was found so far counts
 */
export function packMixed(ground: Ground, kinds: readonly Kind[], go: () => boolean = () => true): MixedPacking {
  const alone = kinds.map((kind) => ({ kind, ...pack(ground, kind.size, go, kind.most) }));
  let best: MixedSpot[] = [];
  let watts = 0;
  const wattsOf = (spots: readonly MixedSpot[]) =>
    spots.reduce((sum, { module }) => sum + (kinds.find((kind) => kind.module === module)?.watts ?? 0), 0);
  const better = (spots: MixedSpot[]) => {
    const sum = wattsOf(spots);
    if (sum <= watts) return false;
    [best, watts] = [spots, sum];
    return true;
  };
  // Each type by itself, the room that it leaves filled with the others.
  for (const { kind, spots } of alone) {
    const laid = spots.slice(0, kind.most).map((spot): MixedSpot => ({ ...spot, module: kind.module }));
    better(filled(ground, laid, ordersOf(kinds)));
  }
  const { bound, bound_W } = boundsOf(ground, alone);
  const dice = uniforms(1);
  let order = ordersOf(kinds);
  for (let i = 0; i < ORDERS && watts < bound_W && go(); i++) {
    const tried = i === 0 ? order : varied(order, kinds, dice);
    if (better(filled(ground, [], tried))) order = tried;
  }
  return { spots: best, watts, bound: Math.max(bound, best.length), bound_W: Math.max(bound_W, watts) };
}

/** The types in the order of what they bring on their own room, each as it is and turned, as often as there are modules. */
function ordersOf(kinds: readonly Kind[]): Item[] {
  const per = ({ watts, size }: Kind) => watts / areaWith(size);
  return [...kinds]
    .sort((a, b) => per(b) - per(a))
    .flatMap((kind) =>
      Array.from({ length: Math.min(kind.most, LONGEST) }, (_, i): Item => ({ kind, turned: i % 2 === 1 })),
    );
}

/** Another order: some modules change places, some are turned. */
function varied(order: readonly Item[], kinds: readonly Kind[], dice: () => number): Item[] {
  const next = [...order];
  const any = () => Math.floor(dice() * Math.min(next.length, LONGEST));
  const changes = 1 + Math.floor(dice() * 6);
  for (let i = 0; i < changes; i++) {
    const [a, b] = [any(), any()];
    const [one, other] = [elementAt(next, a), elementAt(next, b)];
    if (dice() < 0.5) next[a] = { ...one, turned: !one.turned };
    else [next[a], next[b]] = [other, one];
  }
  // Where there is no end of a type, another may stand in its place.
  if (dice() < 0.5) {
    const at = any();
    const open = kinds.filter(({ most }) => most === Infinity);
    const kind = open[Math.floor(dice() * open.length)];
    if (kind && elementAt(next, at).kind.most === Infinity) next[at] = { kind, turned: dice() < 0.5 };
  }
  return next;
}

/** What lies there already, and of an order each module that still finds a place: as low as it goes, then as far left. */
function filled(ground: Ground, laid: readonly MixedSpot[], order: readonly Item[]): MixedSpot[] {
  const spots = [...laid];
  const boxes = laid.map((spot) => boxOf(order, spot));
  let room: Ground = { ...ground, fixed: [...ground.fixed, ...boxes.map(blocked(gapOf(order)))] };
  const left = new Map<string, number>();
  for (const { kind } of order) left.set(kind.module, kind.most);
  for (const { module } of laid) left.set(module, (left.get(module) ?? 0) - 1);
  // A type that found no place one way finds none later: there is only less room.
  const full = new Set<string>();
  for (const { kind, turned } of order) {
    if ((left.get(kind.module) ?? 0) <= 0) continue;
    const ways = kind.size.width === kind.size.length ? [turned] : [turned, !turned];
    let found: Spot | null = null;
    for (const way of ways) {
      if (full.has(`${kind.module} ${way}`)) continue;
      found = lowest(room, kind.size, way, boxes);
      if (found) break;
      full.add(`${kind.module} ${way}`);
    }
    if (!found) continue;
    spots.push({ ...found, module: kind.module });
    const box = boxOfSpot(kind.size, found);
    boxes.push(box);
    room = { ...room, fixed: [...room.fixed, blocked(kind.size.gap)(box)] };
    left.set(kind.module, (left.get(kind.module) ?? 0) - 1);
  }
  return spots;
}

const gapOf = (order: readonly Item[]): number => order[0]?.kind.size.gap ?? 0;
function boxOf(order: readonly Item[], spot: MixedSpot): Box {
  const item = order.find(({ kind }) => kind.module === spot.module);
  if (!item) throw new Error('A module that lies there is of none of the types');
  return boxOfSpot(item.kind.size, spot);
}
/** What a module that lies there bars: itself and the gap round it. */
const blocked =
  (gap: number) =>
  ({ left, right, foot, top }: Box): Fixed => ({
    points: [
      [left - gap, foot - gap],
      [right + gap, foot - gap],
      [right + gap, top + gap],
      [left - gap, top + gap],
    ],
    clearance: 0,
    solid: true,
  });

function lowest(room: Ground, size: Size, turned: boolean, boxes: readonly Box[]): Spot | null {
  const [wide, high] = turned ? [size.length, size.width] : [size.width, size.length];
  const heights = new Set(restsOf(room, high).up);
  for (const { top } of boxes) heights.add(Math.ceil(top + size.gap));
  for (const y of [...heights].sort((a, b) => a - b)) {
    const [first] = freeSpans(room, wide, high, y);
    if (first) return { x: first.from, y, turned };
  }
  return null;
}

const areaWith = ({ width, length, gap }: Size): number => (width + gap) * (length + gap);

/**
 * What no placement can pass, modules and watts: of each type no more than what it holds alone and than there are, together
 * no larger than the roof, and no more than the roof holds of a type that fits wherever each of the others does.
 */
function boundsOf(ground: Ground, alone: readonly { kind: Kind; bound: number }[]): { bound: number; bound_W: number } {
  const gap = alone[0]?.kind.size.gap ?? 0;
  const room = roomOf(ground, gap);
  const least = alone.find(({ kind }) =>
    alone.every(({ kind: other }) => short(kind) <= short(other) && long(kind) <= long(other)),
  );
  const together = Math.min(
    least && least.kind.most === Infinity ? least.bound : Infinity,
    alone.reduce((sum, { kind, bound }) => sum + Math.min(kind.most, bound), 0),
  );
  const kinds = alone.map(({ kind, bound }) => ({
    most: Math.min(kind.most, bound),
    area: areaWith(kind.size),
    watts: kind.watts,
  }));
  const mostWatts = (at: number, area: number, count: number): number => {
    const kind = kinds[at];
    if (!kind) return 0;
    let most = 0;
    for (let n = 0; n <= Math.min(kind.most, count) && n * kind.area <= area + 1e-6; n++)
      most = Math.max(most, n * kind.watts + mostWatts(at + 1, area - n * kind.area, count - n));
    return most;
  };
  const mostCount = Math.min(together, Math.floor(room / Math.min(...kinds.map(({ area }) => area)) + 1e-9));
  return { bound: mostCount, bound_W: mostWatts(0, room, together) };
}
const short = ({ size }: Kind): number => Math.min(size.width, size.length);
const long = ({ size }: Kind): number => Math.max(size.width, size.length);
