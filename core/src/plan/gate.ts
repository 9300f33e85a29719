import type { RuleId } from '../rules/ids';
import { chargingDeviceOf } from '../bank/charging';
import { cellsPerBlock } from '../chemistry/chemistry';
import { sentenceOf } from '../rules/check';
import type { Finding, Verdict } from '../rules/finding';
import type { Model } from '../system/model';
import type { PartVerdict } from './parts-after';
import { partName } from '../conductors/names';

/** One question that a conversion must pass before it is ordered (Practice, A: the gate). */
export interface GateLine {
  id: 'cells-temperature' | 'energy' | 'current' | 'one-fewer' | 'sources' | 'bus' | 'cells' | 'dark' | 'consent';
  label: string;
  /** `over`: refuse or redesign; `tight`: passes once what is named is done; `note`: a person's to answer. */
  verdict: Verdict;
  why: string;
}

/**
 * The gate, judged with the new bank in place by its findings (worst first) where they speak, and by what is on the bus where they do
 * not. What is not known does not pass.
 */
export function gateOf(
  before: Model,
  after: Model,
  findings: readonly Finding[],
  parts: readonly PartVerdict[],
  enough: boolean,
): GateLine[] {
  const { bank } = after.system;
  const byRule = (rules: readonly RuleId[], otherwise: string): Pick<GateLine, 'verdict' | 'why'> => {
    const worst = findings.find(({ rule }) => rules.includes(rule));
    if (!worst) return { verdict: 'unknown', why: `${otherwise}: not recorded.` };
    return worst.verdict === 'holds'
      ? { verdict: 'holds', why: otherwise }
      : { verdict: worst.verdict, why: sentenceOf(after, worst) };
  };
  const many = (bank?.parallel ?? 1) > 1;
  const swapped = parts
    .filter(({ id, verdict }) => (verdict === 'replace' || verdict === 'remove') && chargesFrom(before, id))
    .map(({ id }) => partName(before, id));

  const onBus = wildOnBus(after);
  const { cells, assumed } = bank ? cellsPerBlock(bank) : { cells: null, assumed: false };

  return [
    line(
      'cells-temperature',
      'Temperature at the cells',
      byRule(['bank.low-temperature', 'bank.cold-charge', 'bank.high-temperature'], 'Within the limits of the cells'),
    ),
    line(
      'energy',
      'Energy',
      enough ? { verdict: 'holds', why: 'Meets the need.' } : { verdict: 'over', why: 'Less than is needed.' },
    ),
    line(
      'current',
      'Current, continuous and for starting',
      byRule(['bank.discharge', 'bank.surge'], 'Within the limits of its protection'),
    ),
    line(
      'one-fewer',
      'The same with one pack fewer',
      many
        ? byRule(['bank.n-1'], 'The others carry the load')
        : { verdict: 'note', why: 'Only one pack: no others to carry the load.' },
    ),
    line(
      'sources',
      'Every charger can be set or stopped',
      swapped.length > 0
        ? { verdict: 'tight', why: `Once these are changed: ${swapped.join(', ')}.` }
        : { verdict: 'holds', why: 'All of them can be set to it.' },
    ),
    line(
      'bus',
      'Nothing on the bus that must not lose its battery',
      onBus.length > 0
        ? { verdict: 'over', why: `Still connected: ${onBus.join(', ')}.` }
        : { verdict: 'holds', why: 'No alternator connected directly, no PWM controller, no connected battery.' },
    ),
    line(
      'cells',
      'Cells counted',
      cells === null || assumed
        ? { verdict: 'unknown', why: '15 or 16? Read the charging voltage on the pack.' }
        : { verdict: 'holds', why: `${cells} in a block, ${cells * (bank?.series ?? 1)} in series.` },
    ),
    line('dark', 'Losing all power at once is acceptable', {
      verdict: 'note',
      why: many
        ? 'Where power must never fail: each pack on its own fuse, each able to carry the whole load, with an alarm first.'
        : 'When its protection opens, all power fails at once. If that must never happen, use two packs.',
    }),
    line('consent', 'Insurer, class or landlord agree', { verdict: 'note', why: 'Ask before ordering.' }),
  ];
}

const line = (id: GateLine['id'], label: string, { verdict, why }: Pick<GateLine, 'verdict' | 'why'>): GateLine => ({
  id,
  label,
  verdict,
  why,
});

/** What may push on when the protection opens, or cannot be told to stop. */
function wildOnBus(model: Model): string[] {
  const { chargers, controllers, otherBanks } = model.system;
  const wild = [
    ...(chargers ?? []).filter(({ kind, externallyRegulated }) => kind === 'alternator-direct' && !externallyRegulated),
    ...(controllers ?? []).filter(({ type }) => type === 'pwm'),
  ].map(({ id }) => partName(model, id));
  const joined = (otherBanks ?? []).filter(({ joinedBy }) => joinedBy && joinedBy !== 'none' && joinedBy !== 'dc-dc');
  return [...wild, ...joined.map(({ role, joinedBy }) => `the ${role} battery by its ${joinedBy}`)];
}

const chargesFrom = ({ system }: Model, id: string) => chargingDeviceOf(system, id) !== undefined;
