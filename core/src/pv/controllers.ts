import type { Ledger } from '../ledger/ledger';
import { figure } from '../ledger/figures';
import { arraysOf, oncePer, byGroup } from '../system/model';
import type { Controller, PvArray } from '../system/schema';
import { modulesOf, pmaxOf_W, stringIsc_A } from './strings';
import { partName } from '../conductors/names';

/**
 * A controller with several tracker inputs stands in the file as one controller an input, sharing `outputGroup`.
 * The first of a group carries the output limits and is the subject.
 */
export interface OutputGroup {
  first: Controller;
  members: Controller[];
  arrays: PvArray[];
}

/** Controllers that share one output, by the group they name. */
export const outputGroups = oncePer((system): OutputGroup[] =>
  byGroup(system.controllers, ({ outputGroup }) => outputGroup).map((group) => ({
    ...group,
    arrays: group.members.flatMap(({ id }) => arraysOf(system, id)),
  })),
);

/** An array whose controller nobody noted may feed any of them: no sum over a controller's arrays is then known. */
export function missLooseArrays(io: Ledger): void {
  for (const { id, controllerId } of io.model.system.arrays ?? []) if (!controllerId) io.miss(`${id}.controllerId`);
}

/**
 * What the arrays would push into the bank, A: mppt, watts over the nominal volts; pwm, the sum of the strings' Isc
 * (a pwm controller joins array and bank, so the array's own current flows).
 */
export function push_A(io: Ledger, group: OutputGroup): number {
  const { system } = io.model;
  missLooseArrays(io);
  let sum = 0;
  for (const controller of group.members) {
    const arrays = arraysOf(system, controller.id);
    if (arrays.length === 0) continue;
    if (controller.type === 'mppt') {
      const nominal = io.need('system.nominal_V', system.nominal_V);
      const pmax = pmaxOf_W(system, arrays);
      io.work(`array ${figure(pmax)} W / ${figure(nominal)} V = ${figure(pmax / nominal)} A`);
      sum += pmax / nominal;
    } else {
      const isc = arrays.reduce(
        (total, { strings }) =>
          total + strings.reduce((inner, string) => inner + stringIsc_A(modulesOf(system, string)), 0),
        0,
      );
      io.work(`PWM passes the array's own current: sum of Isc ${figure(isc)} A`);
      sum += isc;
    }
  }
  return sum;
}

/**
 * Whether a controller holds itself to its rating where the array could push more: a tracker does unless it is recorded
 * not to; what joins array and bank by a switch passes what the array gives, unless it is recorded to limit it.
 */
export const limitsItself = (io: Ledger, { id, type, limitsOutput }: Controller): boolean =>
  limitsOutput === null || limitsOutput === undefined
    ? (io.guess(`${id}.limitsOutput`), type === 'mppt')
    : io.see(`${id}.limitsOutput`, limitsOutput);

/** What the group really puts into the bank, A: its push (times `share`), its rating, its setting, whichever is least. */
export function delivered_A(io: Ledger, group: OutputGroup, share = 1): number {
  const { first } = group;
  const set = io.see(`${first.id}.settings.maxCharge_A`, first.settings?.maxCharge_A);
  const rating = io.need(`${first.id}.maxOutput_A`, first.maxOutput_A);
  const amps = Math.min(share * push_A(io, group), rating, set ?? Infinity);
  io.work(`${partName(io.model, first.id)} delivers ${figure(amps)} A`);
  return amps;
}
