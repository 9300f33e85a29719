import type { InferType } from 'yup';
import { id, name, notes, terminals } from './common';
import { amps, list, part, requiredText, whole } from './fields';
import { kind } from './kind';
import { asked, first } from './words';

/** Fuse boards, bus bars with circuits, PV combiners. */
export const distribution = kind({
  single: false,
  word: 'Distribution',
  noun: 'a distribution',
  stem: 'box',
  question: 'Is there a fuse board?',
  shelf: { onSite: {} },
  goods: 'bought',
  cabled: true,
  schema: part({
    id: id(),
    label: name(),
    slots: first('Slots', whole(0, 1000)),
    rating_A: first('Rating', amps()),
    circuits: asked('Circuits', list(requiredText('the id of a run')), { refersTo: ['runs'], belongs: 'link' }),
    terminals: terminals(),
    notes: notes(),
  }),
  fact: ({ slots, circuits }) => (slots ? `${circuits?.length ?? 0} of ${slots} slots` : 'slots?'),
  line: { at: 'board' },
});
export type Distribution = InferType<typeof distribution.schema>;
