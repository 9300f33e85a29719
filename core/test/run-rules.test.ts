import fc from 'fast-check';
import { bundleFactor, tabulated_A } from '../src/conductors/ampacity';
import { networkOf } from '../src/conductors/network';
import { area_mm2, resistance_ohm_m } from '../src/conductors/sizes';
import { check, checkWithRemedies, type Model, type Run, type System } from '../src/index';
import { find, hut } from './hut';

const CABLE: Run = {
  id: 'r',
  kind: 'controller-battery',
  from: 'c',
  to: 'b',
  length_m: 2,
  size: '16mm2',
  insulation_C: 90,
  protection: { type: 'class-t', rating_A: 60, voltage_V: 125, fromSource_m: 0.1, dcRated: true },
};
/** The hut with one cable from controller to bank, metric basis. */
const wired = (
  change: Partial<Run> = {},
  more: (system: System) => void = () => undefined,
  conductor: 'metric' | 'building' | 'vehicle' = 'metric',
) =>
  hut((system, file) => {
    file.schools = { ...file.schools, conductor };
    system.runs = [{ ...CABLE, ...change }];
    more(system);
  });

describe('conductors', () => {
  // ASTM B258: 2/0 is 67.43 mm2, 10 AWG 5.261 mm2; handbook: 10 AWG copper 3.277 ohm/km at 20 degC.
  test('AWG by its definition', () => {
    expect(area_mm2('2/0AWG')).toBeCloseTo(67.43, 2);
    expect(area_mm2('10AWG')).toBeCloseTo(5.261, 3);
    expect(resistance_ohm_m('10AWG', 'copper', 20) / 1.02).toBeCloseTo(3.277e-3, 5);
  });
  test('copper warms by 11.8 % from 20 to 50 degC; aluminium and copper-clad lose more', () => {
    expect(resistance_ohm_m('16mm2', 'copper', 50)).toBeCloseTo(1.21e-3 * 1.1179, 9);
    expect(resistance_ohm_m('16mm2', 'cca', 20)).toBeCloseTo(1.936e-3, 9);
    expect(resistance_ohm_m('16mm2', 'aluminium', 20)).toBeCloseTo(1.9844e-3, 9);
  });
  test.each([
    ['building', '8AWG', 75, 50],
    ['building', '2/0AWG', 90, 195],
    ['vehicle', '2/0AWG', 105, 330],
    ['metric', '50mm2', 70, 168],
    ['metric', '50mm2', 80, 168],
    ['building', '4mm2', 90, 30],
    ['metric', '8AWG', 90, 58],
    ['building', '0.75mm2', 60, 9],
    ['building', '1.5mm2', 75, 15],
    ['building', '18AWG', 75, 10],
    ['metric', '300mm2', 90, 599],
  ] as const)('%s table: %s at %i degC carries %f A', (basis, size, insulation, amps) => {
    expect(tabulated_A(basis, size, insulation)?.amps).toBe(amps);
  });
  test('below the first column of vehicle and metric, and below the smallest size, the book is silent', () => {
    expect(tabulated_A('vehicle', '10AWG', 60)).toBeNull();
    expect(tabulated_A('metric', '10mm2', 60)).toBeNull();
    expect(tabulated_A('metric', '20AWG', 90)).toBeNull();
  });
  test.each([
    ['building', 3, 1],
    ['building', 4, 0.8],
    ['vehicle', 3, 0.7],
    ['metric', 2, 1],
    ['metric', 19, 0.45],
  ] as const)('%s bundle of %i: %f', (basis, count, factor) => expect(bundleFactor(basis, count)).toBe(factor));
});

