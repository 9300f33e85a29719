import { check } from '../rules/check';
import { ruleOf } from '../rules/index';
import type { ShelfItem } from '../shelf/item';
import { withSystem, type Model, withChanges } from '../system/model';
import { mergeChanges } from '../system/proposals';
import type { Change } from '../system/schema';

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
