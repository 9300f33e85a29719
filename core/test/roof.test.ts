import fc from 'fast-check';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { FaultError, modelOf, readSystemFile, type Model, type SystemFile } from '../src/index';
import { areaOf, boxOf, convexPieces, crossing, hull, unionArea, type Point } from '../src/numeric/polygon';
import { freeSpans, groundOf, type Ground } from '../src/roof/free';
import { pack } from '../src/roof/pack';
import { roofsOf, type RoofAnswer } from '../src/roof/roof';
import { inPlane, litShares, prismOf, shadows, skyShare } from '../src/roof/shade';
import { shadeOf, type RoofShade } from '../src/roof/shade-of';
import type { Spot } from '../src/roof/spots';

const folder = join(__dirname, '../../docs/format/reference/roof');
const text = (name: string) => readFileSync(join(folder, name), 'utf8');
const file = (name: string): SystemFile => readSystemFile(text(`${name}.lantern.json`)).file;
const box = (left: number, foot: number, right: number, top: number): Point[] => [
  [left, foot],
  [right, foot],
  [right, top],
  [left, top],
];
/** A search is given up after so many looks: a test must not depend on the machine's speed. */
const looks = (most: number) => {
  let left = most;
  return () => left-- > 0;
};

describe('against figures found elsewhere', () => {
  test('an aerial in the middle of a bus: two fit, three without it, the fan makes no difference', () => {
    const expected = JSON.parse(text('p07-aerial-moves.expected.json')) as {
      lower: number;
      watts: number;
      away: Record<string, [number, number]>;
    };
    const [found] = roofsOf(modelOf(file('p07-aerial-moves')));
    expect(found!.fit).toMatchObject({
      count: expected.lower,
      watts: expected.watts,
      bound: expected.lower,
      proved: true,
    });
    expect(found!.away.map(({ obstacle, count }) => [obstacle, count])).toEqual([
      ['aerial', expected.away.aerial![0]],
      ['fan', expected.away.fan![0]],
    ]);
  });

  test.each(['s04-chimney', 's13-regroup'])('%s: beam, sky, light, kept and the best wiring', (name) => {
    interface Call {
      hours: { month: number; hour: number; beam: number[]; tol: number[]; elev: number }[];
      sky: number[];
      light: number[];
      kept: number;
      best: number;
      bestWiring: number[][];
    }
    const [call] = (JSON.parse(text(`${name}.expected.json`)) as { calls: Call[] }).calls;
    const [found] = roofsOf(modelOf(file(name)), { clock: () => looks(4) });
    const shade = found!.shade as RoofShade;
    const listed = call!.hours.filter(({ elev }) => elev >= 5);
    expect(shade.hours.map(({ month, hour }) => [month, hour])).toEqual(listed.map(({ month, hour }) => [month, hour]));
    listed.forEach(({ beam, tol }, i) => {
      beam.forEach((share, m) => expect(Math.abs(shade.hours[i]!.beam[m]! - share)).toBeLessThan(tol[m]!));
    });
    call!.sky.forEach((share, m) => expect(Math.abs(shade.sky[m]! - share)).toBeLessThan(0.0005));
    call!.light.forEach((share, m) => expect(Math.abs(shade.light[m]! - share)).toBeLessThan(0.0002));
    expect(Math.abs(shade.kept - call!.kept)).toBeLessThan(0.0005);
    expect(shade.keptHard).toBeLessThanOrEqual(shade.kept);
    const best = shade.wirings.at(-1)!;
    expect(Math.abs(best.kept - call!.best)).toBeLessThan(0.0005);
    expect(best.strings).toEqual(call!.bestWiring);
  });
});

