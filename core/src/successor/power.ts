import { cellsInSeries } from '../bank/bank';
import { hasCharger } from '../bank/charging';
import { CHEMISTRY, isLithium } from '../chemistry/chemistry';
import { loadsOf } from '../power/loads';
import { figure } from '../ledger/figures';
import { createLedger } from '../ledger/ledger';
import { CHARGER_A, INVERTER_W } from '../rules/sold';
import { mainsSources, withSystem, type Model } from '../system/model';
import { dcDcInput_V } from '../power/design';
import type { OtherBank } from '../system/schema';
import { benchOfKind, down, findingsOf, isBenchOf, leastOf, mostHolding, pathsOf, up, type Bench } from './bench';
import { eyes, line, type SpecLine } from './line';
import { profileLine, terminalsLabel, windowLines } from './solar';
import { partName } from '../conductors/names';

/** Rated in the cool, so that only the place's own heat counts against it. */
const IDEAL_INVERTER = { continuous_W: 5000, continuous_VA: 5000, surge_W: 10_000, ratedAt_C: 25 };

/** What an inverter's or inverter-charger's successor must be (Practice, B). */
export function inverterSpec(bench: Bench<'inverters'>): SpecLine[] {
  const { model } = bench;
  const part = bench.part;
  const loads = loadsOf(model.system, part);
  const least = (field: string, label: string, unit: string, rule: string) =>
    leastOf(bench, {
      field,
      label,
      unit,
      rules: [rule],
      subjects: [part.id],
      ideal: IDEAL_INVERTER,
      sold: INVERTER_W,
    });
  const seconds = Math.max(0, ...loads.map(({ surge_s }) => surge_s ?? 0));
  const needing = findingsOf(
    bench.put({ ...IDEAL_INVERTER, waveform: 'modified' }),
    ['inverter.waveform'],
    [part.id],
  )[0];
  // A modified wave only where every load is known to be content with it.
  const content = loads.length > 0 && loads.every(({ needsSine }) => needsSine === false);
  const lines: (SpecLine | null)[] = [
    line({
      field: 'waveform',
      label: 'Wave',
      test: 'one-of',
      value: content ? 'any' : 'true sine',
      words: content ? ['sine', 'modified'] : ['sine'],
      rule: 'inverter.waveform',
      why: content
        ? ['every load here is recorded as content without a true sine']
        : needing?.working.length
          ? needing.working
          : ['not every load is known to be content without; motors run hot and clocks fast on a modified wave'],
    }),
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
    ratingCeiling(bench),
    ...windowLines(bench, 'minDc_V', 'maxDc_V'),
    cutoffLine(bench),
    idleLine(bench),
    ...chargerInside(bench),
  ];
  if (part.transfer === 'built-in' || part.transfer === 'external' || part.feeds === 'building')
    lines.push(
      line({
        field: 'transfer',
        label: 'Transfer that cannot join both supplies',
        test: 'one-of',
        value: part.transfer === 'external' ? 'external' : 'built-in or external',
        words: part.transfer === 'external' ? ['external', 'built-in'] : ['built-in', 'external'],
        rule: 'inverter.feed',
        why: [part.feeds === 'building' ? 'it feeds a building' : 'as the one that goes'],
      }),
    );
  lines.push(
    line({
      field: 'neutralBond',
      label: 'Neutral bond',
      test: 'one-of',
      value: part.neutralBond ?? 'as the old one',
      words: part.neutralBond ? [part.neutralBond] : ['fixed', 'switched', 'none'],
      why: ['one bond, never two or none; a licensed person decides, with the RCD type'],
      must: Boolean(part.neutralBond),
    }),
    eyes('The same AC volts and hertz', 'what is plugged in was bought for them'),
    eyes(terminalsLabel(bench), 'conductors are not thinned to fit a terminal'),
    {
      ...eyes(
        'Pre-charge: fitted, or a resistor in the kit',
        'its capacitors are charged before the main switch closes',
      ),
      rule: 'inverter.precharge',
      must: false,
    },
  );
  return lines.filter((one) => one !== null);
}

