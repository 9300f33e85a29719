import { createLedger, type Ledger } from '../ledger/ledger';
import { kept } from '../numeric/kept';
import { outputGroups } from '../pv/controllers';
import type { Parallel } from '../pv/curve';
import { beside, curveOf, wholeOf } from './strings';
import { stringImp_A, modulesOf } from '../pv/strings';
import { arraysOf, type Model } from '../system/model';
import type { Controller, PvArray } from '../system/schema';
import type { Conditions } from '../readings/conditions';
import { behindCables, bestPoint, standing, type Top } from '../readings/sun-at';
import { pvCable_ohm } from '../year/cables';
import { gainSigma } from './grid';
import type { ArrayState, State } from './state';

/**
 * Arrays with faults, from the same curves as everywhere. Each is drawn at five points (less and more light, colder and
 * warmer, as said); between them currents and volts are nearly straight, so the grid is filled from these.
 */

/** A string: open, shorted, at work; an array: its best point behind what is in its way. */
interface Drawn {
  strings: { voc_V: number; isc_A: number; imp_A(): number }[];
  /** At its own terminals, V. */
  vmp_V(): number;
}
/** Light and temperature beside what is taken: a factor, and K. */
interface Off {
  factor: number;
  cell_K: number;
}

/** The sun's side of a system, each thing worked out once. */
export interface Sun {
  /** A figure of an array, anywhere on the grid, under a name of its own. */
  of(array: PvArray, state: State, at: Conditions, name: string, figure: (drawn: Drawn) => number): Flat;
  /** Where a controller holds its arrays, and what it could make of them. */
  top(controller: Controller, state: State, at: Conditions, bus_V: number): Held | null;
}
/** A figure over light and temperature: by sigmas of the light and K of the cells. */
export type Flat = (gain: number, cell_K: number) => number;
/** A controller's working point over light and temperature. */
export interface Held {
  v: Flat;
  i: Flat;
  /** Held back to a share of its power, it stands at so many times its best volts. */
  backed(share: number): number;
}

const SPREAD = 2;
const SPREAD_K = 2.44;

/** A system, and what was worked out of it. */
interface Around {
  model: Model;
  io: Ledger;
  nominal_V: number;
  once<T>(key: string, make: () => T): T;
}

/** @param model as found, without any fault */
export function createSun(model: Model): Sun {
  const all = kept<string, unknown>(Infinity);
  const around: Around = {
    model,
    io: createLedger(model),
    nominal_V: (model.system.nominal_V ?? 12) * (13 / 12),
    once: <T>(key: string, make: () => T) => all(key, make) as T,
  };
  return {
    of(array, state, at, name, figure) {
      const own = state.arrays?.[array.id];
      const sound = flat(around, `${array.id} ${name}`, at, (off) => figure(drawn(around, array, undefined, at, off)));
      return own ? inProportion(sound, figure(drawn(around, array, own, at, MIDDLE))) : sound;
    },
    top(controller, state, at, bus_V) {
      const middle = tops(around, controller, state, at, MIDDLE, bus_V);
      const soundly = (member: 'v' | 'i') =>
        flat(
          around,
          `${controller.id} ${member} ${Math.round(bus_V)}`,
          at,
          (off) => tops(around, controller, {}, at, off, bus_V)[member],
        );
      return {
        v: inProportion(soundly('v'), middle.v),
        i: inProportion(soundly('i'), middle.i),
        backed: (share) => backed(around, middle, nameOfTop(around, controller, state, at), share),
      };
    },
  };
}

const nameOfTop = ({ model }: Around, controller: Controller, state: State, at: Conditions) =>
  `back ${controller.id} ${JSON.stringify(arraysOf(model.system, controller.id).map((array) => wholeOf(array, state)))} ${JSON.stringify(state.controllers?.[controller.id])} ${lightOf(at)}`;

/** How far above its best volts an array stands that is held back to a share of its power: from its curve, drawn once. */
function backed({ once }: Around, middle: Top & { seen: Parallel | null }, name: string, share: number): number {
  const { seen } = middle;
  const power = middle.v * middle.i;
  const points = once(name, () =>
    seen && power > 0 && seen.highest_V > middle.v
      ? Array.from({ length: BACKED + 1 }, (_, k) => {
          const v = middle.v + ((seen.highest_V - middle.v) * k) / BACKED;
          return [(v * Math.max(0, seen.currentAt(v))) / power, v / middle.v] as const;
        })
      : [],
  );
  let [before] = points;
  for (const here of points) {
    if (here[0] <= share) {
      const span = (before?.[0] ?? 1) - here[0];
      const part = span > 0 ? ((before?.[0] ?? 1) - share) / span : 0;
      return (before?.[1] ?? 1) + (here[1] - (before?.[1] ?? 1)) * part;
    }
    before = here;
  }
  return points.at(-1)?.[1] ?? 1;
}

const stoodAt = ({ io }: Around, array: PvArray, state: ArrayState | undefined, at: Conditions, off: Off) =>
  standing(io, array, at).map((string) =>
    string.map((one) => ({
      ...one,
      irradiance_W_m2: Math.max(1, one.irradiance_W_m2 * off.factor * (state?.light ?? 1)),
      cell_C: one.cell_C + off.cell_K,
    })),
  );
