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
  question: 'A cable and its fuse: which is the first you can see?',
  shelf: null,
  goods: 'bought',
  cabled: false,
  schema: part({
    id: id(),
    label: name(),
    kind: asked('Between', requiredOneOf(RUN_KINDS), { belongs: 'link' }),
    from: first('From', text(), { refersTo: 'cabled', belongs: 'link' }),
    to: first('To', text(), { refersTo: 'cabled', belongs: 'link' }),
    length_m: asked('Length, one way, along the cable', requiredNum(0, 10_000), { belongs: 'place' }),
    size: asked(
      'Size',
      sizeText()
        .required('is missing, expected a size like "6mm2", "10AWG" or "2/0AWG"')
        .nonNullable('is null, expected a size like "6mm2", "10AWG" or "2/0AWG"'),
      { hint: '16 mm2, or 2/0 AWG' },
    ),
    protection: protection(),
    material: asked('Material', oneOf(['copper', 'aluminium', 'cca'])),
    perPole: asked('Conductors a pole', count()),
    insulation_C: asked('Insulation', num(0, 300)),
    terminal_C: asked('Terminals', num(0, 300), { belongs: 'place' }),
    ambient_C: asked('Air around it', celsius(), { belongs: 'place' }),
    bundled: asked('Conductors bundled', whole(0, 1000), { belongs: 'place' }),
    joints: asked('Joints', whole(0, 1000), { belongs: 'fitting' }),
    sheathed: asked('Sheathed as far as the fuse', flag(), { belongs: 'fitting' }),
    freeAir: asked('Single, in free air', flag(), { belongs: 'place' }),
    engineSpace: asked('Through the engine space', flag(), { belongs: 'place' }),
    negativeThroughShunt: asked('Negative passes the shunt', flag(), { belongs: 'fitting' }),
    remoteSense: asked('Remote sense', flag(), { belongs: 'fitting' }),
    strings: asked('Carries only these strings', list(requiredWhole(0, 63)), {
      entry: 'indices',
      belongs: 'link',
      hint: 'of the array it comes from; none chosen: all',
    }),
    farProtection: protection(', far end'),
    notes: notes(),
  }),
  fact: ({ size, length_m, perPole }, _, { amount, size: written }) =>
    inLine(`${perPole && perPole > 1 ? `${perPole} \u00d7 ` : ''}${written(size)}`, amount(length_m, 'm')),
  line: { at: 'cable' },
});
export type Run = InferType<typeof runs.schema>;
