import { elementAt } from '../numeric/element';
import type { InferType } from 'yup';
import { mixed } from 'yup';
import { crossing, boxOf, type Point } from '../numeric/polygon';
import { id, name, notes } from './common';
import {
  flag,
  list,
  millimetres,
  num,
  optionalPart,
  part,
  requiredNum,
  requiredOneOf,
  requiredText,
  shown,
  text,
  whole,
} from './fields';
import { kind } from './kind';
import { asked, first, hidden } from './words';

/** A roof as it was measured with a tape from one corner: x to the right, y ahead, mm, seen from above. */

const OBSTACLES = [
  'vent',
  'hatch',
  'aerial',
  'fan',
  'air-conditioner',
  'dish',
  'rail',
  'awning',
  'mast',
  'chimney',
  'tree',
  'ridge',
  'building',
  'other',
] as const;
/** What may stand on a roof, or beside it. */
export const OBSTACLE_KINDS = OBSTACLES;

/** Further than this from the corner that was measured from is no roof, mm. */
const FAR_MM = 1e6;
const LEAST_BOX_MM = 100;
const drawn = 'drawn on the roof\u2019s own screen';

const isPoint = (value: unknown): value is Point =>
  Array.isArray(value) &&
  value.length === 2 &&
  value.every((one) => typeof one === 'number' && Number.isFinite(one) && Math.abs(one) <= FAR_MM);

/** What is wrong with an outline; null where nothing is. */
export function outlineFault(value: unknown): string | null {
  if (!Array.isArray(value)) return `is ${shown(value)}, expected a list of points [x, y] in mm`;
  if (value.length < 3 || value.length > 64) return `has ${value.length} points, expected 3 to 64`;
  const wrong = value.findIndex((point) => !isPoint(point));
  if (wrong >= 0) return `has ${JSON.stringify(value[wrong])} at ${wrong}, expected [x, y] within 1,000,000 mm`;
  const met = crossing(value as Point[]);
  return met ? `crosses itself at sides ${met[0]} and ${met[1]}, expected sides that meet at their corners only` : null;
}

const outline = () =>
  mixed<Point[]>()
    .nullable()
    .optional()
    .test('outline', function check(value: unknown) {
      if (value === null || value === undefined) return true;
      const message = outlineFault(value);
      return message === null || this.createError({ message });
    });

const requiredOutline = () =>
  outline().test('there', 'is missing, expected an outline', (value) => value !== null && value !== undefined);

const roofOutline = () =>
  requiredOutline().test('size', function check(value: unknown) {
    if (outlineFault(value) !== null) return true;
    const { left, right, foot, top } = boxOf(value as Point[]);
    return (
      Math.min(right - left, top - foot) >= LEAST_BOX_MM ||
      this.createError({ message: `is ${right - left} x ${top - foot} mm, expected at least 100 mm each way` })
    );
  });

const circle = () =>
  mixed<[x: number, y: number, r: number]>()
    .nullable()
    .optional()
    .test('circle', function check(value: unknown) {
      if (value === null || value === undefined) return true;
      const sound =
        Array.isArray(value) &&
        value.length === 3 &&
        value.every((one) => typeof one === 'number' && Number.isFinite(one) && Math.abs(one) <= FAR_MM) &&
        elementAt(value, 2) > 0;
      return sound || this.createError({ message: `is ${JSON.stringify(value)}, expected [x, y, r] in mm, r above 0` });
    });

/** The corners of the roof's bounding box on a photo: upper left, upper right, lower right, lower left, as shares of it. */
const onPhoto = () =>
  mixed<[x: number, y: number][]>().test('corners', function check(value: unknown) {
    const sound =
      Array.isArray(value) &&
      value.length === 4 &&
      value.every((one) => isPoint(one) && one.every((share) => share >= 0 && share <= 1));
    return sound || this.createError({ message: `is ${shown(value)}, expected four points [x, y] from 0 to 1` });
  });

const obstacle = part({
  id: requiredText('an id: a short text'),
  label: text(),
  kind: requiredOneOf(OBSTACLES),
  outline_mm: outline(),
  circle_mm: circle(),
  height_mm: millimetres(),
  clearance_mm: millimetres(),
  cover: flag(),
  movable: flag(),
  state: text(),
}).test('shape', function check(value) {
  const both = [value.outline_mm, value.circle_mm].filter((one) => one !== null && one !== undefined).length;
  return both === 1 || this.createError({ message: 'has neither or both, expected one of outline_mm and circle_mm' });
});

/** A roof, what stands on it, and where modules lie. */
export const roofs = kind({
  single: false,
  word: 'Roof',
  noun: 'a roof',
  stem: 'roof',
  question: null,
  shelf: null,
  goods: 'own',
  cabled: false,
  schema: part({
    id: id(),
    label: name(),
    heading_deg: first('Compass direction of ahead', num(0, 360), {
      belongs: 'place',
      hint: 'up the slope where there is one',
    }),
    tilt_deg: first('Tilt', num(0, 75), { belongs: 'place' }),
    mount_mm: asked('Underside of the modules above the roof', millimetres(), { belongs: 'place' }),
    edge_mm: asked('Distance to the edge', millimetres(), { belongs: 'place' }),
    gap_mm: asked('Gap between modules', millimetres(), { belongs: 'place' }),
    parked: asked('Always parked this way', flag(), { belongs: 'place' }),
    outline_mm: hidden(drawn, roofOutline()),
    keepClear: hidden(drawn, list(part({ label: text(), outline_mm: requiredOutline() }))),
    obstacles: hidden(drawn, list(obstacle)),
    underlay: optionalPart({
      photo: hidden(drawn, requiredText('the id of a photo')),
      corners: hidden(drawn, onPhoto()),
    }),
    placed: hidden(
      drawn,
      list(
        part({
          arrayId: requiredText('the id of an array'),
          string: whole(0, 10_000),
          index: whole(0, 10_000),
          x: requiredNum(-FAR_MM, FAR_MM),
          y: requiredNum(-FAR_MM, FAR_MM),
          turned: flag(),
        }),
      ),
    ),
    notes: notes(),
  }),
  fact: ({ outline_mm, placed }) => {
    const { left, right, foot, top } = boxOf(outline_mm ?? []);
    return `${((right - left) / 1000).toFixed(2)} x ${((top - foot) / 1000).toFixed(2)} m, ${placed?.length ?? 0} modules`;
  },
  line: { at: 'list' },
});
export type Roof = InferType<typeof roofs.schema>;
export type Obstacle = NonNullable<Roof['obstacles']>[number];
