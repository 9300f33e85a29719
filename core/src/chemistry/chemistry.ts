/* oxlint-disable max-lines -- a table: a row a chemistry, a source a number */
import { between } from '../numeric/between';

/**
 * What batteries are, by chemistry: one row each, and nothing about a chemistry is said anywhere else. A sixth is a row
 * here; the compiler refuses it until every value is there. All are planning values from makers' sheets and the
 * standards named; a maker's manual overrides each.
 */

export type Family = 'lead' | 'lithium';

/** Values per cell unless named otherwise. `null`: the chemistry has none (no float for nmc), or must not (no equalising). */
export interface ChemistryTable {
  family: Family;
  /** As a person says it. */
  word: string;
  /** Label volts of one cell: the volts that Ah are multiplied by. Lead 2.0; lithium by the cathode (IEC 62620). */
  nominal_V: number;
  /** Makers' sheets at 25 degC: lead 2.35 to 2.47, iron 3.45 to 3.60, nmc 4.05 to 4.15. */
  absorb_V: number;
  float_V: number | null;
  equalise_V: number | null;
  /** Above it cells are harmed: gassing and grid corrosion in lead, plating and heat in lithium. */
  neverAbove_V: number;
  /** Full and rested; the open-circuit volts used for `emf`. Lead: density + 0.84 (Vinal, Storage Batteries). */
  full_V: number;
  /** Rested at half charge. */
  half_V: number;
  cutoff_V: number;
  /** An inverter that comes back below this hunts: an empty cell recovers to nearly it at rest. Null: not known to. */
  restart_V: number | null;
  empty_V: number;
  /** mV per K, from 25 degC; lead -3 to -6. */
  compensation_mV_K: number;
  /** Smallest and largest charge current, fraction of C20. Lithium's are for planning only: its protection says. */
  chargeMin: number;
  chargeMax: number;
  /** Made for hard cycling and charged at C/10 whatever the school. */
  alwaysC10: boolean;
  dischargeMax: number;
  /** Exponent of Peukert (1897), as fitted to makers' tables of 5 to 100 h. */
  peukert: number;
  /** Energy out over energy in. */
  efficiency: number;
  depth: number;
  cyclesAt50: number;
  cyclesAt80: number;
  /** ohm Ah: slow, for sag; and fast, for fault current (IEC 60896-21 method, makers' sheets). */
  sag_ohmAh: number;
  fault_ohmAh: number;
  calendar_y: number;
  selfDischarge_pct_month: number;
  /** At boost: IEC 62485-2, table 1, with the age of cells in the field counted in. */
  gassing_mA_Ah: number;
  lowestCharge_C: number;
  /** degC at the bank above which it ages fast. */
  highest_C: number;
  /** Volts on the label of a block for a 12 V step: 12.8 of four iron cells. */
  step12_V: number;
  /** Volts of a cell by a label that is right: outside, the plate was misread. */
  usual_V: readonly [low: number, high: number];
  /** Labels and their cells in series; `sure` false marks labels that leave room for another count. Null: whole cells. */
  labels: readonly (readonly [volts: number, cells: number, sure: boolean])[] | null;
  /** Charging profiles that serve it besides its own. */
  servedBy: readonly string[];
  /** What is said of it where people sleep. */
  inLivingSpace: 'over' | 'tight' | 'note';
  /** Gives off hydrogen and holds acid that can spill. */
  gassesFreely: boolean;
  /** Rested, at 25 degC: share of full and volts, rising. */
  resting: readonly (readonly [share: number, volts: number])[];
  /** Stronger acid than the table of rest volts is for: its meter stands so much higher, V. */
  restsHigher_V: number;
  /**
   * Where rest volts are too flat for a single answer: overlapping bands from the highest down, by volts and by share.
   * Null: the table above can be read either way.
   */
  restBands: readonly (readonly [from_V: number, to_V: number, low: number, high: number])[] | null;
}

/** Lead by tenths of full, rested four hours and more (the engine, section 4). */
const LEAD_RESTING = [1.893, 1.918, 1.943, 1.968, 1.993, 2.017, 2.04, 2.062, 2.083, 2.103, 2.122].map(
  (volts, tenths) => [tenths / 10, volts] as const,
);

