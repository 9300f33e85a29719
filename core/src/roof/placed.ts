import {
  between2,
  edgesOf,
  holds,
  rectangle,
  areaOf,
  clipped,
  convexPieces,
  type Box,
  type Point,
} from '../numeric/polygon';
import type { Fault } from '../system/faults';
import type { Model } from '../system/model';
import type { Obstacle, Roof } from '../system/schema';
import { liesUnder, outlineOf } from './fit';
import { clearanceOf, edgeOf, gapOf, lyingThere } from './size';

/** Modules as they lie on a roof: whether each is there, and where one lies wrong. */

/** A module as found that does not hold: what it is too near to, and by how much, mm. */
export interface PlacedFault {
  index: number;
  with: string;
  by_mm: number;
}

/** Modules as found. */
export interface PlacedAnswer {
  count: number;
  watts: number;
  faults: PlacedFault[];
}

/** What is placed must be there, once each, and of known size. */
export function placedFaults({ system }: Model, roof: Roof): Fault[] {
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
export function wrongIn(model: Model, roof: Roof, obstacles: readonly Obstacle[]): PlacedAnswer {
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
