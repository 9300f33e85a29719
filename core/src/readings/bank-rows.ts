import { CHEMISTRY, isLithium } from '../chemistry/chemistry';
import { figure } from '../ledger/figures';
import { CAUTIONS } from '../rules/cautions';
import type { Model } from '../system/model';
import type { Bank, System } from '../system/schema';
import type { Conditions } from './conditions';
import type { FiguresAt } from './figures-at';
import { CLAMP, few, VOLTMETER, type Row } from './row';

/** A bank with its figures, and what all of its rows have in common. */
interface Tested {
  bank: Bank;
  found: NonNullable<FiguresAt['bank']>;
  at: Conditions;
  /** Batteries of 12 V that its cells make. */
  twelves: number;
  /** How far rest volts may lie from what is expected, V. */
  resting_V: number;
}

/** Rows of practice D about the bank, what counts for it, and batteries beside it. */
export function bankRows({ system }: Model, bank: Bank, figures: FiguresAt, at: Conditions): Row[] {
  const found = figures.bank;
  if (!found) return [];
  const twelves = (found.cells * CHEMISTRY[bank.chemistry].nominal_V) / 12;
  const resting_V = (isLithium(bank.chemistry) ? 0.02 : 0.05) * twelves;
  const tested: Tested = { bank, found, at, twelves, resting_V };
  return [
    ...postRows(tested),
    ...blockRows(tested),
    ...stringRows(tested),
    ...(system.monitor ? monitorRows(system.monitor.id, found) : []),
  ];
}

/** Lithium iron stands at nearly the same volts from a fifth to nearly full. */
const FLAT = 'at rest, lithium iron has nearly the same voltage at any charge: only a shunt counts it';

const common = (bank: Bank) => ({ subject: bank.id, cautions: [CAUTIONS.bankAmps] });

/** At the posts of the whole bank: rested, under load, while it absorbs. */
function postRows({ bank, found, at, twelves, resting_V }: Tested): Row[] {
  const { rest_V, resistance_ohm, drawn_A, load_V, absorb_V } = found;
  const lithium = isLithium(bank.chemistry);
  const sagged_V = drawn_A * resistance_ohm;
  return [
    {
      ...common(bank),
      quantity: 'rest_V',
      expected: rest_V,
      below: resting_V,
      above: resting_V,
      from: (other) => other.bank?.rest_V,
      cannotTell: CHEMISTRY[bank.chemistry].restBands !== null && FLAT,
      how: `at the posts, rested ${lithium ? '1 h' : '4 h'} and more, at ${figure(100 * at.soc)} % of charge${lithium ? '; flat curve: it tells little about the charge' : ''}`,
      tool: VOLTMETER,
      minutes: 2,
    },
    {
      ...common(bank),
      quantity: 'resistance_mohm',
      expected: 1000 * resistance_ohm,
      below: 300 * resistance_ohm,
      above: 500 * resistance_ohm,
      cannotTell: few(found),
      how: 'voltage drop divided by current, for a 5 to 10 s load step at the posts',
      tool: 'voltmeter and DC clamp meter',
      minutes: 5,
      rule: 'system.sag',
    },
    {
      ...common(bank),
      quantity: 'load_V',
      expected: load_V,
      below: resting_V + 0.5 * sagged_V,
      above: resting_V + 0.3 * sagged_V,
      from: (other) => other.bank?.load_V,
      cannotTell: few(found),
      how: `at the posts with ${figure(drawn_A)} A drawn for 10 s`,
      tool: 'voltmeter and DC clamp meter',
      minutes: 3,
      rule: 'system.sag',
    },
    {
      ...common(bank),
      quantity: 'absorb_V',
      expected: absorb_V,
      below: 0.1 * twelves,
      above: 0.1 * twelves,
      how: 'at the posts during absorption; also read it back on each device',
      tool: VOLTMETER,
      minutes: 5,
      rule: 'settings.agree',
    },
  ];
}

/** Of its blocks and cells, where it is made of several. */
function blockRows({ bank, found, resting_V }: Tested): Row[] {
  const { rest_V, density_kg_L } = found;
  const rows: Row[] = [];
  if (bank.series > 1)
    rows.push({
      ...common(bank),
      quantity: 'blockRest_V',
      expected: rest_V / bank.series,
      below: resting_V / bank.series,
      above: resting_V / bank.series,
      from: (other) => (other.bank ? other.bank.rest_V / bank.series : undefined),
      how: 'every block separately: they should be alike',
      tool: VOLTMETER,
      minutes: 2 * bank.series * bank.parallel,
    });
  if (density_kg_L !== null)
    rows.push({
      ...common(bank),
      quantity: 'density_kg_L',
      expected: density_kg_L,
      below: 0.025,
      above: 0.025,
      from: (other) => other.bank?.density_kg_L ?? undefined,
      how: 'every cell; over 0.025 apart: equalise; still over 0.030 apart: the cell has failed',
      tool: 'hydrometer, goggles, gloves',
      minutes: found.cells * bank.parallel,
      cautions: [CAUTIONS.gas],
    });
  return rows;
}

/** How the strings share the current, where there are several. */
function stringRows({ bank, found }: Tested): Row[] {
  const { shares, drawn_A } = found;
  if (bank.parallel <= 1) return [];
  return shares.map((share, s): Row => ({
    ...common(bank),
    position: { string: s },
    quantity: 'stringCurrent_A',
    expected: -drawn_A * share,
    below: 0.1 * drawn_A * share,
    above: 0.1 * drawn_A * share,
    cannotTell: few(found),
    how: `clamp on the lead of string ${s + 1} with ${figure(drawn_A)} A drawn in all; charging reads above 0`,
    tool: CLAMP,
    minutes: 2,
    rule: 'bank.sharing',
  }));
}

/** What counts for the bank: its zero, and what it reads beside a clamp. */
const monitorRows = (id: string, { drawn_A, share }: Pick<Tested['found'], 'drawn_A' | 'share'>): Row[] => [
  {
    subject: id,
    quantity: 'zero_A',
    expected: 0,
    below: 0.1,
    above: 0.1,
    how: 'everything isolated: no current flows, and the monitor should show that',
    tool: 'the monitor itself',
    minutes: 2,
  },
  {
    subject: id,
    quantity: 'head_A',
    expected: -drawn_A,
    below: 0.02 * drawn_A + 0.5,
    above: 0.02 * drawn_A + 0.5,
    cannotTell: few({ share }),
    how: `against a clamp on the bank\u2019s lead, ${figure(drawn_A)} A drawn`,
    tool: CLAMP,
    minutes: 3,
    rule: 'monitor.coverage',
  },
];

/** A starter battery is kept near full: what it is not tells that it is not charged. Cells of 2 V lead, full at rest. */
const KEPT_SHARE_V = 0.07;

/** What the rest volts of the other batteries should read. */
export const otherBankRows = ({ otherBanks }: System): Row[] =>
  (otherBanks ?? []).map(({ id, chemistry, nominal_V }): Row => {
    const { nominal_V: cell_V, full_V } = CHEMISTRY[chemistry ?? 'flooded'];
    const cells = Math.round(nominal_V / cell_V);
    return {
      subject: id,
      quantity: 'rest_V',
      expected: cells * full_V,
      below: cells * KEPT_SHARE_V,
      above: cells * KEPT_SHARE_V,
      how: 'at its posts, rested: it should be nearly full',
      tool: VOLTMETER,
      minutes: 2,
      cautions: [CAUTIONS.bankAmps],
    };
  });
