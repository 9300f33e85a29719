import { figure } from '../ledger/figures';
import { CAUTIONS } from '../rules/cautions';
import { mainsSources, type Model } from '../system/model';
import type { ChargerAt, FiguresAt, InverterAt } from './figures-at';
import { CLAMP, VOLTMETER, type Row } from './row';

/** Rows of practice D about inverters, chargers and the site as a whole. */
export function inverterRows({ system }: Model, figures: FiguresAt): Row[] {
  const twelves = (system.nominal_V ?? 12) / 12;
  return [...figures.inverters].flatMap(([id, found]): Row[] => {
    const inverter = system.inverters?.find((one) => one.id === id);
    // By its plate, else by what else feeds the same outlets; never guessed from where in the world it stands.
    const supply_V = inverter?.ac_V ?? mainsSources(system).find(({ ac_V }) => ac_V)?.ac_V ?? null;
    const { idle_A } = found;
    return [
      {
        subject: id,
        quantity: 'idle_A',
        expected: idle_A,
        below: 0.2 * idle_A,
        above: 0.2 * idle_A,
        how: 'clamp on its DC lead, switched on, nothing plugged in',
        tool: CLAMP,
        minutes: 3,
        rule: 'inverter.idle',
      },
      ...outletRows(id, supply_V, inverter?.ac_Hz ?? null, inverter?.waveform === 'modified'),
      ...lowVoltRows(id, found, twelves),
    ];
  });
}

const READ_PLATE = 'not recorded: read its nameplate';

/** At its outlets: volts, frequency, the bond of neutral and earth. */
const outletRows = (id: string, supply_V: number | null, supply_Hz: number | null, modified: boolean): Row[] => [
  {
    subject: id,
    quantity: 'ac_V',
    expected: supply_V,
    below: 0.05 * (supply_V ?? 0),
    above: 0.05 * (supply_V ?? 0),
    cannotTell:
      supply_V === null ? READ_PLATE : modified && 'a modified wave needs a true-RMS meter and its maker\u2019s figure',
    how: 'at its outlet, without load and under load',
    tool: 'true-RMS voltmeter',
    minutes: 2,
    licensed: true,
  },
  {
    subject: id,
    quantity: 'ac_Hz',
    expected: supply_Hz,
    below: 0.005 * (supply_Hz ?? 0),
    above: 0.005 * (supply_Hz ?? 0),
    cannotTell: supply_Hz === null && READ_PLATE,
    how: 'at its outlet; its plate says which frequency it is made for',
    tool: 'true-RMS voltmeter with frequency',
    minutes: 1,
    licensed: true,
  },
  {
    subject: id,
    quantity: 'neutralEarth_ohm',
    expected: 1,
    below: 0,
    above: 0,
    bound: 'most',
    how: 'one bond in each mode, and the RCD trips: by a licensed person',
    tool: 'installation tester',
    minutes: 10,
    licensed: true,
  },
];

/** At its DC side: where it lets go, and how near the hardest start comes to that. */
function lowVoltRows(id: string, { minDc_V, cutoff_V }: InverterAt, twelves: number): Row[] {
  const wanted_V = cutoff_V === null ? null : cutoff_V + 0.3 * twelves;
  const rows: Row[] = [];
  if (cutoff_V !== null)
    rows.push({
      subject: id,
      quantity: 'cutoff_V',
      expected: cutoff_V,
      below: 0.1 * twelves,
      above: 0.1 * twelves,
      how: 'at its terminals when it cuts off, within 2 s of its delay; with a bench supply, or read from its menu',
      tool: VOLTMETER,
      minutes: 5,
      rule: 'cutoff.order',
    });
  // Where no voltage satisfies the start there is nothing to expect: the rule says so.
  if (minDc_V !== null && Number.isFinite(minDc_V))
    rows.push({
      subject: id,
      quantity: 'minDc_V',
      expected: minDc_V,
      // Whatever is expected, what counts is that it stays clear of the cut-off.
      below: wanted_V === null ? 0.1 * twelves : minDc_V - wanted_V,
      above: 0.1 * twelves,
      from: (other) => other.inverters.get(id)?.minDc_V ?? undefined,
      cannotTell:
        wanted_V !== null &&
        minDc_V < wanted_V &&
        'calculation already puts it within 0.3 V per 12 V of its cut-off: see the voltage under load',
      how: `at its DC terminals through the hardest start${wanted_V === null ? '' : `, to stay above ${figure(wanted_V)} V`}; a min-hold of 100 ms misses it`,
      tool: 'oscilloscope or fast min-hold voltmeter',
      minutes: 5,
      rule: 'system.sag',
    });
  return rows;
}

/** Which of the three holds a charger to what it gives. */
const chargerBinds = ({ out_A, most_A, takes_A }: ChargerAt): string =>
  out_A >= most_A
    ? 'the charger is the limit'
    : out_A >= takes_A
      ? 'the bank takes no more: this is normal'
      : 'its voltage pushes no more into a bank this full: this is normal';

/** What chargers should give, A. */
export const chargerRows = ({ system }: Model, figures: FiguresAt): Row[] =>
  [...figures.chargers].map(([id, found]): Row => {
    const { out_A, most_A } = found;
    const mains = system.chargers?.find((one) => one.id === id)?.kind === 'mains';
    return {
      subject: id,
      quantity: 'out_A',
      expected: out_A,
      below: 0.08 * out_A,
      above: 0.08 * out_A,
      from: (other) => other.chargers.get(id)?.out_A,
      how: `clamp on its output, nothing else charging, no sun; it can deliver ${figure(most_A)} A, ${chargerBinds(found)}`,
      tool: CLAMP,
      minutes: 3,
      cautions: mains ? [CAUTIONS.chargerLoop] : [],
      rule: 'bank.charge-min',
    };
  });

/** Tests of the whole: polarity, insulation, continuity. */
export function siteRows({ system }: Model, figures: FiguresAt): Row[] {
  const rows: Row[] = [];
  if (system.bank)
    rows.push({
      subject: 'site',
      quantity: 'parasitic_A',
      expected: figures.parasitic_A,
      below: 0.2 * figures.parasitic_A,
      above: 0.2 * figures.parasitic_A,
      from: (other) => other.parasitic_A,
      cannotTell: figures.parasitic_A === 0 && 'no load that stays on is recorded with its watts',
      how: 'all loads and the inverter off, no sun: the current that still leaves the bank',
      tool: 'clamp meter that reads milliamperes, or a meter in series',
      minutes: 5,
      cautions: [CAUTIONS.bankAmps],
    });
  if ((system.arrays ?? []).length > 0)
    rows.push({
      subject: 'site',
      quantity: 'frameEarth_ohm',
      expected: 0.2,
      below: 0,
      above: 0,
      bound: 'most',
      how: 'from each frame to the earth bar',
      tool: 'low-resistance meter',
      minutes: 5,
      licensed: true,
    });
  return rows;
}