describe('where a module may lie', () => {
  const spansOf = (ground: Ground, y: number) => freeSpans(ground, 1000, 1600, y);
  test('a bare roof: the edge is kept on all sides, touching it holds', () => {
    const bare = groundOf(box(0, 0, 3000, 2000), 100, []);
    expect(spansOf(bare, 100)).toEqual([{ from: 100, to: 1900 }]);
    expect(spansOf(bare, 300)).toEqual([{ from: 100, to: 1900 }]);
    expect(spansOf(bare, 99)).toEqual([]);
    expect(spansOf(bare, 301)).toEqual([]);
  });
  test('beside a hatch with its clearance, and round a mast by the true distance', () => {
    const hatch = groundOf(box(0, 0, 5000, 2000), 0, [{ outline: box(2000, 500, 2400, 900), clearance: 50 }]);
    expect(spansOf(hatch, 100)).toEqual([
      { from: 0, to: 950 },
      { from: 2450, to: 4000 },
    ]);
    // 30 mm above its corner: sqrt(50^2 - 30^2) = 40 mm beside it is enough.
    const low = groundOf(box(0, 0, 5000, 3000), 0, [{ outline: box(2000, 500, 2400, 900), clearance: 50 }]);
    expect(spansOf(low, 930)).toEqual([
      { from: 0, to: 960 },
      { from: 2440, to: 4000 },
    ]);
    expect(spansOf(low, 950)).toEqual([{ from: 0, to: 4000 }]);
    const mast = groundOf(box(0, 0, 5000, 3000), 0, [{ circle: [2500, 500, 30], clearance: 20 }]);
    expect(spansOf(mast, 530)).toEqual([
      { from: 0, to: 1460 },
      { from: 2540, to: 4000 },
    ]);
  });
  test('a corner that is cut off keeps its edge free too, by the true distance', () => {
    const cut = groundOf(
      [
        [0, 0],
        [4000, 0],
        [4000, 3000],
        [1000, 3000],
        [0, 2000],
      ],
      100,
      [],
    );
    const [span] = spansOf(cut, 1300);
    // The upper left corner lies at y 2900: the slanting side stands at x = 900 there, 100 mm off it is 141 mm along.
    expect(span!.from).toBe(Math.ceil(900 + 100 * Math.SQRT2));
  });
  test('what is kept clear may be touched, not overlapped', () => {
    const kept = groundOf(box(0, 0, 3000, 2000), 0, [{ outline: box(1000, 0, 1500, 2000), clearance: 0 }]);
    expect(spansOf(kept, 0)).toEqual([
      { from: 0, to: 0 },
      { from: 1500, to: 2000 },
    ]);
  });
});

const size = { width: 1000, length: 1600, gap: 20 };
/** Every pair apart, each within: asked of the plain definition, not of the search. */
function sound(spots: readonly Spot[], ground: Ground, { width, length, gap } = size): boolean {
  return spots.every((one, i) => {
    const [w, h] = one.turned ? [length, width] : [width, length];
    const inside = freeSpans(ground, w, h, one.y).some(({ from, to }) => from <= one.x && one.x <= to);
    return (
      inside &&
      spots.slice(i + 1).every((other) => {
        const [ow, oh] = other.turned ? [length, width] : [width, length];
        return (
          one.x + w + gap <= other.x ||
          other.x + ow + gap <= one.x ||
          one.y + h + gap <= other.y ||
          other.y + oh + gap <= one.y
        );
      })
    );
  });
}

