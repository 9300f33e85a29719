import {
  controllersThatStand,
  layoutTitle,
  layouts,
  poolOf,
  withModuleType,
  type Finding,
  type ShelfItem,
  type System,
} from '../src/index';
import { arrivalOf } from '../src/layouts/arrive';
import { groupings, type Share } from '../src/layouts/groupings';
import { causedBy, compareCounts, gravity, losses, whyOf, type Caused } from '../src/layouts/rank';
import { arrayCurve } from '../src/pv/array-curve';
import { resistance_ohm_m, WARM_C } from '../src/conductors/sizes';
import { CONTROLLER, hut, MODULE } from './hut';

const strung = (share: Share) => `${share.controllerId}:${share.block.type ?? 'mixed'} ${share.block.lengths.join()}`;
const ways = (controllers: string[], counts: [string, number][], options: Parameters<typeof groupings>[2] = {}) =>
  [...groupings(controllers, new Map(counts), options)].map((shares) => shares.map(strung).join(' + '));

describe('every way to share out modules', () => {
  test('three on one controller: one, two and three strings, and with one of them lying', () => {
    expect(ways(['c'], [['m', 3]])).toEqual(['c:m 2', 'c:m 1,1', 'c:m 3', 'c:m 2,1', 'c:m 1,1,1']);
    // Half of them or more is never left lying.
    expect(ways(['c'], [['m', 4]]).some((way) => way === 'c:m 2')).toBe(false);
    expect(ways(['c'], [['m', 5]], { even: true })).toEqual([
      'c:m 3',
      'c:m 1,1,1',
      'c:m 4',
      'c:m 2,2',
      'c:m 1,1,1,1',
      'c:m 5',
      'c:m 1,1,1,1,1',
    ]);
  });
  test('over two controllers at most one is left; each way once', () => {
    const found = ways(['c', 'd'], [['m', 3]]);
    expect(new Set(found).size).toBe(found.length);
    expect(found).toContain('c:m 1 + d:m 2');
    expect(found).toContain('c:m 2 + d:m 1');
    expect(found).toContain('c:m 1 + d:m 1');
    expect(found.filter((way) => !way.includes('+')).every((way) => /^[cd]:/.test(way))).toBe(true);
    // No more than so many of the controllers together.
    expect(ways(['c', 'd', 'e'], [['m', 3]], { most: 1 }).some((way) => way.includes('+'))).toBe(false);
    expect(ways(['c', 'd', 'e'], [['m', 3]], { most: 2 }).every((way) => way.split('+').length <= 2)).toBe(true);
  });
  test('two types: beside each other in strings of their own, mixed in equal strings, each on its own controller', () => {
    const found = ways(
      ['c', 'd'],
      [
        ['m', 2],
        ['n', 2],
      ],
    );
    expect(found).toContain('c:m 2 + c:n 2');
    expect(found).toContain('d:m 1,1 + d:n 1,1');
    expect(found).toContain('c:mixed 4');
    expect(found).toContain('c:mixed 2,2');
    expect(found).toContain('c:m 2 + d:n 2');
    expect(found).not.toContain('c:mixed 3,1');
    // One of each type may be the odd one out.
    expect(found).toContain('c:m 1 + d:n 1');
  });
});

describe('what arrives at the bank in full sun', () => {
  const standing = (count: number) =>
    arrayCurve([Array.from({ length: count }, () => ({ module: MODULE, irradiance_W_m2: 1000, cell_C: 45 }))]);
  const shares = (strings: number[]) => [
    { controllerId: 'c', strings: strings.map((length) => Array.from({ length }, () => ({ type: 'm', light: 1 }))) },
  ];
  const cabled = (change: (system: System) => void = () => undefined) =>
    hut((system) => {
      system.runs = [{ id: 'r', kind: 'pv', from: 'a', to: 'c', length_m: 20, size: '4mm2' }];
      change(system);
    });
  test('a tracker: the best point at cells of 45 degC, less its cable there and back, at 97 %', () => {
    const { best } = standing(2);
    expect(best.p).toBeGreaterThan(180);
    expect(best.p).toBeLessThan(190);
    const bare = arrivalOf(hut(), shares([2]));
    expect(bare.atModules_W).toBeCloseTo(best.p, 6);
    expect(bare.watts).toBeCloseTo(0.97 * best.p, 6);
    const ohm = 2 * 20 * resistance_ohm_m('4mm2', 'copper', WARM_C);
    expect(arrivalOf(cabled(), shares([2])).watts).toBeCloseTo(0.97 * (best.p - ohm * best.i ** 2), 6);
    // Two conductors a pole, or two cables, have half of it; one that leads elsewhere none.
    const half = 0.97 * (best.p - (ohm / 2) * best.i ** 2);
    expect(
      arrivalOf(
        cabled((system) => void (system.runs![0]!.perPole = 2)),
        shares([2]),
      ).watts,
    ).toBeCloseTo(half, 6);
    expect(
      arrivalOf(
        cabled((system) => system.runs!.push({ ...system.runs![0]!, id: 'r2', from: 'c', to: 'a' })),
        shares([2]),
      ).watts,
    ).toBeCloseTo(half, 6);
    expect(
      arrivalOf(
        cabled((system) => void (system.runs![0]!.from = 'elsewhere')),
        shares([2]),
      ).watts,
    ).toBeCloseTo(0.97 * best.p, 6);
    expect(
      arrivalOf(
        hut((system) => void (system.controllers![0]!.efficiency_pct = 90)),
        shares([2]),
      ).watts,
    ).toBeCloseTo(0.9 * best.p, 6);
  });
  test('never more than its output at the bank’s float: 6 x 2.25 V', () => {
    const small = hut((system) => void (system.controllers![0]!.maxOutput_A = 5));
    expect(arrivalOf(small, shares([2])).watts).toBeCloseTo(5 * 6 * 2.25, 6);
  });
  test('pwm: the current half a volt above float, at float; its cable takes what was lost anyway', () => {
    const pwm = cabled((system) => void (system.controllers![0]!.type = 'pwm'));
    const float_V = 6 * 2.25;
    expect(arrivalOf(pwm, shares([1])).watts).toBeCloseTo(float_V * standing(1).currentAt(float_V + 0.5), 4);
    // Two in series bring the same amperes.
    expect(arrivalOf(pwm, shares([2])).watts).toBeLessThan(1.1 * arrivalOf(pwm, shares([1])).watts);
    // In shade half the light is half the current.
    const shaded = [{ controllerId: 'c', strings: [[{ type: 'm', light: 0.5 }]] }];
    expect(arrivalOf(pwm, shaded).watts / arrivalOf(pwm, shares([1])).watts).toBeCloseTo(0.5, 1);
  });
});

