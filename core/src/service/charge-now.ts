import { c20_Ah, cellsInSeries, fullCell_V } from '../bank/bank';
import { restCell_V } from '../bank/rest';
import { CHEMISTRY, isLithium } from '../chemistry/chemistry';
import { createLedger } from '../ledger/ledger';
import { bisect } from '../numeric/roots';
import { nameToday } from '../readings/quantities';
import { modelOf } from '../system/model';
import type { Reading, SystemFile } from '../system/schema';
import { dayOf } from './days';
import { validEntries } from './log';

/** How full a bank is, by what was read last (docs/service.md). */
export interface ChargeNow {
  /** 0 to 1. */
  soc: number;
  /** How far that may be off, as a share. */
  off: number;
  by: Reading;
}

/** What was read longer ago tells nothing of today. */
const YOUNG_D = 2;
/** A counter is believed for so long after it was set at full, ms. */
const COUNTS_MS = 86_400_000;
const RESTED_H = 2;
/** At less than this share of its C20 a bank counts as resting. */
const STILL = 1 / 100;
/** How well rest volts tell, as a share: lithium between a fifth and nine tenths hardly at all. */
const LEAD_OFF = 0.1;
const FLAT_OFF = 0.2;
const COUNTER_OFF = 0.05;

/** The charge on a day by the youngest reading that tells it; null where none does. */
export function chargeNow(file: SystemFile, on: number): ChargeNow | null {
  const young = (file.readings ?? [])
    .filter(({ at }) => {
      const day = dayOf(at);
      return day !== null && day <= on && day > on - YOUNG_D;
    })
    .sort((a, b) => Date.parse(b.at ?? '') - Date.parse(a.at ?? ''));
  const set = validEntries(file, on)
    .filter(({ kind }) => kind === 'synchronised')
    .map(({ at }) => Date.parse(at));
  for (const reading of young) {
    if (reading.quantity === 'head_soc') {
      const moment = Date.parse(reading.at ?? '');
      const counted = set.some((at) => moment >= at && moment - at <= COUNTS_MS);
      if (counted && reading.value >= 0 && reading.value <= 1)
        return { soc: reading.value, off: COUNTER_OFF, by: reading };
    }
    const found = byRest(file, reading);
    if (found) return found;
  }
  return null;
}

/** By rest volts, the engine's table turned round; null where the bank did not rest, or was not this one. */
function byRest(file: SystemFile, reading: Reading): ChargeNow | null {
  const { bank } = file.system ?? {};
  if (!bank || reading.subject !== bank.id) return null;
  if (nameToday(reading.quantity) !== 'rest_V') return null;
  const io = createLedger(modelOf(file));
  const { current_A, rested_h } = reading.conditions ?? {};
  const still = typeof current_A === 'number' && Math.abs(current_A) < STILL * c20_Ah(io, bank);
  if (!still && !((rested_h ?? 0) >= RESTED_H)) return null;
  const cell_V = reading.value / cellsInSeries(io, bank);
  const full_V = fullCell_V(io, bank);
  const at = (soc: number) => restCell_V(bank.chemistry, soc, full_V);
  if (!Number.isFinite(cell_V) || !(cell_V > 1) || cell_V > CHEMISTRY[bank.chemistry].neverAbove_V) return null;
  const soc = cell_V <= at(0) ? 0 : cell_V >= at(1) ? 1 : bisect((share) => cell_V - at(share), 0, 1, 1e-6);
  const flat = isLithium(bank.chemistry) && soc >= 0.2 && soc <= 0.9;
  return { soc, off: flat ? FLAT_OFF : LEAD_OFF, by: reading };
}
