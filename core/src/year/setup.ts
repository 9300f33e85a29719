import { c20_Ah, cellsInSeries } from '../bank/bank';
import { CHEMISTRY, familyOf, floatCell_V, isLithium } from '../chemistry/chemistry';
import { createLedger, type Ledger } from '../ledger/ledger';
import {
  controllers_W,
  dcLoads,
  dc_W,
  idleOrAssumed_Wh,
  inverterEfficiency,
  isWinter,
  loadsOf,
  runsUnattended,
  unit_W,
} from '../power/loads';
import { windowOf } from '../power/day-strip';
import { inverterGroups } from '../power/groups';
import { outputGroups } from '../pv/controllers';
import { modulesOf, stringImp_A, stringVmp_V } from '../pv/strings';
import { FaultError, type Fault } from '../system/faults';
import { arraysOf, isVehicle, type Model } from '../system/model';
import type { Bank, Controller, Load, PvArray, System } from '../system/schema';
import { keptByHour, notedLight, shadedPlaces, unknownShade } from '../roof/kept-hours';
import type { Climate } from '../sun/weather';
import { powerTable, workingOf, type PowerTable, type Wired } from '../pv/array-power';
import { outputCable_ohm, pvCable_ohm } from './cables';
import { mixesOf, type Mix, type Mixed } from './mix';
import {
  type PlannedGenerator,
  type PlannedAlternator,
  type PlannedInlet,
  firstGenerator,
  chargersOf,
  plannedGenerator,
  plannedInlet,
  alternatorsOf,
} from './sources';

/**
 * Everything that a year of a system is worked out from, as plain numbers: made once, before the hours (docs/year.md, sections 2
 * to 5). Energy at the bank's posts is the common coin.
 */
export interface YearPlan {
  arrays: PlannedArray[];
  groups: PlannedGroup[];
  /** Volts at which the sun's energy goes into the bank. */
  float_V: number;
  demand: Demand;
  bank: PlannedBank;
  generator: PlannedGenerator | null;
  alternators: PlannedAlternator[];
  /** The mains of a house, in hours that somebody noted; null: none. */
  inlet: PlannedInlet | null;
  /** Months 0 to 11 in which somebody is there. */
  occupied: readonly boolean[];
  horizon: { azimuth_deg: number; elevation_deg: number }[];
  /** Planning values that it rests on, by path. */
  assumed: string[];
}

interface PlannedArray extends Mixed {
  tilt_deg: number;
  azimuth_deg: number;
  table: PowerTable;
  /** mppt: ohm by which the square of the array's current is lost on the way; 0 for pwm. */
  cable_ohm: number;
  vmp_V: number;
  efficiency: number;
  /** The share that the shade of its roof leaves, by month x 24 + hour; null: nothing shades it. */
  roof: Float64Array | null;
}

interface PlannedGroup {
  /** Indices into `arrays`, controller by controller; of unlike arrays on one input what they drag each other down by. */
  members: { arrays: number[]; cable_ohm: number; mixes: Mix[] }[];
  most_W: number;
}

/** What is drawn in a day, W at the bank by priority and slot. */
export interface Demand {
  /** Priorities that there are, the first served first. */
  priorities: number[];
  /** W at the bank, by priority and slot (month x 24 + hour): `[p * 288 + slot]`. */
  bank_W: Float64Array;
  /** Of that what a running generator carries: as it is at the bank, and in AC watts at the loads. */
  carriedBank_W: Float64Array;
  carried_W: Float64Array;
  /** While the inverter is on. */
  idle_W: number;
  /** Until the bank is empty. */
  self_W: number;
}

interface PlannedBank {
  capacity_Wh: number;
  chemistry: Bank['chemistry'];
  lithium: boolean;
  efficiency: number;
  absorb_V: number;
  /** The largest charging current, and the current that is left at full, A. */
  largest_A: number;
  tail_A: number;
  c20_Ah: number;
  /** Of the store, an hour. */
  selfDischarge: number;
  depth: number;
  lowestCharge_C: number;
  protectedFromCold: boolean;
  place: 'living' | 'box' | 'outside';
  min_C: number;
  max_C: number;
  heated: boolean;
  cut: number;
  restart: number;
}

/** Slots of a day, of five minutes each. */
export const SLOTS = 288;

/** A load that nobody ranked comes last but for those ranked lower. */
const UNRANKED = 3;
/** The priority of a load: 1 is served first. */
export const rankOf = ({ priority }: Pick<Load, 'priority'>): number => priority ?? UNRANKED;

