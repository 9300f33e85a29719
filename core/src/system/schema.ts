import type { InferType } from 'yup';
import { mixed, number } from 'yup';
import {
  amps,
  anything,
  celsius,
  count,
  exactly,
  flag,
  hours,
  list,
  metres,
  millimetres,
  num,
  oneOf,
  optionalPart,
  part,
  positive,
  record,
  requiredList,
  requiredNum,
  requiredOneOf,
  requiredPositive,
  requiredText,
  requiredWhole,
  sizeText,
  text,
  volts,
  watts,
  whole,
} from './fields';

/**
 * The one schema of the open system file: the types below and the shipped JSON Schema both come from it.
 * Units are in the names; absent and null mean unknown.
 */

export const CHEMISTRIES = ['flooded', 'tubular', 'agm', 'gel', 'lfp', 'nmc'] as const;
export const PROFILES = [...CHEMISTRIES, 'custom'] as const;
export const RUN_KINDS = [
  'pv',
  'controller-battery',
  'battery-inverter',
  'charger',
  'converter',
  'dc-load',
  'link',
] as const;
export const PROTECTION_TYPES = [
  'none',
  'blade',
  'strip',
  'terminal',
  'class-t',
  'nh',
  'breaker',
  'thermal-breaker',
] as const;
export const MOUNTINGS = ['bonded', 'flush', 'raised', 'rack', 'ground', 'portable'] as const;
export const SPACES = ['living', 'sealed-vented-box', 'vented-box', 'outside', 'outbuilding'] as const;
export const LOAD_TYPES = [
  'resistive',
  'electronic',
  'compressor',
  'induction',
  'pump',
  'universal',
  'inverter-driven',
  'microwave',
  'other',
] as const;
export const GRADES = ['measured', 'nameplate', 'datasheet', 'stated', 'assumed'] as const;

const id = () => requiredText('an id: a short text, unique in the file');

const settings = () =>
  optionalPart({
    absorb_V: volts(),
    absorb_min: num(0, 100_000),
    tail_A: amps(),
    float_V: volts(),
    equalise_V: volts(),
    equaliseEvery_d: num(0, 10_000),
    comp_mV_K_cell: num(-50, 50),
    maxCharge_A: amps(),
    cutoff_V: volts(),
    restart_V: volts(),
    alarm_V: volts(),
    lowTempCut_C: celsius(),
    lvd_V: volts(),
    reconnect_V: volts(),
    firmware: text(),
  });

const protection = () =>
  optionalPart({
    type: oneOf(PROTECTION_TYPES),
    rating_A: amps(),
    voltage_V: volts(),
    dcRated: flag(),
    polarised: flag(),
    interrupt_A: num(0, 1e6),
    fromSource_m: metres(),
  });

export const siteSchema = part({
  name: requiredText('the name of the site'),
  kind: text(),
  latitude_deg: num(-90, 90),
  longitude_deg: num(-180, 180),
  elevation_m: num(-500, 9000),
  recordLow_C: celsius(),
  recordHigh_C: celsius(),
  livingSpace: flag(),
  occupiedMonths: list(requiredWhole(1, 12)),
  layup_d: num(0, 10_000),
  climate: optionalPart({
    globalHorizontal_kWh_m2_d: exactly(requiredNum(0, 15), 12),
    meanTemp_C: exactly(requiredNum(-90, 90), 12),
  }),
  horizon: list(part({ azimuth_deg: requiredNum(0, 360), elevation_deg: requiredNum(-90, 90) })),
  observations: record(oneOf(['yes', 'no', 'cannot-see'])),
  /** What is spent now, against which a proposal is weighed. */
  money: optionalPart({
    currency: text(),
    horizon_y: num(1, 50),
    generator_h_y: num(0, 8784),
    fuel_L_h: num(0, 1000),
    fuelPrice_L: num(0, 1e6),
    wear_h: num(0, 1e6),
    bill_month: num(0, 1e7),
  }),
  stopCard: record(part({ state: oneOf(['made-safe', 'left-off', 'refused']), by: text(), at: text() })),
});

export const schoolsSchema = optionalPart({
  controllerOutput: oneOf(['plain', 'margin', 'clip']),
  coldVoltage: oneOf(['coefficient', 'bands']),
  conductor: oneOf(['building', 'vehicle', 'metric']),
  leadDepth: num(0.05, 1),
  lithiumDepth: num(0.05, 1),
  chargeMin: oneOf(['C10', 'C20']),
  drop_pct: optionalPart({ pv: positive(50), battery: positive(50), dc: positive(50) }),
  sourceEnd_m: metres(),
  autonomy_d: num(0, 365),
  refill_d: num(0, 365),
  ageSpread_months: num(0, 600),
});

