import { oncePer } from '../system/model';
import type { Inverter, System } from '../system/schema';

/** Inverters that work as one: those of one `group`, or one by itself. The first one's efficiency and cut-off count. */
export interface InverterGroup {
  first: Inverter;
  members: Inverter[];
}

export const inverterGroups = oncePer((system: System): InverterGroup[] => {
  const groups = new Map<string, InverterGroup>();
  for (const inverter of system.inverters ?? []) {
    // A group's name and an id never meet: the prefixes keep them apart.
    const key = inverter.group ? `group ${inverter.group}` : `id ${inverter.id}`;
    const group = groups.get(key);
    if (group) group.members.push(inverter);
    else groups.set(key, { first: inverter, members: [inverter] });
  }
  return [...groups.values()];
});

export const groupOf = (system: System, inverter: Inverter): InverterGroup =>
  inverterGroups(system).find(({ members }) => members.some(({ id }) => id === inverter.id)) ?? {
    first: inverter,
    members: [inverter],
  };
