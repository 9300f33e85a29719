import type { PartKind } from '../parts/kinds';
import { worstFirst, type Finding } from './finding';

/**
 * Of a part that has nothing the matter with it, the findings that tell most about it, most telling first: what a
 * technician asks of it. A controller's amperes, not its battery window; a bank's days, not its count of strings.
 */
const TELLING: Partial<Record<PartKind, readonly string[]>> = {
  arrays: ['pv.cold-voltage', 'pv.hot-voltage'],
  controllers: ['pv.output-current', 'pv.power', 'pv.input-current'],
  bank: ['bank.autonomy', 'energy.worst-month', 'bank.discharge', 'bank.charge-max'],
  inverters: ['inverter.continuous', 'inverter.surge', 'system.sag'],
  chargers: ['alternator.load', 'charger.profile'],
  sources: ['charger.input', 'alternator.load'],
  converters: ['converter.capacity'],
  distribution: ['distribution.rating', 'distribution.slots'],
  runs: ['run.ampacity', 'run.drop'],
  switches: ['switch.rating'],
  monitor: ['monitor.shunt'],
};

/**
 * The one finding that a part shows: the gravest, as long as it is over, tight or unknown; of what is OK the one
 * that tells most. Null where nothing was judged.
 * @param about findings of this part
 */
export function keyFinding(kind: PartKind, about: readonly Finding[]): Finding | null {
  const sorted = about.filter(({ verdict }) => verdict !== 'note').sort(worstFirst);
  const [worst] = sorted;
  if (!worst || worst.verdict === 'over' || worst.verdict === 'tight') return worst ?? null;
  const alike = sorted.filter(({ verdict }) => verdict === worst.verdict);
  const telling = TELLING[kind] ?? [];
  const rank = ({ rule }: Finding) => (telling.includes(rule) ? telling.indexOf(rule) : telling.length);
  return [...alike].sort((a, b) => rank(a) - rank(b) || figured(b) - figured(a) || worstFirst(a, b))[0] ?? worst;
}

const figured = ({ demand, limit }: Finding) => Number(demand !== null && limit !== null);
