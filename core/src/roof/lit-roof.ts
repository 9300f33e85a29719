import type { Box } from '../numeric/polygon';
import { kept } from '../numeric/kept';
import { groupsOf } from '../pv/curve';
import { sunSeen } from '../sun/sky';
import { meanWeather, type Climate, type Weather } from '../sun/weather';
import { isVehicle, type Model } from '../system/model';
import type { ModuleType, Obstacle, Roof } from '../system/schema';
import { litHours, skiesOf, type Face, type LitHour } from './light';
import { prismOf, type Prism } from './shade';
import { mountOf, type Lying } from './size';

/** A roof with what lies on it, and the light of its mean year (docs/roof.md). */
export interface LitRoof {
  faces: Face[];
  /** The share of the sky that each module's middle sees. */
  skies: number[];
  /** The mean year's hours, heading by heading. */
  years: LitHour[][];
}

/** Of a vehicle that is not always parked one way: so many headings, evenly round. */
const HEADINGS = Array.from({ length: 8 }, (_, i) => 45 * i);

/** Where +y of a roof points over the year, degrees; NaN where nobody said. */
export function headingsOf(site: Model['site'], roof: Roof, asked?: number): number[] {
  if (asked !== undefined) return [asked];
  return isVehicle(site) && !roof.parked ? HEADINGS : [roof.heading_deg ?? Number.NaN];
}

/** What stands high enough to throw a shadow on the modules' plane. */
export const prismsOf = (roof: Roof, obstacles: readonly Obstacle[]): Prism[] =>
  obstacles.flatMap((one): Prism[] => {
    const shape = { outline: one.outline_mm ?? null, circle: one.circle_mm ?? null, height: one.height_mm ?? 0 };
    const prism = prismOf(shape, mountOf(roof), roof.tilt_deg ?? 0);
    return prism ? [prism] : [];
  });

/** The mean year's sky over a site, and which of its hours' sun stands above the horizon. */
export function skyOver({ site }: Model, climate: Climate): { weather: Weather; seen: Uint8Array } {
  const horizon = site.horizon ?? [];
  return skiesOver(JSON.stringify([climate, horizon]), () => {
    const weather = meanWeather(climate);
    return { weather, seen: sunSeen(weather, horizon) };
  });
}
const skiesOver = kept<string, ReturnType<typeof skyOver>>(4);

/**
 * The light on a roof's modules, hour by hour of the mean year, for each heading. Kept by what lies and stands there: however
 * the modules are wired, their light is the same.
 */
export function litRoof(
  model: Model,
  climate: Climate,
  roof: Roof,
  obstacles: readonly Obstacle[],
  lying: readonly Lying[],
  headings: readonly number[],
): LitRoof {
  const tilt = roof.tilt_deg ?? 0;
  const prisms = prismsOf(roof, obstacles);
  const faces = lying.map(({ module, box, turned }): Face => ({ box, groups: groupBoxes(module, box, turned) }));
  return litRoofs(JSON.stringify([tilt, prisms, faces, headings, climate, model.site.horizon]), () => {
    const { weather, seen } = skyOver(model, climate);
    return {
      faces,
      skies: skiesOf(prisms, tilt, faces),
      years: headings.map((heading) => litHours(weather, seen, { tilt, heading }, prisms, faces)),
    };
  });
}
const litRoofs = kept<string, LitRoof>(12);

/** Groups of cells lie side by side, each the whole length of the module. */
function groupBoxes(module: ModuleType, { left, right, foot, top }: Box, turned: boolean): Box[] {
  const count = groupsOf(module);
  return Array.from({ length: count }, (_, i) =>
    turned
      ? { left, right, foot: foot + ((top - foot) * i) / count, top: foot + ((top - foot) * (i + 1)) / count }
      : { left: left + ((right - left) * i) / count, right: left + ((right - left) * (i + 1)) / count, foot, top },
  );
}

/** What of the year's light reaches one module: the mean over the headings. */
export function lightOf({ years, skies }: LitRoof, face: number): number {
  const shares = years.map((hours) => {
    let [got, all] = [0, 0];
    for (const { beam, sky, ground, days, lit } of hours) {
      got += days * (beam * (lit[face] ?? 1) + sky * (skies[face] ?? 1) + ground);
      all += days * (beam + sky + ground);
    }
    return all > 0 ? got / all : 1;
  });
  return shares.reduce((sum, share) => sum + share, 0) / Math.max(1, shares.length);
}
