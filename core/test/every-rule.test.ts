import { check, modelOf, type Finding, type Model, type SystemFile } from '../src/index';
import { MODULE } from './hut';

/**
 * Two whole systems with round figures: what every rule asks, of how much, in which unit and sense, from where on it is
 * tight, and what it does to people or kit. The figures are worked out beside each line from the book (docs/engine.md),
 * with the tables restated, never from the code.
 */

const SUN = Array.from({ length: 12 }, () => 3);
const LEAD: SystemFile = {
  format: 'true-lantern',
  version: 1,
  site: {
    name: 'Lead',
    latitude_deg: 0,
    recordLow_C: -10,
    recordHigh_C: 35,
    layup_d: 20,
    climate: { globalHorizontal_kWh_m2_d: SUN, meanTemp_C: SUN },
  },
  system: {
    nominal_V: 12,
    moduleTypes: [MODULE],
    arrays: [
      {
        id: 'a',
        strings: [
          ['m', 'm'],
          ['m', 'm'],
          ['m', 'm'],
        ],
        tilt_deg: 0,
        azimuth_deg: 180,
        mounting: 'raised',
        controllerId: 'c',
      },
    ],
    controllers: [
      {
        id: 'c',
        type: 'mppt',
        maxPv_V: 100,
        maxPv_A: 40,
        maxPv_W: { 12: 800 },
        maxOutput_A: 60,
        minBattery_V: 8,
        maxBattery_V: 17,
        limitsOutput: true,
        selfUse_W: 2,
        profiles: ['flooded'],
        settings: { absorb_V: 14.6, float_V: 13.5, equalise_V: 15.5 },
      },
    ],
    bank: {
      id: 'b',
      chemistry: 'flooded',
      block_V: 6,
      blockCapacity_Ah: 200,
      rate_h: 20,
      health_pct: 100,
      series: 2,
      parallel: 3,
      tapping: 'same-end',
      link: { length_m: 0.3, size: '35mm2' },
      fusedStrings: true,
      ageSpread_months: 3,
      place: { space: 'vented-box', min_C: 5, max_C: 30, ventArea_cm2: 800 },
    },
    inverters: [
      {
        id: 'i',
        waveform: 'sine',
        continuous_W: 1200,
        continuous_VA: 1500,
        surge_W: 3000,
        lowCutoff_V: 10.5,
        minDc_V: 10,
        maxDc_V: 16,
        idle_W: 10,
        efficiency_pct: 90,
        charger: {
          max_A: 40,
          efficiency_pct: 80,
          powerFactor: 0.8,
          profiles: ['flooded'],
          settings: { absorb_V: 14.4 },
        },
        transfer: 'built-in',
      },
    ],
    chargers: [{ id: 'x', kind: 'mains', max_A: 20, profiles: ['custom'], settings: { absorb_V: 14.5 } }],
    sources: [{ id: 'g', kind: 'generator', power_W: 3000 }],
    converters: [{ id: 'v', in_V: 12, out_V: 5, max_A: 10 }],
    loads: [
      { id: 'kettle', label: 'Kettle', kind: 'ac', type: 'resistive', power_W: 600, hours_d: 0.5, overlap: 'alone' },
      {
        id: 'fridge',
        label: 'Fridge',
        kind: 'ac',
        type: 'compressor',
        power_W: 100,
        quantity: 2,
        powerFactor: 0.5,
        hours_d: 8,
        overlap: 'base',
        recordedPeak_W: 450,
      },
      { id: 'lamp', label: 'Lamp', kind: 'dc', type: 'resistive', power_W: 60, hours_d: 4, max_V: 16 },
      { id: 'usb', label: 'Phones', kind: 'dc', type: 'electronic', power_W: 20, hours_d: 2, converterId: 'v' },
    ],
    runs: [
      { id: 'pv', kind: 'pv', from: 'a', to: 'c', length_m: 10, size: '6mm2', joints: 2, negativeThroughShunt: true },
      {
        id: 'cb',
        kind: 'controller-battery',
        from: 'c',
        to: 'b',
        length_m: 2,
        size: '16mm2',
        protection: { type: 'terminal', rating_A: 80, voltage_V: 58, fromSource_m: 0.1 },
        negativeThroughShunt: true,
        freeAir: false,
      },
      {
        id: 'bi',
        kind: 'battery-inverter',
        from: 'b',
        to: 'i',
        length_m: 1.5,
        size: '35mm2',
        joints: 3,
        protection: { type: 'class-t', rating_A: 200, voltage_V: 125, fromSource_m: 0.2 },
        negativeThroughShunt: true,
        freeAir: false,
      },
      {
        id: 'bd',
        kind: 'dc-load',
        from: 'b',
        to: 'box',
        length_m: 1,
        size: '10mm2',
        protection: { type: 'strip', rating_A: 40, voltage_V: 32, fromSource_m: 0.1 },
        negativeThroughShunt: true,
      },
      {
        id: 'dl',
        kind: 'dc-load',
        from: 'box',
        to: 'lamp',
        length_m: 5,
        size: '2.5mm2',
        protection: { type: 'blade', rating_A: 10, voltage_V: 32 },
        negativeThroughShunt: true,
      },
      {
        id: 'dv',
        kind: 'converter',
        from: 'box',
        to: 'v',
        length_m: 3,
        size: '2.5mm2',
        protection: { type: 'blade', rating_A: 15, voltage_V: 32 },
        negativeThroughShunt: true,
      },
    ],
    distribution: [{ id: 'box', slots: 4, rating_A: 60, circuits: ['dl', 'dv'] }],
    monitor: { id: 'mon', shunt_A: 500 },
  },
};

