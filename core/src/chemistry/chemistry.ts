import type { Bank, Chemistry } from '../system/schema';

/**
 * Planning values by chemistry, volts per cell unless named otherwise. A maker's manual overrides each.
 * `null` says that the chemistry has none (no float for nmc) or must not (no equalising of lithium).
 */
export interface ChemistryTable {
  nominal_V: number;
  absorb_V: number;
  float_V: number | null;
  equalise_V: number | null;
  neverAbove_V: number;
  /** Full and rested; the open-circuit volts used for `emf`. */
  full_V: number;
  cutoff_V: number;
  empty_V: number;
  /** mV per K and cell, from 25 degC. */
  compensation_mV_K: number;
  /** Smallest and largest charge current, fraction of C20. */
  chargeMin: number;
  chargeMax: number;
  dischargeMax: number;
  peukert: number;
  /** Energy out over energy in. */
  efficiency: number;
  depth: number;
  cyclesAt50: number;
  cyclesAt80: number;
  /** ohm Ah per cell: slow, for sag; and fast, for fault current. */
  sag_ohmAh: number;
  fault_ohmAh: number;
  calendar_y: number;
  selfDischarge_pct_month: number;
  gassing_mA_Ah: number;
  lowestCharge_C: number;
}

export const CHEMISTRY: Record<Chemistry, ChemistryTable> = {
  flooded: {
    nominal_V: 2,
    absorb_V: 2.43,
    float_V: 2.25,
    equalise_V: 2.58,
    neverAbove_V: 2.67,
    full_V: 2.122,
    cutoff_V: 1.92,
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
    fault_ohmAh: 0.065,
    calendar_y: 6,
    selfDischarge_pct_month: 5,
    gassing_mA_Ah: 28,
    lowestCharge_C: -20,
  },
  tubular: {
    nominal_V: 2,
    absorb_V: 2.4,
    float_V: 2.25,
    equalise_V: 2.6,
    neverAbove_V: 2.67,
    full_V: 2.085,
    cutoff_V: 1.92,
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
    lowestCharge_C: -20,
  },
  agm: {
    nominal_V: 2,
    absorb_V: 2.42,
    float_V: 2.27,
    equalise_V: null,
    neverAbove_V: 2.47,
    full_V: 2.14,
    cutoff_V: 1.92,
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
    lowestCharge_C: -20,
  },
  gel: {
    nominal_V: 2,
    absorb_V: 2.36,
    float_V: 2.28,
    equalise_V: null,
    neverAbove_V: 2.4,
    full_V: 2.14,
    cutoff_V: 1.92,
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
    lowestCharge_C: -20,
  },
  lfp: {
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
};

export const isLithium = (chemistry: Chemistry) => chemistry === 'lfp' || chemistry === 'nmc';

/** Volts on a lithium block's label -> cells in series; `false` marks labels that leave room for another count. */
const LITHIUM_CELLS: Record<'lfp' | 'nmc', [volts: number, cells: number, sure: boolean][]> = {
  lfp: [
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
  nmc: [
    [3.6, 1, true],
    [3.7, 1, true],
    [22.2, 6, true],
    [25.9, 7, true],
    [44.4, 12, true],
    [51.8, 14, true],
  ],
};

/** Cells in series in one block, and whether that is a guess ("15 or 16? read the charge voltage"). */
export function cellsPerBlock(bank: Pick<Bank, 'chemistry' | 'block_V' | 'cells'>): {
  cells: number | null;
  assumed: boolean;
} {
  const { chemistry, block_V, cells } = bank;
  if (cells) return { cells, assumed: false };
  if (chemistry !== 'lfp' && chemistry !== 'nmc') {
    // A lead block of an odd voltage is a misread plate: 1 V or 3 V has no whole number of 2 V cells.
    const count = block_V / 2;
    return { cells: Number.isInteger(count) ? count : null, assumed: false };
  }
  const row = LITHIUM_CELLS[chemistry].find(([volts]) => Math.abs(volts - block_V) < 1e-9);
  return row ? { cells: row[1], assumed: !row[2] } : { cells: null, assumed: false };
}
