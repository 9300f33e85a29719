import type { RuleId } from '../rules/ids';
import { isLithium } from '../chemistry/chemistry';
import { figure } from '../ledger/figures';
import { CONTROLLER_OUTPUT_A, CONTROLLER_PV_A, CONTROLLER_PV_V } from '../rules/cures/sold';
import { arraysOf } from '../system/model';
import { down, findingsOf, leastOf, pathsOf, up, type SpecInputs } from './in-its-place';
import { eyes, line, type SpecLine } from './line';
import { profileLine, terminalsLabel, windowLines } from './on-the-bank';

/** A pwm controller carries the array's own current, with the margin of a device that runs for hours; planning value. */
const PWM_MARGIN = 1.25;
/** Where over-panelling is allowed the array seldom gives more than this of its plate; the engine's own planning share. */
const CLIP_SHARE = 0.75;

/** Stands for every other member while one is asked for. */
const IDEAL = {
  maxPv_V: 1500,
  maxPv_A: 1000,
  maxOutput_A: 1000,
  maxPv_W: null,
  startAbove_V: 0,
  minBattery_V: 0,
  maxBattery_V: 1500,
  limitsOutput: true,
};

/** What a solar controller's successor must be (Practice, B). */
export function controllerSpec(inputs: SpecInputs<'controllers'>): SpecLine[] {
  const { model } = inputs;
  const { system, schools } = model;
  const part = inputs.part;
  const arrays = arraysOf(system, part.id);
  const strings = arrays.map(({ id }) => id);
  const ideal = { ...IDEAL, type: 'mppt' };
  const lines: (SpecLine | null)[] = [typeLine(inputs, strings)];

  const ask = (
    field: string,
    label: string,
    unit: string,
    rule: RuleId,
    sold: readonly number[] | number,
    more: { quantity?: string; must?: boolean } = {},
  ) =>
    leastOf(inputs, {
      field,
      label,
      unit,
      rules: [rule],
      subjects: [part.id, ...strings],
      ideal: { ...ideal, [field]: null },
      sold,
      ...more,
    });
  lines.push(
    ask('maxPv_V', 'PV voltage', 'V', 'pv.cold-voltage', CONTROLLER_PV_V, { quantity: 'controller' }),
    ask('maxPv_A', 'PV current', 'A', 'pv.input-current', CONTROLLER_PV_A),
    outputLine(inputs, strings, ask('maxOutput_A', 'Output', 'A', 'pv.output-current', CONTROLLER_OUTPUT_A)),
  );
  const nominal = system.nominal_V;
  if (nominal)
    lines.push(
      ask(`maxPv_W.${nominal}`, `PV power at ${nominal} V`, 'W', 'pv.power', 10, { must: false }),
      ...windowLines(inputs, 'minBattery_V', 'maxBattery_V'),
    );
  lines.push(startLine(inputs, strings), profileLine(inputs, 'profiles'), currentLimitLine(inputs));
  if (schools.controllerOutput === 'clip')
    lines.push(
      line({
        field: 'limitsOutput',
        label: 'Limits its own output',
        test: 'true',
        value: null,
        rule: 'pv.output-current',
        why: ['over-panelling is allowed only if the controller limits its own current'],
      }),
    );
  lines.push(coldLine(inputs));
  if (part.selfUse_W)
    lines.push(
      line({
        field: 'selfUse_W',
        label: 'Self-consumption',
        test: 'most',
        value: part.selfUse_W,
        exact: part.selfUse_W,
        unit: 'W',
        why: ['no more than the old one'],
        must: false,
      }),
    );
  lines.push(
    eyes('The same common pole as the old one', 'common positive and common negative do not mix on one frame'),
    eyes(terminalsLabel(inputs), 'never cut strands to fit a terminal'),
  );
  return lines.filter((one) => one !== null);
}

/** Lithium must not be charged frozen, and lead needs another voltage in the cold; null where there is no bank to ask. */
function coldLine({ model }: SpecInputs<'controllers'>): SpecLine | null {
  const { bank } = model.system;
  if (!bank) return null;
  if (!isLithium(bank.chemistry))
    return line({
      field: 'temperatureSensor',
      label: 'Temperature sensor at the bank',
      test: 'true',
      value: null,
      why: ['lead needs another voltage in the cold'],
      must: false,
    });
  return bank.heated
    ? null
    : eyes(
        'Stops charging in the cold',
        'a sensor on the cells, or an input that the pack can switch; tested, not just claimed',
      );
}

