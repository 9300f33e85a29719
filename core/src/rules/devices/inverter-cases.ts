import { groupOf, inverterGroups } from '../../power/groups';
import type { Model } from '../../system/model';
import type { Inverter } from '../../system/schema';
import type { Case } from '../rule';

/** Each inverter by itself. */
export const cases = (model: Model): Case<Inverter>[] =>
  (model.system.inverters ?? []).map((inverter) => ({ subject: inverter.id, about: inverter }));
/** Those of which something is so. */
export const having = (wanted: (inverter: Inverter, model: Model) => boolean) => (model: Model) =>
  cases(model).filter(({ about }) => wanted(about, model));

/** Of inverters that work as one the first stands for all. */
export const groupCases = (model: Model): Case<Inverter>[] =>
  inverterGroups(model.system).map(({ first }) => ({ subject: first.id, about: first }));
/** Those that work as one with an inverter, itself included. */
export const members = ({ system }: Model, inverter: Inverter) => groupOf(system, inverter).members;