describe('how many fit', () => {
  test('by hand: rows, columns, and the two mixed where neither alone does it', () => {
    const count = (w: number, h: number) => pack(groundOf(box(0, 0, w, h), 0, []), size).spots.length;
    expect(count(3040, 1600)).toBe(3);
    expect(count(3039, 1600)).toBe(2);
    expect(count(1000, 3220)).toBe(2);
    expect(count(999, 3220)).toBe(0);
    // Five of 1 x 1.6 m on 2.62 m square: four round and round, as no row has them.
    expect(count(2620, 2620)).toBe(4);
  });
  test('the bound is never below what is found, and a proof is both alike', () => {
    const ground = groundOf(box(0, 0, 5400, 2300), 100, [{ outline: box(2000, 900, 2500, 1300), clearance: 50 }]);
    const found = pack(ground, size);
    expect(found.bound).toBe(found.spots.length);
    expect(sound(found.spots, ground)).toBe(true);
  });
  test('stopped at once it still has the best rows', () => {
    const ground = groundOf(box(0, 0, 9000, 5000), 100, []);
    const found = pack(ground, size, () => false);
    expect(found.spots.length).toBeGreaterThanOrEqual(22);
    expect(found.bound).toBeGreaterThanOrEqual(found.spots.length);
  });

  const things = fc.array(
    fc.record({
      x: fc.integer({ min: 0, max: 3000 }),
      y: fc.integer({ min: 0, max: 2400 }),
      w: fc.integer({ min: 50, max: 700 }),
      h: fc.integer({ min: 50, max: 500 }),
      round: fc.boolean(),
      clearance: fc.integer({ min: 0, max: 80 }),
    }),
    { maxLength: 4 },
  );
  const groundWith = (
    w: number,
    h: number,
    list: readonly { x: number; y: number; w: number; h: number; round: boolean; clearance: number }[],
  ) =>
    groundOf(
      box(0, 0, w, h),
      100,
      list.map(({ x, y, w: wide, h: high, round, clearance }) =>
        round
          ? { circle: [x, y, wide / 4] as const, clearance }
          : { outline: box(x, y, x + wide, y + high), clearance },
      ),
    );

  // ROOFS=1000 asks for more of them.
  test('drawn by chance: nothing overlaps, nothing hangs over, never fewer with more room or an obstacle less', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1100, max: 3600 }), fc.integer({ min: 1100, max: 2900 }), things, (w, h, list) => {
        const ground = groundWith(w, h, list);
        const found = pack(ground, size, looks(6));
        expect(sound(found.spots, ground)).toBe(true);
        expect(found.bound).toBeGreaterThanOrEqual(found.spots.length);
        const larger = pack(groundWith(w + 150, h + 150, list), size, looks(6));
        expect(larger.bound).toBeGreaterThanOrEqual(found.spots.length);
        if (found.bound !== found.spots.length || larger.bound !== larger.spots.length) return;
        expect(larger.spots.length).toBeGreaterThanOrEqual(found.spots.length);
        const fewer = pack(groundWith(w, h, list.slice(1)), size, looks(6));
        if (fewer.bound === fewer.spots.length) expect(fewer.spots.length).toBeGreaterThanOrEqual(found.spots.length);
      }),
      { numRuns: Number(process.env.ROOFS ?? 60) },
    );
  });

  test('as many as trying every place of a coarse grid finds, on roofs drawn to that grid', () => {
    // Modules of 2 x 3 on a grid: every placing of every subset, without any cleverness.
    const brute = (w: number, h: number, blocked: readonly (readonly [number, number])[]): number => {
      const used = new Uint8Array(w * h);
      for (const [x, y] of blocked) if (x < w && y < h) used[y * w + x] = 1;
      let best = 0;
      const visit = (at: number, count: number): void => {
        best = Math.max(best, count);
        for (let cell = at; cell < w * h; cell++) {
          const [x, y] = [cell % w, Math.floor(cell / w)];
          for (const [mw, mh] of [
            [2, 3],
            [3, 2],
          ] as const) {
            if (x + mw > w || y + mh > h) continue;
            const cells: number[] = [];
            for (let dy = 0; dy < mh; dy++) for (let dx = 0; dx < mw; dx++) cells.push((y + dy) * w + x + dx);
            if (cells.some((one) => used[one] === 1)) continue;
            cells.forEach((one) => (used[one] = 1));
            visit(cell + 1, count + 1);
            cells.forEach((one) => (used[one] = 0));
          }
        }
      };
      visit(0, 0);
      return best;
    };
    const unit = 500;
    fc.assert(
      fc.property(
        fc.integer({ min: 2, max: 7 }),
        fc.integer({ min: 2, max: 5 }),
        fc.uniqueArray(fc.tuple(fc.integer({ min: 0, max: 6 }), fc.integer({ min: 0, max: 4 })), {
          maxLength: 3,
          selector: (one) => one.join(),
        }),
        fc.constantFrom(0, 20),
        (w, h, blocked, gap) => {
          // Modules a gap smaller with a gap between them lie on the same grid.
          const ground = groundOf(
            box(0, 0, w * unit - gap, h * unit - gap),
            0,
            blocked.map(([x, y]) => ({
              outline: box(x * unit, y * unit, (x + 1) * unit - gap, (y + 1) * unit - gap),
              clearance: gap,
            })),
          );
          const found = pack(ground, { width: 2 * unit - gap, length: 3 * unit - gap, gap });
          expect([found.spots.length, found.bound]).toEqual([brute(w, h, blocked), brute(w, h, blocked)]);
        },
      ),
      { numRuns: 60 },
    );
  });
});

