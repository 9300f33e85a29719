import { c20_Ah } from '../bank/bank';
import { CHEMISTRY, isLithium } from '../chemistry/chemistry';
import type { Ledger } from '../ledger/ledger';
import { bisect, secant, topOf } from '../numeric/roots';
import { outputGroups } from '../pv/controllers';
import { inParallel, stringCurve, type Parallel, type Standing } from '../pv/curve';
import { topOfString } from '../pv/top';
import { modulesOf, stringImp_A } from '../pv/strings';
import { cell_C, MOUNTING_K } from '../pv/temperature';
import { arraysOf } from '../system/model';
import type { Bank, Controller, PvArray } from '../system/schema';
import { pvCable_ohm } from '../year/cables';
import type { Conditions } from './conditions';
import { postsAt, settled_A, wayOf, type Way } from './moment';

/** What arrays and controllers should show at the moment (docs/work-orders-and-readings.md), from the curves themselves. */

/** An array under this sun, string by string. */
export interface ArrayAt {
  strings: { voc_V: number; isc_A: number; readonly imp_A: number }[];
  /** Best point of the whole at its own terminals; null behind a pwm controller, which holds it at the bank's volts. */
  readonly vmp_V: number | null;
}
/** What keeps a controller from giving more. */
export type Binds = 'array' | 'limit' | 'bank';
/** A controller under this sun: V and A in, A out, and what limits it. */
export interface ControllerAt {
  pv_V: number;
  pv_A: number;
  out_A: number;
  /** At its own battery terminals, V. */
  volts: number;
  binds: Binds;
  /** Each of what it could be, A. */
  array_A: number;
  limit_A: number;
  bank_A: number;
}

/** An mppt needs so much above the bank; a pwm loses so much in its switch. V */
const ABOVE_MPPT_V = 1;
const ABOVE_PWM_V = 0.5;

/** The modules of an array as they stand: light, and one temperature for all. */
export function standing(io: Ledger, array: PvArray, at: Conditions): Standing[][] {
  const strings = array.strings.map((string) => modulesOf(io.model.system, string));
  const modules = strings.flat();
  // One temperature for the array: the mean of what its plates say.
  const noct = modules.reduce((sum, { id, noct_C }) => sum + io.or(`${id}.noct_C`, noct_C, 45), 0) / modules.length;
  const mounting = MOUNTING_K[io.word(`${array.id}.mounting`, array.mounting, 'raised')];
  const cells_C = at.cell_C ?? cell_C(at.ambient_C, at.irradiance_W_m2, noct, mounting);
  // Without light the curve is drawn at 1 W/m2 (the engine, section 3).
  const irradiance_W_m2 = Math.max(1, at.irradiance_W_m2);
  return strings.map((string) => string.map((module) => ({ module, irradiance_W_m2, cell_C: cells_C })));
}

/** A point of work: V and A. */
export interface Top {
  v: number;
  i: number;
}
const LOOKS = 30;
/** Eight figures of the volts are not asked for: the top is level. */
const STEPS = 22;

/** The best point from some volts up; of several tops the highest. */
export function bestPoint({ currentAt, highest_V, oneTop, same }: Parallel, from_V: number): Top {
  if (same) {
    const { v, i } = topOfString(same.curve, from_V);
    return { v, i: i * same.count };
  }
  if (highest_V <= from_V) return { v: highest_V, i: 0 };
  const power = (v: number) => v * currentAt(v);
  let [low, high] = [from_V, highest_V];
  if (!oneTop) {
    const step = (highest_V - from_V) / LOOKS;
    let best = 0;
    for (let k = 1; k <= LOOKS; k++) if (power(from_V + k * step) > power(from_V + best * step)) best = k;
    [low, high] = [Math.max(from_V, from_V + (best - 1) * step), Math.min(highest_V, from_V + (best + 1) * step)];
  }
  const v = topOf(power, low, high, STEPS);
  const at = power(from_V) >= power(v) ? from_V : v;
  return { v: at, i: currentAt(at) };
}

const CLOSE_V = 1e-6;

/** Arrays as their controller sees them, behind their cables: at its volts each stands higher by what it drops. */
export function behindCables(arrays: readonly { seen: Parallel; ohm: number }[]): Parallel {
  const through = ({ seen, ohm }: (typeof arrays)[number], volts: number) => {
    if (ohm <= 0) return seen.currentAt(volts);
    const lifted = volts + ohm * seen.currentAt(volts);
    return seen.currentAt(secant((x) => x - ohm * seen.currentAt(x) - volts, volts, lifted, CLOSE_V));
  };
  return {
    currentAt: (volts) => arrays.reduce((sum, array) => sum + through(array, volts), 0),
    highest_V: Math.max(0, ...arrays.map(({ seen }) => seen.highest_V)),
    oneTop: arrays.length === 1 && arrays.every(({ seen }) => seen.oneTop),
  };
}