export const moduleTypeSchema = part({
  id: id(),
  label: text(),
  pmax_W: requiredPositive(2000),
  voc_V: requiredPositive(1500),
  isc_A: requiredPositive(100),
  vmp_V: requiredPositive(1500),
  imp_A: requiredPositive(100),
  cells: whole(1, 400),
  betaVoc_pct_C: num(-2, 2),
  alphaIsc_pct_C: num(-2, 2),
  gammaPmax_pct_C: num(-2, 2),
  noct_C: num(20, 90),
  maxSeriesFuse_A: positive(1000),
  bypassDiodes: whole(1, 64),
  halfCut: flag(),
  bifacial: flag(),
  maxSystem_V: positive(1500),
  length_mm: millimetres(),
  width_mm: millimetres(),
  mass_kg: num(0, 1000),
});

export const arraySchema = part({
  id: id(),
  label: text(),
  strings: requiredList(
    requiredList(requiredText('the id of a module type'))
      .min(1, 'is empty, expected at least one module in a string')
      .max(64, 'has too many, expected at most 64 modules in a string'),
  )
    .min(1, 'is empty, expected at least one string')
    .max(64, 'has too many, expected at most 64 strings'),
  tilt_deg: num(0, 180),
  azimuth_deg: num(0, 360),
  mounting: oneOf(MOUNTINGS),
  stringFuse_A: amps(),
  controllerId: text(),
  /** Share of the light that each module was seen to get, string by string, 0 to 1; absent: none of it lost. */
  shade: list(list(requiredNum(0, 1))),
});

export const controllerSchema = part({
  id: id(),
  label: text(),
  type: requiredOneOf(['mppt', 'pwm']),
  maxPv_V: positive(1500),
  maxPv_A: amps(),
  maxPv_W: optionalPart({ 12: watts(), 24: watts(), 36: watts(), 48: watts() }),
  maxOutput_A: requiredPositive(100_000),
  outputGroup: text(),
  startAbove_V: volts(),
  settings: settings(),
  minBattery_V: volts(),
  maxBattery_V: volts(),
  limitsOutput: flag(),
  efficiency_pct: positive(100),
  selfUse_W: watts(),
  profiles: list(requiredOneOf(PROFILES)),
  temperatureSensor: flag(),
});

export const bankSchema = part({
  id: id(),
  label: text(),
  chemistry: requiredOneOf(CHEMISTRIES),
  block_V: requiredPositive(1500),
  cells: whole(1, 1000),
  blockCapacity_Ah: requiredPositive(100_000),
  rate_h: positive(1000),
  fullDensity_kg_L: num(1, 1.5),
  series: requiredWhole(1, 64),
  parallel: requiredWhole(1, 64),
  age_y: num(0, 100),
  health_pct: positive(100),
  maxCharge_A: amps(),
  maxDischarge_A: amps(),
  peakDischarge_A: amps(),
  peak_s: num(0, 100_000),
  maxSeries: count(),
  maxParallel: count(),
  internal_mohm: num(0, 10_000),
  fusedStrings: flag(),
  chargeLimited: flag(),
  protection: optionalPart({
    lowTrip_V_cell: num(0, 10),
    highTrip_V_cell: num(0, 10),
    alarmLine: flag(),
    comms: text(),
    wake: text(),
  }),
  salvaged: flag(),
  ageSpread_months: num(0, 1200),
  mixedChemistry: flag(),
  lowTemperatureProtection: flag(),
  heated: flag(),
  tapping: oneOf(['same-end', 'opposite-ends', 'busbar']),
  link: optionalPart({ length_m: metres(), size: sizeText().nullable().optional() }),
  place: optionalPart({
    space: oneOf(SPACES),
    min_C: celsius(),
    max_C: celsius(),
    ventArea_cm2: num(0, 1e6),
    length_mm: millimetres(),
    width_mm: millimetres(),
    height_mm: millimetres(),
    maxMass_kg: num(0, 1e6),
  }),
  block: optionalPart({
    length_mm: millimetres(),
    width_mm: millimetres(),
    height_mm: millimetres(),
    mass_kg: num(0, 100_000),
  }),
});

