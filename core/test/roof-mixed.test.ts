import fc from 'fast-check';
import { modelOf, mixedFitOn, readSystemFile, type ModuleType, type Roof } from '../src/index';
import type { Point } from '../src/numeric/polygon';
import { groundOf } from '../src/roof/free';
import { packMixed, type Kind, type MixedSpot } from '../src/roof/mixed';
import { pack } from '../src/roof/pack';
import { roofsOf } from '../src/roof/roof';

const box = (left: number, foot: number, right: number, top: number): Point[] => [
  [left, foot],
  [right, foot],
  [right, top],
  [left, top],
];
const kind = (module: string, length: number, width: number, watts: number, most = Infinity): Kind => ({
  module,
  size: { length, width, gap: 20 },
  watts,
  most,
});
const large = kind('large', 1600, 1000, 300);
const small = kind('small', 1000, 600, 100);
const count = (spots: readonly MixedSpot[], module: string) => spots.filter((one) => one.module === module).length;

/** Every module inside a bare rectangle with its edge, and a gap from each other. */
function sound(spots: readonly MixedSpot[], kinds: readonly Kind[], w: number, h: number, edge: number): boolean {
  const boxes = spots.map(({ module, x, y, turned }) => {
    const { width, length } = kinds.find((one) => one.module === module)!.size;
    return { x, y, right: x + (turned ? length : width), top: y + (turned ? width : length) };
  });
  return boxes.every(
    (a, i) =>
      a.x >= edge &&
      a.y >= edge &&
      a.right <= w - edge &&
      a.top <= h - edge &&
      boxes.slice(i + 1).every((b) => Math.max(b.x - a.right, a.x - b.right, b.y - a.top, a.y - b.top) >= 20),
  );
}

describe('modules of several sizes on one roof', () => {
  test('by hand: two large ones, and a small one on the strip that they leave', () => {
    // 2 x 1000 + 20 across leaves 600 beside them with its gap.
    const found = packMixed(groundOf(box(0, 0, 2640, 1600), 0, []), [large, small]);
    expect([count(found.spots, 'large'), count(found.spots, 'small')]).toEqual([2, 1]);
    expect(found.watts).toBe(700);
    expect(packMixed(groundOf(box(0, 0, 2639, 1600), 0, []), [large, small]).watts).toBe(600);
  });
  test('the aim is watts, not modules: one of 300 W before two of 100 W', () => {
    const found = packMixed(groundOf(box(0, 0, 1220, 1600), 0, []), [small, large]);
    expect(found.spots.map(({ module }) => module)).toEqual(['large']);
  });
  test('no more of a type than there are', () => {
    const kinds = [kind('large', 1600, 1000, 300, 1), kind('small', 1000, 600, 100, 2)];
    const found = packMixed(groundOf(box(0, 0, 6000, 4000), 0, []), kinds);
    expect(found.watts).toBe(500);
    expect([found.bound, found.bound_W]).toEqual([3, 500]);
  });
  test('stopped at once it still has what each type alone holds', () => {
    const ground = groundOf(box(0, 0, 5000, 3400), 100, []);
    const most = pack(ground, large.size, () => false).spots.length * 300;
    expect(packMixed(ground, [large, small], () => false).watts).toBeGreaterThanOrEqual(most);
  });
  test('drawn by chance: sound, never less than one type alone, never past its bound', () => {
    const side = fc.integer({ min: 800, max: 3400 });
    fc.assert(
      fc.property(side, side, fc.integer({ min: 60, max: 320 }), (w, h, watts) => {
        const kinds = [large, kind('small', 1000, 600, watts)];
        const ground = groundOf(box(0, 0, w, h), 100, []);
        let left = 12;
        const found = packMixed(ground, kinds, () => left-- > 0);
        expect(sound(found.spots, kinds, w, h, 100)).toBe(true);
        expect(found.bound_W).toBeGreaterThanOrEqual(found.watts);
        expect(found.bound).toBeGreaterThanOrEqual(found.spots.length);
        for (const one of kinds)
          expect(found.watts).toBeGreaterThanOrEqual(pack(ground, one.size, () => false).spots.length * one.watts);
      }),
      { numRuns: 40 },
    );
  });
});

describe('asked for of a file', () => {
  const type = (id: string, length_mm: number, width_mm: number, pmax_W: number) =>
    ({ id, label: id, length_mm, width_mm, pmax_W, voc_V: 22, isc_A: 10, vmp_V: 18, imp_A: 9 }) as ModuleType;
  const model = (roof: Partial<Roof>) =>
    modelOf(
      readSystemFile(
        JSON.stringify({
          format: 'true-lantern',
          version: 1,
          site: { name: 'Made up', kind: 'hut' },
          system: {
            nominal_V: 12,
            moduleTypes: [type('large', 1600, 1000, 300), type('small', 1000, 600, 100)],
            roofs: [{ id: 'roof', edge_mm: 0, ...roof }],
          },
        }),
      ).file,
    );
  const outline_mm: Point[] = [
    [0, 0],
    [2640, 0],
    [2640, 1600],
    [0, 1600],
  ];
  test('types apart by commas: how many of each, with the watts that no placement can pass', () => {
    const [found] = roofsOf(model({ outline_mm }), { module: 'large,small' });
    expect(found).toMatchObject({
      module: 'large,small',
      fit: {
        count: 3,
        watts: 700,
        kinds: [
          { module: 'large', count: 2 },
          { module: 'small', count: 1 },
        ],
      },
      short: null,
    });
    expect(found!.fit.bound_W).toBeGreaterThanOrEqual(700);
    expect(found!.fit.placed.map(({ module }) => module).sort()).toEqual(['large', 'large', 'small']);
  });
  test('what can be moved is tried away by watts, and one type alone is answered as before', () => {
    const aerial = {
      id: 'aerial',
      kind: 'aerial' as const,
      circle_mm: [1320, 800, 20] as [number, number, number],
      movable: true,
    };
    const [found] = roofsOf(model({ outline_mm, obstacles: [aerial] }), { module: 'large,small' });
    expect(found!.fit.watts).toBeLessThan(700);
    expect(found!.away).toEqual([{ obstacle: 'aerial', count: 3, watts: 700 }]);
    expect(roofsOf(model({ outline_mm }), { module: 'small' })[0]!.fit.kinds).toBeUndefined();
  });
  test('a type that is not there is named with its flag', () => {
    expect(() => roofsOf(model({ outline_mm }), { module: 'large,tiny' })).toThrow(/--module: is "tiny"/);
  });
  test('the modules that are there, no more', () => {
    const made = model({ outline_mm });
    const [large, small] = made.system.moduleTypes!;
    const fit = mixedFitOn(
      made.system.roofs![0]!,
      [],
      [
        { type: large!, most: 1 },
        { type: small!, most: 1 },
      ],
      () => true,
    );
    expect(fit).toMatchObject({ count: 2, watts: 400, proved: true });
  });
});
