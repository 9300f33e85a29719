import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import {
  modelOf,
  readSystemFile,
  roofRefusal,
  roofRoom,
  roofSentence,
  roofsOf,
  roofSun,
  shadeSentence,
  tooNear,
  type Roof,
  type RoofAnswer,
} from '../src/index';

/** What is said of a roof, and where its shadows fall. */

const open = (name: string) => {
  const text = readFileSync(join(__dirname, `../../docs/format/reference/roof/${name}.lantern.json`), 'utf8');
  return modelOf(readSystemFile(text).file);
};
const roof = (more: Partial<Roof> = {}): Roof => ({
  id: 'r',
  outline_mm: [
    [0, 0],
    [4000, 0],
    [4000, 3000],
    [0, 3000],
  ],
  ...more,
});
const answer = (more: Partial<RoofAnswer>): RoofAnswer => ({
  id: 'r',
  module: 'm',
  fit: { count: 7, watts: 2100, placed: [], bound: 7, proved: true },
  away: [],
  short: null,
  shade: null,
  ...more,
});

describe('the sentence', () => {
  const aerial = roof({ obstacles: [{ id: 'a', kind: 'aerial', circle_mm: [1, 1, 1], movable: true }] });
  test('seven yes, eight no, and what would change it', () => {
    const said = roofSentence(
      aerial,
      answer({ short: { count: 8, by_mm: 140, where: 'ahead' }, away: [{ obstacle: 'a', count: 8, watts: 2400 }] }),
    );
    expect(said).toBe('Seven fit. Eight do not: 140 mm short ahead. Move the aerial and eight fit.');
  });
  test('what was not proved is no "do not"', () => {
    const open_ = answer({
      fit: { count: 7, watts: 0, placed: [], bound: 9, proved: false },
      short: { count: 8, by_mm: 140, where: 'left' },
    });
    expect(roofSentence(aerial, open_)).toBe('Seven fit. Eight could not be ruled out.');
  });
  test('an obstacle whose going brings nothing is not moved; one and none are said so', () => {
    expect(roofSentence(aerial, answer({ away: [{ obstacle: 'a', count: 7, watts: 2100 }] }))).toBe('Seven fit.');
    const none = answer({
      fit: { count: 0, watts: 0, placed: [], bound: 0, proved: true },
      short: { count: 1, by_mm: 22, where: 'right' },
    });
    expect(roofSentence(aerial, none)).toBe('No module fits. One does not: 22 mm short on the right.');
  });
});

test('of the two costs of shade the greater is quoted, and the better wiring by the numbers on the drawing', () => {
  const shade = {
    hours: [],
    light: [],
    sky: [],
    kept: 0.8041,
    keptHard: 0.8,
    wirings: [
      {
        strings: [
          [0, 1],
          [2, 3],
        ],
        kept: 0.8041,
      },
      {
        strings: [
          [0, 2],
          [1, 3],
        ],
        kept: 0.8422,
      },
    ],
  };
  expect(shadeSentence(answer({ shade }))).toBe(
    'Shade takes 20 % of the year. Wired as 1 + 3, 2 + 4 it keeps 3.8 % more.',
  );
  expect(shadeSentence(answer({ shade: { ...shade, kept: 0.999, keptHard: 0.998 } }))).toMatch('Nothing on this roof');
  expect(shadeSentence(answer({}))).toBeNull();
});

test('a module that is too near is told from what, by its own number', () => {
  const mast = roof({ obstacles: [{ id: 'o', kind: 'mast', label: 'Mast', circle_mm: [1, 1, 1] }] });
  expect(tooNear(mast, { with: 'edge', by_mm: 12 })).toBe('12 mm too near the edge');
  expect(tooNear(mast, { with: 'module 1', by_mm: 10 })).toBe('10 mm too near module 2');
  expect(tooNear(mast, { with: 'o', by_mm: 5 })).toBe('5 mm too near Mast');
});