describe('the order of layouts', () => {
  const finding = (
    rule: Finding['rule'],
    consequence: Finding['consequence'],
    verdict: Finding['verdict'] = 'over',
    subject = 'a',
  ): Finding => ({
    rule,
    subject,
    quantity: null,
    verdict,
    consequence,
    demand: 2,
    limit: 1,
    unit: 'V',
    sense: 'max',
    use: 2,
    tightAbove: 0.95,
    working: [],
    assumed: [],
    missing: [],
    cautions: [],
    remedies: [],
  });
  const caused = (overs: Finding[], more: Partial<Caused> = {}): Caused => ({
    overs,
    already: [],
    onVolts: false,
    unknown: 0,
    tight: 0,
    ...more,
  });
  test('too many volts before everything, then danger, damage, life, outage, and losses that are not in the watts', () => {
    expect(gravity(caused([finding('pv.series-match', 'loss'), finding('run.ampacity', 'danger')]))).toEqual([
      0, 1, 0, 0, 0, 1,
    ]);
    expect(
      gravity(
        caused([
          finding('pv.output-current', 'loss'),
          finding('run.drop', 'loss'),
          finding('pv.power', 'loss'),
          finding('pv.pwm-waste', 'loss'),
        ]),
      ),
    ).toEqual([0, 0, 0, 0, 0, 0]);
    expect(gravity(caused([finding('pv.cold-voltage', 'damage')], { onVolts: true }))[0]).toBe(1);
    expect(losses(caused([finding('run.drop', 'loss'), finding('run.ampacity', 'danger')]))).toBe(1);
  });
  test('the first count that differs decides, fewer first; a missing one is nought', () => {
    expect(compareCounts([0, 1, 0], [0, 0, 5])).toBeGreaterThan(0);
    expect(compareCounts([0, 0, 5], [0, 1, 0])).toBeLessThan(0);
    expect(compareCounts([0, 1], [0, 1, 0])).toBe(0);
    expect(compareCounts([0], [0, 2])).toBeLessThan(0);
  });
  test('its own fault is told from what was over as found and is no worse', () => {
    const found = [finding('run.ampacity', 'danger', 'over', 'r')];
    const after = [
      ...found,
      finding('pv.cold-voltage', 'damage'),
      finding('pv.input-current', 'damage', 'tight'),
      finding('pv.series-match', 'loss', 'unknown'),
    ];
    const own = causedBy(found, after, new Set(['run.ampacity']));
    expect(own.overs.map(({ rule }) => rule)).toEqual(['pv.cold-voltage']);
    expect(own.already.map(({ rule }) => rule)).toEqual(['run.ampacity']);
    expect([own.onVolts, own.unknown, own.tight]).toEqual([true, 1, 1]);
    // What is no matter of arrays is told elsewhere.
    expect(causedBy(found, found, new Set()).already).toEqual([]);
  });
  test('why: each over in its sentence, those of before behind; where nothing is over the worst of the rest', () => {
    const model = hut();
    const cold = { ...finding('pv.cold-voltage', 'damage'), quantity: 'controller', demand: 160, limit: 100 };
    const was = { ...finding('pv.input-current', 'damage'), demand: 50, limit: 40, unit: 'A' };
    const said = whyOf(model, caused([cold], { already: [was] }), []);
    expect(said).toMatch(/160 V/);
    expect(said).toMatch(/Already over: /);
    expect(whyOf(model, caused([], { already: [was] }), [cold])).toMatch(/^Already over: /);
    expect(whyOf(model, caused([]), [{ ...cold, verdict: 'tight', demand: 97 }])).toMatch(/97 V/);
    expect(whyOf(model, caused([]), [])).toBe('Array, controller and charging are OK.');
  });
});

