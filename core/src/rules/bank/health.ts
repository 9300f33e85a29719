import { familyOf, isLithium } from '../../chemistry/chemistry';
import type { Bank } from '../../system/schema';
import { figure } from '../../ledger/figures';
import { bankCase, present } from './cases';
import { rule } from '../rule';

/** What is left of a bank, where somebody measured it or its monitor says. */

/** Below it power fails without warning, whatever the chemistry; planning value. */
const OUTAGE_BELOW_PCT = 50;

const health = rule<Bank>({
  id: 'bank.health',
  title: 'Bank health',
  consequence: 'life',
  bearsOn: ['bank'],
  curedByLimit: false,
  // What an age alone would give is no measurement, and condemns no bank.
  cases: (model) => bankCase(model).filter(({ about }) => present(about.health_pct)),
  evaluate(io, bank) {
    const demand = io.need(`${bank.id}.health_pct`, bank.health_pct);
    const limit = familyOf(bank.chemistry).worn_pct;
    io.work(`${figure(demand)} % of its capacity when new; worn out below ${figure(limit)} %`);
    return {
      ratio: { demand, limit, unit: '%', sense: 'min', tightAbove: 0.875 },
      ...(demand < OUTAGE_BELOW_PCT ? { consequence: 'outage' as const } : {}),
    };
  },
  sentence({ demand, limit, verdict }) {
    const left = `The bank has ${figure(demand ?? NaN)} % of its capacity left`;
    if (verdict === 'over') return `${left}; below ${figure(limit ?? NaN)} % it is worn out. Plan a new bank.`;
    return verdict === 'tight' ? `${left}. Plan for a new one.` : `${left}.`;
  },
  remedies: (_, bank) => [
    {
      title: 'A new bank',
      detail: isLithium(bank.chemistry)
        ? 'the same packs, new; Plan compares others and sizes them for the use'
        : 'the same blocks, all of them new; Plan sizes it for the use, in lead or in lithium',
      changes: [{ op: 'set', at: 'bank', id: bank.id, value: { age_y: 0, health_pct: 100, ageSpread_months: 0 } }],
    },
  ],
});

/** Rules of what time did to a bank. */
export const bankHealthRules = [health];
