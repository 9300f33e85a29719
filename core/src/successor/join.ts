import { CHARGER_A } from '../rules/cures/sold';
import { freeId } from '../system/free-id';
import { networkOf } from '../conductors/network';
import { AWG_SIZES, METRIC_SIZES } from '../conductors/sizes';
import { ruleOf } from '../rules/index';
import { fuseCures } from '../rules/cures/wires';
import { check } from '../rules/check';
import type { Model } from '../system/model';
import { withChanges } from '../system/model';

import type { Change, OtherBank, Run } from '../system/schema';

/** Parts that come with their cables, each sized and fused by the rules: a DC-DC charger in place of a relay, an inverter. */

/** Until it is measured: from the engine to the bank of a vehicle, and across a locker; planning values, m. */
const INPUT_M = 5;
const OUTPUT_M = 1.5;

/** A DC-DC charger with both its cables in place of what joins another battery to the bank. */
export function joinChanges(model: Model, other: OtherBank, body: Record<string, unknown>, label?: string): Change[] {
  const { bank } = model.system;
  // What nothing joins to the bank needs no charger in its place.
  if (!bank || !other.joinedBy || other.joinedBy === 'none' || other.joinedBy === 'dc-dc') return [];
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
        // Where nothing says how much may be drawn, the least that is sold.
        max_A: body.max_A ?? CHARGER_A[0],
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

/** Kinds that hang on the bank by a cable of their own, and what that is. */
const CABLE_OF = {
  inverters: 'battery-inverter',
  chargers: 'charger',
  converters: 'converter',
  distribution: 'dc-load',
} as const;
export type Cabled = keyof typeof CABLE_OF;
/** True for a kind that hangs on the bank by a cable of its own. */
export const isCabled = (kind: string): kind is Cabled => kind in CABLE_OF;

/** A new part on the bank, or on the board with a slot to spare, by a cable and a fuse that hold by the rules. */
export function cabledChanges(model: Model, at: Cabled, body: Record<string, unknown> & { id: string }): Change[] {
  const { bank } = model.system;
  const changes: Change[] = [{ op: 'add', at, value: structuredClone(body) }];
  // A DC-DC charger's input is the vehicle's: where it leads is not known here.
  if (!bank) return changes;
  const board = at === 'distribution' ? undefined : boardToSpare(model);
  const id = freeId(model, `r-${body.id}`);
  const label = typeof body.label === 'string' ? body.label : null;
  const run: Run = {
    id,
    kind: CABLE_OF[at],
    ...(label ? { label: `${board?.label ?? 'Bank'} to ${label}` } : {}),
    from: board?.id ?? bank.id,
    to: body.id,
    length_m: OUTPUT_M,
    size: '',
    negativeThroughShunt: true,
    notes: TO_MEASURE,
  };
  changes.push({ op: 'add', at: 'runs', value: sized(model, changes, run, false) });
  if (board)
    changes.push({ op: 'set', at: 'distribution', id: board.id, value: { circuits: [...(board.circuits ?? []), id] } });
  return changes;
}

/** A board that the bank feeds and that has a slot left by the count; none where nobody counted. */
function boardToSpare({ system }: Model) {
  const network = networkOf(system);
  return (system.distribution ?? []).find(({ id, slots, circuits }) => {
    const feeder = (system.runs ?? []).find((run) => network.ownEnd(run) === id && network.feedersOf(run) !== null);
    return feeder && typeof slots === 'number' && slots > (circuits ?? []).length;
  });
}

/** The thinnest cable that carries and does not drop too much, with the fuse that it takes; at both ends where asked. */
function sized(model: Model, changes: readonly Change[], run: Run, bothEnds: boolean): Run {
  const metric = (model.schools.conductor ?? 'building') === 'metric';
  const sizes = metric ? METRIC_SIZES : AWG_SIZES;
  let last: Run = { ...run, size: sizes.at(-1) ?? '95mm2' };
  for (const size of sizes.slice(SMALLEST)) {
    const tried: Run = { ...run, size };
    const now = withChanges(model, [...changes, { op: 'add', at: 'runs', value: tried }]);
    const asked = check(now, RULES_OF_SIZE).filter(({ subject }) => subject === run.id);
    if (asked.some(({ verdict }) => verdict !== 'holds')) continue;
    for (const fuse of fuseCures(now, tried)) {
      const fitted = fuse.changes[0]?.value as { protection: Run['protection'] } | undefined;
      if (!fitted) continue;
      const { protection } = fitted;
      last = { ...tried, protection, ...(bothEnds ? { farProtection: protection } : {}) };
      const fused = withChanges(model, [...changes, { op: 'add', at: 'runs', value: last }]);
      const judged = check(fused, FUSE_RULES).filter(({ subject }) => subject === run.id);
      if (judged.every(({ verdict }) => verdict === 'holds' || verdict === 'tight')) return last;
    }
  }
  return last;
}
/** Nobody lays less than this for a charger. */
const SMALLEST = 4;
const RULES_OF_SIZE = (['run.ampacity', 'run.drop'] as const).map(ruleOf);
const FUSE_RULES = (
  ['run.fuse-protects', 'run.fuse-carries', 'run.far-fault', 'run.interrupt', 'run.dc-rating', 'run.both-ends'] as const
).map(ruleOf);
