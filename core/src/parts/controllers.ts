import type { InferType } from 'yup';
import { id, name, notes, profiles, settings, terminals } from './common';
import {
  amps,
  flag,
  optionalPart,
  part,
  positive,
  requiredOneOf,
  requiredPositive,
  text,
  volts,
  watts,
} from './fields';
import { inLine, kind } from './kind';
import { said } from './said';
import { asked, first } from './words';

/** Solar charge controllers. */
export const controllers = kind({
  single: false,
  word: 'Controller',
  noun: 'a controller',
  stem: 'controller',
  question: 'Which controller do they feed?',
  shelf: { onSite: {} },
  goods: 'bought',
  cabled: true,
  schema: part({
    id: id(),
    label: name(),
    type: asked('Kind', requiredOneOf(['mppt', 'pwm'])),
    maxPv_V: first('Maximum PV voltage', positive(1500)),
    maxOutput_A: asked('Output', requiredPositive(100_000)),
    maxPv_A: first('Maximum PV current', amps()),
    minBattery_V: asked('Battery voltage, minimum', volts()),
    maxBattery_V: asked('Battery voltage, maximum', volts()),
    profiles: profiles(),
    limitsOutput: asked('Limits its own output', flag()),
    maxPv_W: optionalPart({
      12: asked('Maximum PV power at 12 V', watts()),
      24: asked('Maximum PV power at 24 V', watts()),
      36: asked('Maximum PV power at 36 V', watts()),
      48: asked('Maximum PV power at 48 V', watts()),
    }),
    startAbove_V: asked('Start voltage above the battery', volts()),
    temperatureSensor: asked('Temperature sensor', flag()),
    settings: settings(),
    efficiency_pct: asked('Efficiency', positive(100)),
    selfUse_W: asked('Self-consumption', watts()),
    loadOutput_A: asked('Load output', amps()),
    outputGroup: asked('Shares its output with (group)', text(), { belongs: 'link' }),
    terminals: terminals(),
    notes: notes(),
  }),
  fact: ({ type, maxOutput_A, maxPv_V }, _, { amount }) =>
    inLine(`${said(type)} ${amount(maxOutput_A, 'A')}`, amount(maxPv_V || null, 'V') ?? 'PV voltage?'),
  line: { at: 'source', run: 'controller-battery', gap: 'cable to the bank: size?' },
});
export type Controller = InferType<typeof controllers.schema>;
