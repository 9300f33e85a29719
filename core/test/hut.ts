import {
  check,
  modelOf,
  type Bank,
  type Controller,
  type Finding,
  type Model,
  type ModuleType,
  type Run,
  type System,
  type SystemFile,
} from '../src/index';

/** Round made-up parts for the tests: a 100 W module, a 60 A controller, a small flooded bank, one string of two. */
export const MODULE: ModuleType = {
  id: 'm',
  pmax_W: 100,
  voc_V: 20,
  isc_A: 6.5,
  vmp_V: 16.4,
  imp_A: 6.1,
  cells: 32,
  betaVoc_pct_C: -0.3,
  noct_C: 45,
  maxSeriesFuse_A: 15,
  maxSystem_V: 600,
};
export const CONTROLLER: Controller = {
  id: 'c',
  type: 'mppt',
  maxPv_V: 100,
  maxPv_A: 40,
  maxOutput_A: 60,
  minBattery_V: 8,
  maxBattery_V: 34,
  limitsOutput: true,
  profiles: ['flooded'],
};
export const BANK: Bank = {
  id: 'b',
  chemistry: 'flooded',
  block_V: 12,
  blockCapacity_Ah: 200,
  rate_h: 20,
  series: 1,
  parallel: 1,
  health_pct: 100,
};

export function hut(change: (system: System, file: SystemFile) => void = () => undefined): Model {
  const file: SystemFile = structuredClone({
    format: 'true-lantern' as const,
    version: 1,
    site: { name: 'Hut', recordLow_C: -15, recordHigh_C: 30 },
    schools: { controllerOutput: 'plain' as const, coldVoltage: 'coefficient' as const, chargeMin: 'C10' as const },
    system: {
      nominal_V: 12,
      moduleTypes: [MODULE],
      arrays: [{ id: 'a', strings: [['m', 'm']], mounting: 'raised' as const, controllerId: 'c' }],
      controllers: [CONTROLLER],
      bank: BANK,
    },
  });
  change(file.system, file);
  return modelOf(file);
}

/** The one finding of a rule (and quantity); undefined where the rule says nothing. */
export function find(model: Model, rule: string, quantity?: string): Finding | undefined {
  return check(model).find(
    (finding) => finding.rule === rule && (quantity === undefined || finding.quantity === quantity),
  );
}

/** Parts of a system that the tests know to be there. */
export const part = {
  array: (system: System) => system.arrays![0]!,
  controller: (system: System) => system.controllers![0]!,
  module: (system: System) => system.moduleTypes![0]!,
  bank: (system: System) => system.bank!,
};

/** Cables of a hut that has an inverter: to it with a fuse, from the controller, from the array. */
export const hutRuns = (): Run[] => [
  {
    id: 'r1',
    kind: 'battery-inverter',
    from: 'b',
    to: 'i',
    length_m: 2,
    size: '16mm2',
    freeAir: false,
    protection: { type: 'strip', rating_A: 60, fromSource_m: 0.1 },
  },
  { id: 'r2', kind: 'controller-battery', from: 'c', to: 'b', length_m: 3, size: '10mm2', joints: 2, freeAir: false },
  { id: 'r3', kind: 'pv', from: 'a', to: 'c', length_m: 10, size: '4mm2', freeAir: false },
];

/** The hut with an inverter of 1,000 W (111.1 A at its 10 V), a load on it, a bank whose resistance is known, and cables. */
export const wired = (change: (system: System) => void = () => undefined): Model =>
  hut((system) => {
    system.inverters = [
      { id: 'i', label: 'Inv', continuous_W: 1000, surge_W: 1500, surge_s: 5, idle_W: 5, settings: { cutoff_V: 10 } },
    ];
    system.loads = [{ id: 'l', label: 'L', kind: 'ac', power_W: 300, hours_d: 2, inverterId: 'i' }];
    system.runs = hutRuns();
    system.bank = { ...system.bank!, internal_mohm: 5, age_y: 0, place: { min_C: 2, max_C: 25 } };
    change(system);
  });

/** Its array faces south under 3 kWh/m2 a day in every month. */
export function sunny(model: Model): Model {
  Object.assign(part.array(model.system), { tilt_deg: 40, azimuth_deg: 180 });
  model.site.latitude_deg = 57;
  model.site.climate = { globalHorizontal_kWh_m2_d: Array.from({ length: 12 }, () => 3) };
  return model;
}
