import type { InferType } from 'yup';
import { id, name } from './common';
import { amps, part, positive, requiredOneOf, watts } from './fields';
import { inLine, kind } from './kind';
import { asked, first } from './words';

export const sources = kind({
  single: false,
  word: 'Generator or inlet',
  noun: 'a generator or inlet',
  stem: 'source',
  question: null,
  shelf: { onSite: {} },
  goods: 'bought',
  cabled: false,
  schema: part({
    id: id(),
    label: name(),
    kind: asked('Kind', requiredOneOf(['generator', 'inlet'])),
    power_W: first('Power', watts()),
    inlet_A: asked('Inlet', amps()),
    ac_V: asked('Voltage', positive(1500), { passesOn: true }),
  }),
  fact: ({ kind: what, power_W, inlet_A }, _, { amount }) => inLine(what, amount(power_W, 'W'), amount(inlet_A, 'A')),
  line: { at: 'list' },
});
export type Source = InferType<typeof sources.schema>;
