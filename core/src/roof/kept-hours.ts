import { kept } from '../numeric/kept';
import type { Working } from '../pv/array-power';
import { modulesOf } from '../pv/strings';
import { knownClimate, type Climate } from '../sun/weather';
import type { Fault } from '../system/faults';
import type { Model } from '../system/model';
import type { PvArray, Roof } from '../system/schema';
import { wattsIn, type Input } from './kept';
import type { LitHour } from './light';
import { headingsOf, lightOf, litRoof, prismsOf, type LitRoof } from './lit-roof';
import { lyingThere, placedType } from './size';

/** What the shade of a roof leaves of an array that lies on it, by the hours of the mean year (docs/roof.md). */

/** Hours of the mean year: month x 24 + hour. */
export const MEAN_HOURS = 12 * 24;

/** What a roof leaves of an array through the mean year, by month x 24 + hour. */
export interface KeptHours {
  /** Of the watts that would be there without shade. */
  share: Float64Array;
  /** Wh that would be there in such an hour: what the share weighs. */
  clear_Wh: Float64Array;
}

/** The share of a month's energy that is left; 0 is January. */
export function keptInMonth({ share, clear_Wh }: KeptHours, month: number): number {
  let [left, clear] = [0, 0];
  for (let at = 24 * month; at < 24 * (month + 1); at++) {
    clear += clear_Wh[at] ?? 0;
    left += (share[at] ?? 1) * (clear_Wh[at] ?? 0);
  }
  return clear > 0 ? left / clear : 1;
}

type Placed = NonNullable<Roof['placed']>[number];

/** The modules of an array that lie on a roof where something stands high enough to shade them. */
const placedOn = (roof: Roof, array: PvArray): Placed[] =>
  prismsOf(roof, roof.obstacles ?? []).length === 0
    ? []
    : (roof.placed ?? []).filter(
        ({ arrayId, string, index }) => arrayId === array.id && array.strings[string ?? 0]?.[index ?? 0] !== undefined,
      );

/** A roof, and the modules of an array on it that something there may shade. */
interface Shaded {
  roof: Roof;
  placed: Placed[];
}
const shadedBy = ({ system }: Model, array: PvArray): Shaded[] =>
  (system.roofs ?? []).flatMap((roof) => {
    const placed = placedOn(roof, array);
    return placed.length > 0 ? [{ roof, placed }] : [];
  });

/** The modules of an array that something on a roof may shade, as "string index". */
export const shadedPlaces = (model: Model, array: PvArray): Set<string> =>
  new Set(shadedBy(model, array).flatMap(({ placed }) => placed.map(placeOf)));

const placeOf = ({ string, index }: Placed) => `${string ?? 0} ${index ?? 0}`;

/**
 * The shade that was noted of an array, string by string; where a roof says it, the roof's counts instead. Null: nothing
 * was noted.
 */
export function notedLight(model: Model, array: PvArray): number[][] | null {
  const onRoof = shadedPlaces(model, array);
  return (
    array.shade?.map((string, s) => (string ?? []).map((share, m) => (onRoof.has(`${s} ${m}`) ? 1 : share))) ?? null
  );
}

/** The share of the mean year's light that each module of an array gets on its roof, by "string index". */
export function lightOnRoofs(model: Model, array: PvArray): Map<string, number> {
  const lights = new Map<string, number>();
  const climate = knownClimate(model);
  if (!climate || unknownShade(model, array).length > 0) return lights;
  for (const shaded of shadedBy(model, array)) {
    const lit = litOf(model, climate, shaded);
    shaded.placed.forEach((one, face) => lights.set(placeOf(one), lightOf(lit, face)));
  }
  return lights;
}

/** The light on the modules of an array that lie on one roof. */
const litOf = (model: Model, climate: Climate, { roof, placed }: Shaded): LitRoof =>
  litRoof(
    model,
    climate,
    roof,
    roof.obstacles ?? [],
    placed.map((one) => lyingThere(model.system, one)),
    headingsOf(model.site, roof),
  );

