import { touches } from '../conductors/network';
import { oncePer, byGroup } from '../system/model';
import type { Inverter, System } from '../system/schema';

/** Inverters that work as one: those of one `group`, or one by itself. The first one's efficiency and cut-off count. */
export interface InverterGroup {
  first: Inverter;
  members: Inverter[];
}

/** Inverters that work as one, by the group they name. */
export const inverterGroups = oncePer((system): InverterGroup[] => byGroup(system.inverters, ({ group }) => group));

const hasOwnRun = ({ runs }: System, { id }: Inverter) =>
  (runs ?? []).some((run) => run.kind === 'battery-inverter' && touches(run, id));

/** Inverters that an inverter's own run carries: itself, and on the first one's the members of its group without a run. */
export function onRunOf(system: System, inverter: Inverter): Inverter[] {
  const { first, members } = groupOf(system, inverter);
  return members.filter((one) => one.id === inverter.id || (inverter.id === first.id && !hasOwnRun(system, one)));
}

/** The group that an inverter works in, alone where it names none. */
export const groupOf = (system: System, inverter: Inverter): InverterGroup =>
  inverterGroups(system).find(({ members }) => members.some(({ id }) => id === inverter.id)) ?? {
    first: inverter,
    members: [inverter],
  };
