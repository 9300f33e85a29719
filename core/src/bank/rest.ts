import { between } from '../numeric/between';
import { figure } from '../ledger/figures';
import { CHEMISTRY, isLithium, type Chemistry, type ChemistryTable } from '../chemistry/chemistry';

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

/** Full, as the lead table has it. */
const LEAD_FULL_V = 2.122;

/**
 * Volts of one cell at rest.
 * @param full_V full and rested, of this bank: lead of stronger acid stands higher all the way down
 */
export const restCell_V = (chemistry: Chemistry, soc: number, full_V: number): number =>
  between(CHEMISTRY[chemistry].resting, soc) + (isLithium(chemistry) ? 0 : full_V - LEAD_FULL_V);

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
    const { resting, restBands } = CHEMISTRY[chemistry];
    return restBands ? inBands(restBands, cell_V, meter, notes) : plain(resting, cell_V, meter, notes);
  }
  const drift = DRIFT_V_K * Math.abs((cell_C ?? 25) - 25);
  if (unrested)
    notes.push(
      `rested less than ${RESTED_H} h, or unknown: just charged, it reads up to ${1000 * SURFACE_V} mV a cell high; just loaded, low`,
    );
  else if (rested_h < AFTER_CHARGE_H) notes.push(`after charging, rest it ${AFTER_CHARGE_H} h for a better reading`);
  const { resting, restsHigher_V } = CHEMISTRY[chemistry];
  const share = (at_V: number) => between(turned(resting), at_V - restsHigher_V);
  return {
    low: share(cell_V - meter - drift - (unrested ? SURFACE_V : 0)),
    high: share(cell_V + meter + drift + (unrested ? SAGGING_V : 0)),
    best: share(cell_V),
    notes,
  };
}

/** Share by volts of a table that gives volts by share. */
const turned = (table: ChemistryTable['resting']) => table.map(([share, volts]) => [volts, share] as const);

/** Every band that the meter's error reaches into. */
function inBands(
  bands: NonNullable<ChemistryTable['restBands']>,
  cell_V: number,
  meter: number,
  notes: string[],
): ChargeState {
  const reached = bands.filter(([from, to]) => cell_V + meter >= from && cell_V - meter < to);
  return {
    low: Math.min(...reached.map(([, , low]) => low)),
    high: Math.max(...reached.map(([, , , high]) => high)),
    best: null,
    notes: [...notes, "lithium iron's voltage is flat between empty and full: only a shunt shows its charge"],
  };
}

function plain(resting: ChemistryTable['resting'], cell_V: number, meter: number, notes: string[]): ChargeState {
  const share = (at_V: number) => between(turned(resting), at_V);
  return { low: share(cell_V - meter), high: share(cell_V + meter), best: share(cell_V), notes };
}
