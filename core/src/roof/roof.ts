import { boxOf, type Box, type Point } from '../numeric/polygon';
import { FaultError, type Fault } from '../system/faults';
import type { Model } from '../system/model';
import type { ModuleType, Obstacle, Roof } from '../system/schema';
import { fitOn, groundFor, mixedFitOn, outlineOf, type RoofFit } from './fit';
import { pack } from './pack';
import { placedFaults, wrongIn, type PlacedAnswer } from './placed';
import { shadeOf, type RoofShade } from './shade-of';
import { placedType, sizeOf } from './size';

/** What a roof carries (docs/roof.md): how many modules, what stands in the way, what lies wrong, what shade costs. */

/** One roof's answer. */
export interface RoofAnswer {
  id: string;
  module: string;
  fit: RoofFit;
  away: { obstacle: string; count: number; watts: number }[];
  short: { count: number; by_mm: number; where: Side } | null;
  placed?: PlacedAnswer;
  /** Null where something is missing. */
  shade: RoofShade | null;
  missing?: string[];
}
export type Side = 'ahead' | 'right' | 'behind' | 'left';
/** Which roofs, which module, which state and heading. */
export interface RoofAsked {
  roof?: string | undefined;
  module?: string | undefined;
  state?: string | undefined;
  heading?: number | undefined;
  /** A clock for each search: said no, the best so far counts. Absent: until proved. */
  clock?: (share: 'fit' | 'away' | 'short') => () => boolean;
  /** Keeps what fits by what it follows from: a module that is moved changes nothing of it. */
  remember?: (key: string, make: () => Room) => Room;
}

/** What a roof holds, whatever lies on it. */
export type Room = Pick<RoofAnswer, 'fit' | 'away' | 'short'>;

const MOST_SHORT_MM = 2500;
const SIDES: readonly Side[] = ['ahead', 'right', 'behind', 'left'];

/** @throws FaultError for a roof, a module type or a placing that is not there */
export function roofsOf(model: Model, asked: RoofAsked = {}): RoofAnswer[] {
  const roofs = model.system.roofs ?? [];
  const chosen = asked.roof === undefined ? roofs : roofs.filter(({ id }) => id === asked.roof);
  if (chosen.length === 0)
    throw new FaultError([
      asked.roof === undefined
        ? { path: 'system.roofs', message: 'is missing, expected a roof' }
        : { path: '--roof', message: `is "${asked.roof}", expected the id of a roof in this file` },
    ]);
  return chosen.map((roof) => roofOf(model, roof, asked));
}

function roofOf(model: Model, roof: Roof, asked: RoofAsked): RoofAnswer {
  const faults = placedFaults(model, roof);
  if (faults.length > 0) throw new FaultError(faults);
  const [module, ...others] = modulesFor(model, roof, asked.module);
  const standing = (roof.obstacles ?? []).filter(
    ({ state }) => asked.state === undefined || !state || state === asked.state,
  );
  const remember = asked.remember ?? ((_: string, make: () => Room) => make());
  const room = remember(keyOfRoom(roof, standing, [module, ...others]), () =>
    others.length > 0 ? mixedRoomOn(roof, standing, [module, ...others], asked) : roomOn(roof, standing, module, asked),
  );
  const placed = roof.placed ?? [];
  const byId = new Map([module, ...others].map((type) => [type.id, type]));
  const laid = room.fit.placed.map((spot) => ({ ...spot, type: byId.get(spot.module ?? module.id) ?? module }));
  const shade = shadeOf(model, roof, standing, placed.length > 0 ? null : laid, asked.heading);
  return {
    id: roof.id,
    module: [module, ...others].map(({ id }) => id).join(),
    ...room,
    ...(placed.length > 0 ? { placed: wrongIn(model, roof, standing) } : {}),
    ...('missing' in shade ? { shade: null, missing: shade.missing } : { shade }),
  };
}

/** What a room follows from: not from where modules lie. */
const keyOfRoom = ({ placed: _, ...bare }: Roof, standing: readonly Obstacle[], types: readonly ModuleType[]): string =>
  JSON.stringify([bare, standing, types]);

/** With each obstacle gone that can be moved: what then fits, most gained first. */
const awayOf = (
  standing: readonly Obstacle[],
  without: (left: readonly Obstacle[]) => { count: number; watts: number },
): Room['away'] =>
  standing
    .filter(({ movable }) => movable)
    .map(({ id }) => {
      const { count, watts } = without(standing.filter((one) => one.id !== id));
      return { obstacle: id, count, watts };
    })
    .sort((a, b) => b.watts - a.watts);

function roomOn(roof: Roof, standing: readonly Obstacle[], module: ModuleType, asked: RoofAsked): Room {
  const clock = asked.clock ?? (() => () => true);
  const size = sizeOf(module, roof);
  const fit = fitOn(roof, standing, module, clock('fit'));
  const { count } = fit;
  const away = awayOf(standing, (left) => {
    // A placement with the obstacle is one without it too.
    const more = pack(groundFor(roof, left), size, clock('away'), Infinity, fit.placed).spots.length;
    return { count: more, watts: more * module.pmax_W };
  });
  return {
    fit,
    away,
    short: shortOf(roof, standing, size, count, clock),
  };
}

/** The same for several types, as many of each as fit: the aim is watts. What is lacking for one more is of one type only. */
function mixedRoomOn(
  roof: Roof,
  standing: readonly Obstacle[],
  types: readonly ModuleType[],
  { clock = () => () => true }: RoofAsked,
): Room {
  const kinds = types.map((type) => ({ type, most: Infinity }));
  const fit = mixedFitOn(roof, standing, kinds, clock('fit'));
  const away = awayOf(standing, (left) => {
    const more = mixedFitOn(roof, left, kinds, clock('away'));
    // A placement with the obstacle is one without it too.
    return more.watts > fit.watts ? more : fit;
  });
  return { fit, away, short: null };
}

