import { laidFlat, type Corners } from '../src/index';
import { onto } from '../src/plate/square';

/** As a browser does it: matrix3d, column after column, on a point of the page. */
function through(matrix: readonly number[], { x, y }: { x: number; y: number }) {
  const row = (k: number) => matrix[k]! * x + matrix[4 + k]! * y + matrix[12 + k]!;
  return { x: row(0) / row(3), y: row(1) / row(3) };
}

describe('a photo laid flat', () => {
  const leaning: Corners = [
    { x: 80, y: 60 },
    { x: 420, y: 90 },
    { x: 500, y: 390 },
    { x: 20, y: 330 },
  ];
  const at = { x: 15, y: 40, width: 300, height: 200 };
  test('its four corners come to lie on those of the rectangle', () => {
    const matrix = laidFlat(leaning, at);
    const corners = [
      [15, 40],
      [315, 40],
      [315, 240],
      [15, 240],
    ];
    leaning.forEach((corner, i) => {
      const { x, y } = through(matrix, corner);
      expect(x).toBeCloseTo(corners[i]![0]!, 8);
      expect(y).toBeCloseTo(corners[i]![1]!, 8);
    });
  });
  test('it is the way back of where each place of a rectangle lies in the picture', () => {
    const matrix = laidFlat(leaning, { ...at, x: 0, y: 0 });
    const there = onto(leaning, 300, 200);
    for (const [x, y] of [
      [150, 100],
      [10, 190],
      [299, 1],
    ] as const) {
      const back = through(matrix, there(x, y));
      expect(back.x).toBeCloseTo(x, 8);
      expect(back.y).toBeCloseTo(y, 8);
    }
  });
  test('seen from straight above nothing is bent', () => {
    const square: Corners = [
      { x: 0, y: 0 },
      { x: 100, y: 0 },
      { x: 100, y: 50 },
      { x: 0, y: 50 },
    ];
    expect(through(laidFlat(square, { x: 10, y: 20, width: 200, height: 100 }), { x: 50, y: 25 })).toEqual({
      x: 110,
      y: 70,
    });
  });
});