describe('what is lacking for one more, and what lies wrong', () => {
  const bus = (change: (roof: NonNullable<NonNullable<SystemFile['system']>['roofs']>[number]) => void): Model => {
    const made = file('p07-aerial-moves');
    change(made.system.roofs![0]!);
    return modelOf(readSystemFile(JSON.stringify(made)).file);
  };
  test('by how much a side would have to move out', () => {
    // 1722 + 2 x 100 mm and not one less: 1900 lack 22 mm ahead.
    const [found] = roofsOf(bus((roof) => Object.assign(roof, { outline_mm: box(0, 0, 1334, 1900), obstacles: [] })));
    expect(found!.fit.count).toBe(0);
    expect(found!.short).toEqual({ count: 1, by_mm: 22, where: 'ahead' });
  });
  test('low things may lie under modules where that was said, higher ones never', () => {
    const vent = (height_mm: number, cover: boolean) =>
      roofsOf(
        bus((roof) =>
          Object.assign(roof, {
            outline_mm: box(0, 0, 1334, 1922),
            obstacles: [{ id: 'v', kind: 'vent', outline_mm: box(500, 500, 800, 800), height_mm, cover }],
          }),
        ),
      )[0]!.fit.count;
    expect([vent(40, true), vent(41, true), vent(40, false)]).toEqual([1, 0, 0]);
  });
  test('a state has what it names, and what names none', () => {
    const count = (state?: string) =>
      roofsOf(
        bus((roof) => (roof.obstacles![0]!.state = 'summer')),
        { state },
      )[0]!.fit.count;
    expect([count(), count('summer'), count('winter')]).toEqual([2, 2, 3]);
  });
  test('a placing as found that does not hold is told, with what and by how much', () => {
    const made = file('s13-regroup');
    const [roof] = made.system.roofs!;
    roof!.placed![1]!.x = 1400;
    const [found] = roofsOf(modelOf(made), { clock: () => looks(2) });
    // 400 + 992 + 20 = 1412; 12 mm are lacking to the module beside it.
    expect(found!.placed!.faults).toEqual([{ index: 0, with: 'module 1', by_mm: 12 }]);
    roof!.placed![1]!.x = 1650;
    // 1650 + 992 + 50 = 2692; the wall stands at 2650.
    expect(roofsOf(modelOf(made), { clock: () => looks(2) })[0]!.placed!.faults).toEqual([
      { index: 1, with: 'wall', by_mm: 42 },
    ]);
  });
  test.each([
    [{ arrayId: 'b', string: 0, index: 0, x: 0, y: 0 }, 'arrayId is "b"'],
    [{ arrayId: 'a', string: 5, index: 0, x: 0, y: 0 }, 'string is 5'],
    [{ arrayId: 'a', string: 0, index: 9, x: 0, y: 0 }, 'index is 9'],
    [{ arrayId: 'a', string: 0, index: 0, x: 0, y: 0 }, 'is placed already'],
  ])('%j is a fault of the roof, and none of the file', (placed, said) => {
    const made = file('s13-regroup');
    made.system.roofs![0]!.placed!.push(placed);
    const read = readSystemFile(JSON.stringify(made)).file;
    try {
      roofsOf(modelOf(read));
      throw new Error('nothing was refused');
    } catch (error) {
      expect((error as FaultError).faults.map(({ path, message }) => `${path} ${message}`).join()).toContain(said);
    }
  });
  test.each([
    [
      [
        [0, 0],
        [100, 0],
      ],
      'has 2 points',
    ],
    [
      [
        [0, 0],
        [1000, 1000],
        [1000, 0],
        [0, 1000],
      ],
      'crosses itself',
    ],
    [
      [
        [0, 0],
        [50, 0],
        [50, 5000],
        [0, 5000],
      ],
      'expected at least 100 mm',
    ],
    [
      [
        [0, 0],
        [2e6, 0],
        [0, 1],
      ],
      'within 1,000,000',
    ],
  ])('an outline of %j is refused', (outline, said) => {
    const made = JSON.parse(text('s13-regroup.lantern.json')) as { system: { roofs: { outline_mm: unknown }[] } };
    made.system.roofs[0]!.outline_mm = outline;
    expect(() => readSystemFile(JSON.stringify(made))).toThrow(FaultError);
    try {
      readSystemFile(JSON.stringify(made));
    } catch (error) {
      const { faults } = error as FaultError;
      expect(faults[0]).toMatchObject({
        path: 'system.roofs[0].outline_mm',
        message: expect.stringContaining(said) as string,
      });
    }
  });
});

