import { tableOf } from '../parts/objects';
import { usable_Wh } from '../power/energy';
import { energyRoom, loadLadder, type EnergyRoom, type Rung } from '../headroom/headroom';
import { worseDay_Wh } from '../power/loads';
import { check } from '../rules/check';
import { CONSEQUENCE_ORDER, type Consequence, type Finding } from '../rules/finding';
import { createLedger } from '../ledger/ledger';
import type { Model } from '../system/model';

/** Where a system stands, in the figures by which two of them are compared. */
export interface SystemFigures {
  /** Findings over, by consequence. */
  over: Record<Consequence, number>;
  tight: number;
  unknown: number;
  /** The next watts that turn something over, and what; null where nothing can be said. */
  load: Rung | null;
  energy: EnergyRoom;
  /** Wh from the bank as it is; null where that cannot be said. */
  usable_Wh: number | null;
  /** Days without sun. */
  autonomy_d: number | null;
  /** Harvest of the worst month over what it must be, %. */
  worstMonth_pct: number | null;
  /** Of the bank's blocks. */
  mass_kg: number | null;
}

/** What a system has over, can take and gives, for comparisons side by side. */
export function systemFigures(model: Model): SystemFigures {
  const findings = check(model);
  const over = tableOf(CONSEQUENCE_ORDER, () => 0);
  for (const { verdict, consequence } of findings) if (verdict === 'over') over[consequence]++;
  const count = (verdict: Finding['verdict']) => findings.filter((finding) => finding.verdict === verdict).length;
  const { bank } = model.system;
  const io = createLedger(model);
  const day = worseDay_Wh(io);
  const usable = bank ? usable_Wh(io, bank, day) : Number.NaN;
  const worst = findings.find(({ rule }) => rule === 'energy.worst-month');
  const autonomy = findings.find(({ rule }) => rule === 'bank.autonomy');
  const each = bank?.block?.mass_kg;
  return {
    over,
    tight: count('tight'),
    unknown: count('unknown'),
    load: loadLadder(model, 1, findings).rungs[0] ?? null,
    energy: energyRoom(model),
    usable_Wh: io.missing.size === 0 && Number.isFinite(usable) ? usable : null,
    autonomy_d: autonomy?.demand ?? null,
    worstMonth_pct: worst?.demand && worst.limit ? (100 * worst.demand) / worst.limit : null,
    mass_kg: bank && each ? each * bank.series * bank.parallel : null,
  };
}
