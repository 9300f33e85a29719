import { c20_Ah, cellsInSeries } from '../bank/bank';
import { CHEMISTRY, isLithium } from '../chemistry/chemistry';
import type { Ledger } from '../ledger/ledger';
import { bisect, secant, topOf } from '../numeric/roots';
import { outputGroups } from '../pv/controllers';
import { inParallel, stringCurve, type Parallel, type Standing } from '../pv/curve';
import { modulesOf, stringImp_A } from '../pv/strings';
import { cell_C, MOUNTING_K } from '../pv/temperature';
import { arraysOf } from '../system/model';
import type { Bank, Controller, PvArray } from '../system/schema';
import { pvCable_ohm } from '../year/plan';
import type { Conditions } from './conditions';

/** What arrays and controllers should show at the moment (docs/work-and-prove.md), from the curves themselves. */

/** An array under this sun, string by string. */
export interface ArrayAt {
  strings: { voc_V: number; isc_A: number; readonly imp_A: number }[];
  /** Best point of the whole at its own terminals; null behind a pwm controller, which holds it at the bank's volts. */
  readonly vmp_V: number | null;
}
/** What keeps a controller from giving more. */
export type Binds = 'array' | 'limit' | 'bank';
/** A controller under this sun: V and A in, A out, and what holds it. */
export interface ControllerAt {
  pv_V: number;
  pv_A: number;
  out_A: number;
  binds: Binds;
  /** Each of what it could be, A. */
  array_A: number;
  limit_A: number;
  bank_A: number;
}

/** Volts that a charging bank is taken to stand at: n * float (nmc absorb), as in the year. */
export function charging_V(io: Ledger, bank: Bank): number {
  const { float_V, absorb_V } = CHEMISTRY[bank.chemistry];
  return cellsInSeries(io, bank) * (float_V ?? absorb_V);
}
/** An mppt needs so much above the bank; a pwm loses so much in its switch. V */
const ABOVE_MPPT_V = 1;
const ABOVE_PWM_V = 0.5;

function standing(io: Ledger, array: PvArray, at: Conditions): Standing[][] {
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

interface Top {
  v: number;
  i: number;
}
const LOOKS = 30;
/** Eight figures of the volts are not asked for: the top is level. */
const STEPS = 22;

/** The best point from some volts up; of several tops the highest. */
function bestPoint({ currentAt, highest_V, oneTop }: Parallel, from_V: number): Top {
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
function behindCables(arrays: readonly { seen: Parallel; ohm: number }[]): Parallel {
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

/** What is dear to work out is worked out when somebody asks, and once. */
export function arrayAt(io: Ledger, array: PvArray, at: Conditions, kept: Kept = new Map()): ArrayAt {
  return keep(kept, `array ${array.id} ${light(at)}`, () => freshArray(io, array, at));
}

function freshArray(io: Ledger, array: PvArray, at: Conditions): ArrayAt {
  const { system } = io.model;
  const { bank } = system;
  const controller = (system.controllers ?? []).find(({ id }) => id === array.controllerId);
  const stood = standing(io, array, at);
  const charging = controller && bank ? charging_V(io, bank) : null;
  const pwm = controller?.type === 'pwm';
  const from_V = charging === null ? 0 : charging + (pwm ? ABOVE_PWM_V : ABOVE_MPPT_V);
  const seen = new Map<string, ReturnType<typeof one>>();
  const one = (string: Standing[]) => {
    const alone = inParallel([string]);
    return {
      voc_V: stringCurve(string).open_V,
      isc_A: alone.currentAt(0),
      atWork: once(() =>
        pwm && charging !== null ? Math.max(0, alone.currentAt(from_V)) : bestPoint(alone, from_V).i,
      ),
    };
  };
  const whole = once(() => (pwm ? null : bestPoint(inParallel(stood), from_V).v));
  return {
    strings: stood.map((string) => {
      // Strings of the same modules are one curve.
      const key = string.map(({ module: { id } }) => id).join();
      const known = seen.get(key) ?? one(string);
      seen.set(key, known);
      const { voc_V, isc_A, atWork } = known;
      return {
        voc_V,
        isc_A,
        get imp_A() {
          return atWork();
        },
      };
    }),
    get vmp_V() {
      return whole();
    },
  };
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
  const charging = charging_V(io, bank);
  const offered = outputGroups(system).map(({ first, members }) => {
    const set = io.see(`${first.id}.settings.maxCharge_A`, first.settings?.maxCharge_A) ?? Infinity;
    const limit_A = Math.min(first.maxOutput_A, set);
    const each = members.flatMap((controller) => {
      const found = keep(kept, `controller ${controller.id} ${light(at)}`, () => offer(io, controller, charging, at));
      return found ? [{ controller, ...found }] : [];
    });
    const array_A = each.reduce((sum, { amps }) => sum + amps, 0);
    return { limit_A, each, array_A, amps: Math.min(array_A, limit_A) };
  });
  const all_A = offered.reduce((sum, { amps }) => sum + amps, 0);
  const takes_A = acceptance_A(io, bank, at.soc, at.ambient_C);
  for (const { limit_A, each, array_A, amps } of offered)
    for (const { controller, amps: own, seen, best, worth_W } of each) {
      const part = array_A > 0 ? own / array_A : 0;
      // What the bank does not take, and a common output does not carry, is held back in proportion.
      const bank_A = all_A > 0 ? takes_A * (amps / all_A) * part : takes_A;
      const out_A = Math.min(amps * part, bank_A);
      const binds: Binds = out_A < amps * part - 1e-9 ? 'bank' : amps < array_A - 1e-9 ? 'limit' : 'array';
      const held = out_A < own * (1 - 1e-9);
      const pv = held ? beyond(seen, best, out_A * worth_W, controller.type === 'pwm') : best;
      answers.set(controller, {
        pv_V: pv.v,
        pv_A: pv.i,
        out_A,
        binds,
        array_A: own,
        limit_A: array_A > 0 ? limit_A * part : limit_A,
        bank_A,
      });
    }
  return answers;
}

/** What one controller makes of its arrays, A, with the point at which it holds them. */
function offer(io: Ledger, controller: Controller, charging: number, at: Conditions) {
  const { system } = io.model;
  const arrays = arraysOf(system, controller.id).filter(({ strings }) => strings.length > 0);
  if (arrays.length === 0) return null;
  const pwm = controller.type === 'pwm';
  const seen = behindCables(
    arrays.map((array) => {
      const imp = array.strings.map((string) => stringImp_A(modulesOf(system, string)));
      // A pwm's spare volts carry its cables.
      return { seen: inParallel(standing(io, array, at)), ohm: pwm ? 0 : pvCable_ohm(io, array, imp) };
    }),
  );
  if (pwm) {
    const v = charging + ABOVE_PWM_V;
    const i = Math.max(0, seen.currentAt(v));
    return { amps: i, seen, best: { v, i }, worth_W: 1 };
  }
  const best = bestPoint(seen, charging + ABOVE_MPPT_V);
  const efficiency = io.or(`${controller.id}.efficiency_pct`, controller.efficiency_pct, 97) / 100;
  return { amps: (best.v * best.i * efficiency) / charging, seen, best, worth_W: charging / efficiency };
}

/** Held back, a controller lets its array's volts rise beyond the best point; a pwm's current is its output's. */
function beyond({ currentAt, highest_V }: Parallel, best: Top, wanted: number, pwm: boolean): Top {
  const brings = (v: number) => (pwm ? 1 : v) * currentAt(v) - wanted;
  const v = bisect(brings, best.v, highest_V, 1e-7);
  return { v, i: currentAt(v) };
}
