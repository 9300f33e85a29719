import type { InferType } from 'yup';
import { id, name, notes, terminals } from './common';
import { count, part, positive, requiredNum, requiredPositive } from './fields';
import { inLine, kind } from './kind';
import { asked } from './words';

/** DC-DC converters between the bank and loads of other volts. */
export const converters = kind({
  single: false,
  word: 'Converter',
  noun: 'a converter',
  stem: 'converter',
  question: null,
  shelf: { onSite: {} },
  goods: 'bought',
  cabled: true,
  schema: part({
    id: id(),
    label: name(),
    in_V: asked('In', requiredPositive(1500)),
    out_V: asked('Out', requiredPositive(1500)),
    max_A: asked('Output', requiredNum(0, 100_000)),
    quantity: asked('Number in parallel', count(), { belongs: 'link' }),
    efficiency_pct: asked('Efficiency', positive(100)),
    terminals: terminals(),
    notes: notes(),
  }),
  fact: ({ in_V, out_V, max_A, quantity }, _, { amount }) =>
    inLine(
      `${quantity && quantity > 1 ? `${quantity} \u00d7 ` : ''}${amount(in_V, 'V', 5)}`,
      `to ${amount(out_V, 'V', 5)}`,
      amount(max_A, 'A', 5),
    ),
  line: { at: 'list' },
});
export type Converter = InferType<typeof converters.schema>;