/** What every lead-acid cell has alike: sponge lead, lead dioxide and the same acid. */
const LEAD = {
  family: 'lead',
  half_V: 2.017,
  restart_V: null,
  highest_C: 40,
  step12_V: 12,
  usual_V: [1.9, 2.2],
  labels: null,
  nominal_V: 2,
  cutoff_V: 1.92,
  lowestCharge_C: -20,
  resting: LEAD_RESTING,
  restsHigher_V: 0,
  restBands: null,
} as const;

const TABLE = {
  flooded: {
    ...LEAD,
    word: 'flooded lead',
    alwaysC10: false,
    servedBy: [],
    inLivingSpace: 'over',
    gassesFreely: true,
    absorb_V: 2.43,
    float_V: 2.25,
    equalise_V: 2.58,
    neverAbove_V: 2.67,
    full_V: 2.122,
    empty_V: 1.75,
    compensation_mV_K: -5,
    chargeMin: 0.1,
    chargeMax: 0.2,
    dischargeMax: 0.2,
    peukert: 1.25,
    efficiency: 0.75,
    depth: 0.5,
    cyclesAt50: 800,
    cyclesAt80: 400,
    sag_ohmAh: 0.12,
    fault_ohmAh: 0.1,
    calendar_y: 6,
    selfDischarge_pct_month: 5,
    gassing_mA_Ah: 28,
  },
  tubular: {
    ...LEAD,
    word: 'tubular lead',
    alwaysC10: true,
    servedBy: ['flooded'],
    inLivingSpace: 'over',
    gassesFreely: true,
    absorb_V: 2.4,
    float_V: 2.25,
    equalise_V: 2.6,
    neverAbove_V: 2.67,
    full_V: 2.085,
    empty_V: 1.8,
    compensation_mV_K: -5,
    chargeMin: 0.1,
    chargeMax: 0.15,
    dischargeMax: 0.2,
    peukert: 1.2,
    efficiency: 0.75,
    depth: 0.5,
    cyclesAt50: 1500,
    cyclesAt80: 800,
    sag_ohmAh: 0.25,
    fault_ohmAh: 0.16,
    calendar_y: 14,
    selfDischarge_pct_month: 3,
    gassing_mA_Ah: 20,
  },
  agm: {
    ...LEAD,
    restsHigher_V: 0.02,
    word: 'AGM',
    alwaysC10: false,
    servedBy: [],
    inLivingSpace: 'tight',
    gassesFreely: false,
    absorb_V: 2.42,
    float_V: 2.27,
    equalise_V: null,
    neverAbove_V: 2.47,
    full_V: 2.14,
    empty_V: 1.75,
    compensation_mV_K: -4,
    chargeMin: 0.1,
    chargeMax: 0.3,
    dischargeMax: 0.5,
    peukert: 1.1,
    efficiency: 0.85,
    depth: 0.5,
    cyclesAt50: 600,
    cyclesAt80: 350,
    sag_ohmAh: 0.08,
    fault_ohmAh: 0.045,
    calendar_y: 8,
    selfDischarge_pct_month: 3,
    gassing_mA_Ah: 8,
  },
  gel: {
    ...LEAD,
    restsHigher_V: 0.02,
    word: 'gel',
    alwaysC10: false,
    servedBy: [],
    inLivingSpace: 'tight',
    gassesFreely: false,
    absorb_V: 2.36,
    float_V: 2.28,
    equalise_V: null,
    neverAbove_V: 2.4,
    full_V: 2.14,
    empty_V: 1.75,
    compensation_mV_K: -4,
    chargeMin: 0.08,
    chargeMax: 0.2,
    dischargeMax: 0.3,
    peukert: 1.13,
    efficiency: 0.82,
    depth: 0.5,
    cyclesAt50: 700,
    cyclesAt80: 400,
    sag_ohmAh: 0.14,
    fault_ohmAh: 0.08,
    calendar_y: 8,
    selfDischarge_pct_month: 2,
    gassing_mA_Ah: 8,
  },
  lfp: {
    resting: [
      [0, 2.9],
      [0.1, 3.18],
      [0.2, 3.235],
      [0.5, 3.3],
      [0.8, 3.33],
      [1, 3.35],
    ],
    restsHigher_V: 0,
    restBands: [
      [3.38, Infinity, 0.97, 1],
      [3.32, 3.38, 0.6, 1],
      [3.28, 3.32, 0.35, 0.75],
      [3.24, 3.28, 0.22, 0.45],
      [3.2, 3.24, 0.13, 0.25],
      [3.0, 3.2, 0.02, 0.15],
      [-Infinity, 3.0, 0, 0.02],
    ],
    family: 'lithium',
    word: 'lithium iron',
    half_V: 3.25,
    restart_V: 3.3,
    alwaysC10: false,
    highest_C: 45,
    step12_V: 12.8,
    usual_V: [2.9, 3.5],
    labels: [
      [3.2, 1, true],
      [12, 4, true],
      [12.8, 4, true],
      [24, 8, false],
      [25.6, 8, true],
      [36, 12, false],
      [38.4, 12, true],
      [48, 16, false],
      [51.2, 16, true],
    ],
    servedBy: [],
    inLivingSpace: 'note',
    gassesFreely: false,
    nominal_V: 3.2,
    absorb_V: 3.55,
    float_V: 3.375,
    equalise_V: null,
    neverAbove_V: 3.65,
    full_V: 3.35,
    cutoff_V: 3,
    empty_V: 2.5,
    compensation_mV_K: 0,
    chargeMin: 0.05,
    chargeMax: 0.2,
    dischargeMax: 0.5,
    peukert: 1.03,
    efficiency: 0.95,
    depth: 0.8,
    cyclesAt50: 6000,
    cyclesAt80: 3500,
    sag_ohmAh: 0.09,
    fault_ohmAh: 0.045,
    calendar_y: 15,
    selfDischarge_pct_month: 2,
    gassing_mA_Ah: 0,
    lowestCharge_C: 0,
  },
  nmc: {
    resting: [
      [0, 3.3],
      [0.5, 3.7],
      [1, 4.08],
    ],
    restsHigher_V: 0,
    restBands: null,
    family: 'lithium',
    word: 'lithium NMC',
    half_V: 3.7,
    restart_V: null,
    alwaysC10: false,
    highest_C: 45,
    step12_V: 12.95,
    usual_V: [3.4, 4.1],
    labels: [
      [3.6, 1, true],
      [3.7, 1, true],
      [22.2, 6, true],
      [25.9, 7, true],
      [44.4, 12, true],
      [51.8, 14, true],
    ],
    servedBy: [],
    inLivingSpace: 'over',
    gassesFreely: false,
    nominal_V: 3.7,
    absorb_V: 4.1,
    float_V: null,
    equalise_V: null,
    neverAbove_V: 4.2,
    full_V: 4.08,
    cutoff_V: 3.3,
    empty_V: 3,
    compensation_mV_K: 0,
    chargeMin: 0.05,
    chargeMax: 0.2,
    dischargeMax: 0.3,
    peukert: 1.03,
    efficiency: 0.95,
    depth: 0.7,
    cyclesAt50: 1500,
    cyclesAt80: 900,
    sag_ohmAh: 0.08,
    fault_ohmAh: 0.03,
    calendar_y: 8,
    selfDischarge_pct_month: 2,
    gassing_mA_Ah: 0,
    lowestCharge_C: 0,
  },
} satisfies Record<string, ChemistryTable>;

