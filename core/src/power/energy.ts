import { arrayCurve } from '../pv/array-curve';
import { noteCurve } from '../pv/curve';
import { underShade } from '../pv/shade';
import { cell_C, MOUNTING_K } from '../pv/temperature';
import { modulesOf, modulesOfArray } from '../pv/strings';
import type { Ledger } from '../ledger/ledger';
import { workingOf } from '../pv/array-power';
import { keptByHour, keptInMonth, notedLight, shadedPlaces, unknownShade } from '../roof/kept-hours';
import { MONTHS } from '../sun/months';
import { sunHours } from '../sun/tilted';
import { kept } from '../numeric/kept';
import type { Bank, Controller, PvArray } from '../system/schema';
import { chargingDevices, charger_A } from '../bank/charging';
import { capacity_Ah, cellsInSeries, place_min_C } from '../bank/bank';
import { outputGroups } from '../pv/controllers';
import { alternatorDraw_A, alternatorLimit_A, alternators } from './alternators';
import { isWinter } from './loads';
import { figure } from '../ledger/figures';
import { CHEMISTRY, familyOf, floatCell_V } from '../chemistry/chemistry';
import { partName } from '../conductors/names';

/** Energy by the day and the month: what the sun brings, what the bank can give. */

/** Share of the plate's watts that reaches the bank through a year of dirt, heat, cable and controller; planning value. */
const SYSTEM_SHARE = 0.77;

/** Light and wind of the moment at which pwm is judged: the NOCT definition's 800 W/m2 at 20 degC. */
const PWM_W_M2 = 800;

/** Share of an array's best power that a pwm controller throws away. */
export function pwmWaste(
  io: Ledger,
  array: PvArray,
): { waste: number; taken_W: number; best_W: number; volts: number } {
  const { bank } = io.model.system;
  if (!bank) {
    io.miss('bank');
    return { waste: Number.NaN, taken_W: Number.NaN, best_W: Number.NaN, volts: Number.NaN };
  }
  const volts = cellsInSeries(io, bank) * floatCell_V(bank.chemistry);
  const mounting = MOUNTING_K[io.word(`${array.id}.mounting`, array.mounting, 'raised')];
  if (Number.isNaN(volts)) return { waste: volts, taken_W: volts, best_W: volts, volts };
  noteCurve(io, modulesOfArray(io.model.system, array));
  const standing = array.strings.map((string) =>
    modulesOf(io.model.system, string).map((module) => ({
      module,
      irradiance_W_m2: PWM_W_M2,
      cell_C: cell_C(20, PWM_W_M2, io.or(`${module.id}.noct_C`, module.noct_C, 45), mounting),
    })),
  );
  const { taken_W, best_W } = wastes(JSON.stringify([standing, volts]), () => {
    const curve = arrayCurve(standing);
    return { taken_W: Math.max(0, curve.currentAt(volts + 0.5)) * volts, best_W: curve.best.p };
  });
  return { waste: 1 - taken_W / best_W, taken_W, best_W, volts };
}

const wastes = kept<string, { taken_W: number; best_W: number }>(200);

/** Months in use, 1 to 12. */
export const occupied = (io: Ledger): number[] => {
  const { occupiedMonths } = io.model.site;
  if (occupiedMonths && occupiedMonths.length > 0) return [...new Set(occupiedMonths)].sort((a, b) => a - b);
  io.guess('site.occupiedMonths');
  return [1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12];
};

/** Hours a day that a controller can put out its rating: what no sun makes longer; planning value. */
const FULL_HOURS = 10;

/** Volts at which the day's energy goes into the bank: its float; of a chemistry without one its absorb. */
function charging_V(io: Ledger): number {
  const { bank } = io.model.system;
  if (!bank) return io.need('bank', null);
  return cellsInSeries(io, bank) * floatCell_V(bank.chemistry);
}

/** Wh a day at the bank by month (index 0 is January): the sun, no more than its controllers put out, and the engine. */
export function harvest_Wh(io: Ledger): number[] {
  const months = Array.from({ length: 12 }, () => 0);
  const { system } = io.model;
  const held = new Set<string>();
  for (const { first, arrays } of outputGroups(system)) {
    if (arrays.length === 0) continue;
    arrays.forEach(({ id }) => held.add(id));
    const most = first.maxOutput_A * charging_V(io) * FULL_HOURS;
    const sun = sunOn_Wh(io, arrays);
    if (sun.some((wh) => wh > most))
      io.work(`${partName(io.model, first.id)} delivers at most ${figure(most)} Wh a day`);
    // Written so that an unknown stays one.
    sun.forEach((wh, i) => (months[i] = (months[i] ?? 0) + (wh > most ? most : wh)));
  }
  const loose = (system.arrays ?? []).filter(({ id }) => !held.has(id));
  sunOn_Wh(io, loose).forEach((wh, i) => (months[i] = (months[i] ?? 0) + wh));
  driving_Wh(io).forEach((wh, i) => (months[i] = (months[i] ?? 0) + wh));
  return months;
}

function sunOn_Wh(io: Ledger, arrays: readonly PvArray[]): number[] {
  const { site, system } = io.model;
  const latitude_deg = io.need('site.latitude_deg', site.latitude_deg);
  const climate = site.climate?.globalHorizontal_kWh_m2_d;
  if (!climate) io.miss('site.climate.globalHorizontal_kWh_m2_d');
  const months = Array.from({ length: 12 }, () => 0);
  for (const array of arrays) {
    const tilt_deg = io.need(`${array.id}.tilt_deg`, array.tilt_deg);
    // What lies flat faces nowhere.
    const azimuth_deg = tilt_deg === 0 ? 180 : io.need(`${array.id}.azimuth_deg`, array.azimuth_deg);
    const controller = system.controllers?.find(({ id }) => id === array.controllerId);
    const kept = (controller?.type === 'pwm' ? 1 - pwmWaste(io, array).waste : 1) * shadeKept(io, array);
    const roof = roofKept(io, array, controller?.type ?? 'mppt');
    const watts = modulesOfArray(system, array).reduce((sum, { pmax_W }) => sum + pmax_W, 0);
    months.forEach((sum, i) => {
      const level = climate?.[i] ?? Number.NaN;
      months[i] =
        sum +
        watts *
          sunHours({ latitude_deg, tilt_deg, azimuth_deg }, i + 1, level) *
          SYSTEM_SHARE *
          kept *
          (roof?.[i] ?? 1);
    });
  }
  return months;
}

