import type { Model } from '../../system/model';
import { isSingleName, type PartKind } from '../../system/parts';
import { rewired } from '../../system/string-runs';
import type { Change, Inverter, Load, PvArray } from '../../system/schema';
import { createLedger } from '../../ledger/ledger';
import { loadsOf, SOFT_START, start_W, unit_W } from '../../power/loads';
import { stringsOf as evenStrings } from '../../pv/restring';
import { quickRoom, roofRefusal } from '../../roof/room';
import type { Cure } from '../rule';
import { INVERTER_W } from './sold';
import { lowered } from '../../parts/said';
import { partName } from '../../conductors/names';

/** Larger devices, and loads that take turns. */

/** A change that sets members of a part. */
export const setPart = (at: PartKind, id: string, value: Record<string, unknown>): Change => ({
  op: 'set',
  at,
  ...(isSingleName(at) ? {} : { id }),
  value,
});

const MOST_SIZES = 4;

/** The same kind of part with a larger figure, from the least that holds upwards, as sold. */
export const largerPart = (
  at: PartKind,
  id: string,
  field: string,
  least: number | null,
  sold: readonly number[],
  words: (size: number) => { title: string; detail: string },
): Cure[] =>
  least === null || !Number.isFinite(least)
    ? []
    : sold
        .filter((size) => size >= least - 1e-9)
        .slice(0, MOST_SIZES)
        .map((size) => ({ ...words(size), changes: [setPart(at, id, { [field]: size })] }));

/** What a start asks of an inverter of a size; planning value: most are sold with twice their rating for seconds. */
const SURGE_TIMES = 2;

/** A larger inverter: its volt-amperes and its surge grow with it, and so do its cable's amperes. */
export function largerInverter(
  model: Model,
  inverter: Inverter,
  least: { W?: number; VA?: number; surge_W?: number },
): Cure[] {
  const { id, continuous_W, continuous_VA, surge_W } = inverter;
  return INVERTER_W.filter(
    (watts) =>
      watts > continuous_W &&
      watts >= (least.W ?? 0) &&
      watts >= (least.VA ?? 0) &&
      Math.max(surge_W ?? 0, SURGE_TIMES * watts) >= (least.surge_W ?? 0),
  )
    .slice(0, MOST_SIZES)
    .map((watts) => ({
      title: `An inverter of ${watts} W in place of ${partName(model, id)}`,
      detail: `${Math.max(surge_W ?? 0, SURGE_TIMES * watts)} W for starting; its cable, fuse and the bank were checked with it`,
      changes: [
        setPart('inverters', id, {
          continuous_W: watts,
          ...(continuous_VA ? { continuous_VA: Math.max(continuous_VA, watts) } : {}),
          ...(surge_W ? { surge_W: Math.max(surge_W, SURGE_TIMES * watts) } : {}),
        }),
      ],
    }));
}

/** The two or three largest loads never together: nothing to buy, a habit and a label. */
export function takeTurns(model: Model, inverter: Inverter): Cure[] {
  const large = loadsOf(model.system, inverter)
    .filter((load) => load.overlap !== 'base' && load.overlap !== 'alone')
    .sort((a, b) => watts(b) - watts(a));
  return [2, 3, 4].flatMap((count) => {
    const some = large.slice(0, count);
    if (some.length < count) return [];
    return [
      {
        title: `${some.map(({ label }) => label).join(', ')}: one at a time`,
        detail: 'a rule and a label by the sockets; nothing to buy',
        changes: some.map(({ id }) => setPart('loads', id, { overlap: 'alone', group: TURNS })),
      },
    ];
  });
}
const TURNS = 'one at a time';

/**
 * What starts hard, started softly: one load, the hardest first. A motor, or a start that was read: of what nobody said
 * what it is, nobody knows that a soft start would be of use.
 */
export function softStarts(model: Model, inverter: Inverter): Cure[] {
  const io = createLedger(model);
  const motors = loadsOf(model.system, inverter)
    .filter((load) => (load.type || load.surge_W) && !load.softStart && start_W(io, load) > SOFT_START * unit_W(load))
    .sort((a, b) => start_W(io, b) - unit_W(b) - (start_W(io, a) - unit_W(a)));
  return [1, 2].flatMap((count) => {
    const some = motors.slice(0, count);
    if (some.length < count) return [];
    return [
      {
        title: `A soft start on ${some.map(({ label }) => label).join(' and ')}`,
        detail: 'it then starts at no more than twice its running watts; its maker must allow it',
        changes: some.map(({ id }) => setPart('loads', id, { softStart: true })),
      },
    ];
  });
}
/** Where neither is enough alone: the hardest start softened, and the largest loads in turn. */
export function softInTurn(model: Model, inverter: Inverter): Cure[] {
  const [soft] = softStarts(model, inverter);
  if (!soft) return [];
  return takeTurns(model, inverter).map((turns) => ({
    title: `${turns.title}, with ${lowered(soft.title)}`,
    detail: `${turns.detail}; ${soft.detail}`,
    changes: [...soft.changes, ...turns.changes],
  }));
}
const watts = ({ power_W, quantity }: Load) => power_W * (quantity ?? 1);

const MOST_STRINGS_MORE = 6;

/** More strings like the longest that an array of one type has; on a measured roof no more than may find a place there. */
export function moreModules(model: Pick<Model, 'system'>, array: PvArray): Cure[] {
  const { system } = model;
  const [type, ...others] = new Set(array.strings.flat());
  if (!type || others.length > 0) return [];
  const series = Math.max(...array.strings.map(({ length }) => length));
  const room = quickRoom(model, array, type);
  return Array.from({ length: MOST_STRINGS_MORE }, (_, i) => i + 1).flatMap((more) => {
    const modules = more * series;
    const refusal = roofRefusal(room, modules);
    if (refusal?.certain) return [];
    return [
      {
        title: `${modules} ${modules === 1 ? 'module' : 'modules'} more: ${more === 1 ? 'one string' : `${more} strings`} of ${series} beside the rest`,
        detail:
          room && !refusal ? 'of the same type; the measured roof has room' : 'of the same type, if the roof has room',
        changes: rewired(system, array, [...array.strings, ...evenStrings(type, series, more)]),
      },
    ];
  });
}
