import { groupsApart, groupsOf, inParallel, type Parallel, type Standing } from '../pv/curve';
import type { ModuleType, PvArray } from '../system/schema';
import type { State, StringState } from './state';

/** Strings of modules as a fault leaves them. */

/** A reversed module takes from its string a little more than its open-circuit voltage. */
const REVERSED = 1.05;
/** A module of the wrong kind has so much of the right one's volts or amperes. */
const WRONG_SHARE = 0.6;

/** Modules of other volts or amperes, each made once: a curve is fitted by the module. */
const altered = new WeakMap<ModuleType, { volts?: ModuleType; amps?: ModuleType }>();
function otherThan(module: ModuleType, how: 'volts' | 'amps'): ModuleType {
  const key = `${module.id} ${how}`;
  const known = altered.get(module)?.[how];
  if (known) return known;
  const share = WRONG_SHARE;
  const other: ModuleType =
    how === 'volts'
      ? {
          ...module,
          id: key,
          voc_V: module.voc_V * share,
          vmp_V: module.vmp_V * share,
          pmax_W: module.pmax_W * share,
          cells: module.cells ? Math.round(module.cells * share) : null,
        }
      : {
          ...module,
          id: key,
          isc_A: module.isc_A * share,
          imp_A: module.imp_A * share,
          pmax_W: module.pmax_W * share,
        };
  altered.set(module, { ...altered.get(module), [how]: other });
  return other;
}

/** The modules of a string as a fault leaves them; null where the string carries nothing. */
export function curveOf(string: readonly Standing[], state: StringState | undefined): Parallel | null {
  if (state?.open) return null;
  const { shade, bypassed, wrong } = state ?? {};
  const reversed = wrong?.how === 'reversed' ? string[wrong.module] : undefined;
  const stood = string.flatMap((one, m): Standing[] => {
    if (wrong?.module === m)
      return wrong.how === 'reversed' ? [] : [{ ...one, module: otherThan(one.module, wrong.how) }];
    if (shade?.module === m)
      return shade.whole
        ? [{ ...one, irradiance_W_m2: one.irradiance_W_m2 * shade.share }]
        : groupsApart(one, [one.irradiance_W_m2 * shade.share]);
    return bypassed === m && groupsOf(one.module) > 1 ? groupsApart(one, []).slice(1) : [one];
  });
  if (stood.length === 0) return null;
  const seen = inParallel([stood]);
  if (!reversed) return seen;
  const taken_V = REVERSED * inParallel([[reversed]]).highest_V;
  return {
    currentAt: (volts) => seen.currentAt(volts + taken_V),
    highest_V: Math.max(0, seen.highest_V - taken_V),
    oneTop: false,
  };
}

/** Strings in parallel, those that carry nothing left out; null where none carries anything. */
export function beside(strings: readonly (Parallel | null)[]): Parallel | null {
  const live = strings.flatMap((seen) => (seen ? [seen] : []));
  const [first] = live;
  if (!first) return null;
  const alike = live.every((seen) => seen === first);
  return {
    currentAt: alike
      ? (volts) => live.length * first.currentAt(volts)
      : (volts) => live.reduce((sum, seen) => sum + seen.currentAt(volts), 0),
    highest_V: Math.max(...live.map(({ highest_V }) => highest_V)),
    oneTop: alike && first.oneTop,
  };
}

/** What of a fault the array as a whole shows: which of its like strings it is in makes no difference. */
export function wholeOf(array: PvArray, state: State): unknown {
  const own = state.arrays?.[array.id];
  if (!own?.strings) return own ? [own.light, own.ohm] : null;
  const alike = new Set(array.strings.map((string) => string.join())).size === 1;
  return [own.light, own.ohm, alike ? Object.values(own.strings) : own.strings];
}
