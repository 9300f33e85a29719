import { AWG_SIZES, METRIC_SIZES } from '../conductors/sizes';
import { ruleOf } from '../rules/index';
import { fuseCures } from '../rules/cure-wires';
import { check } from '../rules/check';
import type { Model } from '../system/model';
import { withSystem } from '../system/model';
import { mergeChanges } from '../system/proposals';
import type { Change, OtherBank, Run } from '../system/schema';

/** A DC-DC charger in place of a relay, with the two cables that it wants and a fuse at both ends of its input. */

/** Until it is measured: from the engine to the bank of a vehicle, and across a locker; planning values, m. */
const INPUT_M = 5;
const OUTPUT_M = 1.5;

/** An id that nothing has yet. */
export function freeId({ system }: Model, wanted: string): string {
  const taken = JSON.stringify(system);
  let id = wanted;
  for (let n = 2; taken.includes(`"${id}"`); n++) id = `${wanted}-${n}`;
  return id;
}

export function joinChanges(model: Model, other: OtherBank, body: Record<string, unknown>, label?: string): Change[] {
  const { bank } = model.system;
  if (!bank) return [];
  const id = freeId(model, 'dcdc');
  const changes: Change[] = [
    { op: 'set', at: 'otherBanks', id: other.id, value: { joinedBy: 'dc-dc' } },
    {
      op: 'add',
      at: 'chargers',
      value: {
        ...structuredClone(body),
        id,
        kind: 'dc-dc',
        input_V: body.input_V ?? other.nominal_V,
        ...(label ? { label } : {}),
      },
    },
  ];
  const base = { kind: 'charger' as const, to: id, negativeThroughShunt: true };
  const input: Run = {
    ...base,
    id: freeId(model, 'r-dcdc-in'),
    label: 'Starter battery to DC-DC charger',
    from: other.id,
    length_m: INPUT_M,
    size: '',
    notes: TO_MEASURE,
  };
  const output: Run = {
    ...base,
    id: freeId(model, 'r-dcdc-out'),
    label: 'DC-DC charger to bank',
    from: bank.id,
    length_m: OUTPUT_M,
    size: '',
    notes: TO_MEASURE,
  };
  for (const run of [output, input])
    changes.push({ op: 'add', at: 'runs', value: sized(model, changes, run, run === input) });
  return changes;
}
const TO_MEASURE = 'Length assumed: measure it before cutting.';

/** The thinnest cable that carries and does not drop too much, with the fuse that it takes; at both ends where asked. */
function sized(model: Model, changes: readonly Change[], run: Run, bothEnds: boolean): Run {
  const metric = (model.schools.conductor ?? 'building') === 'metric';
  const sizes = metric ? METRIC_SIZES : AWG_SIZES;
  let last: Run = { ...run, size: sizes.at(-1) ?? '95mm2' };
  for (const size of sizes.slice(SMALLEST)) {
    const tried: Run = { ...run, size };
    const now = withSystem(model, mergeChanges(model.system, [...changes, { op: 'add', at: 'runs', value: tried }]));
    const asked = check(now, RULES_OF_SIZE).filter(({ subject }) => subject === run.id);
    if (asked.some(({ verdict }) => verdict !== 'holds')) continue;
    for (const fuse of fuseCures(now, tried)) {
      const { protection } = fuse.changes[0]?.value as { protection: Run['protection'] };
      last = { ...tried, protection, ...(bothEnds ? { farProtection: protection } : {}) };
      const fused = withSystem(model, mergeChanges(model.system, [...changes, { op: 'add', at: 'runs', value: last }]));
      const judged = check(fused, FUSE_RULES).filter(({ subject }) => subject === run.id);
      if (judged.every(({ verdict }) => verdict === 'holds' || verdict === 'tight')) return last;
    }
  }
  return last;
}
/** Nobody lays less than this for a charger. */
const SMALLEST = 4;
const RULES_OF_SIZE = ['run.ampacity', 'run.drop'].map(ruleOf);
const FUSE_RULES = [
  'run.fuse-protects',
  'run.fuse-carries',
  'run.far-fault',
  'run.interrupt',
  'run.dc-rating',
  'run.both-ends',
].map(ruleOf);
