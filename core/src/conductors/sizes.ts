import type { Run } from '../system/schema';

/** Resistance and size of conductors. SI units: ohm, m, mm2, degC. */

type Material = NonNullable<Run['material']>;

/** AWG number of a size text: "2/0AWG" -> -1, "10AWG" -> 10; null for metric sizes. */
export function awgNumber(size: string): number | null {
  if (!size.endsWith('AWG')) return null;
  const figure = Number.parseFloat(size);
  return size.includes('/') ? 1 - figure : figure;
}

/** Area in mm2. AWG by its definition (ASTM B258): d = 0.127 mm x 92^((36 - n)/39). */
export function area_mm2(size: string): number {
  const gauge = awgNumber(size);
  if (gauge === null) return Number.parseFloat(size);
  const diameter = 0.127 * 92 ** ((36 - gauge) / 39);
  return (Math.PI * diameter * diameter) / 4;
}

/** Resistivity at 20 degC (ohm m) and temperature coefficient (1/K): IEC 60028, IEC 60889. */
const COPPER = { rho: 1.7241e-8, alpha: 0.00393 };
const ALUMINIUM = { rho: 2.8264e-8, alpha: 0.00403 };
/** Copper-clad aluminium against copper of the same size; planning value. */
const CCA_FACTOR = 1.6;
/** Stranding makes a conductor longer than its length; planning value. */
const LAY = 1.02;

/** IEC 60228 class 5, mohm/m of copper at 20 degC. */
const METRIC_MOHM_M: Record<string, number> = {
  '0.5': 39.0,
  '0.75': 26.0,
  '1': 19.5,
  '1.5': 13.3,
  '2.5': 7.98,
  '4': 4.95,
  '6': 3.3,
  '10': 1.91,
  '16': 1.21,
  '25': 0.78,
  '35': 0.554,
  '50': 0.386,
  '70': 0.272,
  '95': 0.206,
  '120': 0.161,
  '150': 0.129,
  '185': 0.106,
  '240': 0.0801,
};
const METRIC_ALUMINIUM_FACTOR = 1.64;

/** ohm per metre of one conductor, one way, at a conductor temperature. */
export function resistance_ohm_m(size: string, material: Material, conductor_C: number): number {
  const { rho, alpha } = material === 'aluminium' ? ALUMINIUM : COPPER;
  const warm = 1 + alpha * (conductor_C - 20);
  const tabulated = awgNumber(size) === null ? METRIC_MOHM_M[String(Number.parseFloat(size))] : undefined;
  if (tabulated !== undefined) {
    const factor = material === 'aluminium' ? METRIC_ALUMINIUM_FACTOR : material === 'cca' ? CCA_FACTOR : 1;
    return (tabulated / 1000) * factor * warm;
  }
  return ((rho * warm * LAY) / (area_mm2(size) * 1e-6)) * (material === 'cca' ? CCA_FACTOR : 1);
}

/** Conductor temperature for drop, sag and sharing, and for fault current (cold copper lets more through). */
export const WARM_C = 50;
/** Conductor temperature at which resistances are tabulated and faults reckoned, degC. */
export const COLD_C = 20;
/** One made joint: two lugs and a bolt; planning value. */
export const JOINT_OHM = 0.25e-3;
/** Both lugs of one link or run, ohm. */
export const LUGS_OHM = 0.1e-3;

/** Sizes that are sold, smallest first: metric by IEC 60228, the others by gauge. */
export const METRIC_SIZES: readonly string[] = Object.keys(METRIC_MOHM_M)
  .sort((a, b) => Number(a) - Number(b))
  .map((mm2) => `${mm2}mm2`);
/** American sizes that are sold, rising by area. */
export const AWG_SIZES: readonly string[] = [
  ...['20', '18', '16', '14', '12', '10', '8', '6', '4', '3', '2', '1'],
  ...['1/0', '2/0', '3/0', '4/0'],
].map((name) => `${name}AWG`);

/** "6mm2" as it is written: "6 mm2". */
export const sizeWords = (size: string) => size.replace(/(mm2|AWG)$/, ' $1');

/** Cable to buy for a run, m: there and back, every conductor, and a tenth to spare (Practice, B). */
export const toCut_m = ({ length_m, perPole }: { length_m: number; perPole?: number | null | undefined }) =>
  2 * length_m * (perPole ?? 1) * 1.1;

/** As `toCut_m`, up to the next tenth of a metre: 3.5 m one way is 7.7 m, whatever the last bit of a product says. */
export const cutTenths_m = (run: Parameters<typeof toCut_m>[0]) => Math.ceil(toCut_m(run) * 10 - 1e-6) / 10;

/** The size sold that many steps larger (or smaller) in the same system; at the ends of the list the last one. */
export function stepOfSize(size: string, steps: number): string | null {
  const sizes = size.endsWith('AWG') ? AWG_SIZES : METRIC_SIZES;
  const at = sizes.findIndex((other) => area_mm2(other) === area_mm2(size));
  const larger = sizes.findIndex((other) => area_mm2(other) > area_mm2(size));
  const between = larger < 0 ? sizes.length : larger;
  const wanted = at >= 0 ? at + steps : steps > 0 ? between + steps - 1 : between + steps;
  return sizes[Math.max(0, Math.min(sizes.length - 1, wanted))] ?? null;
}