const model: Model = modelOf(LEAD);
const all = check(model);
const found = (rule: string, subject: string, quantity?: string): Finding => {
  const one = all.find(
    (each) => each.rule === rule && each.subject === subject && (quantity === undefined || each.quantity === quantity),
  );
  if (!one) throw new Error(`${rule} says nothing of ${subject}`);
  return one;
};

// Resistance, mohm: metric class 5 at 20 degC, x 1.1179 at 50 degC, there and back.
const WARM = 1.1179;
const way = (m: number, mohm_m: number, joints = 0, t = WARM) => 2 * m * mohm_m * t + 0.25 * joints;
const PV = way(10, 3.3, 2);
const CB = way(2, 1.21);
const BI = way(1.5, 0.554, 3);
const BD = way(1, 1.91);
const DL = way(5, 7.98);
const DV = way(3, 7.98);
// 3 cells x 0.12 / 200 a block, two in series with a warm link and lugs, three strings
const BLOCK = (3 * 0.12 * 1000) / 200;
const LINK = 0.3 * 0.554 * WARM + 0.1;
const SAG_25 = (2 * BLOCK + LINK) / 3;
const SAG_5 = (2 * BLOCK * 1.3 + LINK) / 3;
const FAULT = (2 * ((3 * 0.1 * 1000) / 200 + 0.2) + 0.3 * 0.554) / 3;
// Amperes
const INVERTER = 1200 / (0.9 * 10.5);
const LAMP = 60 / 12;
const USB = 20 / 0.92;
const USB_IN = (10 * 5) / (12 * 0.92);
const BOX = LAMP + USB_IN;
const DC = (60 + USB) / 12;
// Three strings at one end, as a ladder of strings and rails.
const STRING = 2 * BLOCK + LINK;
const SECOND = STRING + 2 * LINK;
const NEAR =
  ((STRING * SECOND) / (STRING + SECOND) + 2 * LINK) / (STRING + (STRING * SECOND) / (STRING + SECOND) + 2 * LINK);
