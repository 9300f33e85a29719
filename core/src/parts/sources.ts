import type { InferType } from 'yup';
import { id, name, notes, terminals } from './common';
import { amps, flag, hours, num, oneOf, optionalPart, part, positive, requiredOneOf, watts } from './fields';
import { inLine, kind } from './kind';
import { asked, first, group } from './words';

/** When a source runs; sources of two occasions never run together, the sun runs with each. */
export const OCCASIONS = ['driving', 'plugged', 'generator'] as const;
export type Occasion = (typeof OCCASIONS)[number];

/** Generators, inlets and alternators. */
export const sources = kind({
  single: false,
  word: 'Generator, inlet or alternator',
  noun: 'a generator, inlet or alternator',
  stem: 'source',
  question: null,
  shelf: { onSite: {} },
  goods: 'bought',
  cabled: true,
  schema: part({
    id: id(),
    label: name(),
    kind: asked('Kind', requiredOneOf(['generator', 'inlet', 'alternator'])),
    power_W: first('Power', watts()),
    inlet_A: asked('Inlet', amps()),
    ac_V: asked('Voltage', positive(1500), { passesOn: true }),
    rating_A: asked('Alternator output', amps()),
    nominal_V: asked('Vehicle system', positive(1500), { passesOn: true }),
    occasion: asked('Runs when', oneOf(OCCASIONS), { belongs: 'fitting' }),
    hours_d: asked('Hours a day', hours(), { belongs: 'fitting' }),
    winterHours_d: asked('Hours a day in winter', hours(), { belongs: 'fitting' }),
    startBelow_soc: asked('Starts at a state of charge of', num(0, 1), {
      belongs: 'setting',
      hint: 'a share: 0.3 is 30 %',
    }),
    autoStart: asked('Starts automatically', flag(), { belongs: 'setting' }),
    quiet: group(
      { belongs: 'setting' },
      optionalPart({
        from_h: asked('Never runs from', hours()),
        to_h: asked('Never runs until', hours()),
      }),
    ),
    terminals: terminals(),
    notes: notes(),
  }),
  fact: ({ kind: what, power_W, inlet_A, rating_A }, _, { amount }) =>
    inLine(what, amount(power_W, 'W'), amount(inlet_A, 'A'), amount(rating_A, 'A')),
  line: { at: 'list' },
});
export type Source = InferType<typeof sources.schema>;
