import type { InferType } from 'yup';
import { id, name, notes, protection } from './common';
import {
  celsius,
  count,
  flag,
  list,
  num,
  oneOf,
  part,
  requiredNum,
  requiredOneOf,
  requiredWhole,
  sizeText,
  text,
  whole,
} from './fields';
import { inLine, kind } from './kind';
import { asked, first } from './words';

/** What a cable runs between. */
export const RUN_KINDS = [
  'pv',
  'controller-battery',
  'battery-inverter',
  'charger',
  'converter',
  'dc-load',
  'link',
  'ac',
] as const;

/** Cables with their fuses. */
export const runs = kind({
  single: false,
  word: 'Cable',
  noun: 'a run',
  stem: 'cable',
  question: 'A cable and its fuse: which one can you see first?',
  shelf: null,
  goods: 'bought',
  cabled: false,
  schema: part({
    id: id(),
    label: name(),
    kind: asked('Between', requiredOneOf(RUN_KINDS), { belongs: 'link' }),
    from: first('From', text(), { refersTo: 'cabled', belongs: 'link' }),
    to: first('To', text(), { refersTo: 'cabled', belongs: 'link' }),
    length_m: asked('One-way length, along the cable', requiredNum(0, 10_000), { belongs: 'place' }),
    size: asked(
      'Size',
      sizeText()
        .required('is missing, expected a size like "6mm2", "10AWG" or "2/0AWG"')
        .nonNullable('is null, expected a size like "6mm2", "10AWG" or "2/0AWG"'),
      { hint: '16 mm2, or 2/0 AWG' },
    ),
    protection: protection(),
    material: asked('Material', oneOf(['copper', 'aluminium', 'cca'])),
    perPole: asked('Conductors per pole', count()),
    insulation_C: asked('Insulation', num(0, 300)),
    terminal_C: asked('Terminals', num(0, 300), { belongs: 'place' }),
    ambient_C: asked('Ambient air', celsius(), { belongs: 'place' }),
    bundled: asked('Conductors bundled', whole(0, 1000), { belongs: 'place' }),
    joints: asked('Joints', whole(0, 1000), { belongs: 'fitting' }),
    sheathed: asked('In conduit or loom up to the fuse', flag(), { belongs: 'fitting' }),
    freeAir: asked('Single, in free air', flag(), { belongs: 'place' }),
    engineSpace: asked('Runs through the engine space', flag(), { belongs: 'place' }),
    negativeThroughShunt: asked('Negative goes through the shunt', flag(), { belongs: 'fitting' }),
    remoteSense: asked('Remote voltage sense', flag(), { belongs: 'fitting' }),
    strings: asked('Carries only these strings', list(requiredWhole(0, 63)), {
      entry: 'indices',
      belongs: 'link',
      hint: 'of its array; none chosen means all',
    }),
    farProtection: protection(', far end'),
    notes: notes(),
  }),
  fact: ({ size, length_m, perPole }, _, { amount, size: written }) =>
    inLine(`${perPole && perPole > 1 ? `${perPole} \u00d7 ` : ''}${written(size)}`, amount(length_m, 'm')),
  line: { at: 'cable' },
});
export type Run = InferType<typeof runs.schema>;
