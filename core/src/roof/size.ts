import type { Box } from '../numeric/polygon';
import type { Model } from '../system/model';
import type { ModuleType, Roof, System } from '../system/schema';
import type { Size } from './spots';

/** What is usual on a roof where nobody measured it, mm. */
const GAP_MM = 20;
const MOUNT_MM = 40;

/** Between two modules, mm. */
export const gapOf = ({ gap_mm }: Pick<Roof, 'gap_mm'>): number => gap_mm ?? GAP_MM;
/** From the roof to the underside of the modules, mm. */
export const mountOf = ({ mount_mm }: Pick<Roof, 'mount_mm'>): number => mount_mm ?? MOUNT_MM;

/** A module with the roof's gap. */
export const sizeOf = ({ width_mm, length_mm }: ModuleType, roof: Roof): Size => ({
  width: width_mm ?? 0,
  length: length_mm ?? 0,
  gap: gapOf(roof),
});

type Placed = NonNullable<Roof['placed']>[number];

/** The rectangle of a module at a place: its length along y, or turned along x. */
export function boxAt({ width_mm, length_mm }: ModuleType, x: number, y: number, turned: boolean): Box {
  const [wide, high] = turned ? [length_mm ?? 0, width_mm ?? 0] : [width_mm ?? 0, length_mm ?? 0];
  return { left: x, right: x + wide, foot: y, top: y + high };
}

/** The type of a placed module, by its id; undefined where that array has no such module. */
export const placedType = ({ arrays }: System, { arrayId, string, index }: Placed): string | undefined =>
  arrays?.find((array) => array.id === arrayId)?.strings[string ?? 0]?.[index ?? 0];

/** A placed module with its type and rectangle. @throws Error where it is not there: that is checked before */
export function boxOfSpot({ system }: Model, placed: Placed) {
  const { x, y, turned } = placed;
  const id = placedType(system, placed);
  const module = system.moduleTypes?.find((one) => one.id === id);
  if (!module) throw new Error('A module that is placed is not in the system');
  return { module, box: boxAt(module, x, y, turned ?? false) };
}
