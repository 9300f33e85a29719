import {
  between2,
  edgesOf,
  holds,
  rectangle,
  areaOf,
  clipped,
  convexPieces,
  boxOf,
  type Box,
  type Point,
} from '../numeric/polygon';
import { FaultError, type Fault } from '../system/faults';
import type { Model } from '../system/model';
import type { ModuleType, Obstacle, Roof } from '../system/schema';
import { groundOf, type Ground } from './free';
import { pack } from './pack';
import type { Spot } from './spots';
import { shadeOf, type RoofShade } from './shade-of';
import { clearanceOf, edgeOf, gapOf, lyingThere, mountOf, placedType, sizeOf } from './size';

/** What a roof carries (docs/roof.md): how many modules, what stands in the way, what lies wrong, what shade costs. */

/** One roof's answer. */
export interface RoofAnswer {
  id: string;
  module: string;
  fit: { count: number; watts: number; placed: Spot[]; bound: number; proved: boolean };
  away: { obstacle: string; count: number; watts: number }[];
  short: { count: number; by_mm: number; where: Side } | null;
  placed?: { count: number; watts: number; faults: PlacedFault[] };
  /** Null where something is missing. */
  shade: RoofShade | null;
  missing?: string[];
}
export type Side = 'ahead' | 'right' | 'behind' | 'left';
/** A module as found that does not hold: what it is too near to, and by how much, mm. */
export interface PlacedFault {
  index: number;
  with: string;
  by_mm: number;
}

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
  const module = moduleFor(model, roof, asked.module);
  const standing = (roof.obstacles ?? []).filter(
    ({ state }) => asked.state === undefined || !state || state === asked.state,
  );
  const remember = asked.remember ?? ((_: string, make: () => Room) => make());
  const { placed: _, ...bare } = roof;
  const room = remember(JSON.stringify([bare, standing, module]), () => roomOn(roof, standing, module, asked));
  const placed = roof.placed ?? [];
  const spots =
    placed.length > 0 ? placed.map(({ x, y, turned }) => ({ x, y, turned: turned ?? false })) : room.fit.placed;
  const shade = shadeOf(model, roof, standing, placed.length > 0 ? null : { module, spots }, asked.heading);
  return {
    id: roof.id,
    module: module.id,
    ...room,
    ...(placed.length > 0 ? { placed: wrongIn(model, roof, standing) } : {}),
    ...('missing' in shade ? { shade: null, missing: shade.missing } : { shade }),
  };
}

/** What fits on a roof, and whether more is ruled out. */
export function fitOn(
  roof: Roof,
  standing: readonly Obstacle[],
  module: ModuleType,
  go: () => boolean,
): RoofAnswer['fit'] {
  const { spots, bound } = pack(groundFor(roof, standing), sizeOf(module, roof), go);
  const count = spots.length;
  return { count, watts: count * module.pmax_W, placed: spots, bound, proved: bound === count };
}

function roomOn(roof: Roof, standing: readonly Obstacle[], module: ModuleType, asked: RoofAsked): Room {
  const clock = asked.clock ?? (() => () => true);
  const size = sizeOf(module, roof);
  const watts = (count: number) => count * module.pmax_W;
  const fit = fitOn(roof, standing, module, clock('fit'));
  const { count } = fit;
  const away = standing
    .filter(({ movable }) => movable)
    .map(({ id }) => {
      const without = groundFor(
        roof,
        standing.filter((one) => one.id !== id),
      );
      // A placement with the obstacle is one without it too.
      const more = pack(without, size, clock('away'), Infinity, fit.placed).spots.length;
      return { obstacle: id, count: more, watts: watts(more) };
    })
    .sort((a, b) => b.count - a.count);
  return {
    fit,
    away,
    short: shortOf(roof, standing, size, count, clock),
  };
}

/** The roof as a ground for modules: edge, clearances, what is kept clear; what they may lie over is not there. */
function groundFor(roof: Roof, obstacles: readonly Obstacle[], outline: readonly Point[] = outlineOf(roof)): Ground {
  return groundOf(outline, edgeOf(roof), [
    ...obstacles
      .filter((one) => !liesUnder(roof, one))
      .map((one) => ({
        ...(one.circle_mm ? { circle: one.circle_mm } : { outline: one.outline_mm ?? [] }),
        clearance: clearanceOf(one),
      })),
    ...(roof.keepClear ?? []).map((one) => ({ outline: one.outline_mm ?? [], clearance: 0 })),
  ]);
}
const outlineOf = ({ outline_mm }: Roof): readonly Point[] => outline_mm ?? [];

