import { RAD, normal_W_m2 } from './day';
import { sunPosition } from './position';
import { ALBEDO } from './sky';

/**
 * The light of a cloudless sky on a plane: the level after Haurwitz (1945; among the truest of the simple ones in Reno,
 * Hansen and Stein, Sandia 2012-2389), the beam after Laue (1970) with the height of the place, the plane after Hay and Davies.
 * Haze, dust and snow around move it by a tenth and more, so it counts as light told by the sky.
 */

/** A plane at a place. Degrees, north and east above 0, azimuth from north through east; m above the sea. */
export interface PlaneThere {
  latitude_deg: number;
  longitude_deg: number;
  elevation_m: number;
  tilt_deg: number;
  azimuth_deg: number;
}

const DAY_MS = 86_400_000;
/** Lower than this the sun says nothing: haze and hills decide. */
const LOWEST_COS = Math.cos(80 * RAD);

/** W/m2 on the plane at a moment (ms since 1970) if no cloud and no hill stands before the sun; 0 with the sun low or down. */
export function clearLight_W_m2(plane: PlaneThere, at: number): number {
  const { zenith_deg, azimuth_deg } = sunPosition(plane.latitude_deg, plane.longitude_deg, at, plane.elevation_m);
  const up = Math.cos(zenith_deg * RAD);
  if (!(up > LOWEST_COS)) return 0;
  const above = normal_W_m2(1 + Math.floor((at - Date.UTC(new Date(at).getUTCFullYear(), 0, 1)) / DAY_MS));
  // Kasten and Young (1989).
  const air = 1 / (up + 0.50572 * (96.07995 - zenith_deg) ** -1.6364);
  const through = (km: number) => above * ((1 - 0.14 * km) * 0.7 ** (air ** 0.678) + 0.14 * km);
  const beam = through(plane.elevation_m / 1000);
  const diffuse = Math.max(0, 1098 * up * Math.exp(-0.059 / up) - through(0) * up);
  const level = beam * up + diffuse;
  const tilt = plane.tilt_deg * RAD;
  const apart = (azimuth_deg - plane.azimuth_deg) * RAD;
  const onto = Math.max(0, up * Math.cos(tilt) + Math.sin(zenith_deg * RAD) * Math.sin(tilt) * Math.cos(apart));
  const around = beam / above;
  return (
    beam * onto +
    diffuse * ((around * onto) / up + ((1 - around) * (1 + Math.cos(tilt))) / 2) +
    (level * ALBEDO * (1 - Math.cos(tilt))) / 2
  );
}