function typeLine(inputs: SpecInputs<'controllers'>, strings: string[]): SpecLine {
  // Asked as if it were pwm: where that throws away too much, only a tracker will do.
  const waste = findingsOf(inputs.put({ ...IDEAL, type: 'pwm' }), ['pv.pwm-waste'], strings);
  const wasteful = waste.find(({ verdict }) => verdict === 'over' || verdict === 'unknown');
  const wasPwm = inputs.part.type === 'pwm' && !wasteful;
  return line({
    field: 'type',
    label: 'Kind',
    test: 'one-of',
    value: wasPwm ? 'PWM or MPPT' : 'MPPT',
    words: wasPwm ? ['pwm', 'mppt'] : ['mppt'],
    rule: 'pv.pwm-waste',
    why: wasteful?.working.length ? wasteful.working : ['same as the old one'],
  });
}

/** The output by the firm's school; a pwm part carries the strings' own current whatever the school. */
function outputLine(inputs: SpecInputs<'controllers'>, strings: string[], asked: SpecLine | null): SpecLine | null {
  if (!asked || asked.exact === null) return asked;
  const part = inputs.part;
  if (inputs.model.schools.controllerOutput === 'clip') {
    const exact = asked.exact * CLIP_SHARE;
    return {
      ...asked,
      exact,
      value: up(exact, CONTROLLER_OUTPUT_A),
      why: [...asked.why, `clipping allowed: ${CLIP_SHARE} of it, ${figure(exact)} A, is what the array mostly gives`],
    };
  }
  if (part.type !== 'pwm') return asked;
  const [isc] = findingsOf(
    inputs.put({ ...IDEAL, type: 'pwm' }),
    ['pv.input-current'],
    strings.length ? [part.id] : [],
  );
  const exact = Math.max(asked.exact, PWM_MARGIN * (isc?.demand ?? 0));
  return {
    ...asked,
    exact,
    value: up(exact, CONTROLLER_OUTPUT_A),
    why: [...asked.why, `if PWM: ${PWM_MARGIN} x the strings' own ${figure(isc?.demand ?? 0)} A`],
  };
}

function startLine(inputs: SpecInputs, strings: string[]): SpecLine | null {
  const found = findingsOf(inputs.put({ ...IDEAL, type: 'mppt' }), ['pv.start-voltage'], strings);
  const tightest = found.reduce<(typeof found)[number] | null>(
    (worst, next) => (!worst || (next.use ?? 0) > (worst.use ?? 0) ? next : worst),
    null,
  );
  if (!tightest) return null;
  const missing = pathsOf(found, 'missing');
  const exact =
    missing.length > 0 || tightest.demand === null || tightest.limit === null
      ? null
      : (tightest.tightAbove ?? 1) * tightest.demand - tightest.limit;
  return line({
    field: 'startAbove_V',
    label: 'Start voltage above the battery, at most',
    test: 'most',
    value: exact === null ? null : down(exact, 0.5),
    exact,
    unit: 'V',
    rule: 'pv.start-voltage',
    why: tightest.working,
    missing,
    assumed: pathsOf(found, 'assumed'),
    must: false,
  });
}

/** What the bank still takes beside the other sources: a current limit that can be set that low. */
function currentLimitLine(inputs: SpecInputs): SpecLine | null {
  const [found] = findingsOf(inputs.put({ 'settings.maxCharge_A': 0 }), ['bank.charge-max']);
  if (!found || found.limit === null || found.demand === null) return null;
  const room = found.limit * (found.tightAbove ?? 1) - found.demand;
  if (room <= 0) return eyes('Bank takes no more current', 'the other chargers already deliver all the bank can take');
  return {
    ...eyes(`Output can be limited to ${figure(down(room, 1))} A`, 'the bank takes no more with the other chargers'),
    rule: 'bank.charge-max',
    why: found.working,
    must: false,
  };
}
