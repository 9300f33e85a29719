import type { InferType } from 'yup';
import { id, notes } from './common';
import { list, part, requiredText } from './fields';
import { kind } from './kind';
import { asked, first } from './words';

/** A way in which the system is used: on the road, slide in. What is off in it, and what hangs on that alone, is not judged. */
export const states = kind({
  single: false,
  word: 'State',
  noun: 'a state',
  stem: 'state',
  question: null,
  shelf: null,
  goods: 'parts',
  cabled: false,
  schema: part({
    id: id(),
    label: asked('Name', requiredText('what the state is called')),
    off: first('Off in it', list(requiredText('the id of a part')), { refersTo: 'any', belongs: 'link' }),
    notes: notes(),
  }),
  fact: ({ off }) => `${off?.length ?? 0} off`,
  line: { at: 'list' },
});
export type State = InferType<typeof states.schema>;
