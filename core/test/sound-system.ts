import whelk from '../../demo/sites/whelk-bank.lantern.json';
import type { Model, System } from '../src/index';

/**
 * A system that somebody did right, sized here by hand rules with margin and not by the program: modules first, then
 * everything else from their watts. `pick` gives numbers from 0 to 1.
 */
export function soundSystem(pick: () => number): Model {
  const of = <T>(items: readonly T[]): T => items[Math.min(items.length - 1, Math.floor(pick() * items.length))] as T;
  const from = (low: number, high: number) => low + (high - low) * pick();
  const nominal_V = of([24, 48]);
  const lithium = pick() < 0.5;
  const module = whelk.system.moduleTypes[0]!;
  // Enough volts above the bank even when hot, and no more strings than fit one controller.
  const series = nominal_V === 24 ? of([2, 3]) : of([3, 4, 5]);
  const parallel = of([1, 2, 3]);
  const pmax = series * parallel * module.pmax_W;
  const push = pmax / nominal_V;
  // Worst occupied month 3.9 kWh/m2, x 0.77.
  const harvest_Wh = 3 * pmax;
  const cold = series * module.voc_V * 1.1;

  // Lithium: a night and a half of harvest. Lead: as large as its charge current can look after.
  const usable_Wh = harvest_Wh * (lithium ? from(1.2, 1.6) : from(0.75, 0.85));
  const strings = of([2, 3]);
  const block_Ah = Math.round(usable_Wh / (lithium ? 0.8 : 0.5) / nominal_V / strings);
  const maxDischarge_A = block_Ah * (lithium ? 1 : 0.5);
  const cutoff_V = lithium ? (nominal_V / 24) * 8 * 3.0 : (nominal_V / 24) * 12 * 1.92;
  const inverter_W = Math.round(from(0.15, 0.3) * 0.9 * strings * maxDischarge_A * cutoff_V * 0.94 * 0.8);
  const use_Wh = harvest_Wh * from(0.15, 0.25);
  const inverter_A = inverter_W / (0.94 * cutoff_V);

  const main = conductor(Math.max(inverter_A, 1.1 * push) + 10);
  const toInverter = conductor(inverter_A);
  const toController = conductor(1.1 * push);
  const twin = pick() < 0.5;
  const inverterIds = twin ? ['inv', 'inv2'] : ['inv'];
  const cells = (nominal_V / 24) * (lithium ? 8 : 12);
  const absorb_V = cells * (lithium ? 3.55 : 2.42);
  const settings = {
    absorb_V,
    float_V: cells * (lithium ? 3.375 : 2.27),
    equalise_V: 0,
    ...(lithium ? { comp_mV_K_cell: 0 } : {}),
  };
  const fuse = (rating_A: number) => ({
    type: 'class-t',
    rating_A,
    voltage_V: 125,
    interrupt_A: 100_000,
    dcRated: true,
    fromSource_m: 0.1,
  });
  const system = {
    nominal_V,
    moduleTypes: [module],
    arrays: [
      {
        id: 'array',
        strings: Array.from({ length: parallel }, () => Array.from({ length: series }, () => module.id)),
        tilt_deg: 30,
        azimuth_deg: 180,
        mounting: 'rack',
        ...(parallel > 2 && pick() < 0.5
          ? { stringProtection: { type: 'breaker', rating_A: 25, dcRated: true, polarised: false, voltage_V: 600 } }
          : { stringFuse_A: parallel > 2 ? 25 : null }),
        controllerId: 'cc',
      },
    ],
    controllers: [
      {
        id: 'cc',
        type: 'mppt',
        maxPv_V: Math.ceil(cold / 0.85),
        maxPv_A: Math.ceil((parallel * module.isc_A) / 0.7),
        maxPv_W: { [nominal_V]: Math.ceil(pmax / 0.85) },
        maxOutput_A: Math.ceil(1.1 * push),
        startAbove_V: 5,
        minBattery_V: 9,
        maxBattery_V: 70,
        limitsOutput: true,
        selfUse_W: 1,
        profiles: ['agm', 'lfp', 'custom'],
        settings,
      },
    ],
    bank: {
      id: 'bank',
      chemistry: lithium ? 'lfp' : 'agm',
      block_V: lithium ? nominal_V * (25.6 / 24) : 12,
      ...(lithium ? { cells: nominal_V / 3 } : {}),
      blockCapacity_Ah: block_Ah,
      rate_h: 20,
      series: lithium ? 1 : nominal_V / 12,
      parallel: strings,
      health_pct: 98,
      maxCharge_A: block_Ah * (lithium ? 0.5 : 0.3),
      maxDischarge_A,
      peakDischarge_A: 3 * block_Ah,
      peak_s: 10,
      maxSeries: 4,
      maxParallel: 4,
      fusedStrings: true,
      ageSpread_months: 0,
      tapping: 'busbar',
      link: { length_m: 0.3, size: '70mm2' },
      ...(lithium
        ? {
            lowTemperatureProtection: true,
            protection: { cells: nominal_V / 3, lowTrip_V_cell: 2.6, highTrip_V_cell: 3.65 },
          }
        : {}),
      place: { space: 'outbuilding', min_C: 12, max_C: 28, ventArea_cm2: 900 },
    },
    inverters: inverterIds.map((id) => ({
      id,
      ...(twin ? { group: 'pair' } : {}),
      waveform: 'sine',
      continuous_W: inverter_W / inverterIds.length,
      continuous_VA: Math.round(1.1 * inverter_W) / inverterIds.length,
      surge_W: (2 * inverter_W) / inverterIds.length,
      surge_s: 5,
      minDc_V: 18,
      maxDc_V: 70,
      lowCutoff_V: cutoff_V,
      settings: { cutoff_V },
      idle_W: Math.min(15, (0.04 * harvest_Wh) / 24) / inverterIds.length,
      precharge: true,
      efficiency_pct: 94,
      feeds: 'sockets',
      transfer: 'none',
      neutralBond: 'fixed',
    })),
    loads: [
      {
        id: 'base',
        label: 'Base',
        kind: 'ac',
        type: 'electronic',
        power_W: Math.max(1, Math.min(0.3 * inverter_W, (0.8 * use_Wh) / 24)),
        hours_d: 24,
        overlap: 'base',
        powerFactor: 0.95,
      },
      {
        id: 'tool',
        label: 'Tool',
        kind: 'ac',
        type: 'inverter-driven',
        power_W: 0.3 * inverter_W,
        hours_d: 0.05,
        overlap: 'alone',
      },
      { id: 'lamp', label: 'Lamp', kind: 'dc', type: 'electronic', power_W: 10, hours_d: 1, overlap: 'may' },
    ],
    runs: [
      {
        id: 'r-pv',
        kind: 'pv',
        from: 'array',
        to: 'cc',
        length_m: from(3, 8),
        size: parallel > 1 ? '25mm2' : '10mm2',
        ambient_C: 45,
      },
      {
        id: 'r-cc',
        kind: 'controller-battery',
        from: 'cc',
        to: 'bus',
        length_m: from(0.5, 0.9),
        ...short(toController, fuse),
      },
      { id: 'r-bus', kind: 'dc-load', from: 'bank', to: 'bus', length_m: from(0.4, 0.7), ...short(main, fuse) },
      ...inverterIds.map((id) => ({
        id: `r-${id}`,
        kind: 'battery-inverter',
        // Which end is written first says nothing.
        ...(pick() < 0.5 ? { from: 'bus', to: id } : { from: id, to: 'bus' }),
        length_m: from(0.5, 0.9),
        ...short(toInverter, fuse),
      })),
      {
        id: 'r-lamp',
        kind: 'dc-load',
        from: 'bus',
        to: 'lamp',
        length_m: 2,
        size: '6mm2',
        insulation_C: 90,
        negativeThroughShunt: true,
        protection: fuse(20),
      },
    ],
    switches: [
      {
        id: 'main',
        kind: 'isolator',
        runId: 'r-bus',
        end: 'to',
        rating_A: Math.ceil(1.3 * Math.max(inverter_A, push) + 10),
        voltage_V: 100,
        dcRated: true,
        polarised: false,
      },
      {
        id: 'sun',
        kind: pick() < 0.5 ? 'isolator' : 'breaker',
        runId: 'r-pv',
        end: 'to',
        rating_A: Math.ceil(1.6 * parallel * module.isc_A),
        voltage_V: 600,
        dcRated: true,
        polarised: false,
      },
      {
        id: 'lvd',
        kind: 'load-disconnect',
        runId: 'r-lamp',
        rating_A: 20,
        voltage_V: 100,
        dcRated: true,
        lvd_V: cutoff_V,
      },
    ],
    states: [{ id: 'away', label: 'Nobody there', off: ['tool', 'lamp'] }],
    distribution: [
      { id: 'bus', slots: 6, rating_A: 1000, circuits: ['r-cc', ...inverterIds.map((id) => `r-${id}`), 'r-lamp'] },
    ],
    monitor: { id: 'mon', shunt_A: 1000 },
  };
  return {
    site: {
      ...whelk.site,
      recordLow_C: from(-20, -7),
      recordHigh_C: 25,
      livingSpace: false,
      occupiedMonths: [5, 6, 7, 8],
    } as Model['site'],
    schools: { conductor: 'metric', controllerOutput: 'plain' },
    evidence: {},
    system: system as unknown as System,
  };
}

