import type { InferType } from 'yup';
import { id, name, notes, terminals } from './common';
import { amps, part } from './fields';
import { kind } from './kind';
import { first } from './words';

/** The one monitor of a system, with its shunt. */
export const monitor = kind({
  single: true,
  word: 'Monitor',
  noun: 'a monitor',
  stem: 'monitor',
  question: 'Is there a monitor with a shunt?',
  shelf: { onSite: {} },
  goods: 'bought',
  cabled: false,
  schema: part({ id: id(), label: name(), shunt_A: first('Shunt', amps()), terminals: terminals(), notes: notes() }),
  fact: ({ shunt_A }, _, { amount }) => (shunt_A ? `${amount(shunt_A, 'A')} shunt` : 'shunt?'),
  line: { at: 'list' },
});
export type Monitor = InferType<typeof monitor.schema>;
