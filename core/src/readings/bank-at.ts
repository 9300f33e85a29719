import { cellsInSeries, fullCell_V } from '../bank/bank';
import { chargingDevices } from '../bank/charging';
import { restCell_V } from '../bank/rest';
import { sagBankAt_ohm, sharing } from '../bank/resistance';
import { CHEMISTRY, familyOf, isLithium } from '../chemistry/chemistry';
import type { Ledger } from '../ledger/ledger';
import { continuousDischarge_A } from '../power/discharge';
import type { Bank } from '../system/schema';
import type { Conditions } from './conditions';

/** What the bank should show at the moment (docs/work-orders-and-readings.md); it stands at the air's temperature. */
export interface BankAt {
  cells: number;
  rest_V: number;
  /** ohm, slow, as it is. */
  resistance_ohm: number;
  /** What is drawn while it is read, A, above 0, and that as a share of what it gives at most for long. */
  drawn_A: number;
  share: number;
  load_V: number;
  absorb_V: number;
  /** Each string's share of the current. */
  shares: number[];
  /** Of the acid; null where there is none to measure. */
  density_kg_L: number | null;
}

/** Density falls with the acid's warmth, kg/L and K. */
const DENSITY_K = 0.0007;

/** The bank at a state of charge, a share of its current and a temperature. */
export function bankAt(io: Ledger, bank: Bank, { soc, share, ambient_C, current_A }: Conditions): BankAt {
  const table = CHEMISTRY[bank.chemistry];
  const cells = cellsInSeries(io, bank);
  const cell_V = restCell_V(bank.chemistry, soc, fullCell_V(io, bank));
  const rest_V = cells * cell_V;
  const resistance_ohm = sagBankAt_ohm(io, bank, ambient_C);
  const most_A = continuousDischarge_A(io);
  const drawn_A = current_A === undefined ? share * most_A : Math.abs(current_A);
  const { overDensity_V } = familyOf(bank.chemistry);
  return {
    cells,
    rest_V,
    resistance_ohm,
    drawn_A,
    share: current_A === undefined ? share : drawn_A / most_A,
    load_V: rest_V - drawn_A * resistance_ohm,
    absorb_V: absorbNow_V(io, bank, cells, ambient_C),
    shares: sharing(io, bank).shares,
    density_kg_L:
      table.gassesFreely && overDensity_V !== null ? cell_V - overDensity_V - DENSITY_K * (ambient_C - 25) : null,
  };
}

/** The highest absorb over all devices that charge, as set or the table's; one with a sensor moves it with the cold. */
function absorbNow_V(io: Ledger, bank: Bank, cells: number, bank_C: number): number {
  const { absorb_V, compensation_mV_K } = CHEMISTRY[bank.chemistry];
  const plain = cells * absorb_V;
  const each = chargingDevices(io.model.system).map(({ path, settings, at, part }) => {
    const set = io.or(`${path}.settings.absorb_V`, settings?.absorb_V, plain);
    const sensed =
      !isLithium(bank.chemistry) &&
      at === 'controllers' &&
      io.flag(`${path}.temperatureSensor`, part.temperatureSensor);
    if (!sensed) return set;
    const each_mV_K = Math.abs(io.or(`${path}.settings.comp_mV_K_cell`, settings?.comp_mV_K_cell, compensation_mV_K));
    return set + (cells * each_mV_K * (25 - bank_C)) / 1000;
  });
  return each.length > 0 ? Math.max(...each) : plain;
}
