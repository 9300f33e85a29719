import type { Point } from '../numeric/polygon';
import { knownClimate } from '../sun/weather';
import { FIRST_DAY } from '../sun/calendar';
import type { Model } from '../system/model';
import type { Roof } from '../system/schema';
import { isSunny } from './light';
import { prismsOf, skyOver } from './lit-roof';
import { inPlane, shadows } from './shade';

/** What a drawing of a roof shows of the sun in one hour of the mean year. */
export interface RoofSun {
  /** Degrees above the level. */
  elevation_deg: number;
  /** Outlines of the shadows in the modules' plane, mm; none where the sun is not before it. */
  dark: Point[][];
  /** True where the sun is high enough, before the plane and above the horizon. */
  sunny: boolean;
}

const RAD = Math.PI / 180;

/**
 * @param month 0 to 11
 * @param hour 0 to 23, solar time, its middle
 * @param heading_deg where +y points
 * @returns null where the site does not say where it is
 */
export function roofSun(model: Model, roof: Roof, month: number, hour: number, heading_deg: number): RoofSun | null {
  const climate = knownClimate(model);
  if (!climate) return null;
  const { weather, seen } = skyOver(model, climate);
  const at = 24 * (FIRST_DAY[month] ?? 0) + hour;
  const up = weather.up[at] ?? 0;
  const plane = { tilt: roof.tilt_deg ?? 0, heading: heading_deg };
  const ray = inPlane(plane, up, weather.north[at] ?? 0, weather.east[at] ?? 0);
  const elevation_deg = Math.asin(Math.max(-1, Math.min(1, up))) / RAD;
  const sunny = isSunny(up, ray, seen[at] === 1);
  const dark = sunny ? shadows(prismsOf(roof, roof.obstacles ?? []), plane, ray) : [];
  return { elevation_deg, sunny, dark: dark.map(({ corners }) => [...corners]) };
}
