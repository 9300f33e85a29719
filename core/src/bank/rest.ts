import { between } from '../numeric/between';
import { figure } from '../ledger/figures';
import { CHEMISTRY, isLithium, type Chemistry } from '../chemistry/chemistry';

/** State of charge from rest volts (the engine, section 4): a band, never more than the volts can tell. */

/** A state of charge read off rest volts: a band, shares of full. */
export interface ChargeState {
  /** Fractions of full, 0 to 1. */
  low: number;
  high: number;
  /** The likeliest; null where the volts tell only a band (lithium iron). */
  best: number | null;
  /** What it rests on and what widens it, in sentences. */
  notes: string[];
}
/** Volts of a battery that has rested, as they were read, V. */
export interface RestReading {
  chemistry: Chemistry;
  /** Cells in series between the probes. */
  cells: number;
  volts: number;
  /** Hours since it was last charged or drawn on; null: not known. */
  rested_h?: number | null | undefined;
  /** At the cells; null: not known, taken as 25 degC. */
  cell_C?: number | null | undefined;
  /** Error of the meter, percent of its reading. */
  meter_pct?: number;
}

/** Volts per cell by tenths of full, at 25 degC, rested four hours and more; flooded and tubular. */
const LEAD = [1.893, 1.918, 1.943, 1.968, 1.993, 2.017, 2.04, 2.062, 2.083, 2.103, 2.122].map(
  (volts, tenths) => [volts, tenths / 10] as const,
);
/** Sealed lead holds stronger acid. */
const SEALED_V = 0.02;
/** Lithium iron: overlapping bands, from the highest down. */
const IRON: readonly (readonly [from_V: number, to_V: number, low: number, high: number])[] = [
  [3.38, Infinity, 0.97, 1],
  [3.32, 3.38, 0.6, 1],
  [3.28, 3.32, 0.35, 0.75],
  [3.24, 3.28, 0.22, 0.45],
  [3.2, 3.24, 0.13, 0.25],
  [3.0, 3.2, 0.02, 0.15],
  [-Infinity, 3.0, 0, 0.02],
];
/** Other lithium: volts at 0, half and full. */
const NMC: readonly (readonly [volts: number, share: number])[] = [
  [3.3, 0],
  [3.7, 0.5],
  [4.08, 1],
];

/**
 * Volts a cell at rest by state of charge, for what a meter should read (docs/work-and-prove.md): lithium as below, lead
 * by the table above. Lithium iron is flat: to be read the other way round it has bands alone.
 */
const RESTING: Readonly<Record<Chemistry, readonly (readonly [share: number, volts: number])[]>> = (() => {
  const lead = LEAD.map(([volts, share]) => [share, volts] as const);
  return {
    flooded: lead,
    tubular: lead,
    agm: lead,
    gel: lead,
    lfp: [
      [0, 2.9],
      [0.1, 3.18],
      [0.2, 3.235],
      [0.5, 3.3],
      [0.8, 3.33],
      [1, 3.35],
    ],
    nmc: NMC.map(([volts, share]) => [share, volts] as const),
  };
})();
/** Full, as the lead table has it. */
const LEAD_FULL_V = 2.122;

/**
 * Volts of one cell at rest.
 * @param full_V full and rested, of this bank: lead of stronger acid stands higher all the way down
 */
export const restCell_V = (chemistry: Chemistry, soc: number, full_V: number): number =>
  between(RESTING[chemistry], soc) + (isLithium(chemistry) ? 0 : full_V - LEAD_FULL_V);

const RESTED_H = 4;
const AFTER_CHARGE_H = 12;
/** Unrested lead stands so far above its rest volts after a charge, below after a load, V a cell; planning values. */
const SURFACE_V = 0.05;
const SAGGING_V = 0.03;
/** Rest volts move with the acid's temperature, V a cell and K; planning value (Vinal, Storage Batteries). */
const DRIFT_V_K = 0.0002;
const METER_PCT = 0.5;

/** @returns null where the volts are no cell's at all */
export function chargeOfRest(reading: RestReading): ChargeState | null {
  const { chemistry, cells, volts, rested_h, cell_C, meter_pct = METER_PCT } = reading;
  const cell_V = volts / cells;
  if (!(cells > 0) || !(cell_V > 1) || cell_V > CHEMISTRY[chemistry].neverAbove_V + SURFACE_V) return null;
  const meter = (cell_V * meter_pct) / 100;
  const notes = [
    `${figure(volts)} V over ${cells} cells: ${figure(cell_V)} V a cell, the meter to ${figure(meter_pct)} %`,
  ];
  const unrested = rested_h === null || rested_h === undefined || rested_h < RESTED_H;
  if (isLithium(chemistry)) {
    if (unrested) notes.push('rest time unknown: it reads high after charging, low under load');
    return chemistry === 'lfp' ? iron(cell_V, meter, notes) : plain(cell_V, meter, notes);
  }
  const drift = DRIFT_V_K * Math.abs((cell_C ?? 25) - 25);
  if (unrested)
    notes.push(
      `rested less than ${RESTED_H} h, or unknown: just charged, it reads up to ${1000 * SURFACE_V} mV a cell high; just loaded, low`,
    );
  else if (rested_h < AFTER_CHARGE_H) notes.push(`after charging, rest it ${AFTER_CHARGE_H} h for a better reading`);
  const sealed = chemistry === 'agm' || chemistry === 'gel' ? SEALED_V : 0;
  const share = (at_V: number) => between(LEAD, at_V - sealed);
  return {
    low: share(cell_V - meter - drift - (unrested ? SURFACE_V : 0)),
    high: share(cell_V + meter + drift + (unrested ? SAGGING_V : 0)),
    best: share(cell_V),
    notes,
  };
}

/** Every band that the meter's error reaches into. */
function iron(cell_V: number, meter: number, notes: string[]): ChargeState {
  const reached = IRON.filter(([from, to]) => cell_V + meter >= from && cell_V - meter < to);
  return {
    low: Math.min(...reached.map(([, , low]) => low)),
    high: Math.max(...reached.map(([, , , high]) => high)),
    best: null,
    notes: [...notes, "lithium iron's voltage is flat between empty and full: only a shunt shows its charge"],
  };
}

function plain(cell_V: number, meter: number, notes: string[]): ChargeState {
  const share = (at_V: number) => between(NMC, at_V);
  return { low: share(cell_V - meter), high: share(cell_V + meter), best: share(cell_V), notes };
}
