import type { Ledger } from '../ledger/ledger';
import type { ModuleType, PvArray } from '../system/schema';

type Mounting = NonNullable<PvArray['mounting']>;

/** K added at 1000 W/m2 where air cannot pass behind the module (planning values). */
export const MOUNTING_K: Record<Mounting, number> = {
  bonded: 22,
  flush: 12,
  raised: 5,
  rack: 0,
  ground: 0,
  portable: 0,
};

/**
 * Cell temperature, degC: T_a + G (NOCT - 20)/800 + m G/1000 (the NOCT definition, 800 W/m2 at 20 degC, with a
 * planning allowance m for the mounting).
 */
export const cell_C = (ambient_C: number, irradiance_W_m2: number, noct_C: number, mounting_K: number) =>
  ambient_C + (irradiance_W_m2 * (noct_C - 20)) / 800 + (mounting_K * irradiance_W_m2) / 1000;

/** The same as K above the air by W/m2, for whoever asks it hour by hour. */
export const heat_K_m2_W = (noct_C: number, mounting_K: number) => (noct_C - 20) / 800 + mounting_K / 1000;

/** Cell temperature at the site's record high under 1000 W/m2, degC. */
export function hotCell_C(io: Ledger, array: PvArray, module: ModuleType): number {
  const high = io.need('site.recordHigh_C', io.model.site.recordHigh_C);
  const noct = io.or(`${module.id}.noct_C`, module.noct_C, 45);
  const mounting = io.word(`${array.id}.mounting`, array.mounting, 'raised');
  return cell_C(high, 1000, noct, MOUNTING_K[mounting]);
}
