import { cellsInSeries, capacity_Ah } from '../bank/bank';
import { CHEMISTRY, familyOf } from '../chemistry/chemistry';
import { createLedger, type Ledger } from '../ledger/ledger';
import type { Model } from '../system/model';
import type { Bank } from '../system/schema';
import { usable_Wh } from './energy';
import { inverterEfficiency, worseDay_Wh } from './loads';

/** What a bank is in figures that are asked for by name, and how long something runs on it. */

/** The bank in figures: V, Ah, Wh, A, mohm; null where one is not known. */
export interface BankFigures {
  volts: number | null;
  /** At its rated hours, as it is: age and health in. */
  capacity_Ah: number | null;
  stored_kWh: number | null;
  /** To the depth of the school, at the day's own draw and the coldest of its place. */
  usable_kWh: number | null;
  missing: string[];
}

/** Volts, Ah and usable Wh of the bank, in its two states of the book; null without a bank. */
export function bankFigures(model: Model): BankFigures | null {
  const { bank } = model.system;
  if (!bank) return null;
  const io = createLedger(model);
  const volts = cellsInSeries(io, bank) * CHEMISTRY[bank.chemistry].nominal_V;
  const amphours = capacity_Ah(io, bank);
  const asked = createLedger(model);
  const usable = usable_Wh(asked, bank, worseDay_Wh(asked));
  const known = (value: number) => (Number.isFinite(value) ? value : null);
  return {
    volts: known(volts),
    capacity_Ah: known(amphours),
    stored_kWh: known((volts * amphours) / 1000),
    usable_kWh: asked.missing.size > 0 ? null : known(usable / 1000),
    missing: [...new Set([...io.missing, ...asked.missing])].sort(),
  };
}

/** How long something runs, h, and what that rests on. */
export interface RunHours {
  hours: number | null;
  missing: string[];
  working: string[];
}

/**
 * Hours that a load runs until the bank is at the depth of the school, from a state of charge.
 * @param watts at the load; `ac`: through the first inverter, with its efficiency and its idle draw
 * @param from fraction of full that it starts from
 */
export function runHours(model: Model, watts: number, { ac, from = 1 }: { ac: boolean; from?: number }): RunHours {
  const { bank, inverters } = model.system;
  const io = createLedger(model);
  const [inverter] = inverters ?? [];
  if (!bank) io.miss('bank');
  if (ac && !inverter) io.miss('inverters');
  if (!bank || (ac && !inverter) || !(watts > 0)) return { hours: null, missing: [...io.missing].sort(), working: [] };
  const drawn = ac && inverter ? watts / inverterEfficiency(io, inverter) + (inverter.idle_W ?? 0) : watts;
  const usable = usable_Wh(io, bank, drawn * 24);
  const share = shareAbove(io, bank, from);
  const hours = (usable * share) / drawn;
  if (io.missing.size > 0 || !Number.isFinite(hours))
    return { hours: null, missing: [...io.missing].sort(), working: [] };
  return {
    hours,
    missing: [],
    working: [
      `${Math.round(drawn)} W from the bank${ac ? ', including inverter losses and idle draw' : ''}`,
      `${Math.round(usable)} Wh usable at that draw, ${Math.round(100 * share)} % of that left at ${Math.round(100 * from)} % of charge`,
    ],
  };
}

/** What is left of the usable part from a state of charge: none of it below the depth of the school. */
function shareAbove(io: Ledger, bank: Bank, from: number): number {
  const { depthSchool } = familyOf(bank.chemistry);
  const depth = io.or(`schools.${depthSchool}`, io.model.schools[depthSchool], CHEMISTRY[bank.chemistry].depth);
  return Math.max(0, Math.min(1, (from - (1 - depth)) / depth));
}