// Watts at the place: 35 degC leaves 90 %.
const RUNNING = 200 + 600;
const START = RUNNING + 4 * 100;
const VA = 400 + 600;
const volts = (watts: number, ohm_mohm: number) => {
  const [e, r, p] = [6 * 2.017, ohm_mohm / 1000, watts / 0.9];
  return (e + Math.sqrt(e * e - 4 * r * p)) / 2;
};
const WAY_IN = SAG_5 + BI + 50 / 200 + 50 / 500;
const DAY = (300 + 1600) / 0.9 + 240 + 240 + 2 * USB + 48;
const HARVEST = 600 * 3 * 0.77;
/** Slow discharge gives more by Peukert, a tenth at most. */
const usable = (wh: number) => 12 * 600 * Math.min(1.1, (600 / ((wh / 24 / 12) * 20)) ** 0.25) * 0.84 * 0.5;
const LAYUP = 240 + 48 + (12 * 600 * 0.05) / 30;
const CHARGE = 50 + 40 + 20;
const INPUT_VA = (40 * 14.58) / (0.8 * 0.8) + (20 * 14.58) / (0.88 * 0.95) + VA;
const far = (...mohm: number[]) => (6 * 2.017 * 1000) / (SAG_25 + mohm.reduce((a, b) => a + b, 0) + 50 / 500);
const fault = (...mohm: number[]) => (1.1 * 6 * 2.122 * 1000) / (FAULT + mohm.reduce((a, b) => a + b, 0));

