import { modelOf } from '../system/model';
import { FaultError } from '../system/faults';
import type { SystemFile } from '../system/schema';
import { aheadOf, type AheadCure } from './ahead';
import { chargeNow } from './charge-now';
import { dateOf, dayFrom } from './days';
import { dueOf } from './due';
import { aheadLines } from './words';

/** Which sites of a firm may lose power (docs/service.md): for a week, or from today to the end of winter. */
export type FleetSpan = 'week' | 'winter';

/** One site's chance of a power cut. */
export interface FleetSite {
  latitude_deg: number | null;
  longitude_deg: number | null;
  /** State of charge at the start, and whether nobody read it. */
  soc: number;
  assumed: boolean;
  days: number;
  /** Share of the draws with any hour without power; null where something is missing. */
  dark: number | null;
  firstDark?: { date: string; share: number };
  cures: AheadCure[];
  /** The same in sentences: tonight, the days ahead, what helps. */
  lines: string[];
  /** Paths of the file that nobody recorded and the year needs. */
  missing?: string[];
  /** Jobs due within 30 days. */
  due: number;
}

const WEEK_D = 7;
const DUE_D = 30;
/** Where nobody read the charge. */
const USUAL_SOC = 0.8;
/** The last day of winter, as month and day: north, and south of the equator. */
const NORTH = [3, 31] as const;
const SOUTH = [9, 30] as const;

/** Days from a day to the last of winter, both counted; at least one. */
export function winterDays(on: number, latitude_deg: number | null): number {
  const [month, day] = (latitude_deg ?? 0) < 0 ? SOUTH : NORTH;
  const year = Number(dateOf(on).slice(0, 4));
  const end = [year, year + 1].map((one) => dayFrom(`${one}-${two(month)}-${two(day)}`) ?? on).find((one) => one >= on);
  return (end ?? on) - on + 1;
}
const two = (value: number) => String(value).padStart(2, '0');

/** What is known of one site's next days. @param on the first day, counted from 1970 */
export function fleetSite(file: SystemFile, on: number, span: FleetSpan, draws = 200): FleetSite {
  const read = chargeNow(file, on);
  const { latitude_deg, longitude_deg } = file.site;
  const days = span === 'week' ? WEEK_D : winterDays(on, latitude_deg ?? null);
  const soc = read?.soc ?? USUAL_SOC;
  const known = {
    latitude_deg: latitude_deg ?? null,
    longitude_deg: longitude_deg ?? null,
    soc,
    assumed: read === null,
    days,
    due: dueOf(file, on, DUE_D).length,
  };
  try {
    const model = modelOf(file);
    const ahead = aheadOf(model, { on, soc, days, draws });
    const { dark, firstDark, cures } = ahead;
    return { ...known, dark, ...(firstDark ? { firstDark } : {}), cures, lines: aheadLines(model, ahead) };
  } catch (error) {
    if (!(error instanceof FaultError)) throw error;
    return { ...known, dark: null, cures: [], lines: [], missing: error.faults.map(({ path }) => path) };
  }
}
