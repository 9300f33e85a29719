import type { RuleId } from '../rules/ids';
import { cellsInSeries } from '../bank/bank';
import { hasCharger } from '../bank/charging';
import { CHEMISTRY } from '../chemistry/chemistry';
import { loadsOf } from '../power/loads';
import { figure } from '../ledger/figures';
import { createLedger } from '../ledger/ledger';
import { INVERTER_W } from '../rules/cures/sold';
import { mainsSources } from '../system/model';
import type { Load } from '../system/schema';
import { down, findingsOf, leastOf, mostHolding, pathsOf, type SpecInputs } from './in-its-place';
import { eyes, line, type SpecLine } from './line';
import { partName } from '../conductors/names';
import { GENERATOR_SHARE } from '../power/ac';
import { profileLine, terminalsLabel, windowLines } from './on-the-bank';
import { chargerCurrents } from './chargers';

/** Rated in the cool, so that only the place's own heat counts against it. */
const IDEAL_INVERTER = { continuous_W: 5000, continuous_VA: 5000, surge_W: 10_000, ratedAt_C: 25 };

/** What an inverter's or inverter-charger's successor must be (Practice, B). */
export function inverterSpec(inputs: SpecInputs<'inverters'>): SpecLine[] {
  const loads = loadsOf(inputs.model.system, inputs.part);
  const least = (field: string, label: string, unit: string, rule: RuleId) =>
    leastOf(inputs, {
      field,
      label,
      unit,
      rules: [rule],
      subjects: [inputs.part.id],
      ideal: IDEAL_INVERTER,
      sold: INVERTER_W,
    });
  const seconds = Math.max(0, ...loads.map(({ surge_s }) => surge_s ?? 0));
  const lines: (SpecLine | null)[] = [
    waveLine(inputs, loads),
    least('continuous_W', 'Running, at 25 degC', 'W', 'inverter.continuous'),
    least('continuous_VA', 'Running, at 25 degC', 'VA', 'inverter.apparent'),
    least('surge_W', 'Surge', 'W', 'inverter.surge'),
    seconds > 0
      ? line({
          field: 'surge_s',
          label: 'Surge, for',
          test: 'least',
          value: seconds,
          exact: seconds,
          unit: 's',
          rule: 'inverter.surge',
          why: ['the longest start among its loads'],
        })
      : null,
    ratingCeiling(inputs),
    ...windowLines(inputs, 'minDc_V', 'maxDc_V'),
    cutoffLine(inputs),
    idleLine(inputs),
    ...chargerInside(inputs),
    transferLine(inputs),
    ...besides(inputs),
  ];
  return lines.filter((one) => one !== null);
}

/** A modified wave only where every load is known to be content with it. */
function waveLine(inputs: SpecInputs<'inverters'>, loads: readonly Load[]): SpecLine | null {
  const needing = findingsOf(
    inputs.put({ ...IDEAL_INVERTER, waveform: 'modified' }),
    ['inverter.waveform'],
    [inputs.part.id],
  )[0];
  const content = loads.length > 0 && loads.every(({ needsSine }) => needsSine === false);
  return line({
    field: 'waveform',
    label: 'Waveform',
    test: 'one-of',
    value: content ? 'any' : 'pure sine',
    words: content ? ['sine', 'modified'] : ['sine'],
    rule: 'inverter.waveform',
    why: content
      ? ['every load here is recorded as fine without a pure sine wave']
      : needing?.working.length
        ? needing.working
        : ['not every load is known to run without one; on a modified wave motors run hot and clocks fast'],
  });
}

/** Where it feeds a building, or the one that goes had a transfer. */
function transferLine({ part }: SpecInputs<'inverters'>): SpecLine | null {
  if (part.transfer !== 'built-in' && part.transfer !== 'external' && part.feeds !== 'building') return null;
  return line({
    field: 'transfer',
    label: 'Transfer switch that cannot connect both supplies',
    test: 'one-of',
    value: part.transfer === 'external' ? 'external' : 'built-in or external',
    words: part.transfer === 'external' ? ['external', 'built-in'] : ['built-in', 'external'],
    rule: 'inverter.feed',
    why: [part.feeds === 'building' ? 'it feeds a building' : 'same as the old one'],
  });
}

/** What is not reckoned but must be seen to. */
function besides(inputs: SpecInputs<'inverters'>): (SpecLine | null)[] {
  const { part } = inputs;
  return [
    line({
      field: 'neutralBond',
      label: 'Neutral bond',
      test: 'one-of',
      value: part.neutralBond ?? 'as the old one',
      words: part.neutralBond ? [part.neutralBond] : ['fixed', 'switched', 'none'],
      why: ['one bond, never two or none; a licensed person decides, with the RCD type'],
      must: Boolean(part.neutralBond),
    }),
    eyes('The same AC voltage and frequency', 'the appliances were bought for them'),
    eyes(terminalsLabel(inputs), 'never cut strands to fit a terminal'),
    {
      ...eyes(
        'Pre-charge: built in, or a resistor in the kit',
        'its capacitors are charged before the main switch closes',
      ),
      rule: 'inverter.precharge',
      must: false,
    },
  ];
}

