import type { Roof, RoofPoint, System } from '@true-lantern/core';
import { fittedInto, scaleOf, snapped } from '../src/roof/scale';
import { cutCorner } from '../src/roof/Tape';

const roof: Roof = {
  id: 'r',
  outline_mm: [
    [0, 0],
    [4000, 0],
    [4000, 3000],
    [0, 3000],
  ],
  edge_mm: 100,
  gap_mm: 20,
  placed: [
    { arrayId: 'a', string: 0, index: 0, x: 100, y: 100 },
    { arrayId: 'a', string: 0, index: 1, x: 1500, y: 1000 },
  ],
  obstacles: [{ id: 'v', kind: 'vent', circle_mm: [3000, 1500, 200], clearance_mm: 50 }],
};
const system = {
  moduleTypes: [{ id: 'm', pmax_W: 300, voc_V: 40, isc_A: 9, vmp_V: 33, imp_A: 8.5, length_mm: 1700, width_mm: 1000 }],
  arrays: [{ id: 'a', strings: [['m', 'm']] }],
} as unknown as System;

test('the drawing goes to millimetres and back', () => {
  const scale = scaleOf(roof, 390, 460);
  for (const [x, y] of [
    [0, 0],
    [4000, 3000],
    [1234, 567],
  ] as const) {
    const [bx, by] = scale.back(scale.x(x), scale.y(y));
    expect(bx).toBeCloseTo(x, 6);
    expect(by).toBeCloseTo(y, 6);
  }
  // Ahead is up.
  expect(scale.y(3000)).toBeLessThan(scale.y(0));
  expect(scale.height).toBeLessThanOrEqual(460);
});

test.each([
  ['the edge', [108, 93], [100, 100]],
  ['a gap beside the other module', [1126, 95], [1120, 100]],
  ['clear of the vent', [1745, 700], [1750, 700]],
  ['nothing near: the whole centimetre', [1333, 777], [1330, 780]],
] as const)('a dragged module comes to rest by %s', (_, at, to) => {
  expect(snapped(system, roof, 1, at, 30)).toEqual(to);
});

test('a corner is cut either way round; one that is cut already, or more than is there, is not', () => {
  const outline = roof.outline_mm!;
  const ahead = cutCorner(outline, 'ahead left', 500, 300)!;
  expect(ahead).toHaveLength(5);
  expect(ahead).toEqual(
    expect.arrayContaining([
      [500, 3000],
      [0, 2700],
    ]),
  );
  expect(cutCorner([...outline].reverse(), 'ahead left', 500, 300)).toHaveLength(5);
  expect(cutCorner(ahead, 'ahead left', 100, 100)).toBeNull();
  expect(cutCorner(outline, 'behind right', 9000, 300)).toBeNull();
  for (const corner of ['ahead left', 'ahead right', 'behind right', 'behind left'] as const)
    expect(cutCorner(outline, corner, 500, 300)).not.toBeNull();
});

test('an obstacle that is measured anew keeps its shape: moved and stretched, corner for corner', () => {
  // A house corner with one corner cut off: 2 m by 1 m from the tape's nought.
  const shape: RoofPoint[] = [
    [0, 0],
    [2000, 0],
    [2000, 500],
    [1500, 1000],
    [0, 1000],
  ];
  // Half as wide, twice as deep, and a metre to the right.
  expect(fittedInto(shape, { left: 1000, right: 2000, foot: 0, top: 2000 })).toEqual([
    [1000, 0],
    [2000, 0],
    [2000, 1000],
    [1750, 2000],
    [1000, 2000],
  ]);
  expect(fittedInto(shape, { left: 0, right: 2000, foot: 0, top: 1000 })).toEqual(shape);
});
