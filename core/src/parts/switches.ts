import type { InferType } from 'yup';
import { id, name, notes, terminals } from './common';
import { amps, flag, num, oneOf, part, requiredOneOf, requiredText, volts, whole } from './fields';
import { inLine, kind } from './kind';
import { said } from './said';
import { asked, first } from './words';

/** What opens a cable by hand or by itself, on the run where it sits. */
export const switches = kind({
  single: false,
  word: 'Switch',
  noun: 'a switch',
  stem: 'switch',
  question: 'Is there a switch or an isolator?',
  shelf: { onSite: { runId: 'cable' } },
  goods: 'bought',
  cabled: false,
  schema: part({
    id: id(),
    label: name(),
    kind: asked('Kind', requiredOneOf(['isolator', 'breaker', 'load-disconnect', 'ground-fault', 'plug', 'transfer'])),
    runId: asked('On the cable', requiredText('the id of a run'), { refersTo: ['runs'], belongs: 'link' }),
    end: asked('At its end', oneOf(['from', 'to']), { belongs: 'link' }),
    rating_A: first('Rating', amps()),
    voltage_V: asked('DC voltage', volts()),
    dcRated: asked('Rated for DC', flag()),
    polarised: asked('Polarised', flag()),
    interrupt_A: asked('Breaking capacity', num(0, 1e6)),
    poles: asked('Poles', whole(1, 8)),
    lvd_V: asked('Cut-off voltage', volts(), { belongs: 'setting' }),
    reconnect_V: asked('Reconnect voltage', volts(), { belongs: 'setting' }),
    terminals: terminals(),
    notes: notes(),
  }),
  fact: ({ kind: what, rating_A, lvd_V }, _, { amount }) =>
    inLine(said(what), amount(rating_A, 'A'), lvd_V ? `cuts off at ${amount(lvd_V, 'V')}` : null),
  line: { at: 'switch' },
});
export type Switch = InferType<typeof switches.schema>;
