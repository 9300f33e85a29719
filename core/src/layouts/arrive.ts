import { cellsInSeries } from '../bank/bank';
import { floatCell_V } from '../chemistry/chemistry';
import { resistance_ohm_m, WARM_C } from '../conductors/sizes';
import { createLedger } from '../ledger/ledger';
import { arrayCurve, type ArrayCurve } from '../pv/array-curve';
import { modulesOf } from '../pv/strings';
import type { Model } from '../system/model';
import type { Controller } from '../system/schema';
import type { PlacedShare } from './place';

/** What full sun on a layout brings. */
export interface Arrival {
  /** Into the bank: the best point (pwm: the current at the bank's volts), less the PV cable, efficiency, and clipped. */
  watts: number;
  /** Best points of its arrays as they are shaded, W at the modules. */
  atModules_W: number;
}

const SUN_W_M2 = 1000;
const CELL_C = 45;
const EFFICIENCY_PCT = { mppt: 97, pwm: 100 } as const;
/** A pwm controller stands so far above the bank, V. */
const PWM_ABOVE_V = 0.5;

/** Full sun at cells of 45 degC on each controller's strings, as it arrives at the bank. */
export function arrivalOf(model: Model, shares: readonly PlacedShare[]): Arrival {
  const float_V = floatVolts(model);
  let watts = 0;
  let atModules_W = 0;
  for (const share of shares) {
    const curve = curveOf(model, share);
    const controller = model.system.controllers?.find(({ id }) => id === share.controllerId);
    atModules_W += curve.best.p;
    watts += controller ? arriving_W(model, controller, curve, float_V) : curve.best.p;
  }
  return { watts, atModules_W };
}

function arriving_W(model: Model, controller: Controller, curve: ArrayCurve, float_V: number): number {
  const pwm = controller.type === 'pwm';
  // Without a bank's volts a pwm controller's share cannot be told from its best point.
  const point =
    pwm && Number.isFinite(float_V)
      ? { v: float_V, i: Math.max(0, curve.currentAt(float_V + PWM_ABOVE_V)) }
      : { v: curve.best.v, i: curve.best.i };
  const lost = cable_ohm(model, controller) * point.i * point.i;
  const efficiency = (controller.efficiency_pct ?? EFFICIENCY_PCT[controller.type]) / 100;
  const most = Number.isFinite(float_V) ? controller.maxOutput_A * float_V : Infinity;
  // The cable of a pwm controller takes volts that were above the bank's anyway.
  return Math.min(most, pwm ? point.v * point.i : Math.max(0, point.v * point.i - lost) * efficiency);
}

/** There and back, ohm, of the cables that end on a controller from its arrays; several stand in parallel. */
function cable_ohm({ system }: Model, { id }: Controller): number {
  const arrays = new Set((system.arrays ?? []).flatMap((one) => (one.controllerId === id ? [one.id] : [])));
  const own = (system.runs ?? []).filter(
    ({ kind, from, to }) =>
      kind === 'pv' && ((arrays.has(from ?? '') && to === id) || (from === id && arrays.has(to ?? ''))),
  );
  const siemens = own.reduce((sum, { size, material, length_m, perPole }) => {
    const ohm = (2 * length_m * resistance_ohm_m(size, material ?? 'copper', WARM_C)) / (perPole ?? 1);
    return ohm > 0 ? sum + 1 / ohm : sum;
  }, 0);
  return siemens > 0 ? 1 / siemens : 0;
}

function floatVolts(model: Model): number {
  const { bank, nominal_V } = model.system;
  if (!bank) return nominal_V ?? Number.NaN;
  return cellsInSeries(createLedger(model), bank) * floatCell_V(bank.chemistry);
}

const curveOf = (model: Model, { strings }: PlacedShare): ArrayCurve =>
  arrayCurve(
    strings.map((string) =>
      string.flatMap(({ type, light }) =>
        modulesOf(model.system, [type]).map((module) => ({
          module,
          cell_C: CELL_C,
          irradiance_W_m2: SUN_W_M2 * light,
        })),
      ),
    ),
  );
