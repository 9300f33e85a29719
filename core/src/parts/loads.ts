import type { InferType } from 'yup';
import { id, notes, terminals } from './common';
import {
  count,
  flag,
  hours,
  num,
  oneOf,
  part,
  positive,
  requiredNum,
  requiredOneOf,
  requiredText,
  text,
  volts,
  watts,
  whole,
} from './fields';
import { inLine, kind } from './kind';
import { asked, first } from './words';

/** What a load is, for its start and its wave. */
export const LOAD_TYPES = [
  'resistive',
  'electronic',
  'compressor',
  'induction',
  'pump',
  'universal',
  'inverter-driven',
  'microwave',
  'other',
] as const;

/** What runs on the system. */
export const loads = kind({
  single: false,
  word: 'Load',
  noun: 'a load',
  stem: 'load',
  question: 'What runs on it?',
  shelf: { onSite: { hours_d: 0 } },
  goods: 'own',
  cabled: true,
  schema: part({
    id: id(),
    label: asked('Name', requiredText('what the load is called')),
    kind: asked('Runs on', requiredOneOf(['ac', 'dc'])),
    power_W: asked('Power', requiredNum(0, 1e6)),
    hours_d: asked('Hours a day', requiredNum(0, 24), { belongs: 'fitting' }),
    type: first('What it is', oneOf(LOAD_TYPES)),
    quantity: asked('How many', count(), { belongs: 'fitting' }),
    winterHours_d: asked('Hours a day in winter', hours(), { belongs: 'fitting' }),
    surge_W: asked('Surge', watts()),
    surge_s: asked('Surge duration', num(0, 100_000)),
    softStart: asked('Soft start', flag(), { belongs: 'fitting' }),
    powerFactor: asked('Power factor', positive(1)),
    unattended: asked('Runs when nobody is on site', flag(), { belongs: 'place' }),
    overlap: asked('Runs', oneOf(['base', 'may', 'alone']), { belongs: 'fitting' }),
    group: asked('Never together with (group)', text(), { belongs: 'fitting' }),
    from_h: asked('From', hours(), { belongs: 'fitting' }),
    to_h: asked('To', hours(), { belongs: 'fitting' }),
    max_V: asked('Maximum voltage', volts()),
    recordedPeak_W: asked('Recorded peak', watts(), { belongs: 'state' }),
    priority: asked('Priority (1 is first)', whole(0, 100), { belongs: 'fitting' }),
    needsSine: asked('Needs a pure sine wave', flag()),
    inverterId: asked('Inverter', text(), { refersTo: ['inverters'], belongs: 'link' }),
    converterId: asked('Converter', text(), { refersTo: ['converters'], belongs: 'link' }),
    controllerId: asked('On the load output of', text(), { refersTo: ['controllers'], belongs: 'link' }),
    terminals: terminals(),
    notes: notes(),
  }),
  fact: ({ power_W, quantity, hours_d }, _, { amount }) =>
    inLine(
      `${quantity && quantity > 1 ? `${quantity} \u00d7 ` : ''}${amount(power_W, 'W')}`,
      hours_d > 0 && `${amount(hours_d, 'h')} a day`,
    ),
  line: { at: 'load' },
});
export type Load = InferType<typeof loads.schema>;