export type Chemistry = keyof typeof TABLE;
/** What is known of each chemistry; whatever lacks a value does not compile. */
export const CHEMISTRY: Readonly<Record<Chemistry, ChemistryTable>> = TABLE;
/** The chemistries of the format, in its order. */
export const CHEMISTRIES = Object.keys(TABLE) as [Chemistry, ...Chemistry[]];

/** What a conversion from lead leads to: the one lithium that may stand where people live. */
export const CONVERSION: Chemistry = 'lfp';

/** Volts of a cell that is floated; of what takes no float its absorption. */
export const floatCell_V = (chemistry: Chemistry): number =>
  CHEMISTRY[chemistry].float_V ?? CHEMISTRY[chemistry].absorb_V;

/** True for every chemistry of the lithium family. */
export const isLithium = (chemistry: Chemistry) => CHEMISTRY[chemistry].family === 'lithium';

/** True where one of a device's profiles charges this chemistry without being set volt by volt. */
export const serves = (profiles: readonly string[], chemistry: Chemistry) =>
  profiles.some((profile) => profile === chemistry || CHEMISTRY[chemistry].servedBy.includes(profile));

/** True where a device has a profile for this chemistry, or volts of its own that can be set to it. */
export const takes = (profiles: readonly (string | null | undefined)[] | null | undefined, chemistry: Chemistry) =>
  (profiles ?? []).some((profile) => profile === 'custom' || (profile && serves([profile], chemistry)));

