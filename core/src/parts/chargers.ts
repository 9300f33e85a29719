import type { InferType } from 'yup';
import { id, name, notes, profiles, settings, terminals } from './common';
import { amps, flag, part, positive, requiredNum, requiredOneOf, text, volts } from './fields';
import { kind } from './kind';
import { said } from './said';
import { asked } from './words';

/** What charges the bank from AC or from another battery. */
export const chargers = kind({
  single: false,
  word: 'Charger',
  noun: 'a charger',
  stem: 'charger',
  question: 'Does anything else charge the bank?',
  shelf: { onSite: {} },
  goods: 'bought',
  cabled: true,
  schema: part({
    id: id(),
    label: name(),
    kind: asked('Kind', requiredOneOf(['mains', 'dc-dc', 'alternator-direct'])),
    max_A: asked('Output', requiredNum(0, 100_000)),
    input_V: asked('Input', volts()),
    output_V: asked('For a battery of', volts()),
    profiles: profiles(),
    efficiency_pct: asked('Efficiency', positive(100)),
    powerFactor: asked('Power factor', positive(1)),
    inputMin_V: asked('Minimum input voltage', volts()),
    sourceId: asked('Fed by', text(), { refersTo: ['sources'], belongs: 'link' }),
    alternator_A: asked('Alternator', amps(), { belongs: 'place' }),
    externallyRegulated: asked('Alternator externally regulated', flag(), { belongs: 'place' }),
    onInverterOutput: asked('Plugged into the inverter', flag(), { belongs: 'place' }),
    settings: settings(),
    terminals: terminals(),
    notes: notes(),
  }),
  fact: ({ kind: what, max_A }, _, { amount }) => `${said(what)} ${amount(max_A, 'A')}`,
  line: { at: 'source', run: 'charger', gap: 'cable to the bank: size?' },
});
export type Charger = InferType<typeof chargers.schema>;
