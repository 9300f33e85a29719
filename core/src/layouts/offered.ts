import { check } from '../rules/check';
import { ruleOf } from '../rules/index';
import type { ShelfItem } from '../shelf/item';
import { withSystem, type Model, withChanges } from '../system/model';
import { mergeChanges } from '../system/proposals';
import type { Change } from '../system/schema';
import { modulesOf } from '../pv/strings';
import { CONTROLLER_OUTPUT_A, sizeSold } from '../rules/cures/sold';
import type { Pooled } from './pool';

/** What a shelf has for a layout: another type of module, one more controller. */

const TRIED = 'tried-controller';

/** The cheapest trackers of a shelf that stand the bank's volts; at most `most` of them, by label where prices agree. */
export function controllersThatStand<T extends ShelfItem>(model: Model, shelf: readonly T[], most: number): T[] {
  const alone = withSystem(model, { ...model.system, controllers: [], arrays: [], runs: [] });
  const stands = ({ body }: T) => {
    const tried = mergeChanges(alone.system, [{ op: 'add', at: 'controllers', value: { ...body, id: TRIED } }]);
    const [found] = check(withSystem(alone, tried), [ruleOf('controller.voltage')]);
    return found?.verdict === 'holds' || found?.verdict === 'tight';
  };
  return shelf
    .filter(({ kind, body }) => kind === 'controllers' && body.type === 'mppt')
    .sort((a, b) => (a.price ?? Infinity) - (b.price ?? Infinity) || (a.label < b.label ? -1 : 1))
    .filter(stands)
    .slice(0, most);
}

const NEW_TYPE = 'added-module';

/** The model with a type of module of the shelf known to it, and the change that makes it so; none where it is known. */
export function withModuleType(
  model: Model,
  item: ShelfItem | null,
): { model: Model; changes: Change[]; type: string | null } {
  if (!item) return { model, changes: [], type: null };
  const known = (model.system.moduleTypes ?? []).find(({ label }) => label === item.label);
  if (known) return { model, changes: [], type: known.id };
  const changes: Change[] = [
    { op: 'add', at: 'moduleTypes', value: { ...structuredClone(item.body), label: item.label, id: NEW_TYPE } },
  ];
  return { model: withChanges(model, changes), changes, type: NEW_TYPE };
}

/** A controller that a layout asks for. */
export interface Bought {
  /** A layout that does not use it is none of its own. */
  controllerId: string;
  changes: Change[];
  /** Null where its price is not known. */
  cost: number | null;
}

/** The id that one more controller gets. */
export const ADDED_ID = 'added-controller';
const addController = (model: Model, { label, body }: ShelfItem): Change => ({
  op: 'add',
  at: 'controllers',
  // Set as the one that is there: two sources on one bank must agree.
  value: { ...body, label, id: ADDED_ID, settings: model.system.controllers?.[0]?.settings ?? null },
});
/** One more controller of a kind. */
export const oneMore = (model: Model, item: ShelfItem): Bought => ({
  controllerId: ADDED_ID,
  changes: [addController(model, item)],
  cost: item.price ?? null,
});

/**
 * A controller with the output that all these modules could ask of it, as sold: its volts stay what they are, and the
 * watts it takes grow with its amperes. Null where none sold is larger, or where the bank's volts are not known.
 */
export function largerOf(model: Model, id: string, pool: readonly Pooled[]): Bought | null {
  const { system } = model;
  const present = system.controllers?.find((one) => one.id === id);
  if (!present || !system.nominal_V) return null;
  const watts = modulesOf(
    system,
    pool.map(({ type }) => type),
  ).reduce((sum, { pmax_W }) => sum + pmax_W, 0);
  const asked = Math.max(watts / system.nominal_V, present.maxOutput_A + 1);
  const maxOutput_A = sizeSold(CONTROLLER_OUTPUT_A, asked) ?? CONTROLLER_OUTPUT_A.at(-1);
  if (!maxOutput_A || maxOutput_A <= present.maxOutput_A) return null;
  const grown = maxOutput_A / present.maxOutput_A;
  const maxPv_W =
    present.maxPv_W && Object.fromEntries(Object.entries(present.maxPv_W).map(([at, of]) => [at, (of ?? 0) * grown]));
  const value = { maxOutput_A, label: `Larger controller, ${maxOutput_A} A`, ...(maxPv_W ? { maxPv_W } : {}) };
  return { controllerId: id, changes: [{ op: 'set', at: 'controllers', id, value }], cost: null };
}
