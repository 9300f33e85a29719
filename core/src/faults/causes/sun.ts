import { groupsOf } from '../../pv/curve';
import { modulesOf } from '../../pv/strings';
import { wiredArrays, type Model } from '../../system/model';
import type { ArrayState, State, StringState } from '../state';
import { byFactor, byStep, step, type Candidate, type Cause, type CauseCode } from './cause';

/** What goes wrong on the roof. */

const at = (array: string, own: ArrayState): State => ({ arrays: { [array]: own } });
const inString = (array: string, s: number, own: StringState): State => at(array, { strings: { [s]: own } });

const wired = ({ system }: Model) => wiredArrays(system);

/** A candidate for each module of each string. */
const eachModule = (
  model: Model,
  code: CauseCode,
  sizes: (array: string, string: number, module: number) => Candidate['sizes'],
): Candidate[] =>
  wired(model).flatMap((array) =>
    array.strings.flatMap((string, s) =>
      string.map((_, m): Candidate => ({
        code,
        subject: array.id,
        position: { string: s, module: m },
        // Modules of a kind in one string are alike to a meter: one of them is worked out for all.
        sizes: sizes(array.id, s, string.indexOf(string[m] ?? '')),
      })),
    ),
  );

const COVER = 'Cover the array or open its isolator first; the clamp must show no current before you unplug anything.';

/** Causes among modules, strings and their plugs. */
export const sunCauses: Cause[] = [
  {
    code: 'group-shaded',
    prior: 5,
    title: (name) => `Shade or dirt on one module of ${name}`,
    complaints: ['never-full', 'nothing-in'],
    candidates: (model) =>
      eachModule(model, 'group-shaded', (array, s, module) =>
        [false, true].flatMap((whole) =>
          byStep(0.1, 0.7, 0.1).map((share) => ({
            size: share,
            state: inString(array, s, { shade: { module, whole, share } }),
          })),
        ),
      ),
    cure: () =>
      step(
        'Look for what covers the module, at this hour and two hours later. Clear it, or note the shade on the array.',
      ),
    apart: 'It moves with the hour and is gone once wiped; a shorted bypass diode stays in any light.',
  },
  {
    code: 'soiled',
    prior: 4,
    title: (name) => `Dirt on all of ${name}`,
    complaints: ['never-full'],
    candidates: (model) =>
      wired(model).map(({ id }) => ({
        code: 'soiled',
        subject: id,
        sizes: byStep(0.5, 0.9, 0.025).map((light) => ({ size: 1 - light, state: at(id, { light }) })),
      })),
    cure: () =>
      step('Wash the modules with plenty of water, early or late in the day, and read the string currents again.'),
    apart: 'All strings are down alike, and their open-circuit voltage is right.',
  },
  {
    code: 'string-open',
    prior: 4,
    title: (name) => `A string of ${name} is open`,
    complaints: ['never-full', 'nothing-in'],
    candidates: (model) =>
      wired(model).flatMap((array) =>
        array.strings.map((_, s): Candidate => ({
          code: 'string-open',
          subject: array.id,
          position: { string: s },
          sizes: (['fuse', 'module'] as const).map((open) => ({ size: null, state: inString(array.id, s, { open }) })),
        })),
      ),
    cure: () => step(`Find the open fuse, plug or module of this string. ${COVER}`),
    apart: 'Its own clamp shows no current while the others are as they should be.',
  },
  {
    code: 'bypass-shorted',
    prior: 3,
    title: (name) => `A shorted bypass diode in ${name}`,
    complaints: ['never-full'],
    candidates: (model) =>
      eachModule(model, 'bypass-shorted', (array, s, module) => [
        { size: null, state: inString(array, s, { bypassed: module }) },
      ]).filter(({ subject, position }) => {
        const string = model.system.arrays?.find(({ id }) => id === subject)?.strings[position?.string ?? 0] ?? [];
        const type = modulesOf(model.system, string)[position?.module ?? 0];
        return type !== undefined && groupsOf(type) > 1;
      }),
    cure: () => step(`Replace the diode, or the module where its box is potted. ${COVER}`),
    apart: 'The open-circuit voltage is down by one cell group in any light; the short-circuit current is right.',
  },
  {
    code: 'pv-joint',
    prior: 2,
    hurts: true,
    title: (name) => `A bad joint between ${name} and its controller`,
    complaints: ['never-full', 'hot-or-smells'],
    candidates: (model) =>
      wired(model).map(({ id }) => ({
        code: 'pv-joint',
        subject: id,
        sizes: byFactor(0.2, 2.5, 1.25).map((ohm) => ({ size: ohm, state: at(id, { ohm }) })),
      })),
    cure: () =>
      step(`Look for a hot plug or terminal with a thermal camera, then remake it: both halves of one make. ${COVER}`),
    apart: 'Open-circuit voltage and short-circuit current are right; voltage is lost only at load, and a plug is hot.',
  },
  {
    code: 'earth-fault',
    prior: 2,
    hurts: true,
    title: (name) => `An earth fault in ${name}`,
    complaints: ['hot-or-smells'],
    candidates: (model) =>
      wired(model).flatMap((array) =>
        array.strings.map((string, s): Candidate => ({
          code: 'earth-fault',
          subject: array.id,
          position: { string: s },
          sizes: byStep(0, string.length, 1).map((behind) => ({
            size: behind,
            state: at(array.id, { earth: { string: s, behind } }),
          })),
        })),
      ),
    cure: () =>
      step(
        'Do not touch frames or cables until both poles are isolated and the array is covered. Have a qualified person find where the cable touches the frame.',
      ),
    apart: 'Pole to frame stays at a fixed part of the string voltage, and is zero at night.',
  },
  {
    code: 'module-wrong',
    prior: 1,
    title: (name) => `A wrong or reversed module in ${name}`,
    complaints: ['never-full'],
    candidates: (model) =>
      eachModule(model, 'module-wrong', (array, s, module) =>
        (['reversed', 'volts', 'amps'] as const).map((how) => ({
          size: null,
          state: inString(array, s, { wrong: { module, how } }),
        })),
      ),
    cure: () => step(`Read the plates and the polarity of each module of this string. ${COVER}`),
    apart: 'A constant voltage is missing, in any light, as if the module were another one.',
  },
];