type Line = [
  rule: string,
  subject: string,
  quantity: string | undefined,
  consequence: string,
  demand: number,
  limit: number,
  unit: string,
  sense: 'max' | 'min',
  tightAbove: number,
];
const LINES: Line[] = [
  ['pv.cold-voltage', 'a', 'controller', 'damage', 40 * 1.105, 100, 'V', 'max', 0.95],
  ['pv.cold-voltage', 'a', 'modules', 'damage', 40 * 1.105, 600, 'V', 'max', 0.95],
  // Cells at 35 + 31.25 + 5 degC
  ['pv.start-voltage', 'a', undefined, 'loss', 40 * (1 - 0.003 * 46.25), 6 * 2.122 + 5, 'V', 'min', 0.95],
  ['pv.input-current', 'c', undefined, 'damage', 19.5, 40, 'A', 'max', 0.8],
  ['pv.output-current', 'c', undefined, 'loss', 50, 60, 'A', 'max', 0.95],
  ['pv.power', 'c', undefined, 'loss', 600, 800, 'W', 'max', 0.95],
  ['pv.series-match', 'a', undefined, 'loss', 0, 10, '%', 'max', 0.5],
  ['pv.parallel-match', 'a', undefined, 'loss', 0, 10, '%', 'max', 0.5],
  ['pv.string-protection', 'a', undefined, 'danger', 1.25 * 13, 15, 'A', 'max', 1],
  ['controller.voltage', 'c', undefined, 'damage', 15.5, 17, 'V', 'max', 1],
  ['inverter.voltage-window', 'i', undefined, 'damage', 15.5, 16, 'V', 'max', 1],
  ['settings', 'c', 'absorb_V', 'life', Math.abs(14.6 / 6 - 2.43), 0.075, 'V/cell', 'max', 0.4],
  ['settings', 'c', 'float_V', 'life', 0, 0.075, 'V/cell', 'max', 0.4],
  ['settings.agree', 'b', undefined, 'life', 0.2 / 6, 0.05, 'V/cell', 'max', 0.6],
  ['bank.charge-max', 'b', undefined, 'life', CHARGE, 120, 'A', 'max', 0.9],
  ['bank.charge-min', 'b', undefined, 'life', 40, 60, 'A', 'min', 0.8],
  ['bank.discharge', 'b', 'continuous', 'outage', INVERTER + DC, 120, 'A', 'max', 0.9],
  ['bank.discharge', 'b', 'recorded peak', 'outage', 450 / (0.9 * 10.5), 120, 'A', 'max', 0.9],
  ['system.sag', 'i', 'running', 'outage', volts(RUNNING, WAY_IN), 10.8, 'V', 'min', 0.97],
  ['system.sag', 'i', 'surge', 'outage', volts(START, WAY_IN), 10.8, 'V', 'min', 0.97],
  ['bank.voltage', 'b', undefined, 'damage', 0, 12, '%', 'max', 1],
  ['bank.parallel-count', 'b', undefined, 'life', 3, 4, 'strings', 'max', 1],
  ['bank.sharing', 'b', undefined, 'life', 3 * NEAR, 1.25, 'x', 'max', 0.88],
  ['bank.mixed', 'b', 'age', 'life', 3, 6, 'months', 'max', 1],
  ['bank.high-temperature', 'b', undefined, 'life', 30, 40, 'degC', 'max', 0.95],
  // Q = 0.05 x 6 cells x 28 mA/Ah x 600 Ah / 1000
  ['bank.ventilation', 'b', undefined, 'danger', 800, 28 * 5.04, 'cm2', 'min', 0.8],
  ['bank.autonomy', 'b', undefined, 'outage', usable(DAY) / DAY, 1, 'days', 'min', 0.8],
  ['energy.worst-month', 'b', undefined, 'outage', HARVEST, DAY * (0.5 + 0.5 / 0.75), 'Wh/d', 'min', 0.9],
  ['energy.layup', 'b', undefined, 'life', 20, usable(LAYUP) / LAYUP, 'days', 'max', 0.8],
  ['inverter.continuous', 'i', undefined, 'outage', RUNNING, 1080, 'W', 'max', 0.8],
  ['inverter.apparent', 'i', undefined, 'outage', VA, 1350, 'VA', 'max', 0.8],
  ['inverter.surge', 'i', undefined, 'outage', START, 2700, 'W', 'max', 0.9],
  ['inverter.idle', 'i', undefined, 'loss', (100 * 240) / HARVEST, 20, '%', 'max', 0.5],
  ['charger.input', 'g', undefined, 'outage', INPUT_VA, 2400, 'VA', 'max', 0.8],
  ['load.window', 'lamp', undefined, 'damage', 15.5, 16, 'V', 'max', 1],
  ['converter.capacity', 'v', undefined, 'outage', 4, 10, 'A', 'max', 0.8],
  // Building basis: 6 mm2 takes 10 AWG (35 A at 75 degC), air 35 + 25; 16 mm2 6 AWG, 35 mm2 2 AWG, 10 mm2 8 AWG, 2.5 mm2 14 AWG
  ['run.ampacity', 'pv', undefined, 'danger', 1.25 * 1.25 * 19.5, 35, 'A', 'max', 1],
  ['run.ampacity', 'cb', undefined, 'danger', 62.5, 65, 'A', 'max', 1],
  ['run.ampacity', 'bi', undefined, 'danger', 1.25 * INVERTER, 115, 'A', 'max', 1],
  ['run.ampacity', 'dl', undefined, 'danger', 1.25 * LAMP, 20, 'A', 'max', 1],
  ['run.drop', 'pv', undefined, 'loss', (100 * 18.3 * PV) / 1000 / 32.8, 3, '%', 'max', 0.8],
  ['run.drop', 'cb', undefined, 'loss', (100 * 50 * CB) / 1000 / 12, 2, '%', 'max', 0.8],
  ['run.drop', 'bi', undefined, 'loss', (100 * INVERTER * BI) / 1000 / 12, 2, '%', 'max', 0.8],
  ['run.drop', 'dl', undefined, 'loss', (100 * LAMP * DL) / 1000 / 12, 3, '%', 'max', 0.8],
  ['run.drop', 'dv', undefined, 'loss', (100 * USB_IN * DV) / 1000 / 12, 3, '%', 'max', 0.8],
  ['run.charge-sense', 'cb', undefined, 'life', (50 * CB) / 1000 / 6, 0.05, 'V/cell', 'max', 0.8],
  // Ampacity the lesser of both tests; the next fuse sold above it: 75 for 65, and 15 A for 14 AWG
  ['run.fuse-protects', 'cb', undefined, 'danger', 80, 70, 'A', 'max', 1],
  ['run.fuse-protects', 'bi', undefined, 'danger', 200, 125, 'A', 'max', 1],
  ['run.fuse-protects', 'dl', undefined, 'danger', 10, 15, 'A', 'max', 1],
  ['run.fuse-carries', 'cb', undefined, 'outage', 80, 62.5, 'A', 'min', 1],
  ['run.fuse-carries', 'bd', undefined, 'outage', 40, 1.25 * BOX, 'A', 'min', 1],
  ['run.fuse-carries', 'dv', undefined, 'outage', 15, 1.25 * USB_IN, 'A', 'min', 1],
  ['run.far-fault', 'cb', undefined, 'danger', 240, far(CB, 50 / 80), 'A', 'max', 0.8],
  ['run.far-fault', 'bi', undefined, 'danger', 800, far(BI, 50 / 200), 'A', 'max', 0.8],
  ['run.far-fault', 'dl', undefined, 'danger', 30, far(BD, 50 / 40, DL, 50 / 10), 'A', 'max', 0.8],
  ['run.interrupt', 'cb', undefined, 'danger', fault(2 * 0.1 * 1.21), 10_000, 'A', 'max', 0.9],
  ['run.interrupt', 'bi', undefined, 'danger', fault(2 * 0.2 * 0.554), 20_000, 'A', 'max', 0.9],
  ['run.interrupt', 'bd', undefined, 'danger', fault(2 * 0.1 * 1.91), 2000, 'A', 'max', 0.9],
  ['run.interrupt', 'dl', undefined, 'danger', fault(2 * 1.91), 1000, 'A', 'max', 0.9],
  ['run.dc-rating', 'cb', undefined, 'danger', 15.5, 58, 'V', 'max', 1],
  ['run.source-end', 'cb', undefined, 'danger', 0.1, 0.18, 'm', 'max', 1],
  ['run.source-end', 'bi', undefined, 'danger', 0.2, 0.18, 'm', 'max', 1],
  ['run.selectivity', 'dl', undefined, 'outage', 10 / 40, 1 / 1.6, 'ratio', 'max', 1],
  ['distribution.slots', 'box', undefined, 'outage', 2, 4, 'slots', 'max', 1],
  ['distribution.rating', 'box', undefined, 'danger', BOX, 60, 'A', 'max', 0.8],
  ['monitor.shunt', 'mon', undefined, 'loss', INVERTER + DC, 500, 'A', 'max', 0.8],
];