/**
 * An array under this sun. What is dear to work out is worked out when somebody asks, and once.
 * @param volts at its controller's battery terminals, V; null: it has none
 */
export function arrayAt(
  io: Ledger,
  array: PvArray,
  at: Conditions,
  volts: () => number | null,
  kept: Kept = new Map(),
): ArrayAt {
  const { system } = io.model;
  const controller = (system.controllers ?? []).find(({ id }) => id === array.controllerId);
  const pwm = controller?.type === 'pwm';
  const stood = keep(kept, `array ${array.id} ${light(at)}`, () => standing(io, array, at));
  const from_V = once(() => {
    const here = volts();
    return here === null ? null : here + (pwm ? ABOVE_PWM_V : ABOVE_MPPT_V);
  });
  const curve = (strings: Standing[][], name: string) => {
    const key = `${array.id} ${name} ${light(at)}`;
    return { seen: keep(kept, `curve ${key}`, () => inParallel(strings)), key };
  };
  const atWork = (string: Standing[], name: string) => {
    const { seen, key } = curve([string], name);
    const least = from_V();
    return pwm && least !== null ? Math.max(0, seen.currentAt(least)) : bestFrom(kept, key, seen)(least ?? 0).i;
  };
  const whole = once(() => {
    const { seen, key } = curve(stood, 'whole');
    return pwm ? null : bestFrom(kept, key, seen)(from_V() ?? 0).v;
  });
  return {
    strings: stood.map((string) => {
      // Strings of the same modules in the same light are one curve.
      const name = string.map(({ module: { id }, irradiance_W_m2 }) => `${id} ${irradiance_W_m2}`).join();
      const { seen } = curve([string], name);
      const imp = once(() => atWork(string, name));
      return {
        voc_V: keep(kept, `open ${array.id} ${name} ${light(at)}`, () => stringCurve(string).open_V),
        isc_A: seen.currentAt(0),
        get imp_A() {
          return imp();
        },
      };
    }),
    get vmp_V() {
      return whole();
    },
  };
}

/** The best point from some volts up: where the best of all lies above them it is that one, worked out once for a light. */
function bestFrom(kept: Kept, key: string, seen: Parallel): (least_V: number) => Top {
  const best = once(() => keep(kept, `best ${key}`, () => bestPoint(seen, 0)));
  return (least_V) => (best().v >= least_V ? best() : bestPoint(seen, least_V));
}

/** What was worked out for one light and one temperature, for conditions that differ in something else. */
export type Kept = Map<string, unknown>;
const light = ({ irradiance_W_m2, ambient_C, cell_C: cells_C }: Conditions) =>
  `${irradiance_W_m2} ${ambient_C} ${cells_C}`;
function keep<T>(kept: Kept, key: string, work: () => T): T {
  if (!kept.has(key)) kept.set(key, work());
  return kept.get(key) as T;
}

function once<T>(work: () => T): () => T {
  let known: { value: T } | null = null;
  return () => (known ??= { value: work() }).value;
}

/**
 * What a bank takes at a state of charge, A (docs/year.md, at the moment and not over an hour): lead its largest up
 * to .80, then falling exponentially to C20/50 when full; lithium flat to .98, less when cold, none below its lowest.
 */
export function acceptance_A(io: Ledger, bank: Bank, soc: number, bank_C: number): number {
  const table = CHEMISTRY[bank.chemistry];
  const c20 = c20_Ah(io, bank);
  const sheet = io.see(`${bank.id}.maxCharge_A`, bank.maxCharge_A);
  const largest = sheet ? sheet * bank.parallel : table.chargeMax * c20;
  const tail = c20 / 50;
  if (bank_C < table.lowestCharge_C) return 0;
  if (!isLithium(bank.chemistry)) {
    if (largest <= tail || soc <= 0.8) return largest;
    return largest * Math.exp(-5 * Math.log(largest / tail) * (Math.min(1, soc) - 0.8));
  }
  const most = Math.min(largest, bank_C < 5 ? 0.05 * c20 : bank_C < 10 ? 0.2 * c20 : Infinity);
  if (soc <= 0.98 || largest <= tail) return most;
  return Math.min(most, tail + ((largest - tail) * (1 - Math.min(1, soc))) / 0.02);
}