/** Clipped direct, 70 degC column of IEC 60364-5-52 as commonly printed. */
const AMPS: [size: string, amps: number][] = [
  ['10mm2', 63],
  ['16mm2', 85],
  ['25mm2', 112],
  ['35mm2', 138],
  ['50mm2', 168],
  ['70mm2', 213],
  ['95mm2', 258],
  ['120mm2', 299],
  ['150mm2', 344],
  ['240mm2', 461],
];
const FUSES = [60, 70, 80, 90, 100, 110, 125, 150, 175, 200, 225, 250, 300, 350, 400, 500, 600];

/** A fuse a third above the current and conductors that carry it, as many a pole as it takes. */
function conductor(amps: number): { fuse_A: number; size: string; perPole: number } {
  const fuse_A = FUSES.find((rating) => rating >= 1.3 * amps) ?? 600;
  for (const perPole of [1, 2, 3])
    for (const [size, carries] of AMPS) if (perPole * carries >= 1.15 * fuse_A) return { fuse_A, size, perPole };
  throw new Error(`no conductor for ${amps} A`);
}
const short = (run: ReturnType<typeof conductor>, fuse: (rating: number) => object) => ({
  size: run.size,
  perPole: run.perPole,
  negativeThroughShunt: true,
  protection: fuse(run.fuse_A),
});