/** By how little one side would have to move out for one more. */
function shortOf(
  roof: Roof,
  obstacles: readonly Obstacle[],
  size: ReturnType<typeof sizeOf>,
  count: number,
  clock: NonNullable<RoofAsked['clock']>,
): RoofAnswer['short'] {
  const outline = outlineOf(roof);
  const box = boxOf(outline);
  const holdsWith = (side: Side, by: number): boolean =>
    pack(groundFor(roof, obstacles, moved(outline, box, side, by)), size, clock('short'), count + 1).spots.length >
    count;
  let best: { by_mm: number; where: Side } | null = null;
  for (const where of SIDES) {
    const most: number = best ? best.by_mm - 1 : MOST_SHORT_MM;
    if (most < 1 || !holdsWith(where, most)) continue;
    let [low, high] = [0, most];
    while (high - low > 1) {
      const middle = (low + high) >> 1;
      if (holdsWith(where, middle)) high = middle;
      else low = middle;
    }
    best = { by_mm: high, where };
  }
  return best && { count: count + 1, ...best };
}

function moved(outline: readonly Point[], box: Box, side: Side, by: number): Point[] {
  return outline.map(([x, y]): Point => {
    if (side === 'ahead' && y === box.top) return [x, y + by];
    if (side === 'behind' && y === box.foot) return [x, y - by];
    if (side === 'right' && x === box.right) return [x + by, y];
    if (side === 'left' && x === box.left) return [x - by, y];
    return [x, y];
  });
}

function roofNamed({ system }: Model, id: string): Roof {
  const found = (system.roofs ?? []).find((one) => one.id === id);
  if (!found) throw new FaultError([{ path: 'roof', message: `is "${id}", expected the id of a roof in this file` }]);
  return found;
}

/**
 * What fits on a roof at a first look, for whoever waits for the whole answer.
 * @param go false stops the search: what was found so far counts
 * @param remember keeps it by what it follows from: a module that is moved changes nothing of it
 * @throws FaultError as `roofsOf`
 */
export function firstLook(
  model: Model,
  id: string,
  go: () => boolean,
  remember: (key: string, make: () => RoofFit) => RoofFit,
): { module: string; fit: RoofFit } {
  const roof = roofNamed(model, id);
  const standing = roof.obstacles ?? [];
  const module = moduleFor(model, roof, undefined);
  const fit = remember(keyOfRoom(roof, standing, [module]), () => fitOn(roof, standing, module, go));
  return { module: module.id, fit };
}

/**
 * Where the modules that are there go, several sizes among them: the most watts that were found.
 * @param counts modules to lay, by the id of their type; types without a size are left out
 * @throws FaultError where there is no such roof
 */
export function laidOn(
  model: Model,
  id: string,
  counts: Readonly<Record<string, number>>,
  go: () => boolean,
): ReturnType<typeof mixedFitOn> {
  const roof = roofNamed(model, id);
  const kinds = (model.system.moduleTypes ?? [])
    .filter((type) => type.length_mm && type.width_mm && (counts[type.id] ?? 0) > 0)
    .map((type) => ({ type, most: counts[type.id] ?? 0 }));
  return mixedFitOn(roof, roof.obstacles ?? [], kinds, go);
}

/** The types that are asked for, their ids apart by commas; else the one that `moduleFor` finds. @throws FaultError as there */
function modulesFor(model: Model, roof: Roof, wanted: string | undefined): [ModuleType, ...ModuleType[]] {
  const isOne = wanted === undefined || (model.system.moduleTypes ?? []).some(({ id }) => id === wanted);
  const [first, ...others] = isOne ? [wanted] : wanted.split(',');
  return [moduleFor(model, roof, first), ...others.map((id) => moduleFor(model, roof, id))];
}

/**
 * The module type that is asked for, else the one most placed here, else the first array's, else the first with sizes.
 * @throws FaultError where there is none, or its size is not known
 */
export function moduleFor({ system }: Model, roof: Roof, wanted: string | undefined): ModuleType {
  const types = system.moduleTypes ?? [];
  const byId = (id: string | undefined) => types.find((one) => one.id === id);
  const counts = new Map<string, number>();
  for (const placed of roof.placed ?? []) {
    const id = placedType(system, placed);
    if (id) counts.set(id, (counts.get(id) ?? 0) + 1);
  }
  const [most] = [...counts].sort(([, a], [, b]) => b - a);
  const found =
    wanted !== undefined
      ? byId(wanted)
      : (byId(most?.[0]) ??
        byId(system.arrays?.[0]?.strings[0]?.[0]) ??
        types.find((one) => one.length_mm && one.width_mm));
  if (!found)
    throw new FaultError([
      wanted === undefined
        ? { path: 'system.moduleTypes', message: 'has none with length_mm and width_mm, expected a module to lay out' }
        : { path: '--module', message: `is "${wanted}", expected the id of a module type in this file` },
    ]);
  const faults = (['length_mm', 'width_mm'] as const).flatMap((name): Fault[] =>
    found[name]
      ? []
      : [
          {
            path: `system.moduleTypes[${types.indexOf(found)}].${name}`,
            message: 'is unknown, expected it to lay the module out',
          },
        ],
  );
  if (faults.length > 0) throw new FaultError(faults);
  return found;
}
