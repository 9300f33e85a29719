import { areaOf, isPlate, onto, plateIn, sizeOf, squared, type Corners, type Grey } from '../src/plate/square';
import { evenLight } from '../src/plate/picture';

/** A plate photographed at an angle: its corners, and what it looks like from straight before it. */

const [WIDE, HIGH] = [600, 450];
const TILTED: Corners = [
  { x: 90, y: 60 },
  { x: 520, y: 100 },
  { x: 490, y: 380 },
  { x: 130, y: 350 },
];

/** A picture of a wall with a plate on it, asked place by place where it lies on the plate (shares of it). */
function photo(corners: Corners, wall: number, plate: (u: number, v: number) => number): Grey {
  const data = new Uint8Array(WIDE * HIGH).fill(wall);
  const [sides, down] = [600, 600];
  const at = onto(corners, sides, down);
  for (let v = 0; v < down; v++)
    for (let u = 0; u < sides; u++) {
      const { x, y } = at(u + 0.5, v + 0.5);
      data[Math.floor(y) * WIDE + Math.floor(x)] = plate(u / sides, v / down);
    }
  return { data, width: WIDE, height: HIGH };
}
/** Bars of print across a plate. */
const printed = (paper: number, ink: number) => (u: number, v: number) =>
  u > 0.1 && u < 0.7 && v > 0.1 && v < 0.9 && v * 20 - Math.floor(v * 20) < 0.35 && u * 40 - Math.floor(u * 40) < 0.6
    ? ink
    : paper;

test('the projection takes the corners of the rectangle to the corners of the plate, and straight lines to straight lines', () => {
  const at = onto(TILTED, 300, 200);
  const corners = [at(0, 0), at(300, 0), at(300, 200), at(0, 200)];
  corners.forEach(({ x, y }, i) => {
    expect(x).toBeCloseTo(TILTED[i]!.x, 9);
    expect(y).toBeCloseTo(TILTED[i]!.y, 9);
  });
  // The diagonals of a rectangle cross in its middle, whichever way it is seen.
  const [a, b, c, d] = TILTED;
  const middle = at(150, 100);
  for (const [p, q] of [
    [a, c],
    [b, d],
  ] as const)
    expect((q.x - p.x) * (middle.y - p.y) - (q.y - p.y) * (middle.x - p.x)).toBeCloseTo(0, 6);
});

test.each([
  ['a light plate on a dark wall', 60, printed(225, 30)],
  ['a dark plate on a grey wall', 150, printed(35, 230)],
])('%s is found by its border', (_, wall, plate) => {
  const found = plateIn(photo(TILTED, wall, plate))!;
  expect(isPlate(found)).toBe(true);
  found.forEach(({ x, y }, i) => {
    expect(Math.abs(x - TILTED[i]!.x)).toBeLessThan(8);
    expect(Math.abs(y - TILTED[i]!.y)).toBeLessThan(8);
  });
});

test('a blank wall, and a picture that the plate fills, have no border to find', () => {
  expect(plateIn({ data: new Uint8Array(WIDE * HIGH).fill(128), width: WIDE, height: HIGH })).toBeNull();
  const whole = photo(
    [
      { x: 0, y: 0 },
      { x: WIDE, y: 0 },
      { x: WIDE, y: HIGH },
      { x: 0, y: HIGH },
    ],
    0,
    printed(220, 30),
  );
  expect(plateIn(whole)).toBeNull();
});

test('squared, what stood in the middle of the plate stands in the middle, and is as large as its longer sides', () => {
  const { width, height } = sizeOf(TILTED);
  expect(width).toBe(Math.round(Math.hypot(430, 40)));
  expect(height).toBe(Math.round(Math.hypot(40, 290)));
  const spot = (u: number, v: number) => (Math.hypot(u - 0.5, v - 0.5) < 0.08 ? 0 : 220);
  const out = squared(photo(TILTED, 90, spot), TILTED);
  expect([out.width, out.height]).toEqual([width, height]);
  const value = (u: number, v: number) => out.data[Math.floor(v * height) * width + Math.floor(u * width)]!;
  expect(value(0.5, 0.5)).toBeLessThan(20);
  expect(value(0.5, 0.7)).toBeGreaterThan(200);
  expect(value(0.05, 0.05)).toBeGreaterThan(200);
});

test('corners that cross each other enclose no plate', () => {
  const [a, b, c, d] = TILTED;
  expect(isPlate(TILTED)).toBe(true);
  expect(isPlate([b, a, c, d])).toBe(false);
  expect(isPlate([a, d, c, b])).toBe(false);
  expect(areaOf([a, b, c, d])).toBeCloseTo(areaOf([b, c, d, a]), 9);
});

test('print is dark on light afterwards, whichever it was, and in a shadow too', () => {
  const whole: Corners = [
    { x: 0, y: 0 },
    { x: WIDE, y: 0 },
    { x: WIDE, y: HIGH },
    { x: 0, y: HIGH },
  ];
  const around = ({ data }: Grey) => {
    const mean = data.reduce((sum, value) => sum + value, 0) / data.length;
    return () => mean;
  };
  const ink = (grey: Grey) => {
    const out = evenLight(grey, around(grey));
    const at = (u: number, v: number) => out[Math.floor(v * HIGH) * WIDE + Math.floor(u * WIDE)]!;
    return at(0.3 + 0.005, 0.5 + 0.008) - at(0.9, 0.5);
  };
  expect(ink(photo(whole, 0, printed(220, 30)))).toBeLessThan(-80);
  expect(ink(photo(whole, 0, printed(35, 230)))).toBeLessThan(-80);
  const shade = (u: number, v: number) => printed(220, 30)(u, v) * (u + v > 0.8 ? 0.4 : 1);
  expect(ink(photo(whole, 0, shade))).toBeLessThan(0);
});