/** Every controller of a system that has an array, at the moment; a system without a bank has none that charges. */
export function controllersAt(io: Ledger, at: Conditions, kept: Kept = new Map()): Map<Controller, ControllerAt> {
  const { system } = io.model;
  const { bank } = system;
  const answers = new Map<Controller, ControllerAt>();
  if (!bank) return answers;
  const posts = postsAt(io, bank, at);
  const groups = outputGroups(system).map(({ first, members }) => {
    const set = io.see(`${first.id}.settings.maxCharge_A`, first.settings?.maxCharge_A) ?? Infinity;
    return {
      limit_A: Math.min(first.maxOutput_A, set),
      inputs: members.flatMap((controller) => inputOf(io, controller, at, kept) ?? []),
    };
  });
  const offered = (posts_V: number, bank_A: number) =>
    groups.map(({ limit_A, inputs }) => {
      const each = inputs.map((input) => ({ input, ...input.gives(posts_V + bank_A * input.way.shared_ohm, limit_A) }));
      const array_A = each.reduce((sum, { amps }) => sum + amps, 0);
      return { limit_A, each, array_A, amps: Math.min(array_A, limit_A) };
    });
  const sum = (those: ReturnType<typeof offered>) => those.reduce((all, { amps }) => all + amps, 0);
  const takes_A = acceptance_A(io, bank, at.soc, at.ambient_C);
  const free_A = settled_A((amps) => sum(offered(posts.volts(amps), amps)) - at.load_A);
  // What the bank does not take holds it at its absorb.
  const full = free_A > takes_A;
  const now = full ? offered(posts.absorb_V, takes_A) : offered(posts.volts(free_A), free_A);
  const all_A = sum(now);
  const wanted_A = at.load_A + takes_A;
  for (const { limit_A, each, array_A, amps } of now)
    for (const { input, amps: own, best, volts } of each) {
      const part = array_A > 0 ? own / array_A : 0;
      // What is not taken, and what a common output does not carry, is held back in proportion.
      const bank_A = all_A > 0 ? wanted_A * (amps / all_A) * part : wanted_A;
      const out_A = Math.min(amps * part, bank_A);
      const binds: Binds = out_A < amps * part - 1e-6 ? 'bank' : amps < array_A - 1e-6 ? 'limit' : 'array';
      const held = out_A < own * (1 - 1e-6);
      const { controller, seen, efficiency } = input;
      const pwm = controller.type === 'pwm';
      const pv = held ? beyond(seen, best, pwm ? out_A : (out_A * volts) / efficiency, pwm) : best;
      answers.set(controller, {
        pv_V: pv.v,
        pv_A: pv.i,
        out_A,
        volts,
        binds,
        array_A: own,
        limit_A: array_A > 0 ? limit_A * part : limit_A,
        bank_A,
      });
    }
  return answers;
}

/** One controller with its arrays behind their cables, and what it gives from some volts at the end of its own cable. */
interface Input {
  controller: Controller;
  seen: Parallel;
  efficiency: number;
  way: Way;
  /** A and the point at which it holds its arrays, and the volts at its own battery terminals. */
  gives(busbar_V: number, limit_A: number): { amps: number; best: Top; volts: number };
}

function inputOf(io: Ledger, controller: Controller, at: Conditions, kept: Kept): Input[] | null {
  const { system } = io.model;
  const arrays = arraysOf(system, controller.id).filter(({ strings }) => strings.length > 0);
  if (arrays.length === 0) return null;
  const pwm = controller.type === 'pwm';
  const key = `controller ${controller.id} ${light(at)}`;
  const seen = keep(kept, key, () =>
    behindCables(
      arrays.map((array) => {
        const imp = array.strings.map((string) => stringImp_A(modulesOf(system, string)));
        // A pwm's spare volts carry its cables.
        return { seen: inParallel(standing(io, array, at)), ohm: pwm ? 0 : pvCable_ohm(io, array, imp) };
      }),
    ),
  );
  const efficiency = pwm ? 1 : io.or(`${controller.id}.efficiency_pct`, controller.efficiency_pct, 97) / 100;
  const way = wayOf(io, 'controller-battery', controller.id);
  const bestAbove = bestFrom(kept, key, seen);
  const at_V = (volts: number) => {
    if (pwm) {
      const v = volts + ABOVE_PWM_V;
      const i = Math.max(0, seen.currentAt(v));
      return { amps: i, best: { v, i } };
    }
    const best = bestAbove(volts + ABOVE_MPPT_V);
    return { amps: (best.v * best.i * efficiency) / volts, best };
  };
  return [
    {
      controller,
      seen,
      efficiency,
      way,
      gives(busbar_V, limit_A) {
        // Its own cable lifts its terminals by its own current, which falls as they rise: a few rounds settle it.
        let volts = busbar_V;
        let found = at_V(volts);
        for (let round = 0; round < ROUNDS; round++) {
          volts = busbar_V + Math.min(found.amps, limit_A) * way.own_ohm;
          found = at_V(volts);
        }
        return { ...found, volts };
      },
    },
  ];
}
const ROUNDS = 4;

/** Held back, a controller lets its array's volts rise beyond the best point; a pwm's current is its output's. */
function beyond({ currentAt, highest_V }: Parallel, best: Top, wanted: number, pwm: boolean): Top {
  const brings = (v: number) => (pwm ? 1 : v) * currentAt(v) - wanted;
  const v = bisect(brings, best.v, highest_V, 1e-7);
  return { v, i: currentAt(v) };
}