/** The largest rating at which nothing before the inverter gives out: the bank and its cable must carry it all. */
function ratingCeiling(bench: Bench<'inverters'>): SpecLine | null {
  const { value, first, missing } = mostHolding(bench, 'continuous_W', INVERTER_W, ['bank.discharge', 'run.ampacity'], {
    ...IDEAL_INVERTER,
  });
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
    why: [`beyond it the ${first.rule === 'bank.discharge' ? 'bank' : 'cable'} gives out`, ...first.working],
    assumed: first.assumed,
    must: false,
  });
}

/** The cut-off between the protection's trip and the volts that a load leaves at the inverter. */
function cutoffLine(bench: Bench<'inverters'>): SpecLine | null {
  const { model, part } = bench;
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
      ...(hopeless
        ? ['below what the bank may fall to: its cable, joints or the bank are to be changed, not the inverter']
        : []),
      `and not below ${figure(floor)} V: the bank's cut-off${trip ? ", above its protection's trip" : ''}`,
      ...(restart_V ? [`restart at ${figure(restart_V * cells)} V or above: lower, and it hunts`] : []),
    ],
    missing,
    assumed: pathsOf(sags, 'assumed'),
  });
}

function idleLine(bench: Bench<'inverters'>): SpecLine | null {
  const part = bench.part;
  const today = part.idle_W;
  const [asked] = findingsOf(bench.put({ idle_W: 1 }), ['inverter.idle'], [part.id]);
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
      ? [`over ${figure(hours)} h a day; beyond it a fifth of the sun goes into idling`]
      : ['no more than the one that goes'],
    must: false,
  });
}

function chargerInside(bench: Bench<'inverters'>): (SpecLine | null)[] {
  const part = bench.part;
  if (!hasCharger(part)) return [];
  const { bank } = bench.model.system;
  return [
    ...(bank ? currentLines(bench, 'charger.max_A', 'Charger') : []),
    profileLine(bench, 'charger.profiles'),
    inputLimitLine(bench),
  ];
}

/** The AC input limit that can be set down to what the weakest inlet or generator gives for long. */
function inputLimitLine({ model }: Bench<'inverters'>): SpecLine | null {
  const each = mainsSources(model.system).flatMap(({ kind, inlet_A, power_W, ac_V, id }) => {
    const byPower = power_W ? (GENERATOR_SHARE * power_W) / (ac_V ?? 230) : null;
    const amps = kind === 'generator' ? byPower : (inlet_A ?? byPower);
    return amps ? [{ amps, name: partName(model, id) }] : [];
  });
  const [least] = [...each].sort((a, b) => a.amps - b.amps);
  if (!least) return null;
  return line({
    field: 'inputLimit_A',
    label: 'AC input limit that can be set down to',
    test: 'most',
    value: down(least.amps, 0.5),
    exact: least.amps,
    unit: 'A',
    rule: 'charger.input',
    why: [`${least.name} gives ${figure(least.amps)} A for long; charging and what passes through share it`],
    must: false,
  });
}
/** A generator gives so much of its rating for hours (engine, section 5). */
const GENERATOR_SHARE = 0.8;

