import { figure } from '../ledger/figures';
import type { ModuleType } from '../system/schema';

/** Coefficients where the sheet gives none, %/K; planning values of silicon modules. */
export const TYPICAL_BETA_PCT_C = -0.3;
/** Coefficient of the short-circuit current where none was read, % a degree. */
export const TYPICAL_ALPHA_PCT_C = 0.05;

/** Cells as printed; where nobody read them, by the Voc of a silicon cell. */
export const cellsPrinted = ({ cells, voc_V }: ModuleType) => cells ?? Math.round(voc_V / 0.65);

/** Cells in series, null where the count was not read. Half-cut modules print twice as many. */
export const seriesCells = ({ cells, halfCut }: ModuleType) => (cells ? (halfCut ? cells / 2 : cells) : null);

/** What on a module's plate cannot be right together; empty for a sound plate. Ratios of silicon modules as sold. */
export function namePlateDoubts(module: ModuleType): string[] {
  const { pmax_W, voc_V, isc_A, vmp_V, imp_A } = module;
  const cells = seriesCells(module);
  const doubts: string[] = [];
  const product = vmp_V * imp_A;
  if (Math.abs(product - pmax_W) > 0.03 * pmax_W)
    doubts.push(`Vmp x Imp = ${figure(product)} W, the plate says ${figure(pmax_W)} W`);
  if (imp_A >= isc_A) doubts.push(`Imp ${figure(imp_A)} A is not below Isc ${figure(isc_A)} A`);
  else outside('Imp/Isc', imp_A / isc_A, 0.9, 0.97);
  if (vmp_V >= voc_V) doubts.push(`Vmp ${figure(vmp_V)} V is not below Voc ${figure(voc_V)} V`);
  else outside('Vmp/Voc', vmp_V / voc_V, 0.76, 0.87);
  if (cells) outside('Voc per cell', voc_V / cells, 0.55, 0.76);
  return doubts;

  function outside(name: string, value: number, low: number, high: number) {
    if (value < low - 1e-9 || value > high + 1e-9) doubts.push(`${name} = ${figure(value)}, usually ${low} to ${high}`);
  }
}