describe('what a shelf offers for a layout', () => {
  const item = (label: string, price: number | null, more: object = {}): ShelfItem => {
    const { id: _, ...body } = CONTROLLER;
    return { kind: 'controllers', label, price, currency: 'EUR', body: { ...body, ...more } };
  };
  test('trackers that stand the bank, the cheapest first, by label where prices agree; no pwm, none for other volts', () => {
    const shelf = [
      item('B', 100),
      item('A', 100),
      item('Dear', 300),
      item('Unpriced', null),
      item('Relay', 10, { type: 'pwm' }),
      item('High', 20, { minBattery_V: 40, maxBattery_V: 60 }),
    ];
    expect(controllersThatStand(hut(), shelf, 9).map(({ label }) => label)).toEqual(['A', 'B', 'Dear', 'Unpriced']);
    expect(controllersThatStand(hut(), shelf, 2).map(({ label }) => label)).toEqual(['A', 'B']);
  });
  test('a type of the shelf is added once; one that is there by its label is used', () => {
    const { id: _, ...plate } = MODULE;
    const added = withModuleType(hut(), { kind: 'moduleTypes', label: 'New 100', price: null, body: plate });
    expect([added.type, added.changes.length]).toEqual(['added-module', 1]);
    expect(added.model.system.moduleTypes!.map(({ id }) => id)).toEqual(['m', 'added-module']);
    const there = hut((system) => void (system.moduleTypes![0]!.label = 'New 100'));
    expect(withModuleType(there, { kind: 'moduleTypes', label: 'New 100', price: null, body: plate })).toMatchObject({
      type: 'm',
      changes: [],
    });
    expect(withModuleType(there, null)).toMatchObject({ type: null, changes: [] });
  });
  test('modules as they stand with their shade, more in full light, fewer from the first; forty-eight at the most', () => {
    const shaded = hut((system) => void (system.arrays![0]!.shade = [[0.4, 1]]));
    expect(poolOf(shaded)).toEqual([
      { type: 'm', light: 0.4 },
      { type: 'm', light: 1 },
    ]);
    expect(poolOf(shaded, 3)[2]).toEqual({ type: 'm', light: 1 });
    expect(poolOf(shaded, 1)).toEqual([{ type: 'm', light: 0.4 }]);
    expect([poolOf(shaded, 0).length, poolOf(shaded, 2.9).length, poolOf(shaded, 99).length]).toEqual([1, 2, 48]);
  });
});

describe('layouts as a whole', () => {
  const roomy = (change: (system: System) => void = () => undefined) =>
    hut((system) => {
      system.controllers = [{ ...CONTROLLER, maxPv_V: 250, maxPv_A: 100, maxOutput_A: 100 }];
      system.bank = { ...system.bank!, blockCapacity_Ah: 2000, place: { min_C: 10 } };
      change(system);
    });
  test('twelve at the most, the amperes of their strings side by side, nothing bought for the controllers that are there', () => {
    const found = layouts(roomy(), 12)!;
    expect(found.length).toBeLessThanOrEqual(12);
    for (const { controllers, amps, cost, unused } of found) {
      const strings = controllers.reduce((sum, { parallel }) => sum + parallel, 0);
      expect(amps).toBeCloseTo(strings * MODULE.imp_A, 6);
      expect(cost).toBe(0);
      const used = controllers.reduce((sum, { series, parallel }) => sum + series * parallel, 0);
      expect(used + unused).toBe(12);
    }
    // Of layouts that bring the same the one with fewest amperes in its cable stands first.
    const whole = found.filter(({ unused, verdict }) => unused === 0 && verdict === found[0]!.verdict);
    expect(whole[0]!.amps).toBe(Math.min(...whole.map(({ amps }) => amps)));
  });
  test('none where every one has too many volts; nothing where there is nothing to lay out', () => {
    expect(
      layouts(
        roomy((system) => void (system.controllers![0]!.maxPv_V = 15)),
        3,
      ),
    ).toEqual([]);
    expect(
      layouts(
        roomy((system) => void (system.controllers = [])),
        3,
      ),
    ).toBeNull();
  });
  test('one more controller has its price, the settings of the one that is there, and its name in the title', () => {
    const { id: _, ...body } = { ...CONTROLLER, maxPv_V: 250 };
    const offered: ShelfItem = { kind: 'controllers', label: 'More 60', price: 120, currency: 'EUR', body };
    const model = roomy((system) => void (system.controllers![0]!.settings = { absorb_V: 14.4 }));
    const more = layouts(model, 4, [offered])!.find(({ cost }) => cost === 120)!;
    expect(more.changes[0]).toMatchObject({
      op: 'add',
      at: 'controllers',
      value: { label: 'More 60', settings: { absorb_V: 14.4 } },
    });
    expect(layoutTitle(model, more)).toContain('on one more More 60');
    const plain = layouts(model, 4)![0]!;
    expect(layoutTitle(model, plain)).not.toContain(' on ');
  });
});