/** Amps that a charger must bring (lead wants enough), and the most that bank, generator, inlet and alternator allow. */
function currentLines(bench: Bench, field: string, label: string): (SpecLine | null)[] {
  const { bank } = bench.model.system;
  if (!bank) return [];
  const unset = { [field.replace('max_A', 'settings.maxCharge_A')]: null };
  const lines: (SpecLine | null)[] = [];
  const [least] = findingsOf(bench.put({ ...unset, [field]: 0 }), ['bank.charge-min']);
  // Where the sun alone brings enough, the mains charger may be any.
  if (least && (least.missing.length > 0 || least.verdict !== 'holds') && mainsLike(bench)) {
    const exact = least.limit === null ? null : least.limit / (least.tightAbove ?? 1);
    lines.push(
      line({
        field,
        label: `${label}, at least`,
        test: 'least',
        value: exact === null ? null : up(exact, CHARGER_A),
        exact,
        unit: 'A',
        rule: 'bank.charge-min',
        why: least.working,
        missing: least.missing,
        assumed: least.assumed,
      }),
    );
  }
  const { value, first, others, missing } = mostHolding(
    bench,
    field,
    CHARGER_A,
    ['bank.charge-max', 'bank.cold-charge', 'charger.input', 'alternator.load'],
    unset,
  );
  if (first || missing.length > 0)
    lines.push(
      line({
        field,
        label: `${label}, at most`,
        test: 'most',
        value,
        exact: value,
        unit: 'A',
        rule: first?.rule ?? 'bank.charge-max',
        why: first
          ? [
              ...first.working,
              ...(value === null && others ? ['the other sources alone are too much: hold those back first'] : []),
              ...(value === null && !others ? ['no size sold is small enough beside the other sources'] : []),
            ]
          : [],
        missing,
        assumed: first?.assumed ?? [],
        // Over without this part: that is for another device to cure, and hides no candidate.
        must: missing.length === 0 && !(value === null && others),
      }),
    );
  return lines;
}

const mainsLike = (bench: Bench) =>
  isBenchOf(bench, 'inverters') || (isBenchOf(bench, 'chargers') && bench.part.kind === 'mains');

/** A charger is made for one battery voltage, or for several that can be chosen: its sheet must name this one. */
function outputVoltsLine({ system: { nominal_V } }: Model): SpecLine | null {
  return nominal_V
    ? line({
        field: 'output_V',
        label: 'Made for a battery of',
        test: 'one-of',
        value: String(nominal_V),
        words: [String(nominal_V)],
        unit: 'V',
        why: ['a charger for another voltage does not charge this bank, or destroys it'],
      })
    : null;
}

/** What a mains or DC-DC charger's successor must be. */
export function chargerSpec(bench: Bench<'chargers'>): SpecLine[] {
  const part = bench.part;
  const lithium = bench.model.system.bank ? isLithium(bench.model.system.bank.chemistry) : false;
  const direct = part.kind === 'alternator-direct' && lithium;
  const lines: (SpecLine | null)[] = [
    line({
      field: 'kind',
      label: 'Kind',
      test: 'one-of',
      value: direct ? 'dc-dc' : part.kind,
      words: direct ? ['dc-dc'] : [part.kind],
      rule: direct ? 'alternator.load' : null,
      why: [direct ? 'lithium takes all an alternator gives until it burns' : 'as the one that goes'],
    }),
    outputVoltsLine(bench.model),
    ...currentLines(bench, 'max_A', 'Output'),
    profileLine(bench, 'profiles'),
  ];
  if (part.kind === 'mains') {
    lines.push(
      eyes('Plugged into the generator or the inlet, never the inverter', 'on the inverter it only drains the bank'),
    );
    if (lithium) lines.push(eyes('No desulphation pulse; equalising truly off', 'made for lead, it harms lithium'));
  } else {
    const read = dcDcInput_V(createLedger(bench.model), part);
    const volts = Number.isNaN(read) ? null : read;
    if (volts === null)
      lines.push(
        line({
          field: 'input_V',
          label: 'Input volts: those of the vehicle',
          test: 'one-of',
          value: null,
          why: ['12 or 24: read the starter battery, or the plate of the alternator'],
          missing: [`${part.id}.input_V`],
        }),
      );
    else
      lines.push(
        line({
          field: 'input_V',
          label: 'Input for a vehicle of',
          test: 'one-of',
          value: String(volts < 18 ? 12 : 24),
          words: volts < 18 ? ['12', '12.8', '13', '13.6', '14'] : ['24', '25.6', '27', '28'],
          unit: 'V',
          why: ['the starter battery stays'],
        }),
      );
    lines.push(
      {
        ...eyes('A fuse at both ends of its input cable', 'each battery feeds a fault from its own end'),
        rule: 'run.both-ends',
      },
      eyes('An input that enables it by ignition or volts', 'or it empties the starter battery'),
    );
  }
  lines.push(eyes(terminalsLabel(bench), 'conductors are not thinned to fit a terminal'));
  return lines.filter((one) => one !== null);
}

