import { isLithium } from '../chemistry/chemistry';
import type { Bank, Inverter, System } from '../system/schema';
import type { Bay } from './bay';
import { boxOf, CLEARANCE_MM, type Box } from './fit';

/** How the blocks of a bank and the inverters beside it stand in the bay: as somebody arranged them, or as they go in (docs/roof.md). */

/** A thing in the bay, seen from above, mm from the far left corner; the front is at the bay's width. */
export interface Stood {
  partId: string;
  /** Which block of the bank, from 0; null: an inverter. */
  block: number | null;
  x_mm: number;
  y_mm: number;
  along_mm: number;
  across_mm: number;
  up_mm: number;
  /** What it needs free around it, mm. */
  air_mm: number;
  turned: boolean;
  /** A block on its side or on its end; null: upright. */
  lies: 'side' | 'end' | null;
}

/** What is wrong with how one thing stands. */
export type StandFault =
  | { index: number; what: 'wall' | 'above'; by_mm: number }
  | { index: number; what: 'near'; with: number; by_mm: number }
  /** It cannot be taken out: an inverter stands before it. */
  | { index: number; what: 'barred'; with: number }
  /** Lead gives off hydrogen: nothing that makes sparks or heat belongs in its bay. */
  | { index: number; what: 'gas' };

/** Things in a bay, what is wrong with them, and inverters for which there is no place left. */
export interface Arrangement {
  items: Stood[];
  faults: StandFault[];
  left: string[];
}

/** Free around an inverter where its maker does not say more, mm: planning value. */
export const INVERTER_AIR_MM = 100;

type Stands = NonNullable<Bank['stands']>;

/** Inverters that stand in the bay of the bank, measured. */
const besideIt = ({ inverters }: Pick<System, 'inverters'>): Inverter[] =>
  (inverters ?? []).filter(({ body }) => body?.inBay && boxOf(body) !== null);

/** Inverters that stand in the bay and are not measured. */
export const unmeasuredBeside = ({ inverters }: Pick<System, 'inverters'>): string[] =>
  (inverters ?? []).filter(({ body }) => body?.inBay && boxOf(body) === null).map(({ id }) => id);

/** As it was arranged; what nobody placed stands where it goes in. */
export function arrangementOf(system: Pick<System, 'inverters'>, bank: Bank, bay: Bay): Arrangement {
  const items = [...blocksOf(bank, bay)];
  const left: string[] = [];
  for (const inverter of besideIt(system)) {
    const stood = placedInverter(inverter, bank.stands ?? []) ?? roomFor(inverter, items, bank, bay);
    if (stood) items.push(stood);
    else left.push(inverter.id);
  }
  return { items, faults: faultsOf(items, bank, bay), left };
}

/** What the bank's own record of it is: to be stored as `stands`. */
export const standsOf = (items: readonly Stood[]): Stands =>
  items.map(({ partId, x_mm, y_mm, turned, lies }) => ({ partId, x_mm, y_mm, turned, lies }));

/** One of them moved to another place. */
export const movedTo = (items: readonly Stood[], index: number, x_mm: number, y_mm: number): Stood[] =>
  items.map((one, i) => (i === index ? { ...one, x_mm: Math.round(x_mm), y_mm: Math.round(y_mm) } : one));

/** One of them turned by a quarter about its middle. */
export const quarterTurned = (items: readonly Stood[], index: number): Stood[] =>
  items.map((one, i) =>
    i === index
      ? {
          ...one,
          turned: !one.turned,
          x_mm: Math.round(one.x_mm + (one.along_mm - one.across_mm) / 2),
          y_mm: Math.round(one.y_mm + (one.across_mm - one.along_mm) / 2),
          along_mm: one.across_mm,
          across_mm: one.along_mm,
        }
      : one,
  );

function blocksOf(bank: Bank, { block, fit, wanted }: Bay): Stood[] {
  const stands = (bank.stands ?? []).filter(({ partId }) => partId === bank.id);
  const common = (index: number) => ({ partId: bank.id, block: index, air_mm: CLEARANCE_MM });
  // Blocks of another number than were arranged are another bank.
  if (stands.length === wanted)
    return stands.map(({ x_mm, y_mm, turned, lies }, i) => {
      const [a, b, up_mm] = sidesOf(block, lies ?? null);
      const [along_mm, across_mm] = turned ? [b, a] : [a, b];
      return { ...common(i), x_mm, y_mm, along_mm, across_mm, up_mm, turned: turned ?? false, lies: lies ?? null };
    });
  return fit.places.slice(0, wanted).map(({ x_mm, y_mm, along_mm, across_mm, up_mm, lies: isLying }, i) => {
    const lies = isLying ? (up_mm === block.width_mm ? 'side' : 'end') : null;
    return {
      ...common(i),
      x_mm,
      y_mm,
      along_mm,
      across_mm,
      up_mm,
      lies,
      turned: along_mm !== sidesOf(block, lies)[0],
    };
  });
}

/** A block's two sides on the floor, and how high it rises, mm. */
function sidesOf({ length_mm, width_mm, height_mm }: Box, lies: Stood['lies']): [number, number, number] {
  if (lies === 'side') return [length_mm, height_mm, width_mm];
  return lies === 'end' ? [width_mm, height_mm, length_mm] : [length_mm, width_mm, height_mm];
}

