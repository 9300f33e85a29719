import type { InferType } from 'yup';
import { CHEMISTRIES } from '../chemistry/chemistry';
import { id, name, notes } from './common';
import { oneOf, part, requiredOneOf, requiredPositive } from './fields';
import { inLine, kind } from './kind';
import { said } from './said';
import { asked, first } from './words';

/** Batteries that are not the bank: starter, thruster. */
export const otherBanks = kind({
  single: false,
  word: 'Other battery',
  noun: 'another battery',
  stem: 'other-bank',
  question: null,
  shelf: null,
  goods: 'bought',
  cabled: false,
  schema: part({
    id: id(),
    label: name(),
    role: asked('For', requiredOneOf(['starter', 'thruster', 'generator', 'other'])),
    chemistry: asked('Chemistry', requiredOneOf(CHEMISTRIES)),
    nominal_V: asked('Voltage', requiredPositive(1500)),
    joinedBy: first('Connected by', oneOf(['none', 'relay', 'diode', 'switch', 'dc-dc']), { belongs: 'link' }),
    notes: notes(),
  }),
  fact: ({ chemistry, nominal_V, joinedBy }, _, { amount }) =>
    inLine(
      `${amount(nominal_V, 'V')} ${said(chemistry)}`,
      joinedBy && joinedBy !== 'none' ? `by ${said(joinedBy)}` : null,
    ),
  line: { at: 'list' },
});
export type OtherBank = InferType<typeof otherBanks.schema>;
