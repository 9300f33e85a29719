import { cellsInSeries } from '../bank/bank';
import { floatCell_V } from '../chemistry/chemistry';
import { createLedger } from '../ledger/ledger';
import { worksAt } from '../pv/array-power';
import { modulesOf } from '../pv/strings';
import { heat_K_m2_W, MOUNTING_K } from '../pv/temperature';
import type { Model } from '../system/model';
import type { ModuleType, PvArray, Roof } from '../system/schema';
import type { Input } from './kept';

/** Modules on a roof as the controllers see them. */

/** A string of modules that nobody wired works at its best point, from here up, V. */
const ANY_V = 1;

/** Modules that nobody wired, in the order of their faces: those of each type as one string at its best point. */
export const loose = (modules: readonly ModuleType[]): Input[] =>
  [...new Set(modules)].map((module) => ({
    type: 'mppt',
    volts: ANY_V,
    worth_V: ANY_V,
    heat_K_m2_W: heatOf([module], null),
    strings: [modules.flatMap((one, face) => (one === module ? [{ module, face, array: '' }] : []))],
  }));

/** The inputs of controllers that have a module on this roof, all their strings together. */
export function inputsOf(model: Model, roof: Roof): Input[] {
  const { system } = model;
  const placed = roof.placed ?? [];
  const here = new Set(placed.map(({ arrayId }) => arrayId));
  const groups = new Map<string, PvArray[]>();
  for (const array of system.arrays ?? []) {
    const key = array.controllerId ? `c ${array.controllerId}` : `a ${array.id}`;
    groups.set(key, [...(groups.get(key) ?? []), array]);
  }
  return [...groups.values()]
    .filter((arrays) => arrays.some(({ id }) => here.has(id)))
    .map((arrays): Input => {
      const controller = system.controllers?.find(({ id }) => id === arrays[0]?.controllerId);
      return {
        ...worksAt(controller?.type ?? 'mppt', floatOf(model)),
        heat_K_m2_W: heatOf(
          arrays.flatMap((array) => array.strings.flatMap((string) => modulesOf(system, string))),
          arrays[0] ?? null,
        ),
        strings: arrays.flatMap((array) =>
          array.strings.map((string, s) =>
            modulesOf(system, string).map((module, m) => {
              const face = placed.findIndex(
                (one) => one.arrayId === array.id && (one.string ?? 0) === s && (one.index ?? 0) === m,
              );
              return { module, face: face < 0 ? null : face, array: array.id };
            }),
          ),
        ),
      };
    });
}

/** Volts at which the sun's energy goes into the bank, as in the year. */
function floatOf(model: Model): number {
  const { bank, nominal_V } = model.system;
  if (!bank) return nominal_V ?? ANY_V;
  const volts = cellsInSeries(createLedger(model), bank) * floatCell_V(bank.chemistry);
  return Number.isFinite(volts) ? volts : (nominal_V ?? ANY_V);
}

/** K above the air by W/m2: as in the year. */
function heatOf(modules: readonly ModuleType[], array: PvArray | null): number {
  const noct = modules.reduce((sum, { noct_C }) => sum + (noct_C ?? 45), 0) / Math.max(1, modules.length);
  return heat_K_m2_W(noct, MOUNTING_K[array?.mounting ?? 'raised']);
}
