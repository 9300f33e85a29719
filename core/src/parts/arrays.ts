import type { InferType } from 'yup';
import { id, name, notes, protection } from './common';
import { amps, list, num, oneOf, part, requiredList, requiredNum, requiredText, text } from './fields';
import { inLine, kind, type Among, type Write } from './kind';
import { asked, first, hidden } from './words';

/** How an array is mounted, from no air behind it to most. */
export const MOUNTINGS = ['bonded', 'flush', 'raised', 'rack', 'ground', 'portable'] as const;

/** Arrays: modules strung on one controller. */
export const arrays = kind({
  single: false,
  word: 'Array',
  noun: 'an array',
  stem: 'array',
  question: 'How are the modules connected?',
  shelf: null,
  goods: 'parts',
  cabled: true,
  schema: part({
    id: id(),
    label: name(),
    strings: asked(
      'Modules in series x strings',
      requiredList(
        requiredList(requiredText('the id of a module type'))
          .min(1, 'is empty, expected at least one module in a string')
          .max(64, 'has too many, expected at most 64 modules in a string'),
      )
        .min(1, 'is empty, expected at least one string')
        .max(64, 'has too many, expected at most 64 strings'),
      { entry: 'strings', refersTo: ['moduleTypes'], belongs: 'link' },
    ),
    controllerId: first('Feeds', text(), { refersTo: ['controllers'], belongs: 'link' }),
    stringFuse_A: asked('Fuse in each string', amps(), { belongs: 'fitting' }),
    stringProtection: protection(', in each string'),
    tilt_deg: asked('Tilt', num(0, 180), { belongs: 'place' }),
    azimuth_deg: asked('Faces (180 is south)', num(0, 360), { belongs: 'place' }),
    mounting: asked('Mounting', oneOf(MOUNTINGS), { typical: 'raised', belongs: 'place' }),
    /** Share of the light that each module was seen to get, string by string, 0 to 1; absent: none of it lost. */
    shade: hidden('recorded per module on the curves screen', list(list(requiredNum(0, 1)))),
    notes: notes(),
  }),
  fact: arrayFact,
  line: { at: 'array' },
});
export type PvArray = InferType<typeof arrays.schema>;

/** "3 x 310 W, one string", "3 modules, strings of 2 + 1": how an array is strung. */
function arrayFact({ strings }: { strings: string[][] }, { moduleTypes }: Among, { amount }: Write): string {
  const lengths = strings.map(({ length }) => length);
  const types = new Set(strings.flat());
  const total = lengths.reduce((sum, length) => sum + length, 0);
  const module = moduleTypes?.find((type) => types.has(type.id));
  const what = types.size === 1 ? amount(module?.pmax_W, 'W') : 'mixed';
  const even = lengths.every((length) => length === lengths[0]);
  const how =
    lengths.length === 1
      ? total === 1
        ? 'alone'
        : 'one string'
      : even
        ? `${lengths[0]} in series, ${lengths.length} strings`
        : `strings of ${lengths.join(' + ')}`;
  return inLine(`${total} \u00d7 ${what ?? 'module'}`, how);
}