/** What the two families have apart, whatever the chemistry. */
interface FamilyTable {
  /** How far a set voltage may stand off the table, V per cell. */
  setpointOff_V: number;
  /** The school that says how deep it is used. */
  depthSchool: 'leadDepth' | 'lithiumDepth';
  /** Life halves for every 10 K above 25 degC (Arrhenius, as IEEE 1188 plans for lead). */
  halvesInHeat: boolean;
  /** Rested volts of a full cell over its density in kg/L (Vinal); null where there is none to measure. */
  overDensity_V: number | null;
  /** Percent of its capacity when new below which a bank is worn out (IEEE 450 replaces lead at 80, planning value). */
  worn_pct: number;
  /** Resistance against that at 25 degC. */
  coldResistance(t_C: number): number;
  /** Capacity against that at 25 degC. */
  coldCapacity(t_C: number): number;
}

/** Planning values, from makers' sheets of -20 to 25 degC. */
const LITHIUM_RESISTANCE: [t_C: number, factor: number][] = [
  [-20, 6],
  [-10, 3.5],
  [0, 2],
  [25, 1],
];
const LITHIUM_CAPACITY: [t_C: number, factor: number][] = [
  [-20, 0.7],
  [0, 0.9],
  [20, 1],
];

/** What the chemistries of a family share. */
export const FAMILY: Readonly<Record<Family, FamilyTable>> = {
  lead: {
    setpointOff_V: 0.075,
    depthSchool: 'leadDepth',
    halvesInHeat: true,
    overDensity_V: 0.845,
    worn_pct: 70,
    // 1.5 % a K below 25 degC, and 0.8 % a K of capacity down to two fifths (IEEE 485, table 1, in straight lines).
    coldResistance: (t_C) => 1 + 0.015 * Math.max(0, 25 - t_C),
    coldCapacity: (t_C) => Math.min(1, Math.max(0.4, 1 + 0.008 * (Math.min(t_C, 25) - 25))),
  },
  lithium: {
    setpointOff_V: 0.1,
    depthSchool: 'lithiumDepth',
    halvesInHeat: false,
    overDensity_V: null,
    worn_pct: 60,
    coldResistance: (t_C) => between(LITHIUM_RESISTANCE, t_C),
    coldCapacity: (t_C) => between(LITHIUM_CAPACITY, t_C),
  },
};
/** What a chemistry shares with its family. */
export const familyOf = (chemistry: Chemistry) => FAMILY[CHEMISTRY[chemistry].family];

/** Cells in series of a bank that is called 12, 24 or 48 V: six of lead for each 12 V, four of iron, seven of NMC for 24 V. */
export const cellsOfSystem = (nominal_V: number, chemistry: Chemistry): number =>
  Math.max(1, Math.round(((nominal_V / 12) * CHEMISTRY[chemistry].step12_V) / CHEMISTRY[chemistry].nominal_V));

/** A plate that says how many cells are in it, or leaves it to its volts. */
export interface CellsOnLabel {
  chemistry: Chemistry;
  block_V: number;
  cells?: number | null | undefined;
}

/** Cells in series in one block, and whether that is a guess ("15 or 16? read the charge voltage"). */
export function cellsPerBlock({ chemistry, block_V, cells }: CellsOnLabel): { cells: number | null; assumed: boolean } {
  if (cells) return { cells, assumed: false };
  const { labels, nominal_V } = CHEMISTRY[chemistry];
  if (labels === null) {
    // A lead block of an odd voltage is a misread plate: 1 V or 3 V has no whole number of 2 V cells.
    const count = block_V / nominal_V;
    return { cells: Number.isInteger(count) ? count : null, assumed: false };
  }
  const row = labels.find(([volts]) => Math.abs(volts - block_V) < 1e-9);
  return row ? { cells: row[1], assumed: !row[2] } : { cells: null, assumed: false };
}
