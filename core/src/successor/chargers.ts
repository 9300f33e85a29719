import { isLithium } from '../chemistry/chemistry';
import { createLedger } from '../ledger/ledger';
import { CHARGER_A } from '../rules/cures/sold';
import { withSystem, type Model } from '../system/model';
import { dcDcInput_V } from '../power/design';
import type { OtherBank } from '../system/schema';
import { inputsOfKind, findingsOf, isInputsOf, mostHolding, up, type SpecInputs } from './in-its-place';
import { eyes, line, type SpecLine } from './line';
import { profileLine, terminalsLabel } from './on-the-bank';

/** Amps that a charger must bring (lead wants enough), and the most that bank, generator, inlet and alternator allow. */
export function chargerCurrents(inputs: SpecInputs, field: string, label: string): (SpecLine | null)[] {
  const { bank } = inputs.model.system;
  if (!bank) return [];
  const unset = { [field.replace('max_A', 'settings.maxCharge_A')]: null };
  const lines: (SpecLine | null)[] = [];
  const [least] = findingsOf(inputs.put({ ...unset, [field]: 0 }), ['bank.charge-min']);
  // Where the sun alone brings enough, the mains charger may be any.
  if (least && (least.missing.length > 0 || least.verdict !== 'holds') && mainsLike(inputs)) {
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
    inputs,
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
              ...(value === null && others ? ['the other chargers alone are too much: limit those first'] : []),
              ...(value === null && !others ? ['no size sold is small enough with the other chargers'] : []),
            ]
          : [],
        missing,
        assumed: first?.assumed ?? [],
        // Over without this part: that is for another device to cure, and hides none.
        must: missing.length === 0 && !(value === null && others),
      }),
    );
  return lines;
}

const mainsLike = (inputs: SpecInputs) =>
  isInputsOf(inputs, 'inverters') || (isInputsOf(inputs, 'chargers') && inputs.part.kind === 'mains');

/** A charger is made for one battery voltage, or for several that can be chosen: its sheet must name this one. */
function outputVoltsLine({ system: { nominal_V } }: Model): SpecLine | null {
  return nominal_V
    ? line({
        field: 'output_V',
        label: 'For a battery of',
        test: 'one-of',
        value: String(nominal_V),
        words: [String(nominal_V)],
        unit: 'V',
        why: ['a charger for another voltage does not charge this bank, or destroys it'],
      })
    : null;
}

/** What a mains or DC-DC charger's successor must be. */
export function chargerSpec(inputs: SpecInputs<'chargers'>): SpecLine[] {
  const part = inputs.part;
  const lithium = inputs.model.system.bank ? isLithium(inputs.model.system.bank.chemistry) : false;
  const direct = part.kind === 'alternator-direct' && lithium;
  const lines: (SpecLine | null)[] = [
    line({
      field: 'kind',
      label: 'Kind',
      test: 'one-of',
      value: direct ? 'dc-dc' : part.kind,
      words: direct ? ['dc-dc'] : [part.kind],
      rule: direct ? 'alternator.load' : null,
      why: [direct ? 'lithium can burn out an alternator' : 'same as the old one'],
    }),
    outputVoltsLine(inputs.model),
    ...chargerCurrents(inputs, 'max_A', 'Output'),
    profileLine(inputs, 'profiles'),
  ];
  if (part.kind === 'mains') {
    lines.push(
      eyes('Plugged into the generator or the inlet, never the inverter', 'on the inverter it only drains the bank'),
    );
    if (lithium) lines.push(eyes('No desulphation pulse; equalising truly off', 'made for lead, it harms lithium'));
  } else {
    const read = dcDcInput_V(createLedger(inputs.model), part);
    const volts = Number.isNaN(read) ? null : read;
    if (volts === null)
      lines.push(
        line({
          field: 'input_V',
          label: 'Input voltage: that of the vehicle',
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
        ...eyes('A fuse at both ends of its input cable', 'both batteries feed a fault, one from each end'),
        rule: 'run.both-ends',
      },
      eyes('An input that switches it on by ignition or voltage', 'or it empties the starter battery'),
    );
  }
  lines.push(eyes(terminalsLabel(inputs), 'never cut strands to fit a terminal'));
  return lines.filter((one) => one !== null);
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
export function joinSpec(inputs: SpecInputs<'otherBanks'>): SpecLine[] {
  const { model, part } = inputs;
  if (!part.joinedBy || part.joinedBy === 'none' || part.joinedBy === 'dc-dc')
    return [eyes('Nothing connects it to the bank', 'it has its own fuse and its own charger')];
  const joined = withJoiningCharger(model, part, CHARGER_A[0]);
  const charger = inputsOfKind(joined, JOINING_CHARGER, 'chargers');
  return charger ? chargerSpec(charger).map((one) => (one.field === 'kind' ? { ...one, why: [JOIN_WHY] } : one)) : [];
}
const JOIN_WHY = 'a relay or diode connects unlike batteries: each drains or overcharges the other';