/**
 * Share of an array's best power that is left under the shade noted on its modules: from the curves as wired, in full
 * light at 25 degC, so that the worst month rests on what the hourly year multiplies into each module's light.
 */
function shadeKept(io: Ledger, array: PvArray): number {
  const light = notedLight(io.model, array);
  if (!light || light.every((string) => string.every((share) => share === 1))) return 1;
  noteCurve(io, modulesOfArray(io.model.system, array));
  const modules = array.strings.map((string) => modulesOf(io.model.system, string));
  const share = shades(JSON.stringify([modules, light]), () => {
    const under = underShade(io.model, {
      arrayId: array.id,
      irradiance_W_m2: 1000,
      cell_C: 25,
      light,
    });
    return under ? under.best.p / under.unshaded_W : 1;
  });
  io.work(`noted shade leaves ${figure(share * 100)} % of ${partName(io.model, array.id)}`);
  return share;
}

const shades = kept<string, number>(200);

/** Air of a month whose mean nobody entered: what shade leaves hardly follows it, degC. */
const ANY_MONTH_C = 10;

/**
 * The share of each month's energy that is left where the array lies on a roof with something on it that throws a shadow:
 * the same table that the hourly year is multiplied by. Null: nothing shades it.
 */
function roofKept(io: Ledger, array: PvArray, type: Controller['type']): number[] | null {
  const { model } = io;
  if (shadedPlaces(model, array).size === 0) return null;
  const unknown = unknownShade(model, array);
  unknown.forEach(({ path }) => io.miss(path));
  const latitude_deg = io.need('site.latitude_deg', model.site.latitude_deg);
  const level = model.site.climate?.globalHorizontal_kWh_m2_d;
  const float_V = charging_V(io);
  if (unknown.length > 0 || !level || Number.isNaN(latitude_deg + float_V)) return null;
  const means = model.site.climate?.meanTemp_C;
  noteCurve(io, modulesOfArray(model.system, array));
  const working = workingOf(io, array, type, float_V);
  const climate = {
    latitude_deg,
    level_kWh_m2_d: level.map((one) => one ?? Number.NaN),
    meanTemp_C: level.map((_, month) => means?.[month] ?? ANY_MONTH_C),
  };
  const table = keptByHour(model, array, working, climate);
  if (!table) return null;
  const months = level.map((_, month) => keptInMonth(table, month));
  const [least, most] = [Math.min(...months), Math.max(...months)];
  const share = (of: number) => `${figure(100 * of)} % in ${MONTHS[months.indexOf(of)]}`;
  io.work(`shade on the roof leaves ${share(least)} and ${share(most)} of ${partName(model, array.id)}`);
  return months;
}

/** What each alternator brings in its hours a day, no more than it gives for long. */
function driving_Wh(io: Ledger): number[] {
  const { site, system } = io.model;
  const months = Array.from({ length: 12 }, () => 0);
  for (const on of alternators(system)) {
    const { source, chargers } = on;
    if (source?.kind !== 'alternator') continue;
    const summer = io.need(`${source.id}.hours_d`, source.hours_d);
    const winter = io.see(`${source.id}.winterHours_d`, source.winterHours_d) ?? summer;
    const latitude_deg = io.need('site.latitude_deg', site.latitude_deg);
    const amps = chargers.reduce((sum, { id }) => {
      const device = chargingDevices(system).find((one) => one.id === id);
      return sum + (device ? charger_A(io, device) : 0);
    }, 0);
    const draw = alternatorDraw_A(io, on);
    const share = draw > 0 ? Math.min(1, alternatorLimit_A(io, on) / draw) : 1;
    const perHour = amps * charging_V(io) * share;
    io.work(`${partName(io.model, source.id)} delivers ${figure(perHour)} Wh per hour of driving`);
    months.forEach((sum, i) => (months[i] = sum + perHour * (isWinter(latitude_deg, i + 1) ? winter : summer)));
  }
  return months;
}

/** Usable Wh of the bank as it is, at a mean draw in Wh a day: age, rate, cold and depth. */
export function usable_Wh(io: Ledger, bank: Bank, draw_Wh_d: number): number {
  const table = CHEMISTRY[bank.chemistry];
  const volts = cellsInSeries(io, bank) * table.nominal_V;
  const capacity = capacity_Ah(io, bank);
  const rate = io.or(`${bank.id}.rate_h`, bank.rate_h, 20);
  const amps = draw_Wh_d / 24 / volts;
  // Slow discharge gives more than the label, by Peukert, but a tenth at most.
  const slow = amps === 0 ? Infinity : (capacity / (amps * rate)) ** (table.peukert - 1);
  const coldest = place_min_C(io, bank);
  const { coldCapacity, depthSchool } = familyOf(bank.chemistry);
  const warmth = coldCapacity(coldest);
  const depth = io.or(`schools.${depthSchool}`, io.model.schools[depthSchool], table.depth);
  io.bySchool(`${Math.round(100 * depth)} % depth`);
  return volts * capacity * Math.min(1.1, slow) * warmth * depth;
}