describe('shade', () => {
  const pole = prismOf({ outline: box(-10, -10, 10, 10), height: 1000 }, 0, 0)!;
  const level = { tilt: 0, heading: 0 };
  const sun = (elevation: number, azimuth: number) => {
    const [e, a] = [(elevation * Math.PI) / 180, (azimuth * Math.PI) / 180];
    return inPlane(level, Math.sin(e), Math.cos(e) * Math.cos(a), Math.cos(e) * Math.sin(a));
  };
  test('a pole throws its height over the tangent of the sun, away from it', () => {
    const [shadow] = shadows([pole], level, sun(30, 180));
    const far = Math.max(...shadow!.corners.map(([, y]) => y));
    expect(far).toBeCloseTo(10 + 1000 / Math.tan(Math.PI / 6), 6);
    const [east] = shadows([pole], level, sun(45, 90));
    expect(Math.min(...east!.corners.map(([x]) => x))).toBeCloseTo(-1010, 6);
  });
  test('a shadow covers its foot, its top and all between, and nothing more', () => {
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.integer({ min: -900, max: 900 }), fc.integer({ min: -900, max: 900 })), {
          minLength: 3,
          maxLength: 9,
        }),
        fc.integer({ min: 5, max: 89 }),
        fc.integer({ min: 0, max: 359 }),
        (points, elevation, azimuth) => {
          const outline = hull(points);
          fc.pre(areaOf(outline) > 100);
          const prism = prismOf({ outline, height: 500 }, 0, 0)!;
          const [shadow] = shadows([prism], level, sun(elevation, azimuth));
          const thrown = 500 / Math.tan((elevation * Math.PI) / 180);
          const [dx, dy] = [-thrown, -thrown].map((far, i) =>
            i === 0 ? far * Math.sin((azimuth * Math.PI) / 180) : far * Math.cos((azimuth * Math.PI) / 180),
          ) as [number, number];
          const both = hull([...outline, ...outline.map(([x, y]): [number, number] => [x + dx, y + dy])]);
          expect(areaOf(shadow!.corners)).toBeCloseTo(areaOf(both), 3);
          expect(shadow!.reach).toEqual(boxOf(shadow!.corners));
        },
      ),
    );
  });
  test('what a module gets is the mean of what its groups of cells get', () => {
    const whole = { left: 0, right: 1000, foot: 0, top: 1600 };
    const thirds = [0, 1, 2].map((k) => ({ ...whole, left: (1000 * k) / 3, right: (1000 * (k + 1)) / 3 }));
    const posts = [200, 450, 700].map((x) => prismOf({ circle: [x, -300, 60], height: 900 }, 0, 0)!);
    const { lit, parts } = litShares(whole, thirds, shadows(posts, level, sun(35, 195)));
    expect(lit).toBeLessThan(0.9);
    expect([...parts].reduce((sum, one) => sum + one, 0) / 3).toBeCloseTo(lit, 9);
    expect(Math.max(...parts) - Math.min(...parts)).toBeGreaterThan(0.02);
  });
  test('what comes nowhere near is left out, what may come near never is', () => {
    const post = prismOf({ circle: [0, 0, 50], height: 1000 }, 0, 0)!;
    const south = sun(45, 180);
    const face = (x: number, y: number) => ({ left: x, right: x + 500, foot: y, top: y + 500 });
    expect(shadows([post], level, south, face(-250, 900))).toHaveLength(1);
    expect(shadows([post], level, south, face(-250, 1100))).toEqual([]);
    expect(shadows([post], level, south, face(100, 200))).toEqual([]);
    expect(shadows([post], level, south, face(-250, -600))).toEqual([]);
  });
  test('what does not rise above the modules throws none; on a slope less of it does', () => {
    expect(prismOf({ outline: box(0, 0, 1, 1), height: 40 }, 40, 0)).toBeNull();
    expect(prismOf({ outline: box(0, 0, 1, 1), height: 100 }, 40, 60)!.height).toBeCloseTo(20, 6);
  });
  test('an obstacle more never gives more light, and none leaves all of it', () => {
    const face = { left: 0, right: 1000, foot: 0, top: 1600 };
    fc.assert(
      fc.property(
        fc.array(
          fc.tuple(
            fc.integer({ min: -2000, max: 2000 }),
            fc.integer({ min: -2000, max: 2000 }),
            fc.integer({ min: 20, max: 600 }),
            fc.integer({ min: 50, max: 3000 }),
          ),
          { maxLength: 5 },
        ),
        fc.integer({ min: 5, max: 85 }),
        fc.integer({ min: 0, max: 359 }),
        (list, elevation, azimuth) => {
          const prisms = list.map(([x, y, w, h]) => prismOf({ outline: box(x, y, x + w, y + w), height: h }, 0, 0)!);
          const lit = (count: number) =>
            litShares(face, [], shadows(prisms.slice(0, count), level, sun(elevation, azimuth))).lit;
          const sky = (count: number) => skyShare(prisms.slice(0, count), 20, [500, 800]);
          expect([lit(0), sky(0)]).toEqual([1, 1]);
          for (let count = 1; count <= prisms.length; count++) {
            expect(lit(count)).toBeLessThanOrEqual(lit(count - 1) + 1e-9);
            expect(sky(count)).toBeLessThanOrEqual(sky(count - 1) + 1e-9);
          }
        },
      ),
    );
  });
  test('a wall along one side, so high that half the sky is gone', () => {
    const wall = prismOf({ outline: box(1, -1e6, 2, 1e6), height: 1e6 }, 0, 0)!;
    expect(skyShare([wall], 0, [0, 0])).toBeCloseTo(0.5, 2);
    // As high as it is away: cos-weighted (1 + cos 45) / 2.
    const low = prismOf({ outline: box(1000, -1e6, 1001, 1e6), height: 1000 }, 0, 0)!;
    expect(skyShare([low], 0, [0, 0])).toBeCloseTo((1 + Math.SQRT1_2) / 2, 2);
  });
  test('a post hides as much of the sky of a level point whichever way it is, and more where it is nearer or higher', () => {
    const post = (away: number, bearing: number, height: number) => {
      const angle = (bearing * Math.PI) / 180;
      const circle = [away * Math.sin(angle), away * Math.cos(angle), 50];
      return skyShare([prismOf({ circle, height }, 0, 0)!], 0, [0, 0]);
    };
    const north = post(300, 0, 900);
    expect(north).toBeLessThan(0.96);
    for (let bearing = 45; bearing < 360; bearing += 45) expect(post(300, bearing, 900)).toBeCloseTo(north, 4);
    expect(post(200, 180, 900)).toBeLessThan(north);
    expect(post(300, 180, 1500)).toBeLessThan(north);
    // Over the point itself nothing is left of the sky below its top.
    expect(post(0, 0, 900)).toBeLessThan(0.01);
  });
  test('without latitude, climate or heading it says what is missing, and still what fits', () => {
    const made = file('s13-regroup');
    delete made.site.latitude_deg;
    delete made.system.roofs![0]!.heading_deg;
    const [found] = roofsOf(modelOf(made), { clock: () => looks(2) });
    expect(found).toMatchObject({
      shade: null,
      missing: ['site.latitude_deg', 'roof.heading_deg'],
      fit: { count: 4 },
    } satisfies Partial<Record<keyof RoofAnswer, unknown>>);
  });
  test('a bus that is parked anywhere has the mean of eight headings; parked one way, that one alone', () => {
    const at = (parked: boolean, heading?: number) => {
      const made = file('s13-regroup');
      made.site.kind = 'bus';
      const [roof] = made.system.roofs!;
      roof!.parked = parked;
      const fit = [{ type: made.system.moduleTypes![0]!, x: 1412, y: 400, turned: false }];
      return shadeOf(modelOf(made), roof!, roof!.obstacles!, fit, heading) as RoofShade;
    };
    const one = at(true);
    expect(at(true, 90).light[0]).not.toBeCloseTo(one.light[0]!, 3);
    const mean =
      [0, 45, 90, 135, 180, 225, 270, 315].reduce((sum, heading) => sum + at(false, heading).light[0]!, 0) / 8;
    expect(at(false).light[0]).toBeCloseTo(mean, 9);
  });
});

