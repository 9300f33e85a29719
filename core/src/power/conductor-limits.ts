import {
  ENGINE_SPACE_FACTOR,
  MATERIAL_FACTOR,
  SMALL_BUILDING_FUSE_A,
  bundleFactor,
  tabulated_A,
  type Basis,
} from '../conductors/ampacity';
import { FUSES_A } from '../conductors/fuses';
import { figure } from '../ledger/figures';
import { type Ledger } from '../ledger/ledger';
import { type Run } from '../system/schema';

/** What a conductor may carry where it lies, and the largest fuse that protects it. */

/** The ampacities of a conductor, A. */
export interface Limits {
  /** (i): the column at the terminals' temperature, no derating. */
  column_A: number;
  /** (ii): derated for air and bundle. */
  derated_A: number;
  awg: number | null;
}

/** Insulation where nobody read the jacket: the worst that is sold for the basis, degC (engine, section 1). */
export const WORST_INSULATION_C: Record<Basis, number> = { building: 90, vehicle: 75, metric: 70 };

/**
 * The two limits of a conductor; both NaN where the book knows none.
 * @param inFreeAir building basis: the column to judge by, where the record does not say; absent: as recorded, else conduit
 */
export function limitsOf(io: Ledger, run: Run, inFreeAir?: boolean): Limits {
  const { site } = io.model;
  const basis = io.school('conductor');
  const vehicle = basis === 'vehicle';
  const insulation = io.or(`${run.id}.insulation_C`, run.insulation_C, WORST_INSULATION_C[basis]);
  const terminal = io.or(`${run.id}.terminal_C`, run.terminal_C, 75);
  const perPole = io.or(`${run.id}.perPole`, run.perPole, 1);
  const ambient =
    run.ambient_C ??
    (run.kind === 'pv'
      ? io.need('site.recordHigh_C', site.recordHigh_C) + 25
      : io.or(`${run.id}.ambient_C`, run.ambient_C, 30));
  if (run.ambient_C === null || run.ambient_C === undefined) io.guess(`${run.id}.ambient_C`);
  const bundled = io.or(`${run.id}.bundled`, run.bundled, 2 * perPole);
  const freeAir = basis === 'building' && (inFreeAir ?? io.flag(`${run.id}.freeAir`, run.freeAir));
  const own = tabulated_A(basis, run.size, insulation, freeAir);
  const plain = vehicle ? own : tabulated_A(basis, run.size, Math.min(insulation, terminal), freeAir);
  if (!own || !plain) {
    io.miss(`${run.id}.${own ? 'terminal_C' : 'insulation_C'}`);
    return { column_A: Number.NaN, derated_A: Number.NaN, awg: null };
  }
  if (own.converted) io.work(`${run.size} takes the table's ${own.converted}`);
  const always =
    MATERIAL_FACTOR[io.word(`${run.id}.material`, run.material, 'copper')] *
    perPole *
    (vehicle && io.flag(`${run.id}.engineSpace`, run.engineSpace) ? ENGINE_SPACE_FACTOR : 1);
  const heat = ambient >= own.column_C ? 0 : Math.sqrt((own.column_C - ambient) / (own.column_C - 30));
  const bundle = bundleFactor(basis, bundled);
  io.work(
    `column ${plain.column_C} degC: ${figure(plain.amps)} A x ${figure(always)} = ${figure(plain.amps * always)} A`,
  );
  io.work(
    `derated: ${figure(own.amps)} A x ${figure(heat)} (air ${figure(ambient)} degC) x ${figure(bundle)} (bundle) x ${figure(always)} = ${figure(own.amps * heat * bundle * always)} A`,
  );
  return { column_A: plain.amps * always, derated_A: own.amps * heat * bundle * always, awg: own.awg };
}

/** The largest fuse that protects a conductor, A. */
export function largestFuse_A(io: Ledger, run: Run, inFreeAir?: boolean): number {
  const { column_A, derated_A, awg } = limitsOf(io, run, inFreeAir);
  const ampacity = Math.min(column_A, derated_A);
  if (Number.isNaN(ampacity)) return ampacity;
  const basis = io.school('conductor');
  if (basis === 'metric') return FUSES_A.filter((amps) => amps <= ampacity + 1e-9).at(-1) ?? 0;
  const next = FUSES_A.find((amps) => amps >= ampacity - 1e-9) ?? ampacity;
  const cap = basis === 'building' && awg !== null ? SMALL_BUILDING_FUSE_A[awg] : undefined;
  return cap === undefined ? next : Math.min(next, cap);
}
