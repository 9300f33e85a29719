import { GENERATOR_SHARE } from '../power/ac';
import { CHARGER_A, INVERTER_W } from '../rules/cures/sold';
import { findingsOf, leastOf, up, type SpecInputs } from './in-its-place';
import { eyes, line, type SpecLine } from './line';
import { terminalsLabel, windowLines } from './on-the-bank';

/** What a converter's successor must be. */
export function converterSpec(inputs: SpecInputs<'converters'>): SpecLine[] {
  const part = inputs.part;
  const { bank } = inputs.model.system;
  return [
    leastOf(inputs, {
      field: 'max_A',
      label: 'Output',
      unit: 'A',
      rules: ['converter.capacity'],
      subjects: [part.id],
      sold: CHARGER_A,
    }),
    line({
      field: 'out_V',
      label: 'Output voltage',
      test: 'one-of',
      value: String(part.out_V),
      words: [String(part.out_V)],
      unit: 'V',
      why: ['its loads stay'],
    }),
    bank ? eyes(inputLabel(inputs), 'from the cut-off to the highest bus voltage') : null,
    eyes(terminalsLabel(inputs), 'never cut strands to fit a terminal'),
  ].filter((one) => one !== null);
}

function inputLabel(inputs: SpecInputs): string {
  const [top, bottom] = windowLines(inputs, 'min', 'max');
  return top?.value && bottom?.value
    ? `Input from ${bottom.value} V to ${top.value} V`
    : 'Input rated for the bank voltage';
}

/** A generator or an inlet: what all mains charging and the loads that pass through ask of it. */
export function sourceSpec(inputs: SpecInputs<'sources'>): SpecLine[] {
  const part = inputs.part;
  const inlet = part.kind === 'inlet';
  const found = findingsOf(
    inputs.put(inlet ? { inlet_A: 1000, power_W: null } : { power_W: 1e6 }),
    ['charger.input'],
    [part.id],
  )[0];
  if (!found) return [eyes('Same as the old one', 'no charger is recorded on it')];
  const share = found.tightAbove ?? 1;
  const exact = found.demand === null ? null : found.demand / (inlet ? 1 : GENERATOR_SHARE) / share;
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
    eyes('The same AC voltage and frequency', 'the loads were bought for them'),
  ];
}