describe('a cable', () => {
  test('16.7 A through 2 m of 16 mm2 lose 90.2 mV: 0.75 % of 12 V', () => {
    // 2 x 2 m x 1.21 mohm/m x 1.1179 = 5.411 mohm; 16.67 A
    expect(find(wired(), 'run.drop')).toMatchObject({
      demand: expect.closeTo((100 * (200 / 12) * 5.4106e-3) / 12, 3),
      limit: 2,
      verdict: 'holds',
    });
  });
  test('more copper never drops more', () => {
    const sizes = ['4mm2', '6mm2', '10mm2', '16mm2', '25mm2', '35mm2', '50mm2'];
    fc.assert(
      fc.property(
        fc.nat(5),
        fc.integer({ min: 1, max: 6 }),
        fc.double({ min: 0.1, max: 50, noNaN: true }),
        (i, perPole, length_m) => {
          const drop = (size: string, n: number) => find(wired({ size, perPole: n, length_m }), 'run.drop')!.demand!;
          expect(drop(sizes[i + 1]!, perPole)).toBeLessThan(drop(sizes[i]!, perPole));
          expect(drop(sizes[i]!, perPole + 1)).toBeLessThan(drop(sizes[i]!, perPole));
        },
      ),
      { numRuns: 50 },
    );
  });
  test('two tests, the worse governs: cool terminals in the open, or a hot bundle', () => {
    // 16 mm2 at 75 degC terminals: 70 degC column 85 A against 1.25 x 16.7 A
    expect(find(wired(), 'run.ampacity')).toMatchObject({ limit: 85, demand: expect.closeTo((1.25 * 200) / 12, 9) });
    // In air of 70 degC and eight conductors: 107 x sqrt(20/60) x 0.65
    expect(find(wired({ ambient_C: 70, bundled: 8 }), 'run.ampacity')?.limit).toBeCloseTo(
      107 * Math.sqrt(20 / 60) * 0.65,
      6,
    );
  });
  test('a conductor as hot as its insulation stands carries nothing', () => {
    expect(find(wired({ ambient_C: 90 }), 'run.ampacity')).toMatchObject({ limit: 0, use: null, verdict: 'over' });
  });
  test('the vehicle basis compares the plain current', () => {
    expect(find(wired({ insulation_C: 105, size: '6AWG' }, undefined, 'vehicle'), 'run.ampacity')).toMatchObject({
      demand: expect.closeTo(200 / 12, 9),
      limit: 120,
    });
  });
});

