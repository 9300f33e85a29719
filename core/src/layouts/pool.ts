import { modulesOfArray } from '../pv/strings';
import { lightOnRoofs } from '../roof/kept-hours';
import type { Model } from '../system/model';
import { wiringOf, type Wiring } from '../system/on-roofs';
import type { PvArray } from '../system/schema';

/** The modules that are there to be laid out. */

/** More modules than this are a different job: the number of groupings grows too fast to be read. */
export const MOST_MODULES = 48;

/** A module as it stands: its type, and the share of the light that it gets. */
export interface Pooled {
  type: string;
  light: number;
  /** Of that what was noted at its array; absent: as `light`. */
  noted?: number;
  /** Where it lies on a roof, by where it is wired. */
  onRoof?: Wiring;
}

/** The modules of an array as they stand, string by string. */
export const pooledIn = ({ strings, shade }: PvArray): Pooled[][] =>
  strings.map((string, s) => string.map((type, m) => ({ type, light: shade?.[s]?.[m] ?? 1 })));

/** The same with what a roof says of the light: there it counts, and the note goes along with its module. */
function standingIn(model: Model, array: PvArray): Pooled[] {
  const placed = (model.system.roofs ?? []).flatMap((roof) => (roof.placed ?? []).map(wiringOf));
  const lights = lightOnRoofs(model, array);
  return pooledIn(array).flatMap((string, s) =>
    string.map((one, m): Pooled => {
      const onRoof = placed.find((at) => at.arrayId === array.id && at.string === s && at.index === m);
      if (!onRoof) return one;
      const light = lights.get(`${s} ${m}`);
      return { ...one, onRoof, ...(light === undefined ? {} : { light, noted: one.light }) };
    }),
  );
}

/**
 * The modules as they stand, with more of the commonest type in full light, or fewer of it: the first ones. Modules of
 * other types stay: an array of another kind on the same controllers is laid out with the rest, or named as left over.
 * @param total modules in all
 */
export function poolOf(model: Model, total?: number): Pooled[] {
  const standing = (model.system.arrays ?? []).flatMap((array) => standingIn(model, array));
  const count = Math.min(MOST_MODULES, Math.max(1, Math.floor(total ?? standing.length)));
  const type = presentModules(model)?.type ?? model.system.moduleTypes?.[0]?.id;
  const others = standing.filter((one) => one.type !== type).length;
  let room = Math.max(0, count - others);
  const pool = standing.filter((one) => one.type !== type || room-- > 0);
  while (type && pool.length < count) pool.push({ type, light: 1 });
  return pool.slice(0, count);
}

/** The module type that most of the arrays are made of, with the number that is there now. */
export function presentModules(model: Model): { type: string; count: number } | null {
  const counts = new Map<string, number>();
  for (const array of model.system.arrays ?? [])
    for (const { id } of modulesOfArray(model.system, array)) counts.set(id, (counts.get(id) ?? 0) + 1);
  const [most] = [...counts].sort((a, b) => b[1] - a[1]);
  return most ? { type: most[0], count: most[1] } : null;
}