/** True for what modules may lie over: low enough, and meant to be covered. */
const liesUnder = (roof: Roof, { cover, height_mm }: Obstacle): boolean =>
  Boolean(cover) && (height_mm ?? 0) <= mountOf(roof);

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

/** What is placed must be there, once each, and of known size. */
function placedFaults({ system }: Model, roof: Roof): Fault[] {
  const at = `system.roofs[${(system.roofs ?? []).indexOf(roof)}].placed`;
  const types = system.moduleTypes ?? [];
  const seen = new Set<string>();
  const sizes = new Set<string>();
  return (roof.placed ?? []).flatMap(({ arrayId, string, index }, i): Fault[] => {
    const array = (system.arrays ?? []).find(({ id }) => id === arrayId);
    if (!array) return [{ path: `${at}[${i}].arrayId`, message: `is "${arrayId}", expected the id of an array` }];
    const modules = array.strings[string ?? 0];
    if (!modules) return [{ path: `${at}[${i}].string`, message: `is ${string}, expected a string of that array` }];
    const id = modules[index ?? 0];
    if (id === undefined)
      return [{ path: `${at}[${i}].index`, message: `is ${index}, expected a module of that string` }];
    const key = `${arrayId} ${string ?? 0} ${index ?? 0}`;
    if (seen.has(key)) return [{ path: `${at}[${i}]`, message: 'is placed already, expected each module once' }];
    seen.add(key);
    const type = types.findIndex((one) => one.id === id);
    return (['length_mm', 'width_mm'] as const).flatMap((name): Fault[] => {
      const path = `system.moduleTypes[${type}].${name}`;
      if (types[type]?.[name] || sizes.has(path)) return [];
      sizes.add(path);
      return [{ path, message: 'is unknown, expected it: one of these lies on the roof' }];
    });
  });
}

/** A placing as found, and where it does not hold: which module, what it is too near to, and by how much. */
export function wrongIn(model: Model, roof: Roof, obstacles: readonly Obstacle[]): NonNullable<RoofAnswer['placed']> {
  const outline = outlineOf(roof);
  const boxes = (roof.placed ?? []).map((one) => lyingThere(model.system, one));
  const faults: PlacedFault[] = [];
  const tell = (index: number, what: string, lacks: number) => {
    if (lacks > 1e-6) faults.push({ index, with: what, by_mm: Math.ceil(lacks - 1e-6) });
  };
  boxes.forEach(({ box }, i) => {
    const sides = edgesOf(rectangle(box));
    const toEdge = Math.sqrt(Math.min(...sides.flatMap((a) => edgesOf(outline).map((b) => between2(a, b)))));
    const inside = rectangle(box).every((corner) => holds(outline, corner));
    const out = inside
      ? 0
      : Math.max(...rectangle(box).map((corner) => (holds(outline, corner) ? 0 : offEdge(corner, outline))));
    tell(i, 'edge', edgeOf(roof) - (inside ? toEdge : -out));
    boxes.slice(i + 1).forEach(({ box: other }, k) => {
      const x = Math.max(other.left - box.right, box.left - other.right);
      const y = Math.max(other.foot - box.top, box.foot - other.top);
      tell(i, `module ${i + 1 + k}`, gapOf(roof) - Math.max(x, y));
    });
    for (const one of obstacles.filter((each) => !liesUnder(roof, each)))
      tell(i, one.id, clearanceOf(one) - toObstacle(box, one));
    for (const { label, outline_mm } of roof.keepClear ?? [])
      for (const piece of convexPieces(outline_mm ?? []))
        if (areaOf(clipped(piece, box)) > 1e-6) {
          tell(i, label ?? 'kept clear', 1);
          break;
        }
  });
  return { count: boxes.length, watts: boxes.reduce((sum, { module }) => sum + module.pmax_W, 0), faults };
}

const offEdge = (point: Point, outline: readonly Point[]) =>
  Math.sqrt(Math.min(...edgesOf(outline).map((edge) => between2([point, point], edge))));

function toObstacle(box: Box, { outline_mm, circle_mm }: Obstacle): number {
  const sides = edgesOf(rectangle(box));
  if (circle_mm) {
    const [x, y, r] = circle_mm;
    const dx = Math.max(box.left - x, 0, x - box.right);
    const dy = Math.max(box.foot - y, 0, y - box.top);
    return Math.hypot(dx, dy) - r;
  }
  const shape = outline_mm ?? [];
  const over = convexPieces(shape).some((piece) => areaOf(clipped(piece, box)) > 1e-6);
  if (over) return -1;
  return Math.sqrt(Math.min(...sides.flatMap((a) => edgesOf(shape).map((b) => between2(a, b)))));
}
