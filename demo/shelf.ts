import type { ShelfItem, ShelfKind } from '@true-lantern/core';

/** The catalogue of the made-up firm: made-up makers, figures as such parts have them. Prices in pounds. */
const item = (kind: ShelfKind, label: string, price: number, body: Record<string, unknown>): ShelfItem => ({
  kind,
  label,
  price,
  currency: 'GBP',
  body,
});

type Plate = [
  label: string,
  price: number,
  pmax: number,
  voc: number,
  isc: number,
  vmp: number,
  imp: number,
  cells: number,
];
const PLATES: Plate[] = [
  ['Tarnlight 50', 48, 50, 21.8, 3.02, 17.9, 2.8, 36],
  ['Tarnlight 100', 79, 100, 22.3, 5.9, 18.4, 5.44, 36],
  ['Tarnlight 160', 112, 160, 22.6, 9.2, 18.7, 8.56, 36],
  ['Tarnlight 235', 128, 235, 45.1, 6.85, 36.6, 6.42, 72],
  ['Tarnlight 310', 139, 310, 45.1, 8.96, 36.8, 8.42, 72],
  ['Pell Clearsky 375', 121, 375, 41.1, 11.5, 34.5, 10.87, 120],
  ['Pell Clearsky 410', 132, 410, 37.4, 13.85, 31.3, 13.1, 108],
  ['Pell Clearsky 450 bifacial', 158, 450, 41.6, 13.7, 34.7, 12.97, 120],
  ['Pell Clearsky 550', 189, 550, 49.9, 14.0, 41.9, 13.13, 144],
];
const modules = PLATES.map(([label, price, pmax_W, voc_V, isc_A, vmp_V, imp_A, cells]) =>
  item('moduleTypes', label, price, {
    pmax_W,
    voc_V,
    isc_A,
    vmp_V,
    imp_A,
    cells,
    betaVoc_pct_C: label.startsWith('Pell') ? -0.26 : -0.3,
    alphaIsc_pct_C: 0.048,
    gammaPmax_pct_C: label.startsWith('Pell') ? -0.34 : -0.39,
    noct_C: 45,
    maxSeriesFuse_A: isc_A > 12 ? 25 : isc_A > 5 ? 15 : 10,
    maxSystem_V: pmax_W > 300 ? 1500 : 1000,
    bypassDiodes: cells <= 40 ? 2 : 3,
    halfCut: cells >= 100,
    bifacial: label.includes('bifacial'),
    length_mm: Math.round(330 + pmax_W * 3.2),
    width_mm: pmax_W > 200 ? 1040 : 670,
    mass_kg: Math.round(2 + pmax_W * 0.05),
  }),
);

const ALL_PROFILES = ['flooded', 'agm', 'gel', 'tubular', 'lfp', 'custom'];
type Mppt = [amps: number, volts: number, price: number, watts: Record<string, number>];
const MPPTS: Mppt[] = [
  [15, 75, 74, { '12': 220, '24': 440 }],
  [20, 100, 118, { '12': 290, '24': 580 }],
  [30, 100, 169, { '12': 440, '24': 880 }],
  [45, 150, 289, { '12': 650, '24': 1300, '48': 2600 }],
  [60, 150, 398, { '12': 860, '24': 1720, '48': 3440 }],
  [60, 250, 489, { '12': 860, '24': 1720, '48': 3440 }],
  [85, 250, 612, { '12': 1200, '24': 2400, '48': 4900 }],
  [100, 250, 739, { '12': 1450, '24': 2900, '48': 5800 }],
];
const controllers = [
  ...MPPTS.map(([amps, volts, price, maxPv_W]) =>
    item('controllers', `Brackwell T${amps}-${volts}`, price, {
      type: 'mppt',
      maxPv_V: volts,
      maxPv_A: amps,
      maxPv_W,
      maxOutput_A: amps,
      startAbove_V: 5,
      minBattery_V: 8,
      maxBattery_V: maxPv_W['48'] ? 65 : 32,
      limitsOutput: true,
      efficiency_pct: 97,
      selfUse_W: amps > 40 ? 3 : 1,
      profiles: ALL_PROFILES,
      temperatureSensor: true,
    }),
  ),
  ...([10, 20, 30] as const).map((amps) =>
    item('controllers', `Brackwell P${amps}`, 22 + amps, {
      type: 'pwm',
      maxPv_V: 50,
      maxPv_A: amps,
      maxOutput_A: amps,
      maxBattery_V: 32,
      limitsOutput: false,
      profiles: ['flooded', 'agm', 'gel'],
    }),
  ),
];