/** The largest rating at which nothing before the inverter gives out: the bank and its cable must carry it all. */
function ratingCeiling(inputs: SpecInputs<'inverters'>): SpecLine | null {
  const { value, first, missing } = mostHolding(
    inputs,
    'continuous_W',
    INVERTER_W,
    ['bank.discharge', 'run.ampacity'],
    {
      ...IDEAL_INVERTER,
    },
  );
  // Over at any rating: that is no bound on this part, and shows among what the swap touches.
  if (missing.length > 0 || !first || value === null) return null;
  return line({
    field: 'continuous_W',
    label: 'Running, at most',
    test: 'most',
    value,
    exact: value,
    unit: 'W',
    rule: first.rule,
    why: [`above that the ${first.rule === 'bank.discharge' ? 'bank' : 'cable'} reaches its limit`, ...first.working],
    assumed: first.assumed,
    must: false,
  });
}

/** The cut-off between the protection's trip and the volts that a load leaves at the inverter. */
function cutoffLine(inputs: SpecInputs<'inverters'>): SpecLine | null {
  const { model, part } = inputs;
  const { bank, nominal_V } = model.system;
  if (!bank || !nominal_V) return null;
  const sags = findingsOf(model, ['system.sag'], [part.id]);
  const missing = pathsOf(sags, 'missing');
  const lowest = Math.min(...sags.map(({ demand, tightAbove }) => (demand ?? 0) * (tightAbove ?? 1)));
  const cells = cellsInSeries(createLedger(model), bank);
  const exact = missing.length > 0 || sags.length === 0 ? null : lowest - (0.3 * nominal_V) / 12;
  const trip = bank.protection?.lowTrip_V_cell;
  const { cutoff_V, restart_V } = CHEMISTRY[bank.chemistry];
  const floor = cells * Math.max(cutoff_V, trip ? trip + 0.2 : 0);
  // Below what the bank itself may fall to no inverter can help: cable, joints or bank come first.
  const hopeless = exact !== null && exact < floor;
  return line({
    field: 'lowCutoff_V',
    label: 'Cut-off no higher than',
    must: !hopeless,
    test: 'most',
    value: exact === null ? null : down(exact, 0.1),
    exact,
    unit: 'V',
    rule: 'system.sag',
    why: [
      ...(sags[0]?.working ?? []),
      ...(hopeless ? ['lower than the bank may go: change its cable, joints or the bank, not the inverter'] : []),
      `and not below ${figure(floor)} V: the bank's cut-off${trip ? ", above its protection's trip" : ''}`,
      ...(restart_V ? [`reconnect at ${figure(restart_V * cells)} V or above; lower, and it cycles on and off`] : []),
    ],
    missing,
    assumed: pathsOf(sags, 'assumed'),
  });
}

function idleLine(inputs: SpecInputs<'inverters'>): SpecLine | null {
  const part = inputs.part;
  const today = part.idle_W;
  const [asked] = findingsOf(inputs.put({ idle_W: 1 }), ['inverter.idle'], [part.id]);
  const hours = part.idleHours_d ?? 24;
  // The rule counts Wh a day against the harvest: one watt's share says how many fit.
  const byRule = asked?.use && asked.use > 0 ? 1 / asked.use : null;
  const exact = today && byRule ? Math.min(today, byRule) : (today ?? byRule);
  if (!exact) return null;
  const ruled = byRule !== null && exact === byRule;
  return line({
    field: 'idle_W',
    label: 'Idle draw, at most',
    test: 'most',
    value: down(exact, 0.5),
    exact,
    unit: 'W',
    rule: 'inverter.idle',
    why: ruled
      ? [`over ${figure(hours)} h a day; above that, idle draw takes a fifth of the solar yield`]
      : ['no more than the old one'],
    must: false,
  });
}

function chargerInside(inputs: SpecInputs<'inverters'>): (SpecLine | null)[] {
  const part = inputs.part;
  if (!hasCharger(part)) return [];
  const { bank } = inputs.model.system;
  return [
    ...(bank ? chargerCurrents(inputs, 'charger.max_A', 'Charger') : []),
    profileLine(inputs, 'charger.profiles'),
    inputLimitLine(inputs),
  ];
}

/** How far down the AC input limit must go: to what the weakest inlet or generator gives for long. */
function inputLimitLine({ model }: SpecInputs<'inverters'>): SpecLine | null {
  const each = mainsSources(model.system).flatMap(({ kind, inlet_A, power_W, ac_V, id }) => {
    const byPower = power_W ? (GENERATOR_SHARE * power_W) / (ac_V ?? 230) : null;
    const amps = kind === 'generator' ? byPower : (inlet_A ?? byPower);
    return amps ? [{ amps, name: partName(model, id) }] : [];
  });
  const [least] = [...each].sort((a, b) => a.amps - b.amps);
  if (!least) return null;
  return line({
    field: 'inputLimit_A',
    label: 'AC input limit adjustable down to',
    test: 'most',
    value: down(least.amps, 0.5),
    exact: least.amps,
    unit: 'A',
    rule: 'charger.input',
    why: [`${least.name} gives ${figure(least.amps)} A continuously; charging and passed-through loads share it`],
    must: false,
  });
}