describe('shadows', () => {
  const model = open('s13-regroup');
  const [real] = model.system.roofs!;
  const pole = {
    ...real!,
    tilt_deg: 0,
    mount_mm: 0,
    obstacles: [{ id: 'p', kind: 'mast' as const, circle_mm: [0, 0, 10] as [number, number, number], height_mm: 1000 }],
  };
  const tip = (heading: number, hour: number, month = 5) => {
    const sun = roofSun(model, pole, month, hour, heading)!;
    const points = sun.dark.flat();
    const far = points.reduce((best, one) => (Math.hypot(...one) > Math.hypot(...best) ? one : best), [0, 0] as const);
    return { sun, far };
  };
  test('about noon they fall away from the sun, as long as the height over the tangent of its elevation', () => {
    const north = (model.site.latitude_deg ?? 0) > 0 ? 1 : -1;
    const { sun, far } = tip(0, 12);
    expect(Math.sign(far[1])).toBe(north);
    expect(Math.hypot(...far) / (1000 / Math.tan((sun.elevation_deg * Math.PI) / 180))).toBeCloseTo(1, 1);
  });
  test('in the morning to the west, in the afternoon to the east; a roof that is turned turns them', () => {
    expect(tip(0, 8).far[0]).toBeLessThan(0);
    expect(tip(0, 16).far[0]).toBeGreaterThan(0);
    expect(tip(180, 16).far[0]).toBeLessThan(0);
  });
  test('longer in winter; none at night', () => {
    expect(Math.hypot(...tip(0, 12, 11).far)).toBeGreaterThan(Math.hypot(...tip(0, 12, 5).far));
    expect(roofSun(model, pole, 5, 1, 0)).toMatchObject({ sunny: false, dark: [] });
  });
  test('without a climate nothing is said', () => {
    expect(roofSun({ ...model, site: { ...model.site, climate: null } }, pole, 5, 12, 0)).toBeNull();
  });
});

test('what fits is asked once while modules are only moved', () => {
  const model = open('s13-regroup');
  const [real] = model.system.roofs!;
  const moved = {
    ...model,
    system: { ...model.system, roofs: [{ ...real!, placed: real!.placed!.map((one) => ({ ...one, x: one.x + 10 })) }] },
  };
  const kept = new Map<string, ReturnType<typeof roofsOf>[number]>();
  let made = 0;
  const remember = (key: string, make: () => never) => {
    if (!kept.has(key)) made++;
    const found = kept.get(key) ?? make();
    kept.set(key, found);
    return found as never;
  };
  const ask = (one: typeof model) => roofsOf(one, { remember, clock: () => () => false } as never)[0]!.fit.count;
  expect(ask(moved)).toBe(ask(model));
  expect(made).toBe(1);
});

describe('more modules than the roof holds', () => {
  const model = open('s13-regroup');
  test('what is proved not to fit is refused, what was only not found is told', () => {
    const room = roofRoom(model, 'm280')!;
    const [roof_] = roofsOf(model, { clock: () => () => false });
    expect(room.count).toBeGreaterThanOrEqual(roof_!.fit.count);
    expect(room.there).toBe(4);
    const free = room.count - room.there;
    expect(roofRefusal(room, free)).toBeNull();
    expect(roofRefusal(room, free + 1)).toMatchObject({ certain: room.most === room.count });
    expect(roofRefusal({ count: 8, most: 8, there: 3, smaller: false }, 6)).toEqual({
      says: 'The measured roof holds 8 modules of this size: 9 do not fit.',
      certain: true,
    });
    expect(roofRefusal({ count: 8, most: 9, there: 3, smaller: false }, 6)).toMatchObject({ certain: false });
    // More than any placement can hold is refused, proved to the last module or not.
    expect(roofRefusal({ count: 8, most: 9, there: 3, smaller: false }, 7)).toEqual({
      says: 'The measured roof holds 9 modules of this size at most: 10 do not fit.',
      certain: true,
    });
    // Four small ones leave more room than four of this size.
    expect(roofRefusal({ count: 8, most: 8, there: 4, smaller: true }, 5)).toMatchObject({ certain: false });
  });
  test('without a roof, or without the size of the module, nothing is refused', () => {
    expect(roofRefusal(null, 40)).toBeNull();
    expect(roofRoom({ ...model, system: { ...model.system, roofs: [] } }, 'm280')).toBeNull();
    expect(roofRoom(model, 'nobody')).toBeNull();
    expect(roofRefusal({ count: 2, most: 2, there: 4, smaller: false }, 0)).toBeNull();
  });
  test('what stands on the ground takes no place on the roof', () => {
    const arrays = model.system.arrays!.map((array) => ({ ...array, mounting: 'ground' as const }));
    expect(roofRoom({ ...model, system: { ...model.system, arrays } }, 'm280')!.there).toBe(0);
  });
  test('a larger module among smaller ones is told so', () => {
    const types = model.system.moduleTypes!;
    const large = { ...types.find(({ id }) => id === 'm280')!, id: 'large', length_mm: 2278, width_mm: 1134 };
    const asked = { ...model, system: { ...model.system, moduleTypes: [...types, large] } };
    expect(roofRoom(asked, 'large')!.smaller).toBe(true);
    expect(roofRoom(asked, 'm280')!.smaller).toBe(false);
  });
});