/** What a converter's successor must be. */
export function converterSpec(bench: Bench<'converters'>): SpecLine[] {
  const part = bench.part;
  const { bank } = bench.model.system;
  return [
    leastOf(bench, {
      field: 'max_A',
      label: 'Output',
      unit: 'A',
      rules: ['converter.capacity'],
      subjects: [part.id],
      sold: CHARGER_A,
    }),
    line({
      field: 'out_V',
      label: 'Output volts',
      test: 'one-of',
      value: String(part.out_V),
      words: [String(part.out_V)],
      unit: 'V',
      why: ['what hangs on it stays'],
    }),
    bank ? eyes(inputLabel(bench), 'from the cut-off to the highest volts on the bus') : null,
    eyes(terminalsLabel(bench), 'conductors are not thinned to fit a terminal'),
  ].filter((one) => one !== null);
}

function inputLabel(bench: Bench): string {
  const [top, bottom] = windowLines(bench, 'min', 'max');
  return top?.value && bottom?.value
    ? `Input from ${bottom.value} V to ${top.value} V`
    : "Input stands the bank's volts";
}

/** A generator or an inlet: what all mains charging and the loads that pass through ask of it. */
export function sourceSpec(bench: Bench<'sources'>): SpecLine[] {
  const part = bench.part;
  const inlet = part.kind === 'inlet';
  const found = findingsOf(
    bench.put(inlet ? { inlet_A: 1000, power_W: null } : { power_W: 1e6 }),
    ['charger.input'],
    [part.id],
  )[0];
  if (!found) return [eyes('As the old one', 'no charger is recorded that it must feed')];
  const share = found.tightAbove ?? 1;
  const exact = found.demand === null ? null : found.demand / (inlet ? 1 : 0.8) / share;
  return [
    line({
      field: inlet ? 'inlet_A' : 'power_W',
      label: inlet ? 'Inlet' : 'Rating',
      test: 'least',
      value: exact === null ? null : inlet ? up(exact, [6, 10, 16, 32, 63]) : up(exact, INVERTER_W),
      exact,
      unit: inlet ? 'A' : 'W',
      rule: 'charger.input',
      why: [...found.working, ...(inlet ? [] : ['80 % of its rating for hours'])],
      missing: found.missing,
      assumed: found.assumed,
    }),
    eyes('The same AC volts and hertz', 'what it feeds was bought for them'),
  ];
}

/** A charger that does not stand there yet, in place of what joins another battery to the bank. */
export const JOINING_CHARGER = 'joining-charger';

/** The system with the joint taken out and a DC-DC charger of some amperes in its place. */
export const withJoiningCharger = (model: Model, other: OtherBank, max_A: number): Model =>
  withSystem(model, {
    ...model.system,
    otherBanks: (model.system.otherBanks ?? []).map((one) =>
      one.id === other.id ? { ...one, joinedBy: 'dc-dc' } : one,
    ),
    chargers: [
      ...(model.system.chargers ?? []),
      { id: JOINING_CHARGER, kind: 'dc-dc', max_A, input_V: other.nominal_V, profiles: ['custom'] },
    ],
  });

/**
 * What joins a starter battery to the bank by relay, diode or switch becomes a DC-DC charger: lithium holds a voltage
 * relay shut for ever, and lead behind it is emptied (Practice, A). Specified as the charger that it must become.
 */
export function joinSpec(bench: Bench<'otherBanks'>): SpecLine[] {
  const { model, part } = bench;
  if (!part.joinedBy || part.joinedBy === 'none' || part.joinedBy === 'dc-dc')
    return [eyes('Nothing joins it to the bank', 'it has its own fuse and its own charger')];
  const joined = withJoiningCharger(model, part, CHARGER_A[0]);
  const charger = benchOfKind(joined, JOINING_CHARGER, 'chargers');
  return charger ? chargerSpec(charger).map((one) => (one.field === 'kind' ? { ...one, why: [JOIN_WHY] } : one)) : [];
}
const JOIN_WHY = 'a relay or diode joins unlike batteries: each empties or overcharges the other';