describe('a system of lead, by hand', () => {
  test.each(LINES)('%s of %s %s', (rule, subject, quantity, consequence, demand, limit, unit, sense, tightAbove) => {
    const finding = found(rule, subject, quantity);
    expect(finding.missing).toEqual([]);
    expect({
      consequence: finding.consequence,
      unit: finding.unit,
      sense: finding.sense,
      tightAbove: finding.tightAbove,
    }).toEqual({ consequence, unit, sense, tightAbove });
    expect(finding.demand).toBeCloseTo(demand, 5);
    expect(finding.limit).toBeCloseTo(limit, 5);
  });
  const WORDS: [rule: string, subject: string, quantity: string | undefined, verdict: string, consequence: string][] = [
    ['controller.profile', 'c', undefined, 'holds', 'life'],
    ['inverter.profile', 'i', undefined, 'holds', 'life'],
    ['charger.profile', 'x', undefined, 'holds', 'life'],
    ['bank.string-fuse', 'b', undefined, 'holds', 'danger'],
    ['bank.freezing', 'b', undefined, 'holds', 'damage'],
    ['inverter.precharge', 'i', undefined, 'note', 'damage'],
    ['run.joints', 'bi', undefined, 'note', 'loss'],
    ['monitor.coverage', 'mon', undefined, 'holds', 'loss'],
    ['energy.refill', 'b', undefined, 'over', 'life'],
  ];
  test.each(WORDS)('%s of %s %s: %s', (rule, subject, quantity, verdict, consequence) =>
    expect(found(rule, subject, quantity)).toMatchObject({ verdict, consequence }),
  );
});

const LITHIUM: SystemFile = structuredClone(LEAD);
Object.assign(LITHIUM.system.bank!, {
  chemistry: 'lfp',
  block_V: 12.8,
  blockCapacity_Ah: 200,
  series: 1,
  parallel: 2,
  maxCharge_A: 80,
  maxDischarge_A: 100,
  peakDischarge_A: 200,
  peak_s: 5,
  protection: { lowTrip_V_cell: 2.4, highTrip_V_cell: 3.75 },
  place: { space: 'living', min_C: 7, max_C: 30 },
});
Object.assign(LITHIUM.system.inverters![0]!, { surge_s: 4 });
LITHIUM.system.chargers = [
  {
    id: 'd',
    kind: 'dc-dc',
    max_A: 30,
    input_V: 12.5,
    efficiency_pct: 90,
    alternator_A: 120,
    profiles: ['lfp'],
    settings: { maxCharge_A: 25 },
  },
];
LITHIUM.system.runs!.push({
  id: 'di',
  kind: 'charger',
  from: 'd',
  length_m: 4,
  size: '16mm2',
  protection: { type: 'blade', rating_A: 40, voltage_V: 32 },
  farProtection: { type: 'none' },
  negativeThroughShunt: true,
});
const IN = (30 * 14.2) / (12 * 0.9);

