import { boxOf, type Box } from '../numeric/polygon';
import type { ModuleType, Obstacle, Roof, System } from '../system/schema';
import { boxOfSpot, type Size } from './spots';

/** What is usual on a roof where nobody measured it, mm. */
const GAP_MM = 20;
const MOUNT_MM = 40;
const EDGE_MM = 100;
const CLEARANCE_MM = 50;

/** Between two modules, mm. */
export const gapOf = ({ gap_mm }: Pick<Roof, 'gap_mm'>): number => gap_mm ?? GAP_MM;
/** From the roof to the underside of the modules, mm. */
export const mountOf = ({ mount_mm }: Pick<Roof, 'mount_mm'>): number => mount_mm ?? MOUNT_MM;

/** From the edge of the roof to a module, mm. */
export const edgeOf = ({ edge_mm }: Pick<Roof, 'edge_mm'>): number => edge_mm ?? EDGE_MM;
/** Kept free around an obstacle, mm. */
export const clearanceOf = ({ clearance_mm }: Pick<Obstacle, 'clearance_mm'>): number => clearance_mm ?? CLEARANCE_MM;

/** The rectangle along the axes around an obstacle, mm. */
export function obstacleBox({ outline_mm, circle_mm }: Pick<Obstacle, 'outline_mm' | 'circle_mm'>): Box {
  if (!circle_mm) return boxOf(outline_mm ?? []);
  const [x, y, r] = circle_mm;
  return { left: x - r, right: x + r, foot: y - r, top: y + r };
}

/** A module with the roof's gap. */
export const sizeOf = ({ width_mm, length_mm }: ModuleType, roof: Roof): Size => ({
  width: width_mm ?? 0,
  length: length_mm ?? 0,
  gap: gapOf(roof),
});

type Placed = NonNullable<Roof['placed']>[number];

/** The rectangle of a module at a place: its length along y, or turned along x. */
export const boxAt = ({ width_mm, length_mm }: ModuleType, x: number, y: number, turned: boolean): Box =>
  boxOfSpot({ width: width_mm ?? 0, length: length_mm ?? 0 }, { x, y, turned });

/** The type of a placed module, by its id; undefined where that array has no such module. */
export const placedType = ({ arrays }: System, { arrayId, string, index }: Placed): string | undefined =>
  arrays?.find((array) => array.id === arrayId)?.strings[string ?? 0]?.[index ?? 0];

/** A module where it lies. */
export interface Lying {
  module: ModuleType;
  box: Box;
  turned: boolean;
}

/** A placed module where it lies; null where that array has no such module. */
export function lyingOf(system: System, placed: Placed): Lying | null {
  const id = placedType(system, placed);
  const module = system.moduleTypes?.find((one) => one.id === id);
  const turned = placed.turned ?? false;
  return module ? { module, box: boxAt(module, placed.x, placed.y, turned), turned } : null;
}

/** The same of one that is there. @throws Error where it is not: that is checked before */
export function lyingThere(system: System, placed: Placed): Lying {
  const lying = lyingOf(system, placed);
  if (!lying) throw new Error('A module that is placed is not in the system');
  return lying;
}
