import { cellsInSeries } from '../../bank/bank';
import { CHEMISTRY } from '../../chemistry/chemistry';
import { pwmWaste } from '../../power/energy';
import { noteCurve, stringCurrent, stringCurve } from '../../pv/curve';
import { restrung } from '../../pv/restring';
import { modulesOf, modulesOfArray, stringImp_A, stringVmp_V } from '../../pv/strings';
import { hotCell_C } from '../../pv/temperature';
import type { Model } from '../../system/model';
import type { PvArray } from '../../system/schema';
import { figure, round } from '../../ledger/figures';
import { rule, type Case } from '../rule';
import { CONTROLLER_PV_V, sizeSold } from '../cures/sold';
import { partName } from '../../conductors/names';

/** Rules that read the modules' own curves. */

const controllerOf = ({ system }: Model, { controllerId }: PvArray) =>
  system.controllers?.find(({ id }) => id === controllerId);
const casesOf =
  (types: readonly string[]) =>
  (model: Model): Case<PvArray>[] =>
    (model.system.arrays ?? [])
      .filter((array) => types.includes(controllerOf(model, array)?.type ?? ''))
      .map((array) => ({ subject: array.id, about: array }));

const hotVoltage = rule<PvArray>({
  id: 'pv.hot-voltage',
  title: 'Charging when hot',
  consequence: 'loss',
  bearsOn: ['strings'],
  notRoughly: true,
  cases: casesOf(['mppt', 'pwm']),
  evaluate(io, array) {
    const { bank } = io.model.system;
    if (!bank) io.miss('bank');
    const above = controllerOf(io.model, array)?.type === 'pwm' ? 0.5 : 1;
    const volts = (bank ? cellsInSeries(io, bank) * CHEMISTRY[bank.chemistry].absorb_V : Number.NaN) + above;
    let worst = Infinity;
    noteCurve(io, modulesOfArray(io.model.system, array));
    for (const string of array.strings) {
      const modules = modulesOf(io.model.system, string);
      const standing = modules.map((module) => ({
        module,
        irradiance_W_m2: 1000,
        cell_C: hotCell_C(io, array, module),
      }));
      if (Number.isNaN(volts) || standing.some(({ cell_C }) => Number.isNaN(cell_C))) continue;
      const left = Math.max(0, (100 * stringCurrent(stringCurve(standing), volts)) / stringImp_A(modules));
      io.work(
        `string at ${figure(standing[0]?.cell_C ?? NaN)} degC and ${figure(volts)} V: ${figure(left)} % of its Imp`,
      );
      worst = Math.min(worst, left);
    }
    return { ratio: { demand: worst, limit: 75, unit: '%', sense: 'min', tightAbove: 0.833 } };
  },
  sentence: ({ demand, verdict }) =>
    verdict === 'unknown'
      ? 'How much the hot array still delivers is not known yet.'
      : `At the hottest noon the array keeps only ${round(demand ?? NaN)} % of its current at the bank's voltage.`,
  remedies: ({ system }, array) => restrung(system, array, 'longer'),
  needs: 'Needs longer strings or modules with a higher voltage: when hot, these fall too low to charge the bank.',
});

const waste = rule<PvArray>({
  id: 'pv.pwm-waste',
  title: 'Energy lost with PWM',
  consequence: 'loss',
  bearsOn: ['strings', 'energy'],
  notRoughly: true,
  cases: casesOf(['pwm']),
  evaluate(io, array) {
    const { waste: share, taken_W, best_W, volts } = pwmWaste(io, array);
    io.work(
      `at 800 W/m2 the array could give ${figure(best_W)} W; into ${figure(volts)} V it gives ${figure(taken_W)} W`,
    );
    return { ratio: { demand: 100 * share, limit: 30, unit: '%', sense: 'max', tightAbove: 0.6 } };
  },
  sentence: ({ demand, verdict }) =>
    verdict === 'unknown'
      ? 'How much the PWM controller wastes is not known yet.'
      : `The PWM controller wastes ${round(demand ?? NaN)} % of what this array could give.`,
  remedies: (model, array) => {
    const controller = controllerOf(model, array);
    const size = sizeSold(
      CONTROLLER_PV_V,
      1.4 * Math.max(...array.strings.map((string) => stringVmp_V(modulesOf(model.system, string)))),
    );
    return controller && size
      ? [
          {
            title: `An MPPT controller instead of ${partName(model, controller.id)}`,
            detail: `for ${size} V or more; runs the array at its maximum power point`,
            changes: [
              { op: 'set' as const, at: 'controllers', id: controller.id, value: { type: 'mppt', maxPv_V: size } },
            ],
          },
        ]
      : [];
  },
  needs: 'Needs an MPPT controller, or modules with a voltage that suits the bank.',
});

/** Rules that need a module's curve. */
export const curveRules = [hotVoltage, waste];