export const otherBankSchema = part({
  id: id(),
  role: requiredOneOf(['starter', 'thruster', 'generator', 'other']),
  chemistry: requiredOneOf(CHEMISTRIES),
  nominal_V: requiredPositive(1500),
  joinedBy: oneOf(['none', 'relay', 'diode', 'switch', 'dc-dc']),
});

export const inverterSchema = part({
  id: id(),
  label: text(),
  waveform: oneOf(['sine', 'modified']),
  continuous_W: requiredPositive(1e6),
  continuous_VA: positive(1e6),
  surge_W: watts(),
  surge_s: num(0, 100_000),
  minDc_V: volts(),
  maxDc_V: volts(),
  lowCutoff_V: volts(),
  idle_W: watts(),
  idleHours_d: hours(),
  ratedAt_C: celsius(),
  precharge: flag(),
  neutralBond: oneOf(['fixed', 'switched', 'none']),
  settings: settings(),
  efficiency_pct: positive(100),
  feeds: oneOf(['sockets', 'panel', 'building']),
  transfer: oneOf(['none', 'built-in', 'external']),
  charger: optionalPart({
    max_A: amps(),
    efficiency_pct: positive(100),
    powerFactor: positive(1),
    profiles: list(requiredOneOf(PROFILES)),
    settings: settings(),
  }),
});

export const chargerSchema = part({
  id: id(),
  label: text(),
  kind: requiredOneOf(['mains', 'dc-dc', 'alternator-direct']),
  max_A: requiredNum(0, 100_000),
  input_V: volts(),
  efficiency_pct: positive(100),
  powerFactor: positive(1),
  alternator_A: amps(),
  externallyRegulated: flag(),
  profiles: list(requiredOneOf(PROFILES)),
  onInverterOutput: flag(),
  settings: settings(),
});

export const sourceSchema = part({
  id: id(),
  label: text(),
  kind: requiredOneOf(['generator', 'inlet']),
  power_W: watts(),
  inlet_A: amps(),
  ac_V: positive(1500),
});

export const converterSchema = part({
  id: id(),
  label: text(),
  in_V: requiredPositive(1500),
  out_V: requiredPositive(1500),
  max_A: requiredNum(0, 100_000),
  efficiency_pct: positive(100),
});

export const loadSchema = part({
  id: id(),
  label: requiredText('what the load is called'),
  kind: requiredOneOf(['ac', 'dc']),
  type: oneOf(LOAD_TYPES),
  max_V: volts(),
  power_W: requiredNum(0, 1e6),
  quantity: count(),
  surge_W: watts(),
  surge_s: num(0, 100_000),
  powerFactor: positive(1),
  hours_d: requiredNum(0, 24),
  winterHours_d: hours(),
  from_h: hours(),
  to_h: hours(),
  overlap: oneOf(['base', 'may', 'alone']),
  group: text(),
  needsSine: flag(),
  priority: whole(0, 100),
  converterId: text(),
  inverterId: text(),
  recordedPeak_W: watts(),
});

export const runSchema = part({
  id: id(),
  label: text(),
  strings: list(requiredWhole(0, 63)),
  kind: requiredOneOf(RUN_KINDS),
  from: text(),
  to: text(),
  length_m: requiredNum(0, 10_000),
  size: sizeText()
    .required('is missing, expected a size like "6mm2", "10AWG" or "2/0AWG"')
    .nonNullable('is null, expected a size like "6mm2", "10AWG" or "2/0AWG"'),
  material: oneOf(['copper', 'aluminium', 'cca']),
  perPole: count(),
  insulation_C: num(0, 300),
  terminal_C: num(0, 300),
  ambient_C: celsius(),
  bundled: whole(0, 1000),
  joints: whole(0, 1000),
  sheathed: flag(),
  engineSpace: flag(),
  negativeThroughShunt: flag(),
  remoteSense: flag(),
  protection: protection(),
  farProtection: protection(),
});

export const distributionSchema = part({
  id: id(),
  label: text(),
  slots: whole(0, 1000),
  rating_A: amps(),
  circuits: list(requiredText('the id of a run')),
});

export const monitorSchema = part({ id: id(), label: text(), shunt_A: amps() });

/** The lists of a system, by the name they carry in the file. */
export const LIST_SCHEMAS = {
  moduleTypes: moduleTypeSchema,
  arrays: arraySchema,
  controllers: controllerSchema,
  otherBanks: otherBankSchema,
  inverters: inverterSchema,
  chargers: chargerSchema,
  sources: sourceSchema,
  converters: converterSchema,
  loads: loadSchema,
  runs: runSchema,
  distribution: distributionSchema,
} as const;
export const SINGLE_SCHEMAS = { bank: bankSchema, monitor: monitorSchema } as const;