describe('a system of lithium, by hand', () => {
  const list = check(modelOf(LITHIUM));
  const of = (rule: string, subject: string, quantity?: string) =>
    list.find(
      (each) =>
        each.rule === rule && each.subject === subject && (quantity === undefined || each.quantity === quantity),
    );
  const FIGURES: Line[] = [
    // The engine and the generator never run together: 40 A of the one are more than 25 A of the other.
    ['bank.charge-max', 'b', undefined, 'damage', 50 + 40, 160, 'A', 'max', 0.9],
    // 7 degC: 0.2 of 400 Ah
    ['bank.cold-charge', 'b', undefined, 'damage', 90, 80, 'A', 'max', 1],
    ['bank.discharge', 'b', 'continuous', 'outage', INVERTER + DC, 180, 'A', 'max', 0.9],
    ['bank.surge', 'b', 'current', 'outage', START / (0.9 * 10.5), 360, 'A', 'max', 0.9],
    ['bank.surge', 'b', 'duration', 'outage', 4, 5, 's', 'max', 0.9],
    ['bank.n-1', 'b', undefined, 'outage', 450 / (0.9 * 10.5), 90, 'A', 'max', 1],
    ['bank.voltage', 'b', undefined, 'damage', (100 * 0.8) / 12, 12, '%', 'max', 1],
    ['cutoff.order', 'b', 'low', 'outage', 10.5 / 4, 2.6, 'V/cell', 'min', 1],
    ['cutoff.order', 'b', 'high', 'outage', 14.6 / 4, 3.7, 'V/cell', 'max', 1],
    ['settings', 'c', 'absorb_V', 'life', 0.1, 0.1, 'V/cell', 'max', 0.4],
    ['alternator.load', 'd', undefined, 'damage', (IN * 25) / 30, 0.6 * 120 - 25, 'A', 'max', 0.8],
    ['run.drop', 'di', undefined, 'loss', (100 * IN * way(4, 1.21)) / 1000 / 12, 6, '%', 'max', 0.8],
    ['run.dc-rating', 'di', undefined, 'danger', 15, 32, 'V', 'max', 1],
    ['bank.high-temperature', 'b', undefined, 'life', 30, 45, 'degC', 'max', 0.95],
  ];
  test.each(FIGURES)('%s of %s %s', (rule, subject, quantity, consequence, demand, limit, unit, sense, tightAbove) => {
    const finding = of(rule, subject, quantity);
    expect({
      consequence: finding?.consequence,
      unit: finding?.unit,
      sense: finding?.sense,
      tightAbove: finding?.tightAbove,
    }).toEqual({ consequence, unit, sense, tightAbove });
    expect(finding?.demand).toBeCloseTo(demand, 5);
    expect(finding?.limit).toBeCloseTo(limit, 5);
  });
  test('in words', () => {
    expect(of('bank.place', 'b')).toMatchObject({ verdict: 'note', consequence: 'danger' });
    // Above what cells ever stand, lithium burns.
    expect(of('settings', 'c', 'equalise_V')).toMatchObject({ verdict: 'over', consequence: 'danger' });
    expect(of('run.both-ends', 'di')).toMatchObject({ verdict: 'over', consequence: 'danger' });
    expect(of('bank.low-temperature', 'b')).toMatchObject({ verdict: 'holds' });
    expect(of('bank.freezing', 'b')).toBeUndefined();
    expect(of('bank.ventilation', 'b')).toBeUndefined();
    expect(of('bank.charge-min', 'b')).toBeUndefined();
    expect(of('charger.profile', 'd')).toMatchObject({ verdict: 'holds' });
    expect(of('controller.profile', 'c')).toMatchObject({ verdict: 'over', consequence: 'life' });
  });
});
