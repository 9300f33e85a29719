import { dayStrip } from '../src/index';

const load = (id: string, more: object) => ({ id, label: id, kind: 'ac' as const, power_W: 100, hours_d: 4, ...more });
const strip = (...loads: ReturnType<typeof load>[]) =>
  dayStrip({ site: { name: 'S' }, schools: {}, evidence: {}, system: { loads } });

describe('a day of loads', () => {
  test('its energy is spread evenly over its window: 4 h of 2 x 100 W between 18 and 2 h are 100 W in each of eight hours', () => {
    const [lamp] = strip(load('lamp', { quantity: 2, from_h: 18, to_h: 2 })).loads;
    expect(lamp?.running_W).toBe(200);
    expect(lamp?.mean_W.map((watts) => Math.round(watts * 1e6) / 1e6)).toEqual(
      Array.from({ length: 24 }, (_, h) => (h >= 18 || h < 2 ? 100 : 0)),
    );
  });
  test('without a window it may be any hour; half an hour of a window counts half', () => {
    expect(strip(load('any', {})).loads[0]?.mean_W[3]).toBeCloseTo(400 / 24, 9);
    const [short] = strip(load('short', { hours_d: 1, from_h: 6.5, to_h: 8 })).loads;
    expect([short?.mean_W[6], short?.mean_W[7], short?.mean_W[8]].map((watts) => Math.round(watts ?? 0))).toEqual([
      33, 67, 0,
    ]);
  });
  test('at once: those whose hours meet, and of a group that never runs together the largest', () => {
    const { together_W } = strip(
      load('base', { overlap: 'base', power_W: 50 }),
      load('morning', { from_h: 6, to_h: 10 }),
      load('kettle', { overlap: 'alone', group: 'g', power_W: 2000, from_h: 8, to_h: 9 }),
      load('iron', { overlap: 'alone', group: 'g', power_W: 1500, from_h: 8, to_h: 12 }),
      load('never', { hours_d: 0, power_W: 9000 }),
    );
    expect([5, 6, 8, 9, 11, 12].map((h) => together_W[h])).toEqual([50, 150, 2150, 1650, 1550, 50]);
  });
  test('what is always on is drawn first, at the foot', () =>
    expect(
      strip(load('a', { overlap: 'alone' }), load('m', {}), load('b', { overlap: 'base' })).loads.map(({ id }) => id),
    ).toEqual(['b', 'm', 'a']));
  test('no loads, an empty day', () => expect(Math.max(...strip().together_W)).toBe(0));
});