/** Dust, glancing light, age and mismatch; planning value. */
const FIELD_SHARE = 0.9;

/** Charged so far, an inverter comes back; discharged so far, it lets go. */
const CUT = { lead: [0.2, 0.4], lithium: [0.1, 0.25] } as const;

const HOURS_MONTH = 730;

/**
 * The plan of a model's year.
 * @param climate of the weather: south of the equator winter is from April to September
 * @throws FaultError that names each field without which nothing can be said
 */
export function yearPlan(model: Model, climate: Climate): YearPlan {
  const { site, system } = model;
  const { latitude_deg } = climate;
  const faults = lacking(model);
  if (faults.length > 0) throw new FaultError(faults);
  const { bank } = system;
  if (!bank) throw new FaultError([{ path: 'system.bank', message: 'is missing, expected a bank' }]);
  const io = createLedger(model);
  const table = CHEMISTRY[bank.chemistry];
  const cells = cellsInSeries(io, bank);
  const float_V = cells * floatCell_V(bank.chemistry);
  const months = site.occupiedMonths?.length ? site.occupiedMonths : null;
  const occupied = Array.from({ length: 12 }, (_, month) => months === null || months.includes(month + 1));
  const arrays: PlannedArray[] = [];
  const groups = outputGroups(system).map(({ first, members }): PlannedGroup => {
    const limit_A = Math.min(first.maxOutput_A, first.settings?.maxCharge_A ?? Infinity);
    return {
      most_W: limit_A * float_V,
      members: members.map((controller) => {
        const own = arraysOf(system, controller.id).map((array) =>
          plannedArray(io, array, controller, float_V, climate),
        );
        return {
          arrays: own.map((planned) => arrays.push(planned) - 1),
          cable_ohm: controller.type === 'mppt' ? outputCable_ohm(io, system, controller) : 0,
          mixes: mixesOf(own),
        };
      }),
    };
  });
  const southern = latitude_deg < 0;
  const plan = {
    arrays,
    groups,
    float_V,
    demand: demandOf(io, system, occupied, southern ? -1 : 1),
    bank: plannedBank(io, model, bank, cells),
    generator: plannedGenerator(io, system, bank, cells * table.absorb_V),
    alternators: alternatorsOf(system, float_V),
    inlet: isVehicle(site) ? null : plannedInlet(io, system, cells * table.absorb_V),
    occupied,
    horizon: site.horizon ?? [],
  };
  return { ...plan, assumed: [...io.assumed].sort() };
}

/** What must be known, each by its path; never a silent default. */
function lacking(model: Model): Fault[] {
  const { system } = model;
  const faults: Fault[] = [];
  const need = (path: string, value: unknown, expected: string) => {
    if (value === null || value === undefined) faults.push({ path, message: `is unknown, expected ${expected}` });
  };
  const controllers = new Set((system.controllers ?? []).map(({ id }) => id));
  for (const array of system.arrays ?? []) {
    const { id, tilt_deg, azimuth_deg, controllerId } = array;
    if (!controllerId || !controllers.has(controllerId)) continue;
    faults.push(...unknownShade(model, array));
    need(`${id}.tilt_deg`, tilt_deg, 'the tilt of the array');
    if (tilt_deg !== 0) need(`${id}.azimuth_deg`, azimuth_deg, 'where the array faces');
  }
  const { bank } = system;
  if (!bank) faults.push({ path: 'system.bank', message: 'is missing, expected a bank' });
  else {
    need(`${bank.id}.place.space`, bank.place?.space, 'where the bank is installed');
    const io = createLedger({ system, site: { name: '', kind: '' }, schools: {}, evidence: {} });
    if (Number.isNaN(cellsInSeries(io, bank))) need(`${bank.id}.cells`, null, 'how many cells are in a block');
  }
  const generator = firstGenerator(system);
  if (generator && chargersOf(system, generator).length > 0)
    need(`${generator.id}.power_W`, generator.power_W, 'the power of the generator');
  return faults;
}

