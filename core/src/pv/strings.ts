import type { Ledger } from '../ledger/ledger';
import { figure } from '../ledger/figures';
import type { ModuleType, PvArray, System } from '../system/schema';
import { TYPICAL_BETA_PCT_C } from './nameplate';
import { hotCell_C } from './temperature';

/** Light from behind a bifacial module adds to its current; planning value. */
export const BIFACIAL_GAIN = 1.1;

/** The module types of one string, in order. References were checked when the file was read. */
export function modulesOf(system: System, string: readonly string[]): ModuleType[] {
  return string.flatMap((id) => (system.moduleTypes ?? []).find((module) => module.id === id) ?? []);
}

/** All modules of an array, string by string. */
export const modulesOfArray = (system: System, array: PvArray): ModuleType[] =>
  array.strings.flatMap((string) => modulesOf(system, string));

/** A string's Isc is the largest of its modules (the safe side for cables and fuses). */
export const stringIsc_A = (modules: readonly ModuleType[]) => Math.max(...modules.map(({ isc_A }) => isc_A));
/** As `stringIsc_A`, with the gain of bifacial modules. */
export const stringIscBifacial_A = (modules: readonly ModuleType[]) =>
  Math.max(...modules.map(({ isc_A, bifacial }) => isc_A * (bifacial ? BIFACIAL_GAIN : 1)));
/** A string's Imp is the smallest of its modules: the weakest holds the others back. */
export const stringImp_A = (modules: readonly ModuleType[]) => Math.min(...modules.map(({ imp_A }) => imp_A));
/** Volts of a string at full power by its plates, V. */
export const stringVmp_V = (modules: readonly ModuleType[]) => modules.reduce((sum, { vmp_V }) => sum + vmp_V, 0);

/** Watts at standard test conditions of every module in the arrays. */
export const pmaxOf_W = (system: System, arrays: readonly PvArray[]) =>
  arrays.flatMap((array) => modulesOfArray(system, array)).reduce((sum, { pmax_W }) => sum + pmax_W, 0);

/** Code-style multipliers of Voc: lowest whole degC of each band -> factor. Planning values after NEC table 690.7(a). */
const COLD_BANDS: [from_C: number, factor: number][] = [
  [25, 1],
  [20, 1.02],
  [15, 1.04],
  [10, 1.06],
  [5, 1.08],
  [0, 1.1],
  [-5, 1.12],
  [-10, 1.14],
  [-15, 1.16],
  [-20, 1.18],
  [-25, 1.2],
  [-30, 1.21],
  [-35, 1.23],
  [-40, 1.25],
];

/** The band's multiplier, or null below the table. */
export const coldBand = (temperature_C: number) =>
  COLD_BANDS.find(([from]) => Math.floor(temperature_C) >= from)?.[1] ?? null;

/** Open-circuit volts at the site's record low, of one string. Working is written for uniform runs of modules. */
export function coldString_V(io: Ledger, modules: readonly ModuleType[]): number {
  const low = io.need('site.recordLow_C', io.model.site.recordLow_C);
  const school = io.school('coldVoltage');
  let sum = 0;
  for (const { module, count } of runsOf(modules)) {
    const beta = io.see(`${module.id}.betaVoc_pct_C`, module.betaVoc_pct_C) ?? null;
    const factor = coldFactor(io, module, beta, low, school);
    io.work(
      `open string: ${count} x ${figure(module.voc_V)} V x ${figure(factor, 5)} = ${figure(count * module.voc_V * factor)} V`,
    );
    sum += count * module.voc_V * factor;
  }
  return sum;
}

function coldFactor(io: Ledger, module: ModuleType, beta: number | null, low_C: number, school: string): number {
  if (Number.isNaN(low_C)) return Number.NaN;
  const coefficient = () => {
    const rise = ((beta ?? Number.NaN) * (low_C - 25)) / 100;
    io.work(
      `colder by 25 - (${figure(low_C)}) = ${figure(25 - low_C)} K, ${figure(beta ?? Number.NaN)} %/K: factor ${figure(1 + rise, 5)}`,
    );
    return 1 + rise;
  };
  const band = coldBand(low_C);
  if (school === 'coefficient' && beta !== null) return coefficient();
  if (band !== null) {
    if (school === 'coefficient') io.guess(`${module.id}.betaVoc_pct_C`);
    io.work(`band for ${Math.floor(low_C)} degC: factor ${band}`);
    return band;
  }
  // Colder than the table: only the module's own coefficient can tell.
  if (beta === null) return io.need(`${module.id}.betaVoc_pct_C`, null);
  return coefficient();
}

/** Open-circuit volts of one string at the record high in full sun: the least it offers a controller that wakes. */
export function hotString_V(io: Ledger, array: PvArray, modules: readonly ModuleType[]): number {
  let sum = 0;
  for (const { module, count } of runsOf(modules)) {
    const cell = hotCell_C(io, array, module);
    const beta = io.or(`${module.id}.betaVoc_pct_C`, module.betaVoc_pct_C, TYPICAL_BETA_PCT_C);
    const volts = count * module.voc_V * (1 + (beta * (cell - 25)) / 100);
    io.work(`hot cell ${figure(cell)} degC: ${count} x ${figure(module.voc_V)} V at ${beta} %/K = ${figure(volts)} V`);
    sum += volts;
  }
  return sum;
}

/** Neighbours of one type, counted: [a, a, b] -> 2 of a, 1 of b. */
function runsOf(modules: readonly ModuleType[]): { module: ModuleType; count: number }[] {
  const runs: { module: ModuleType; count: number }[] = [];
  for (const module of modules) {
    const last = runs.at(-1);
    if (last?.module === module) last.count += 1;
    else runs.push({ module, count: 1 });
  }
  return runs;
}
