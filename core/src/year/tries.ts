import { mergeChanges } from '../system/proposals';
import type { Model } from '../system/model';
import { rewired } from '../system/string-runs';
import type { Change } from '../system/schema';

/** What somebody tries by thumb, live: each beside what stands in the system. Nothing tried: all empty. */
export interface Tries {
  /** Hours a day by load. */
  hours: Readonly<Record<string, number>>;
  /** Degrees from the level, and strings more, by array. */
  tilt: Readonly<Record<string, number>>;
  strings: Readonly<Record<string, number>>;
  /** Strings of the bank. */
  parallel: number | null;
  /** The generator starts by itself. */
  autoStart: boolean | null;
  /** Months 1 to 12 in which somebody is there: no part, so no proposal. */
  occupied: readonly number[] | null;
}
/** Nothing is tried. */
export const NO_TRIES: Tries = { hours: {}, tilt: {}, strings: {}, parallel: null, autoStart: null, occupied: null };

/** The changes of a proposal that is just this; empty where nothing of it is a part's. */
export function changesOfTries({ system }: Model, tries: Tries): Change[] {
  const { loads, arrays, bank, sources } = system;
  const generator = sources?.find(({ kind }) => kind === 'generator');
  return [
    ...(loads ?? []).flatMap(({ id, hours_d, winterHours_d }): Change[] => {
      const hours = tries.hours[id];
      if (hours === undefined || hours === hours_d) return [];
      // The winter's hours keep their share of the year's.
      const winter =
        winterHours_d && hours_d > 0 ? { winterHours_d: Math.min(24, (winterHours_d * hours) / hours_d) } : {};
      return [{ op: 'set', at: 'loads', id, value: { hours_d: hours, ...winter } }];
    }),
    ...(arrays ?? []).flatMap((array): Change[] => {
      const { id, tilt_deg, strings } = array;
      const tilt = tries.tilt[id];
      const more = tries.strings[id] ?? 0;
      const [first] = strings;
      return [
        ...(tilt !== undefined && tilt !== tilt_deg
          ? [{ op: 'set' as const, at: 'arrays' as const, id, value: { tilt_deg: tilt } }]
          : []),
        ...(more > 0 && first
          ? rewired(system, array, [...strings, ...Array.from({ length: more }, () => first)])
          : []),
      ];
    }),
    ...(bank && tries.parallel !== null && tries.parallel !== bank.parallel
      ? [{ op: 'set' as const, at: 'bank' as const, value: { parallel: tries.parallel } }]
      : []),
    ...(generator && tries.autoStart !== null && tries.autoStart !== Boolean(generator.autoStart)
      ? [{ op: 'set' as const, at: 'sources' as const, id: generator.id, value: { autoStart: tries.autoStart } }]
      : []),
  ];
}

/** The model as it would be. */
export function modelOfTries(model: Model, tries: Tries): Model {
  const changes = changesOfTries(model, tries);
  return {
    ...model,
    ...(changes.length > 0 ? { system: mergeChanges(model.system, changes) } : {}),
    ...(tries.occupied ? { site: { ...model.site, occupiedMonths: [...tries.occupied] } } : {}),
  };
}

/** Whether anything is tried at all. */
export const isTrying = (model: Model, tries: Tries): boolean =>
  tries.occupied !== null || changesOfTries(model, tries).length > 0;
