import { tripKit } from '../src/index';

describe('what goes along on a trip', () => {
  test('each thing once, with the jobs that need it: two banks to water, joints at a third site', () => {
    const kit = tripKit(['water', 'water', 'joints']);
    expect(kit.find(({ what }) => what === 'Distilled water')).toEqual({ what: 'Distilled water', jobs: 2 });
    expect(kit.find(({ what }) => what === 'Insulated torque wrench')).toEqual({
      what: 'Insulated torque wrench',
      jobs: 1,
    });
    expect(new Set(kit.map(({ what }) => what)).size).toBe(kit.length);
    expect(kit[0]!.jobs).toBe(2);
  });
  test('who opens a cell has goggles and gloves along', () => {
    for (const key of ['water', 'density', 'equalise'] as const)
      expect(tripKit([key]).map(({ what }) => what)).toContain('Goggles and acid-proof gloves');
  });
  test('nothing due, nothing to take', () => expect(tripKit([])).toEqual([]));
});