export const systemSchema = part({
  nominal_V: positive(1500),
  moduleTypes: list(moduleTypeSchema),
  arrays: list(arraySchema),
  controllers: list(controllerSchema),
  bank: bankSchema.default(undefined).nullable().optional(),
  otherBanks: list(otherBankSchema),
  inverters: list(inverterSchema),
  chargers: list(chargerSchema),
  sources: list(sourceSchema),
  converters: list(converterSchema),
  loads: list(loadSchema),
  runs: list(runSchema),
  distribution: list(distributionSchema),
  monitor: monitorSchema.default(undefined).nullable().optional(),
});

export const evidenceSchema = part({
  grade: oneOf(GRADES),
  low: anything(),
  high: anything(),
  note: text(),
});

export const changeSchema = part({
  op: requiredOneOf(['set', 'add', 'remove']),
  at: requiredText(`"bank", "monitor" or the name of a list such as "arrays"`),
  id: text(),
  value: anything(),
  /** What a `set` replaced when it was made: tells a survey that has changed underneath. */
  was: anything(),
});

export const proposalSchema = part({
  id: id(),
  title: requiredText('what the proposal is called'),
  changes: list(changeSchema),
});

export const readingSchema = part({
  id: id(),
  at: text(),
  subject: requiredText('the id of a part'),
  quantity: requiredText('what was read'),
  value: requiredNum(-1e9, 1e9),
  conditions: optionalPart({
    irradiance_W_m2: num(0, 2000),
    cell_C: celsius(),
    ambient_C: celsius(),
    current_A: num(-100_000, 100_000),
    rested_h: num(0, 100_000),
  }),
  note: text(),
});

/** A picture or a spoken note about a part. The bytes travel beside the file: in the zip, as `attachments/ID.EXT`. */
export const attachmentSchema = part({
  id: id(),
  kind: requiredOneOf(['photo', 'voice']),
  subject: text(),
  note: text(),
  at: text(),
  type: text(),
});

export const fileSchema = part({
  format: mixed<'true-lantern'>()
    .oneOf(['true-lantern'], 'is not "true-lantern", expected a True Lantern system file')
    .required('is missing, expected "true-lantern"'),
  version: number()
    .typeError('is not a number, expected 1')
    .oneOf([1], 'is not a version this program reads, expected 1')
    .required('is missing, expected 1'),
  site: siteSchema,
  schools: schoolsSchema,
  system: systemSchema,
  evidence: record(evidenceSchema),
  proposals: list(proposalSchema),
  readings: list(readingSchema),
  attachments: list(attachmentSchema),
});

export type Attachment = InferType<typeof attachmentSchema>;
export type SystemFile = InferType<typeof fileSchema>;
export type Site = InferType<typeof siteSchema>;
export type Schools = NonNullable<InferType<typeof schoolsSchema>>;
export type System = InferType<typeof systemSchema>;
export type ModuleType = InferType<typeof moduleTypeSchema>;
export type PvArray = InferType<typeof arraySchema>;
export type Controller = InferType<typeof controllerSchema>;
export type Bank = InferType<typeof bankSchema>;
export type OtherBank = InferType<typeof otherBankSchema>;
export type Inverter = InferType<typeof inverterSchema>;
export type Charger = InferType<typeof chargerSchema>;
export type Source = InferType<typeof sourceSchema>;
export type Converter = InferType<typeof converterSchema>;
export type Load = InferType<typeof loadSchema>;
export type Run = InferType<typeof runSchema>;
export type Distribution = InferType<typeof distributionSchema>;
export type Monitor = InferType<typeof monitorSchema>;
export type Settings = NonNullable<Controller['settings']>;
export type Protection = NonNullable<Run['protection']>;
export type Evidence = InferType<typeof evidenceSchema>;
export type Grade = (typeof GRADES)[number];
export type Change = InferType<typeof changeSchema>;
export type Proposal = InferType<typeof proposalSchema>;
export type Reading = InferType<typeof readingSchema>;
export type Chemistry = (typeof CHEMISTRIES)[number];
export type ListName = keyof typeof LIST_SCHEMAS;
export type SingleName = keyof typeof SINGLE_SCHEMAS;
