import { boxOf, type Box, type Point } from '../numeric/polygon';
import { ALBEDO } from '../sun/sky';
import type { Weather } from '../sun/weather';
import { FIRST_DAY, MONTH_DAYS } from '../sun/calendar';
import { inPlane, litShares, shadows, skyShare, type Plane, type Prism, type Ray } from './shade';

/**
 * The light of the mean year on the modules of a roof, hour by hour (docs/roof.md): how much of it is beam, how much comes
 * from the sky, and what of each reaches each module and each of its groups of cells.
 */

/** One hour of a month's mean day. */
export interface LitHour {
  month: number;
  hour: number;
  /** How often in a year. */
  days: number;
  air_C: number;
  /** W/m2 on the plane: with the sun, from the sky, from the ground. */
  beam: number;
  sky: number;
  ground: number;
  /** True where the sun is high enough, before the plane and above the horizon. */
  sunny: boolean;
  /** By module: the share of its face that the sun reaches, and by group of cells. */
  lit: Float64Array;
  groups: Float64Array[];
}

/** A module as it lies: its face, and the groups of its cells along its length. */
export interface Face {
  box: Box;
  groups: Box[];
}

const LEAST_UP = Math.sin((5 * Math.PI) / 180);

/** Whether a roof has the sun: high enough, before the plane and above the horizon. */
export const isSunny = (up: number, { n }: Ray, seen: boolean): boolean => up >= LEAST_UP && n > 0 && seen;

/**
 * @param weather of the mean year
 * @param seen whether the sun stands above the horizon, by hour of the year
 */
export function litHours(
  weather: Weather,
  seen: Uint8Array,
  plane: Plane,
  prisms: readonly Prism[],
  faces: readonly Face[],
): LitHour[] {
  const tilt = (plane.tilt * Math.PI) / 180;
  const [sky, ground] = [(1 + Math.cos(tilt)) / 2, (ALBEDO * (1 - Math.cos(tilt))) / 2];
  const inFull = faces.map(({ groups }) => ({ lit: 1, parts: new Float64Array(groups.length).fill(1) }));
  const near = boxOf(
    faces.flatMap(({ box: { left, right, foot, top } }): Point[] => [
      [left, foot],
      [right, top],
    ]),
  );
  const hours: LitHour[] = [];
  for (let month = 0; month < 12; month++) {
    const first = 24 * (FIRST_DAY[month] ?? 0);
    for (let hour = 0; hour < 24; hour++) {
      const at = first + hour;
      const up = weather.up[at] ?? 0;
      const ray = inPlane(plane, up, weather.north[at] ?? 0, weather.east[at] ?? 0);
      const sunny = isSunny(up, ray, seen[at] === 1);
      const global = weather.ghi[at] ?? 0;
      if (!(global > 0) && !sunny) continue;
      const normal = weather.normal_W_m2[FIRST_DAY[month] ?? 0] ?? 1;
      const level = Math.min(weather.dhi[at] ?? 0, global);
      const beam = up >= LEAST_UP ? Math.min(normal, (global - level) / up) : 0;
      const diffuse = global - beam * up;
      // Hay and Davies: of the sky's light a part comes from beside the sun, and is shaded with it.
      const sunward = beam > 0 && seen[at] === 1 ? beam / normal : 0;
      const onto = Math.max(0, ray.n);
      const dark = sunny && prisms.length > 0 ? shadows(prisms, plane, ray, near) : [];
      const shares = sunny ? faces.map(({ box, groups }) => litShares(box, groups, dark)) : inFull;
      hours.push({
        month,
        hour,
        days: MONTH_DAYS[month] ?? 0,
        air_C: weather.temp_C[at] ?? 0,
        beam: sunward > 0 ? beam * onto + (diffuse * sunward * onto) / up : 0,
        sky: diffuse * (1 - sunward) * sky,
        ground: ground * global,
        sunny,
        lit: Float64Array.from(shares, ({ lit }) => lit),
        groups: shares.map(({ parts }) => parts),
      });
    }
  }
  return hours;
}

/** The sky of each module's middle. */
export const skiesOf = (prisms: readonly Prism[], tilt_deg: number, faces: readonly Face[]): number[] =>
  faces.map(({ box }) => skyShare(prisms, tilt_deg, [(box.left + box.right) / 2, (box.foot + box.top) / 2]));