function plannedArray(
  io: Ledger,
  array: PvArray,
  controller: Controller,
  float_V: number,
  climate: Climate,
): PlannedArray {
  const { system } = io.model;
  const strings = array.strings.map((string) => modulesOf(system, string));
  const pwm = controller.type === 'pwm';
  const { heat_K_m2_W, ...works } = workingOf(io, array, controller.type, float_V);
  const roof = keptByHour(io.model, array, { ...works, heat_K_m2_W }, climate)?.share ?? null;
  const wired: Wired = { strings, shade: noted(io, array), ...works };
  return {
    wired,
    tilt_deg: array.tilt_deg ?? 0,
    azimuth_deg: array.azimuth_deg ?? 180,
    table: scaled(powerTable(wired)),
    heat_K_m2_W,
    cable_ohm: pwm ? 0 : pvCable_ohm(io, array, strings.map(stringImp_A)),
    vmp_V: Math.min(...strings.map(stringVmp_V)),
    efficiency: pwm ? 1 : io.or(`${controller.id}.efficiency_pct`, controller.efficiency_pct, 97) / 100,
    roof,
  };
}

/** The shade that was noted; where the roof says it, that is named. */
function noted(io: Ledger, array: PvArray): number[][] | null {
  if (array.shade && shadedPlaces(io.model, array).size > 0) io.guess(`${array.id}.shade`);
  return notedLight(io.model, array);
}

const scaled = ({ watts }: PowerTable): PowerTable => ({ watts: watts.map((each) => FIELD_SHARE * each) });

function demandOf(io: Ledger, system: System, occupied: readonly boolean[], latitude: number): Demand {
  const entries: { load: Load; bank: number; carried: boolean }[] = [];
  let idle_W = 0;
  for (const { first, members } of inverterGroups(system)) {
    const efficiency = inverterEfficiency(io, first);
    const carried = members.some(({ transfer }) => transfer === 'built-in' || transfer === 'external');
    for (const load of loadsOf(system, first)) entries.push({ load, bank: unit_W(load) / efficiency, carried });
    for (const inverter of members) idle_W += idleOrAssumed_Wh(io, inverter) / 24;
  }
  for (const load of dcLoads(system)) entries.push({ load, bank: dc_W(io, load), carried: false });
  const priorities = [...new Set(entries.map(({ load }) => rankOf(load)))].sort((a, b) => a - b);
  const size = priorities.length * SLOTS;
  const demand: Demand = {
    priorities,
    bank_W: new Float64Array(size),
    carriedBank_W: new Float64Array(size),
    carried_W: new Float64Array(size),
    idle_W,
    self_W: controllers_W(io),
  };
  for (const { load, bank, carried } of entries) {
    const { shares, hours } = windowOf(load);
    const quantity = load.quantity ?? 1;
    const p = priorities.indexOf(rankOf(load));
    for (let month = 0; month < 12; month++) {
      if (!occupied[month] && !runsUnattended(load)) continue;
      const daily = (isWinter(latitude, month + 1) ? load.winterHours_d : null) ?? load.hours_d;
      for (let h = 0; h < 24; h++) {
        const share = (quantity * daily * (shares[h] ?? 0)) / hours;
        const at = p * SLOTS + month * 24 + h;
        demand.bank_W[at] = (demand.bank_W[at] ?? 0) + share * bank;
        if (!carried) continue;
        demand.carriedBank_W[at] = (demand.carriedBank_W[at] ?? 0) + share * bank;
        demand.carried_W[at] = (demand.carried_W[at] ?? 0) + share * unit_W(load);
      }
    }
  }
  return demand;
}

function plannedBank(io: Ledger, { schools }: Model, bank: Bank, cells: number): PlannedBank {
  const table = CHEMISTRY[bank.chemistry];
  const lithium = isLithium(bank.chemistry);
  const c20 = c20_Ah(io, bank);
  const { space, min_C, max_C } = bank.place ?? {};
  const [cut, restart] = CUT[table.family];
  const { depthSchool } = familyOf(bank.chemistry);
  return {
    capacity_Wh: cells * table.nominal_V * c20,
    chemistry: bank.chemistry,
    lithium,
    efficiency: table.efficiency,
    absorb_V: cells * table.absorb_V,
    largest_A: bank.maxCharge_A ? bank.maxCharge_A * bank.parallel : table.chargeMax * c20,
    tail_A: c20 / 50,
    c20_Ah: c20,
    selfDischarge: table.selfDischarge_pct_month / 100 / HOURS_MONTH,
    depth: schools[depthSchool] ?? table.depth,
    lowestCharge_C: table.lowestCharge_C,
    protectedFromCold: bank.lowTemperatureProtection ?? false,
    place: space === 'living' ? 'living' : space === 'outside' || space === 'outbuilding' ? 'outside' : 'box',
    min_C: min_C ?? -Infinity,
    max_C: max_C ?? Infinity,
    heated: bank.heated ?? false,
    cut,
    restart,
  };
}