/** The light on the modules of each array on each roof, kept for whoever asks next; a step for each. */
export function* lightSteps(model: Model): Generator<undefined, void> {
  const climate = knownClimate(model);
  if (!climate) return;
  for (const array of model.system.arrays ?? []) {
    if (unknownShade(model, array).length > 0) continue;
    for (const shaded of shadedBy(model, array)) {
      litOf(model, climate, shaded);
      yield;
    }
  }
}

/** What must be known for the shade on an array; never left out without a word. */
export function unknownShade(model: Model, array: PvArray): Fault[] {
  const { site, system } = model;
  return shadedBy(model, array).flatMap(({ roof, placed }) => {
    const types = new Set(placed.map((one) => placedType(system, one)));
    const sizes = (system.moduleTypes ?? []).flatMap(({ id, length_mm, width_mm }): Fault[] =>
      types.has(id)
        ? [
            ...(length_mm
              ? []
              : [{ path: `${id}.length_mm`, message: 'is unknown, expected it: one lies on the roof' }]),
            ...(width_mm ? [] : [{ path: `${id}.width_mm`, message: 'is unknown, expected it: one lies on the roof' }]),
          ]
        : [],
    );
    const turned = headingsOf(site, roof).some(Number.isNaN)
      ? [{ path: `${roof.id}.heading_deg`, message: 'is unknown, expected which way the roof points' }]
      : [];
    return [...turned, ...sizes];
  });
}

/**
 * What is left of an array's watts; of a vehicle that turns, the mean over its headings. Null where nothing shades it.
 */
export function keptByHour(model: Model, array: PvArray, working: Working, climate: Climate): KeptHours | null {
  const roofs = shadedBy(model, array);
  if (roofs.length === 0) return null;
  const { site } = model;
  const modules = array.strings.map((string) => modulesOf(model.system, string));
  const headings = roofs.map(({ roof }) => headingsOf(site, roof));
  const { id, strings } = array;
  const key = JSON.stringify([id, strings, modules, roofs, headings, site.horizon, working, climate]);
  return tables(key, () => {
    const lit = roofs.map((shaded) => litOf(model, climate, shaded));
    const faces = new Map<string, number>();
    roofs
      .flatMap(({ placed }) => placed)
      .forEach((placed, face) => {
        if (!faces.has(placeOf(placed))) faces.set(placeOf(placed), face);
      });
    const input: Input = {
      ...working,
      strings: modules.map((string, s) =>
        string.map((module, m) => ({ module, face: faces.get(`${s} ${m}`) ?? null, array: id })),
      ),
    };
    return tableOf(input, lit);
  });
}

const tables = kept<string, KeptHours>(40);

function tableOf(input: Input, lit: readonly LitRoof[]): KeptHours {
  const skies = lit.flatMap((roof) => roof.skies);
  const [full, left] = [new Float64Array(MEAN_HOURS), new Float64Array(MEAN_HOURS)];
  const most = Math.max(...lit.map(({ years }) => years.length));
  for (let heading = 0; heading < most; heading++)
    for (const hour of together(lit, heading)) {
      const at = hour.month * 24 + hour.hour;
      const watts = wattsIn(input, hour, skies);
      full[at] = (full[at] ?? 0) + watts.full;
      left[at] = (left[at] ?? 0) + watts.kept;
    }
  return {
    share: full.map((watts, at) => (watts > 0 ? (left[at] ?? 0) / watts : 1)),
    clear_Wh: full.map((watts) => watts / most),
  };
}

/** The hours of one heading over all roofs: light as on the first, and what of it reaches each module on each of them. */
function together(lit: readonly LitRoof[], heading: number): LitHour[] {
  const [first = [], ...others] = lit.map(({ years }) => years[heading % years.length] ?? []);
  if (others.length === 0) return first;
  return first.map((hour) => {
    const alike = others.map((hours) => hours.find((one) => one.month === hour.month && one.hour === hour.hour));
    const parts = alike.map((one, i) => one ?? { lit: new Float64Array(lit[i + 1]?.faces.length ?? 0).fill(1) });
    return { ...hour, lit: Float64Array.from([hour, ...parts].flatMap((one) => [...one.lit])) };
  });
}