type Block = [
  label: string,
  price: number,
  chemistry: string,
  volts: number,
  ah: number,
  size: number[],
  kg: number,
  more: object,
];
const pack = (charge: number, discharge: number, peak: number, parallel: number, series: number) => ({
  maxCharge_A: charge,
  maxDischarge_A: discharge,
  peakDischarge_A: peak,
  peak_s: 5,
  maxParallel: parallel,
  maxSeries: series,
  lowTemperatureProtection: true,
  protection: { lowTrip_V_cell: 2.6, highTrip_V_cell: 3.65, alarmLine: false, comms: 'none' },
});
const BLOCKS: Block[] = [
  ['Ostrum Wet 6-225', 148, 'flooded', 6, 225, [262, 181, 280], 28, {}],
  ['Ostrum Wet 6-390', 296, 'flooded', 6, 390, [295, 178, 425], 52, {}],
  ['Ostrum Tube 2-620', 318, 'tubular', 2, 620, [145, 206, 695], 49, { rate_h: 10 }],
  ['Ostrum Mat 12-110', 189, 'agm', 12, 110, [330, 171, 220], 32, { maxCharge_A: 33 }],
  ['Ostrum Mat 12-220', 342, 'agm', 12, 220, [522, 238, 240], 65, { maxCharge_A: 66 }],
  ['Ostrum Gel 12-130', 268, 'gel', 12, 130, [410, 176, 227], 41, { maxCharge_A: 26 }],
  ['Ostrum Gel 12-200', 402, 'gel', 12, 200, [522, 238, 240], 66, { maxCharge_A: 40 }],
  ['Pell Cell 12-100', 329, 'lfp', 12.8, 100, [330, 172, 220], 11, pack(50, 100, 200, 4, 4)],
  ['Pell Cell 12-200', 589, 'lfp', 12.8, 200, [522, 240, 220], 22, pack(100, 150, 300, 4, 1)],
  ['Pell Cell 12-300', 849, 'lfp', 12.8, 300, [522, 269, 220], 31, pack(150, 200, 400, 4, 1)],
  ['Pell Cell 24-100', 612, 'lfp', 25.6, 100, [522, 240, 220], 23, pack(50, 100, 200, 4, 1)],
  ['Pell Cell 24-200', 1149, 'lfp', 25.6, 200, [620, 269, 250], 43, pack(100, 200, 400, 4, 1)],
  ['Pell Rack 48-100', 1089, 'lfp', 51.2, 100, [440, 480, 133], 44, pack(50, 100, 150, 15, 1)],
  ['Pell Prism 280', 92, 'lfp', 3.2, 280, [174, 72, 204], 5.3, { maxCharge_A: 140, maxDischarge_A: 280 }],
];
const batteries = BLOCKS.map(([label, price, chemistry, block_V, blockCapacity_Ah, [l, w, h], mass_kg, more]) =>
  item('bank', label, price, {
    chemistry,
    block_V,
    blockCapacity_Ah,
    ...more,
    block: { length_mm: l, width_mm: w, height_mm: h, mass_kg },
  }),
);

type Inv = [
  label: string,
  price: number,
  watts: number,
  surge: number,
  volts: 12 | 24 | 48,
  idle: number,
  charger?: number,
];
const INVERTERS: Inv[] = [
  ['Tarnlight Wave 12-350', 98, 350, 700, 12, 6],
  ['Tarnlight Wave 12-800', 219, 800, 1500, 12, 8],
  ['Tarnlight Wave 12-1200', 329, 1200, 2200, 12, 10],
  ['Tarnlight Wave 24-1600', 448, 1600, 3000, 24, 11],
  ['Ostrum Compass 12-2000', 889, 2000, 3500, 12, 12, 80],
  ['Ostrum Compass 24-3000', 1240, 3000, 6000, 24, 16, 70],
  ['Ostrum Compass 48-3000', 1230, 3000, 6000, 48, 15, 35],
  ['Ostrum Compass 48-5000', 1790, 5000, 9000, 48, 25, 70],
];
const inverters = INVERTERS.map(([label, price, watts, surge_W, volts, idle_W, amps]) =>
  item('inverters', label, price, {
    waveform: 'sine',
    continuous_W: watts,
    continuous_VA: watts,
    surge_W,
    surge_s: 5,
    minDc_V: (volts / 12) * 9.5,
    maxDc_V: (volts / 12) * 16,
    lowCutoff_V: (volts / 12) * 10.8,
    idle_W,
    efficiency_pct: 92,
    ratedAt_C: 25,
    precharge: watts >= 3000,
    transfer: amps ? 'built-in' : 'none',
    ...(amps ? { charger: { max_A: amps, efficiency_pct: 90, powerFactor: 0.98, profiles: ALL_PROFILES } } : {}),
  }),
);

