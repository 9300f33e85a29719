import { charger_A, everyCharger, sourceOfCharger } from '../bank/charging';
import { chargesElsewhere } from '../system/model';
import { figure } from '../ledger/figures';
import type { Ledger } from '../ledger/ledger';
import type { Charger, Source, System } from '../system/schema';
import { dcDcInput_A } from './design';
import { partName } from '../conductors/names';

/** An alternator with all that draws on it. */
export interface OnAlternator {
  source: Source | undefined;
  chargers: Charger[];
}

/** Chargers by the alternator that they live on; where none is recorded, those that name an equal one are taken together. */
export function alternators({ chargers, ...system }: System): OnAlternator[] {
  const found = new Map<string, OnAlternator>();
  for (const charger of chargers ?? []) {
    // What charges another battery from this one lives on no alternator, unless it names it.
    if (charger.kind === 'mains' || (!charger.sourceId && chargesElsewhere(system, charger))) continue;
    const source = sourceOfCharger({ ...system, chargers }, charger);
    const key = source ? `source ${source.id}` : `rated ${charger.alternator_A ?? '?'}`;
    const known = found.get(key);
    if (known) known.chargers.push(charger);
    else found.set(key, { source, chargers: [charger] });
  }
  return [...found.values()];
}

/** What an alternator gives for long, A: 60 % of its rating, less the vehicle's own 25 A. Planning values. */
export function alternatorLimit_A(io: Ledger, { source, chargers }: OnAlternator): number {
  const [first] = chargers;
  const rating = source?.rating_A ?? first?.alternator_A;
  const path = source && source.kind === 'alternator' ? `${source.id}.rating_A` : `${first?.id ?? ''}.alternator_A`;
  return Math.max(0, 0.6 * io.need(path, rating) - 25);
}

/** What draws on it, A: each at what it is set to. */
export function alternatorDraw_A(io: Ledger, { chargers }: OnAlternator): number {
  const { system } = io.model;
  return chargers.reduce((sum, charger) => {
    const device = everyCharger(system).find(({ id }) => id === charger.id);
    const output = device ? charger_A(io, device) : charger.max_A;
    const amps = charger.kind === 'dc-dc' ? dcDcInput_A(io, charger, output) : charger.max_A;
    io.work(`${partName(io.model, charger.id)} draws ${figure(amps)} A`);
    return sum + amps;
  }, 0);
}
