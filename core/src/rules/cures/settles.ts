import { bearsFuse, networkOf, touches } from '../../conductors/network';
import { isLithium } from '../../chemistry/chemistry';
import { withChanges, type Model } from '../../system/model';
import type { Change, System } from '../../system/schema';
import { isFuse } from '../wires/string-own';

/**
 * What a change settles of what only eyes could tell: what fits a main fuse or an isolator answers whether there is one,
 * and blocks that are new are neither swollen nor leaking. What was answered well stays as it was answered.
 */
export function settledBy(before: Model, after: Model): Change[] {
  const observed = { ...after.site.observations } as Record<string, string | null | undefined>;
  const answers = Object.entries(SETTLES).filter(
    ([name, is]) => observed[name] === 'no' && is(after.system, before.system) && !is(before.system, before.system),
  );
  return answers.length === 0
    ? []
    : [
        {
          op: 'set',
          at: 'site',
          value: { observations: Object.fromEntries(answers.map(([name]) => [name, 'yes'])) },
        },
      ];
}

/** Changes with what they settle of what only eyes could tell: judged and saved alike. */
export const settling = (model: Model, changes: readonly Change[]): Change[] => [
  ...changes,
  ...settledBy(model, withChanges(model, [...changes])),
];

const onPosts = (system: System) =>
  (system.runs ?? []).filter(
    (run) => bearsFuse(run) && touches(run, system.bank?.id) && networkOf(system).feedersOf(run) !== null,
  );
const opens = (system: System, runId: string, kinds: readonly string[]) =>
  (system.switches ?? []).some((one) => one.runId === runId && kinds.includes(one.kind));

const newBlocks = (system: System, was: System): boolean => {
  const [is, old] = [system.bank, was.bank];
  return Boolean(
    is &&
    old &&
    (is.chemistry !== old.chemistry ||
      is.blockCapacity_Ah !== old.blockCapacity_Ah ||
      is.block_V !== old.block_V ||
      (is.age_y ?? old.age_y ?? 0) < (old.age_y ?? 0)),
  );
};

const SETTLES: Record<string, (system: System, was: System) => boolean> = {
  mainFuse(system) {
    const runs = onPosts(system);
    const each = runs.every(({ id, protection }) => isFuse(protection) || opens(system, id, ['breaker']));
    return runs.length > 0 && (each || isFuse(system.bank?.stringFuse));
  },
  batteryIsolator(system) {
    const runs = onPosts(system);
    return runs.length > 0 && runs.every(({ id }) => opens(system, id, ['isolator', 'breaker']));
  },
  pvIsolator(system) {
    const into = (system.runs ?? []).filter(
      (run) => run.kind === 'pv' && (system.controllers ?? []).some(({ id }) => touches(run, id)),
    );
    return into.length > 0 && into.every(({ id }) => opens(system, id, ['isolator', 'breaker', 'ground-fault']));
  },
  neverMixedChemistry: ({ bank, otherBanks }) =>
    Boolean(bank) &&
    !bank?.mixedChemistry &&
    !(otherBanks ?? []).some(
      ({ chemistry, joinedBy }) =>
        joinedBy &&
        joinedBy !== 'none' &&
        joinedBy !== 'dc-dc' &&
        isLithium(chemistry) !== isLithium(bank?.chemistry ?? chemistry),
    ),
  noSwelling: newBlocks,
  noLeak: newBlocks,
};