const rest: ShelfItem[] = [
  ...(
    [
      ['Brackwell Dock 12-15', 96, 15, 'mains', 12],
      ['Brackwell Dock 12-30', 168, 30, 'mains', 12],
      ['Brackwell Dock 24-16', 189, 16, 'mains', 24],
      ['Brackwell Dock 24-40', 372, 40, 'mains', 24],
      ['Brackwell Link 12-30', 214, 30, 'dc-dc', 12],
      ['Brackwell Link 12-24-15', 236, 15, 'dc-dc', 24],
    ] as const
  ).map(([label, price, max_A, kind, output_V]) =>
    item('chargers', label, price, {
      kind,
      max_A,
      output_V,
      ...(kind === 'dc-dc' ? { input_V: 12 } : { powerFactor: 0.95 }),
      efficiency_pct: 90,
      profiles: ['flooded', 'agm', 'gel', 'lfp', 'custom'],
    }),
  ),
  item('converters', 'Pell Step 24-12-20', 68, { in_V: 24, out_V: 12, max_A: 20, efficiency_pct: 92 }),
  item('converters', 'Pell Step 48-12-30', 142, { in_V: 48, out_V: 12, max_A: 30, efficiency_pct: 92 }),
  item('sources', 'Tarnlight Hum 2000', 560, { kind: 'generator', power_W: 1800, ac_V: 230 }),
  item('sources', 'Tarnlight Hum 3500', 890, { kind: 'generator', power_W: 3200, ac_V: 230 }),
  item('loads', 'Chest freezer, 200 l', 340, { kind: 'ac', type: 'compressor', power_W: 90, powerFactor: 0.7 }),
  item('loads', 'Larder fridge, DC', 620, { kind: 'dc', type: 'compressor', power_W: 45 }),
  item('loads', 'LED lamp', 9, { kind: 'dc', type: 'electronic', power_W: 6 }),
  item('loads', 'Induction hob, one ring', 65, { kind: 'ac', type: 'induction', power_W: 1800 }),
  item('loads', 'Well pump, 750 W', 280, { kind: 'ac', type: 'pump', power_W: 750, powerFactor: 0.8 }),
  item('distribution', 'Pell Board 6', 38, { slots: 6, rating_A: 100 }),
  item('distribution', 'Pell Board 12', 61, { slots: 12, rating_A: 150 }),
  item('monitor', 'Brackwell Tally 500', 142, { shunt_A: 500 }),
  ...[30, 60, 100, 150, 200].map((rating_A) =>
    item('fuse', `Pell terminal fuse ${rating_A} A`, 11, { type: 'terminal', rating_A, voltage_V: 58 }),
  ),
  ...[125, 200, 300, 400].map((rating_A) =>
    item('fuse', `Pell class T ${rating_A} A`, 42, { type: 'class-t', rating_A, voltage_V: 125, interrupt_A: 20000 }),
  ),
  ...[15, 20, 25].map((rating_A) =>
    item('fuse', `Pell blade fuse ${rating_A} A`, 2, { type: 'blade', rating_A, voltage_V: 32 }),
  ),
  ...([63, 200, 350] as const).map((rating_A) =>
    item('switches', `Pell isolator ${rating_A} A`, 14 + rating_A / 5, {
      kind: 'isolator',
      rating_A,
      voltage_V: 80,
      dcRated: true,
      polarised: false,
      poles: 2,
    }),
  ),
  item('switches', 'Brackwell L30 load disconnect', 38, {
    kind: 'load-disconnect',
    rating_A: 30,
    voltage_V: 60,
    dcRated: true,
    polarised: false,
    poles: 1,
  }),
  ...(
    [
      ['4mm2', 1.4],
      ['6mm2', 1.9],
      ['10mm2', 3.2],
      ['16mm2', 4.8],
      ['35mm2', 9.5],
      ['50mm2', 13.2],
      ['70mm2', 18],
      ['95mm2', 24],
    ] as const
  ).map(([size, price]) =>
    item('cable', `Flexible copper ${size}`, price, { size, material: 'copper', insulation_C: 90 }),
  ),
];

/** The demo firm's shelf: made-up parts by made-up makers. */
export const DEMO_SHELF: readonly ShelfItem[] = [...modules, ...controllers, ...batteries, ...inverters, ...rest];