const strings = (
  around: Around,
  array: PvArray,
  state: ArrayState | undefined,
  at: Conditions,
  off: Off,
): (Parallel | null)[] => {
  const stood = stoodAt(around, array, state, at, off);
  return stood.map((string, s) => {
    const key = `string ${array.id} ${string.map(({ module: { id } }) => id).join()} ${JSON.stringify(state?.strings?.[s])} ${state?.light ?? 1} ${lightOf(at)} ${off.factor} ${off.cell_K}`;
    return around.once(key, () => curveOf(string, state?.strings?.[s]));
  });
};
const pwmOf = ({ model }: Around, array: PvArray) =>
  (model.system.controllers ?? []).find(({ id }) => id === array.controllerId)?.type === 'pwm';
const drawn = (around: Around, array: PvArray, state: ArrayState | undefined, at: Conditions, off: Off): Drawn => {
  const { once, nominal_V } = around;
  const each = strings(around, array, state, at, off);
  const whole = beside(each);
  const works = (seen: Parallel) =>
    pwmOf(around, array) ? { v: nominal_V, i: seen.currentAt(nominal_V + 0.5) } : bestPoint(seen, nominal_V + 1);
  const sound = strings(around, array, { ...(state?.light ? { light: state.light } : {}) }, at, off);
  return {
    strings: each.map((seen, s) => {
      const key = `${array.id} ${s} ${JSON.stringify(state)} ${lightOf(at)} ${off.factor} ${off.cell_K}`;
      const open = state?.strings?.[s]?.open;
      return {
        voc_V: open === 'fuse' ? (sound[s]?.highest_V ?? 0) : (seen?.highest_V ?? 0),
        isc_A: seen ? seen.currentAt(0) : 0,
        imp_A: () => (seen ? once(`imp ${key}`, () => works(seen).i) : 0),
      };
    }),
    vmp_V: () =>
      once(
        `vmp ${array.id} ${JSON.stringify(wholeOf(array, { arrays: { [array.id]: state ?? {} } }))} ${lightOf(at)} ${off.factor} ${off.cell_K}`,
        () => {
          if (!whole) return 0;
          const ohm = state?.ohm ?? 0;
          const top = bestPoint(behindCables([{ seen: whole, ohm }]), nominal_V + 1);
          return top.v + ohm * top.i;
        },
      ),
  };
};

/** Straight between five points of the sound system: two of light, two of temperature, and the middle. */
const flat = ({ once }: Around, key: string, at: Conditions, figure: (off: Off) => number): Flat =>
  once(`flat ${key} ${lightOf(at)}`, () => {
    const sigma = gainSigma(at.irradianceBy);
    const [low, middle, high] = [-SPREAD, 0, SPREAD].map((z) => figure({ factor: 1 + z * sigma, cell_K: 0 }));
    const cold = figure({ factor: 1, cell_K: -SPREAD_K });
    const warm = figure({ factor: 1, cell_K: SPREAD_K });
    const [a = NaN, b = NaN, c = NaN] = [low, middle, high];
    return (gain, cell_K) => {
      const x = gain / SPREAD;
      // Through three points of light.
      const byLight = b + ((c - a) / 2) * x + ((a + c) / 2 - b) * x * x;
      return byLight + ((warm - cold) / (2 * SPREAD_K)) * cell_K;
    };
  });
/** With a fault it moves with light and warmth as the sound one does: in the middle it is drawn, elsewhere in proportion. */
const inProportion = (sound: Flat, faulty: number): Flat => {
  const middle = sound(0, 0);
  if (!(middle > 0)) return () => faulty;
  const share = faulty / middle;
  return (gain, cell_K) => share * sound(gain, cell_K);
};

const tops = (
  around: Around,
  controller: Controller,
  state: State,
  at: Conditions,
  off: Off,
  bus_V: number,
): Top & { seen: Parallel | null } => {
  const { model, io, once } = around;
  const arrays = arraysOf(model.system, controller.id).filter(({ strings: all }) => all.length > 0);
  const own = state.controllers?.[controller.id];
  const pwm = controller.type === 'pwm' || own?.pwm === true;
  const key = `top ${controller.id} ${JSON.stringify([arrays.map((array) => wholeOf(array, state)), own?.pwm, own?.vmpShare])} ${lightOf(at)} ${off.factor} ${off.cell_K} ${Math.round(bus_V)}`;
  return once(key, () => {
    const parts = arrays.flatMap((array) => {
      const seen = beside(strings(around, array, state.arrays?.[array.id], at, off));
      if (!seen) return [];
      const imp = array.strings.map((string) => stringImp_A(modulesOf(model.system, string)));
      const recorded = pvCable_ohm(io, array, imp);
      return [
        {
          seen,
          ohm: (pwm ? 0 : Number.isFinite(recorded) ? recorded : 0) + (state.arrays?.[array.id]?.ohm ?? 0),
        },
      ];
    });
    if (parts.length === 0) return { v: 0, i: 0, seen: null };
    const seen = behindCables(parts);
    if (pwm) return { v: bus_V + 0.5, i: Math.max(0, seen.currentAt(bus_V + 0.5)), seen };
    const best = bestPoint(seen, Math.min(bus_V + 1, seen.highest_V));
    if (!own?.vmpShare) return { ...best, seen };
    const v = Math.max(bus_V + 1, best.v * own.vmpShare);
    return { v, i: Math.max(0, seen.currentAt(v)), seen };
  });
};

const BACKED = 16;
const MIDDLE: Off = { factor: 1, cell_K: 0 };
const lightOf = (at: Conditions) => `${at.irradiance_W_m2} ${at.irradianceBy} ${at.ambient_C} ${at.cell_C}`;
/** The controllers that charge the bank, by their common outputs. */
export const controllersOf = (model: Model): Controller[] =>
  outputGroups(model.system).flatMap(({ members }) =>
    members.filter(({ id }) => arraysOf(model.system, id).some(({ strings }) => strings.length > 0)),
  );
