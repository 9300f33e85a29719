import fc from 'fast-check';
import {
  applyChanges,
  check,
  checkWithRemedies,
  compare,
  keyOf,
  layouts,
  turned,
  withSystem,
  worstFirst,
} from '../src/index';
import { judge } from '../src/rules/finding';
import { find, hut, MODULE, part } from './hut';

describe('use and verdict', () => {
  test('a limit of nothing is exceeded by anything and by nothing else', () => {
    expect(judge(1, 0, 'max', 0.9)).toEqual({ use: null, verdict: 'over' });
    expect(judge(0, 0, 'max', 0.9)).toEqual({ use: null, verdict: 'holds' });
    expect(judge(0, 5, 'min', 0.9)).toEqual({ use: null, verdict: 'over' });
  });
  test('the last bit of a division is no verdict', () => {
    expect(judge(0.1 + 0.2, 0.3, 'max', 1).verdict).toBe('holds');
    expect(judge(3 * 0.3, 1, 'max', 0.9).verdict).toBe('holds');
  });
  test('no finding is ever NaN or infinite', () => {
    const maybe = (arb: fc.Arbitrary<number>) => fc.option(arb, { nil: null });
    fc.assert(
      fc.property(
        fc.record({
          low: maybe(fc.integer({ min: -90, max: 40 })),
          maxPv_V: maybe(fc.double({ min: 0.1, max: 1500, noNaN: true })),
          maxPv_A: maybe(fc.constantFrom(0, 10, 50)),
          series: fc.integer({ min: 1, max: 8 }),
          parallel: fc.integer({ min: 1, max: 8 }),
          chemistry: fc.constantFrom('flooded', 'tubular', 'agm', 'gel', 'lfp', 'nmc'),
          block_V: fc.constantFrom(2, 6, 12, 12.8, 13, 48),
          fuse: maybe(fc.constantFrom(0, 10, 30)),
        }),
        (drawn) => {
          const model = hut((system, file) => {
            file.site.recordLow_C = drawn.low;
            Object.assign(part.controller(system), { maxPv_V: drawn.maxPv_V, maxPv_A: drawn.maxPv_A });
            Object.assign(part.bank(system), { chemistry: drawn.chemistry, block_V: drawn.block_V });
            part.array(system).strings = Array.from({ length: drawn.parallel }, () =>
              Array.from({ length: drawn.series }, () => 'm'),
            );
            part.array(system).stringFuse_A = drawn.fuse;
          });
          const wrong = check(model).filter(
            ({ demand, limit, use, verdict, missing }) =>
              [demand, limit, use].some((value) => value !== null && !Number.isFinite(value)) ||
              // Missing and unknown are the same thing said twice; never one without the other.
              (verdict === 'unknown') !== missing.length > 0,
          );
          expect(wrong).toEqual([]);
        },
      ),
      { numRuns: 200 },
    );
  });
  test('a colder site never lowers the cold voltage', () => {
    fc.assert(
      fc.property(
        fc.double({ min: -60, max: 40, noNaN: true }),
        fc.double({ min: 0, max: 20, noNaN: true }),
        fc.boolean(),
        (low, colder, bands) => {
          const demand = (t: number) =>
            find(
              hut((_, file) => {
                file.site.recordLow_C = t;
                if (bands) file.schools = { coldVoltage: 'bands' };
              }),
              'pv.cold-voltage',
              'controller',
            )?.demand ?? 0;
          // Below the bands the coefficient takes over, as the book says; the step between the two may be downwards.
          fc.pre(!bands || Math.floor(low - colder) >= -40);
          expect(demand(low - colder)).toBeGreaterThanOrEqual(demand(low) - 1e-9);
        },
      ),
    );
  });
});

describe('the order of reading', () => {
  test('danger stands above damage, whatever the use', () => {
    const model = hut((system) => {
      part.array(system).strings = [['m'], ['m'], ['m'], ['m']];
      part.controller(system).maxPv_V = 1;
    });
    const [first, second] = check(model).sort(worstFirst);
    expect(first).toMatchObject({ rule: 'pv.string-protection', consequence: 'danger' });
    expect(second).toMatchObject({ rule: 'pv.cold-voltage', consequence: 'damage' });
    expect(second?.use ?? 0).toBeGreaterThan(first?.use ?? 0);
  });
});