describe('its fuse', () => {
  test('metric: the largest sold not above 85 A is 80 A', () => {
    expect(find(wired({ protection: { ...CABLE.protection, rating_A: 90 } }), 'run.fuse-protects')).toMatchObject({
      limit: 80,
      verdict: 'over',
      consequence: 'danger',
    });
  });
  test('building: a 14 AWG wire never gets more than 15 A', () => {
    const model = wired(
      { size: '14AWG', protection: { type: 'blade', rating_A: 20, voltage_V: 32, fromSource_m: 0.1 } },
      undefined,
      'building',
    );
    expect(find(model, 'run.fuse-protects')).toMatchObject({ limit: 15, verdict: 'over' });
  });
  test('none on a cable from the bank is over; one that nobody saw is unknown', () => {
    expect(find(wired({ protection: { type: 'none' } }), 'run.fuse-protects')).toMatchObject({
      verdict: 'over',
      demand: null,
    });
    expect(find(wired({ protection: null }), 'run.fuse-protects')).toMatchObject({
      verdict: 'unknown',
      missing: ['r.protection.type'],
    });
  });
  test('none is silent where the feeder upstream protects the cable', () => {
    const box = (rating_A: number) =>
      wired(
        { id: 'feed', kind: 'dc-load', from: 'b', to: 'box', protection: { ...CABLE.protection, rating_A } },
        (system) => {
          system.loads = [{ id: 'lamp', label: 'Lamp', kind: 'dc', power_W: 12, hours_d: 1 }];
          system.distribution = [{ id: 'box', circuits: ['branch'] }];
          system.runs!.push({
            id: 'branch',
            kind: 'dc-load',
            from: 'box',
            to: 'lamp',
            length_m: 1,
            size: '4mm2',
            insulation_C: 90,
            protection: { type: 'none' },
          });
        },
      );
    const branch = (rating: number) => hutFinding(box(rating), 'run.fuse-protects', 'branch');
    expect(branch(35)).toBeUndefined();
    expect(branch(60)).toMatchObject({ verdict: 'over' });
  });
  test('must carry 1.25 times the current', () => {
    expect(find(wired({ protection: { ...CABLE.protection, rating_A: 20 } }), 'run.fuse-carries')).toMatchObject({
      demand: 20,
      limit: expect.closeTo(20.8333, 3),
      verdict: 'over',
    });
  });
  test('breaks the fault: 12.73 V over 3.2 mohm of bank and 0.24 of cable, and is over at twice that of the bank too', () => {
    // flooded 200 Ah: 6 x 0.1/200 + 0.2 of posts; 2 x 0.1 m x 1.21 mohm
    const finding = find(
      wired({ protection: { ...CABLE.protection, type: 'breaker', voltage_V: 60, interrupt_A: 2000 } }),
      'run.interrupt',
    );
    expect(finding?.demand).toBeCloseTo((1.1 * 12.732) / (3.2e-3 + 0.242e-3), 0);
    expect(finding).toMatchObject({ limit: 2000, verdict: 'over' });
  });
  test('an AC breaker on DC is over whatever its volts; whether a breaker is for DC must be known', () => {
    const breaker = (dcRated: boolean | null) =>
      find(
        wired({ protection: { type: 'breaker', rating_A: 30, voltage_V: 230, fromSource_m: 0.1, dcRated } }),
        'run.dc-rating',
      )?.verdict;
    expect([breaker(true), breaker(false), breaker(null)]).toEqual(['holds', 'over', 'unknown']);
  });
  test('an AC breaker is over even where its volts were not read', () => {
    const protection = { type: 'breaker', rating_A: 30, fromSource_m: 0.1, dcRated: false } as const;
    expect(find(wired({ protection }), 'run.dc-rating')).toMatchObject({ verdict: 'over', missing: [] });
  });
  test('sits at the source; in a sheath a metre is allowed', () => {
    const at = (fromSource_m: number | null, sheathed = false) =>
      find(wired({ sheathed, protection: { ...CABLE.protection, fromSource_m } }), 'run.source-end')?.verdict;
    expect([at(0.18), at(0.19), at(0.9, true), at(null)]).toEqual(['holds', 'over', 'holds', 'unknown']);
  });
  test('a long thin cable hides a far fault from a large fuse', () => {
    const model = wired({
      size: '2.5mm2',
      length_m: 30,
      protection: { type: 'blade', rating_A: 30, voltage_V: 32, fromSource_m: 0.1 },
    });
    expect(find(model, 'run.far-fault')).toMatchObject({ demand: 90, verdict: 'over' });
  });
});

/** The finding of one of several runs. */
const hutFinding = (model: Model, rule: string, subject: string) =>
  check(model).find((finding) => finding.rule === rule && finding.subject === subject);

test('a cure names only fuses that are sold: no class T of 25 A', () => {
  const model = wired({
    size: '10mm2',
    protection: { type: 'blade', rating_A: 25, voltage_V: 32, fromSource_m: 0.1, dcRated: true, interrupt_A: 300 },
  });
  const finding = checkWithRemedies(model).find(({ rule }) => rule === 'run.interrupt');
  expect(finding?.verdict).toBe('over');
  // At the posts first: it stands before every other fuse of this bank.
  expect(finding?.remedies.map(({ title }) => title)).toEqual([
    'A class T fuse of 60 A at the post of the bank',
    'An NH fuse of 25 A',
    '16 mm2 and an NH fuse of 25 A',
  ]);
});

test('the way from the bank leads through distributions, whatever is at its end', () => {
  const model = hut((system) => {
    system.distribution = [{ id: 'main' }, { id: 'sub' }];
    system.inverters = [{ id: 'inv', continuous_W: 500 }];
    const run = (id: string, from: string, to: string): Run => ({
      id,
      kind: 'dc-load',
      from,
      to,
      length_m: 1,
      size: '16mm2',
    });
    system.runs = [run('a', 'b', 'main'), run('b2', 'main', 'sub'), run('c2', 'sub', 'inv')];
  });
  const network = networkOf(model.system);
  expect(network.feedersTo('sub')?.map(({ id }) => id)).toEqual(['a', 'b2']);
  expect(network.feedersOf(model.system.runs![2]!)?.map(({ id }) => id)).toEqual(['a', 'b2']);
  expect(network.feedersTo('inv')?.map(({ id }) => id)).toEqual(['a', 'b2', 'c2']);
});
