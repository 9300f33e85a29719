import { check, layouts, modelOf, poolOf, type System, type SystemFile } from '../src/index';
import { arrayCurve } from '../src/pv/array-curve';
import { groupsApart } from '../src/pv/curve';
import { withChanges } from '../src/system/model';

/** Layouts as a senior lays them out: behind a combiner, beside another type of module, with a larger controller. */

const openSystem = (system: System) =>
  modelOf({ format: 'true-lantern', version: 2, site: { name: 'Made up' }, system } as unknown as SystemFile);

const panel = {
  id: 'm',
  pmax_W: 200,
  voc_V: 24.3,
  isc_A: 10.4,
  vmp_V: 20.4,
  imp_A: 9.8,
  cells: 36,
  betaVoc_pct_C: -0.3,
  maxSeriesFuse_A: 20,
};
const stringRun = (index: number) => ({
  id: `s${index}`,
  kind: 'pv' as const,
  from: 'roof',
  to: 'combiner',
  strings: [index],
  length_m: 4,
  size: '6mm2',
  protection: { type: 'pv' as const, rating_A: 20, voltage_V: 1000, dcRated: true },
});
/** Three strings of two behind a combiner with a fuse each, one cable down to the controller. */
const combined: System = {
  nominal_V: 24,
  moduleTypes: [panel],
  arrays: [{ id: 'roof', strings: [0, 1, 2].map(() => ['m', 'm']), controllerId: 'c' }],
  controllers: [{ id: 'c', type: 'mppt', maxPv_V: 150, maxPv_A: 60, maxOutput_A: 60 }],
  distribution: [{ id: 'combiner', rating_A: 63, circuits: ['s0', 's1', 's2'] }],
  runs: [
    stringRun(0),
    stringRun(1),
    stringRun(2),
    { id: 'down', kind: 'pv', from: 'combiner', to: 'c', length_m: 8, size: '16mm2' },
  ],
};
const model = openSystem(combined);
const named = (system: System) =>
  (system.runs ?? []).filter(({ to }) => to === 'combiner').map(({ id, strings }) => [id, strings]);
const amps = (system: System) =>
  check(openSystem(system)).find(({ rule, subject }) => rule === 'run.drop' && subject === 'down')?.demand;

describe('layouts behind a combiner', () => {
  const found = layouts(model, poolOf(model)) ?? [];
  it('keep each cable to its string: none carries the whole array', () => {
    for (const { changes } of found) {
      const { system } = withChanges(model, changes);
      const count = system.arrays?.[0]?.strings.length ?? 0;
      expect(named(system).map(([, strings]) => strings)).toEqual(Array.from({ length: count }, (_, i) => [i]));
      expect(system.distribution?.[0]?.circuits).toHaveLength(count);
    }
  });
  it('turn nothing over that is not: the cable down carries three strings, not nine', () => {
    const same = found.find(({ controllers }) => controllers[0]?.series === 2 && controllers[0].parallel === 3);
    expect(same?.verdict).not.toBe('over');
    expect(amps(withChanges(model, same?.changes ?? []).system)).toBeCloseTo(amps(combined) ?? Number.NaN, 6);
  });
  it('give a string that comes a cable, a fuse and a way like those of its neighbour', () => {
    const four = (layouts(model, 8) ?? []).find(({ controllers }) => controllers[0]?.parallel === 4);
    const { system } = withChanges(model, four?.changes ?? []);
    const added = system.runs?.find(({ strings }) => strings?.[0] === 3);
    expect(added).toMatchObject({ size: '6mm2', protection: { rating_A: 20 }, to: 'combiner' });
    expect(system.distribution?.[0]?.circuits).toContain(added?.id);
  });
});

describe('layouts beside another type of module', () => {
  const other = { ...panel, id: 'n', pmax_W: 100, voc_V: 21, vmp_V: 17.5, isc_A: 6.2, imp_A: 5.7 };
  const mixed = openSystem({
    ...combined,
    moduleTypes: [panel, other],
    arrays: [...(combined.arrays ?? []), { id: 'awning', strings: [['n', 'n']], controllerId: 'c' }],
  });
  it('lay all of them out or name what is left over', () => {
    expect(poolOf(mixed)).toHaveLength(8);
    // Fewer modules are fewer of the commonest type: the other array is no leftover of a count.
    expect(poolOf(mixed, 6).filter(({ type }) => type === 'n')).toHaveLength(2);
    for (const { changes, unused, why } of layouts(mixed, poolOf(mixed)) ?? []) {
      const { system } = withChanges(mixed, changes);
      const used = (system.arrays ?? []).flatMap(({ strings }) => strings.flat()).length;
      expect(used + unused).toBe(8);
      if (unused > 0) expect(why).toMatch(/left over/);
    }
  });
});

describe('a larger controller', () => {
  const small = openSystem({
    ...combined,
    bank: { id: 'bank', chemistry: 'flooded', block_V: 6, blockCapacity_Ah: 400, rate_h: 20, series: 4, parallel: 1 },
    controllers: [{ id: 'c', type: 'mppt', maxPv_V: 150, maxPv_A: 60, maxOutput_A: 30 }],
  });
  it('is a layout too, and says which', () => {
    const plain = layouts(small, poolOf(small)) ?? [];
    const larger = layouts(small, poolOf(small), [], undefined, 'c') ?? [];
    const grown = larger.find(({ changes }) => changes.some(({ at }) => at === 'controllers'));
    expect(withChanges(small, grown?.changes ?? []).system.controllers?.[0]?.maxOutput_A).toBe(50);
    expect(plain.some(({ changes }) => changes.some(({ at }) => at === 'controllers'))).toBe(false);
    // 1200 W at 24 V into 30 A is clipped by a third: with 50 A all of it arrives.
    expect((grown?.watts ?? 0) / (plain[0]?.watts ?? 1)).toBeGreaterThan(1.3);
  });
});

describe('one cell group in the shade', () => {
  const standing = { module: { ...panel, bypassDiodes: 2 }, irradiance_W_m2: 1000, cell_C: 25 };
  const best = (list: Parameters<typeof arrayCurve>[0]) => arrayCurve(list).best.p;
  it('of two, unlit, leaves the other: half of the watts less the bypass', () => {
    const half = best([groupsApart(standing, [0])]);
    expect(half / best([[standing]])).toBeGreaterThan(0.46);
    expect(half / best([[standing]])).toBeLessThan(0.5);
  });
  it('fully lit groups are the module itself', () => {
    expect(best([groupsApart(standing, [])])).toBeCloseTo(best([[standing]]), 3);
  });
});