describe('remedies', () => {
  const cold = hut((system) => {
    part.array(system).strings = [['m', 'm', 'm', 'm']];
    part.controller(system).maxPv_V = 75;
  });
  test('the smallest cures come with changes that really cure', () => {
    const finding = checkWithRemedies(cold).find(
      ({ rule, quantity }) => rule === 'pv.cold-voltage' && quantity === 'controller',
    );
    expect(finding?.verdict).toBe('over');
    expect(finding?.remedies.map(({ title }) => title)).toEqual([
      '2 in series, 2 strings',
      'Controller for 100 V or more',
    ]);
    for (const { changes } of finding?.remedies ?? []) {
      const after = withSystem(cold, applyChanges(cold.system, { changes }));
      expect(find(after, 'pv.cold-voltage', 'controller')?.verdict).toBe('holds');
    }
  });
  test('no remedy of any finding turns something else over', () => {
    const models = [
      cold,
      hut((s) => (part.array(s).strings = Array.from({ length: 5 }, () => ['m', 'm']))),
      hut((s) => (part.bank(s).blockCapacity_Ah = 40)),
    ];
    for (const model of models) {
      const before = check(model);
      const was = new Set(before.filter(({ verdict }) => verdict === 'over').map(keyOf));
      for (const { remedies } of checkWithRemedies(model))
        for (const { changes } of remedies) {
          const { broken } = compare(before, withSystem(model, applyChanges(model.system, { changes })));
          expect(broken.map(keyOf).filter((key) => !was.has(key))).toEqual([]);
        }
    }
  });
  test('a shorter string that cannot start the controller is not offered', () => {
    const model = hut((system) => {
      part.array(system).strings = [['m', 'm']];
      part.controller(system).maxPv_V = 40;
    });
    const finding = checkWithRemedies(model).find(
      ({ rule, quantity }) => rule === 'pv.cold-voltage' && quantity === 'controller',
    );
    expect(finding?.remedies.map(({ title }) => title)).toEqual(['Controller for 50 V or more']);
  });
});

describe('layouts', () => {
  test('four modules: every grouping by hand is there, and the best one holds', () => {
    const model = hut();
    const found = layouts(model, 4) ?? [];
    const shapes = found.map(
      ({ controllers, unused }) =>
        `${controllers.map(({ series, parallel }) => `${series}x${parallel}`).join('+')}-${unused}`,
    );
    // By brute force: s x p of at least 3 of the 4 modules, and strings that differ by one module.
    expect([...shapes].sort()).toEqual(['1x3-1', '1x4-0', '2x1+1x1-1', '2x1+1x2-0', '2x2-0', '3x1-1', '4x1-0']);
    expect(found[0]).toMatchObject({ verdict: 'holds', unused: 0 });
  });
  test('a layout that leaves the old fault standing does not read as a pass', () => {
    const model = hut((system) => {
      part.array(system).strings = [['m', 'm', 'm']];
      part.controller(system).maxPv_V = 50;
    });
    const same = layouts(model, 3)?.find(({ controllers: [share] }) => share?.series === 3);
    expect(same?.verdict).toBe('over');
  });
  test('with two controllers the modules are split, uneven where they must be', () => {
    const model = hut((system) => {
      system.controllers = [part.controller(system), { ...part.controller(system), id: 'c2' }];
      system.moduleTypes = [MODULE];
    });
    const split = layouts(model, 5)?.find(({ controllers }) => controllers.length === 2);
    expect(split?.controllers.reduce((sum, { series, parallel }) => sum + series * parallel, 0)).toBeGreaterThanOrEqual(
      4,
    );
  });
});

describe('verdicts that turn', () => {
  const of = (model: ReturnType<typeof hut>) => check(model);
  test('each with what it was, the gravest first, what stays left out', () => {
    const before = hut();
    const weak = hut((system) => {
      part.controller(system).maxPv_V = 40;
    });
    const changes = turned(of(before), of(weak));
    expect(changes[0]).toMatchObject({ was: 'holds', finding: { rule: 'pv.cold-voltage', verdict: 'over' } });
    expect(changes.every(({ finding, was }) => finding.verdict !== was)).toBe(true);
    expect(turned(of(before), of(before))).toEqual([]);
    expect(turned(of(weak), of(before)).map(({ was }) => was)).toContain('over');
  });
  test('what was not judged before turns from nothing; what is no longer judged is not told', () => {
    const without = hut((system) => {
      system.arrays = [];
    });
    const array = part.array(hut().system).id;
    const added = turned(of(without), of(hut())).filter(({ was }) => was === null);
    expect(added.map(({ finding }) => finding.subject)).toContain(array);
    expect(turned(of(hut()), of(without)).map(({ finding }) => finding.subject)).not.toContain(array);
  });
});