describe('polygons', () => {
  test('areas of what overlaps are counted once', () => {
    expect(unionArea([box(0, 0, 2, 2), box(1, 1, 3, 3)])).toBeCloseTo(7, 9);
    expect(unionArea([box(0, 0, 2, 2), box(0, 0, 2, 2)])).toBeCloseTo(4, 9);
    expect(
      unionArea([
        box(0, 0, 2, 2),
        [
          [0, 0],
          [4, 0],
          [0, 4],
        ],
      ]),
    ).toBeCloseTo(8, 9);
  });
  test('an L in convex pieces keeps its area, and a crossing outline is told', () => {
    const corner: Point[] = [
      [0, 0],
      [3, 0],
      [3, 1],
      [1, 1],
      [1, 3],
      [0, 3],
    ];
    expect(convexPieces(corner).reduce((sum, piece) => sum + areaOf(piece), 0)).toBeCloseTo(5, 9);
    expect(convexPieces([...corner].reverse()).reduce((sum, piece) => sum + areaOf(piece), 0)).toBeCloseTo(5, 9);
    expect(crossing(corner)).toBeNull();
    expect(
      crossing([
        [0, 0],
        [2, 2],
        [2, 0],
        [0, 2],
      ]),
    ).toEqual([0, 2]);
    expect(
      crossing([
        [0, 0],
        [2, 0],
        [1, 0],
        [1, 2],
      ]),
    ).not.toBeNull();
  });
});
