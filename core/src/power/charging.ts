import { charger_A, chargingDevices, occasionsOf } from '../bank/charging';
import { figure } from '../ledger/figures';
import type { Ledger } from '../ledger/ledger';
import { delivered_A, missLooseArrays, outputGroups } from '../pv/controllers';
import { OCCASIONS, type Occasion } from '../system/schema';

/** What charges the bank at once. */

/** A charger with the amperes that it brings, and when it runs. */
export interface Charging {
  id: string;
  name: string;
  amps: number;
  fromMains: boolean;
  occasions: readonly Occasion[];
}

/** Amps of each charger and each inverter's charger, by its setting where that is lower. */
export const chargerCurrents = (io: Ledger): Charging[] =>
  chargingDevices(io.model.system)
    .filter(({ occasion }) => occasion !== 'sun')
    .map((device) => ({
      id: device.id,
      name: device.name,
      amps: charger_A(io, device),
      fromMains: device.occasion === 'mains',
      occasions: occasionsOf(io.model.system, device),
    }));

/** What all controllers put into the bank, A; `share` of the arrays' push. */
export const sun_A = (io: Ledger, share = 1) => {
  missLooseArrays(io);
  return outputGroups(io.model.system)
    .filter(({ arrays }) => arrays.length > 0)
    .reduce((sum, group) => sum + delivered_A(io, group, share), 0);
};

const OCCASION_WORDS: Record<Occasion, string> = {
  driving: 'while driving',
  plugged: 'plugged in',
  generator: 'with the generator running',
};

/** The most that flows into the bank at once, A: the sun, and the chargers of the occasion that brings most. */
export function allCharging_A(io: Ledger): number {
  const sun = sun_A(io);
  const chargers = chargerCurrents(io);
  const sums = OCCASIONS.map((occasion) => {
    const of = chargers.filter(({ occasions }) => occasions.includes(occasion));
    return { occasion, of, amps: of.reduce((sum, { amps }) => sum + amps, 0) };
  }).filter(({ of }) => of.length > 0);
  // Written so that an unknown current wins, and with it the unknown.
  const most = sums.reduce<(typeof sums)[number] | null>(
    (best, each) => (best && !(each.amps > best.amps || Number.isNaN(each.amps)) ? best : each),
    null,
  );
  if (!most) return sun;
  for (const { name, amps } of most.of) io.work(`${OCCASION_WORDS[most.occasion]}: ${name} adds ${figure(amps)} A`);
  return sun + most.amps;
}