function bodyOf({ id, body }: Inverter, turned: boolean): Omit<Stood, 'x_mm' | 'y_mm'> | null {
  const box = boxOf(body);
  if (!box) return null;
  const [along_mm, across_mm] = turned ? [box.width_mm, box.length_mm] : [box.length_mm, box.width_mm];
  const air_mm = body?.air_mm ?? INVERTER_AIR_MM;
  return { partId: id, block: null, along_mm, across_mm, up_mm: box.height_mm, air_mm, turned, lies: null };
}

function placedInverter(inverter: Inverter, stands: Stands): Stood | null {
  const stand = stands.find(({ partId }) => partId === inverter.id);
  const body = stand ? bodyOf(inverter, stand.turned ?? false) : null;
  return stand && body ? { ...body, x_mm: stand.x_mm, y_mm: stand.y_mm } : null;
}

/** The first place at walls and beside what stands already where nothing is wrong; null where there is none. */
function roomFor(inverter: Inverter, items: readonly Stood[], bank: Bank, bay: Bay): Stood | null {
  for (const turned of [false, true]) {
    const body = bodyOf(inverter, turned);
    if (!body) return null;
    const air = (one: Stood) => Math.max(one.air_mm, body.air_mm);
    const xs = [
      bay.bay.length_mm - body.along_mm - body.air_mm,
      ...items.map((one) => one.x_mm + one.along_mm + air(one)),
      body.air_mm,
    ];
    const ys = [
      body.air_mm,
      ...items.map((one) => one.y_mm + one.across_mm + air(one)),
      bay.bay.width_mm - body.across_mm - body.air_mm,
    ];
    for (const y_mm of ys)
      for (const x_mm of xs) {
        const stood = { ...body, x_mm, y_mm };
        const faults = faultsOf([...items, stood], bank, bay);
        // That gas forbids it in any place is said of the place that it would have.
        if (
          !faults.some(
            (fault) => fault.what !== 'gas' && (fault.index === items.length || touches(fault, items.length)),
          )
        )
          return stood;
      }
  }
  return null;
}
const touches = (fault: StandFault, index: number): boolean => 'with' in fault && fault.with === index;

/** What is wrong, thing by thing. */
function faultsOf(items: readonly Stood[], bank: Bank, { bay, opensAbove }: Bay): StandFault[] {
  return items.flatMap((one, index): StandFault[] => {
    const near = items.flatMap((other, with_): StandFault[] => {
      if (with_ <= index) return [];
      const by_mm = Math.max(one.air_mm, other.air_mm) - apart(one, other);
      return by_mm > 0 ? [{ index, what: 'near', with: with_, by_mm }] : [];
    });
    const room = Math.min(
      one.x_mm,
      one.y_mm,
      bay.length_mm - one.x_mm - one.along_mm,
      bay.width_mm - one.y_mm - one.across_mm,
    );
    const barring =
      one.block === null || opensAbove ? -1 : items.findIndex((other) => other.block === null && isBefore(other, one));
    const high = one.up_mm + one.air_mm - bay.height_mm;
    return [
      ...(room < one.air_mm ? [{ index, what: 'wall' as const, by_mm: one.air_mm - room }] : []),
      ...(high > 0 ? [{ index, what: 'above' as const, by_mm: high }] : []),
      ...near,
      ...(barring >= 0 ? [{ index, what: 'barred' as const, with: barring }] : []),
      ...(one.block === null && !isLithium(bank.chemistry) ? [{ index, what: 'gas' as const }] : []),
    ];
  });
}

/** How far two things are apart, along or across: the larger of both counts. */
const apart = (a: Stood, b: Stood): number =>
  Math.max(
    b.x_mm - a.x_mm - a.along_mm,
    a.x_mm - b.x_mm - b.along_mm,
    b.y_mm - a.y_mm - a.across_mm,
    a.y_mm - b.y_mm - b.across_mm,
  );

/** True where one stands between the other and the front. */
const isBefore = (one: Stood, other: Stood): boolean =>
  one.y_mm >= other.y_mm + other.across_mm - 1 &&
  one.x_mm < other.x_mm + other.along_mm &&
  one.x_mm + one.along_mm > other.x_mm;

/** Where a thing that is moved comes to rest: its air from a wall or another thing, if that is within reach; else the whole centimetre. */
export function restingPlace(
  items: readonly Stood[],
  index: number,
  { bay }: Pick<Bay, 'bay'>,
  [x, y]: readonly [number, number],
  reach_mm: number,
): [number, number] {
  const one = items[index];
  if (!one) return [Math.round(x), Math.round(y)];
  const { along_mm, across_mm, air_mm } = one;
  const xs = [air_mm, bay.length_mm - air_mm - along_mm];
  const ys = [air_mm, bay.width_mm - air_mm - across_mm];
  for (const [i, other] of items.entries()) {
    if (i === index) continue;
    const air = Math.max(air_mm, other.air_mm);
    xs.push(other.x_mm + other.along_mm + air, other.x_mm - air - along_mm, other.x_mm);
    ys.push(other.y_mm + other.across_mm + air, other.y_mm - air - across_mm, other.y_mm);
  }
  return [nearestLine(xs, x, reach_mm), nearestLine(ys, y, reach_mm)];
}

/** The nearest of some lines if it is within reach; else the whole centimetre, mm. */
export function nearestLine(lines: readonly number[], at: number, reach: number): number {
  const best = lines.reduce((found, line) => (Math.abs(line - at) < Math.abs(found - at) ? line : found), Infinity);
  return Math.abs(best - at) <= reach ? Math.round(best) : Math.round(at / 10) * 10;
}
