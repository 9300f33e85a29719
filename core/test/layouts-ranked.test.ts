import { arrivalOf } from '../src/layouts/arrive';
import { blocksOf, groupings, isEven } from '../src/layouts/groupings';
import { causedBy, compareCounts, gravity, losses } from '../src/layouts/rank';
import { type Finding, type Model, type System } from '../src/index';
import { resistance_ohm_m } from '../src/conductors/sizes';
import { CONTROLLER, hut } from './hut';

const finding = (rule: string, more: Partial<Finding> = {}): Finding =>
  ({
    rule,
    subject: 'a',
    quantity: null,
    verdict: 'over',
    consequence: 'danger',
    use: 1.2,
    demand: 1,
    limit: 1,
    ...more,
  }) as Finding;

describe('whose fault it is', () => {
  const NONE = new Set<string>();
  test('a rule of strings is the layout’s own, found before or not; another only where it is new or grown', () => {
    const cold = finding('pv.cold-voltage');
    expect(causedBy([cold], [cold], NONE)).toMatchObject({ overs: [cold], already: [], onVolts: true });
    const fuse = finding('run.interrupt');
    expect(causedBy([fuse], [fuse], new Set(['run.interrupt']))).toMatchObject({
      overs: [],
      already: [fuse],
      onVolts: false,
    });
    // What is over as found by rules that say nothing of arrays is told elsewhere.
    expect(causedBy([fuse], [fuse], NONE)).toMatchObject({ overs: [], already: [] });
    const worse = finding('run.interrupt', { use: 1.5 });
    expect(causedBy([fuse], [worse], NONE).overs).toEqual([worse]);
    expect(causedBy([], [fuse], NONE).overs).toEqual([fuse]);
  });
  test('tight and unknown count of its own rules alone', () => {
    const after = [
      finding('pv.input-current', { verdict: 'tight' }),
      finding('pv.power', { verdict: 'unknown' }),
      finding('bank.charge-min', { verdict: 'tight' }),
      finding('bank.autonomy', { verdict: 'unknown' }),
    ];
    expect(causedBy([], after, NONE)).toMatchObject({ tight: 1, unknown: 1, overs: [] });
  });
});

describe('the gravest first', () => {
  const caused = (...overs: Finding[]) => causedBy([], overs, new Set());
  const rank = (a: Finding[], b: Finding[]) => Math.sign(compareCounts(gravity(caused(...a)), gravity(caused(...b))));
  test('more volts than an input stands is worse than anything, two dangers than one, one danger than ten losses', () => {
    const cold = finding('pv.cold-voltage');
    const danger = finding('pv.string-protection');
    const loss = (subject: string) => finding('pv.hot-voltage', { consequence: 'loss', subject });
    expect(rank([cold], [danger, finding('pv.string-protection', { subject: 'b' })])).toBe(1);
    expect(rank([danger], [danger, finding('pv.string-protection', { subject: 'b' })])).toBe(-1);
    expect(
      rank(
        [danger],
        Array.from({ length: 10 }, (_, i) => loss(`s${i}`)),
      ),
    ).toBe(1);
    expect(rank([], [])).toBe(0);
  });
  test('a loss that is in the watts already is none of these counts; unlike strings are', () => {
    for (const rule of ['pv.output-current', 'pv.power', 'pv.pwm-waste', 'run.drop'])
      expect(rank([finding(rule, { consequence: 'loss' })], [])).toBe(0);
    expect(rank([finding('pv.hot-voltage', { consequence: 'loss' })], [])).toBe(1);
    expect(rank([finding('pv.power', { consequence: 'damage' })], [])).toBe(1);
    expect(losses(caused(finding('pv.power', { consequence: 'loss' }), finding('pv.cold-voltage')))).toBe(1);
  });
  test('counts one after the other; what is missing is nothing', () => {
    expect(compareCounts([0, 1], [0, 2])).toBe(-1);
    expect(compareCounts([1], [1, 0])).toBe(0);
    expect(compareCounts([1], [1, 1])).toBe(-1);
    expect(compareCounts([2, 0], [1, 9])).toBe(1);
  });
});

describe('what full sun brings to the bank', () => {
  const model = (change: (system: System) => void = () => undefined): Model => hut(change);
  const share = (strings: number[]) => [
    {
      controllerId: 'c',
      strings: strings.map((count) => Array.from({ length: count }, () => ({ type: 'm', light: 1 }))),
    },
  ];
  const alone = arrivalOf(model(), share([2]));
  test('two modules of 100 W at 45 degC: some 94 % of their plates at the modules, 97 % of that behind an mppt of no stated efficiency', () => {
    expect(alone.atModules_W).toBeGreaterThan(180);
    expect(alone.atModules_W).toBeLessThan(195);
    expect(alone.watts / alone.atModules_W).toBeCloseTo(0.97, 9);
    const stated = arrivalOf(
      model((system) => void (system.controllers![0]!.efficiency_pct = 90)),
      share([2]),
    );
    expect(stated.watts / stated.atModules_W).toBeCloseTo(0.9, 9);
  });
  test('half of the light on one string, half of its watts', () => {
    const dim = arrivalOf(model(), [
      {
        controllerId: 'c',
        strings: [
          [
            { type: 'm', light: 0.5 },
            { type: 'm', light: 0.5 },
          ],
        ],
      },
    ]);
    expect(dim.atModules_W / alone.atModules_W).toBeGreaterThan(0.47);
    expect(dim.atModules_W / alone.atModules_W).toBeLessThan(0.51);
  });
  test('no more than its amperes at the bank’s float: 10 A at 13.5 V', () => {
    const small = arrivalOf(
      model((system) => void (system.controllers![0]!.maxOutput_A = 10)),
      share([2, 2]),
    );
    expect(small.watts).toBeLessThan(140);
    expect(small.watts).toBeGreaterThan(130);
    expect(small.atModules_W).toBeGreaterThan(350);
  });
  test('the cable takes I^2 R, both ways; two alike beside each other take half', () => {
    const runs = (count: number) => (system: System) =>
      void (system.runs = Array.from({ length: count }, (_, i) => ({
        id: `r${i}`,
        kind: 'pv' as const,
        from: i === 0 ? 'a' : 'c',
        to: i === 0 ? 'c' : 'a',
        length_m: 10,
        size: '4mm2',
      })));
    const lost = (count: number) => alone.watts - arrivalOf(model(runs(count)), share([2])).watts;
    // 6.1 A through 2 x 10 m of 4 mm2 at 50 degC, times the efficiency that they would have gone through.
    const ohm = 20 * resistance_ohm_m('4mm2', 'copper', 50);
    expect(lost(1)).toBeCloseTo(0.97 * 6.1 * 6.1 * ohm, 0);
    expect(lost(2) / lost(1)).toBeCloseTo(0.5, 6);
    expect(
      arrivalOf(
        model(
          (system) =>
            void (system.runs = [{ id: 'x', kind: 'pv', from: 'other', to: 'c', length_m: 10, size: '4mm2' }]),
        ),
        share([2]),
      ).watts,
    ).toBe(alone.watts);
  });
  test('pwm takes the amperes at half a volt above the bank, and the cable costs it nothing', () => {
    const pwm = (change: (system: System) => void = () => undefined) =>
      arrivalOf(
        model((system) => {
          system.controllers = [{ ...CONTROLLER, type: 'pwm' }];
          change(system);
        }),
        share([1, 1]),
      );
    // 2 x 6.2 to 6.6 A at 13.5 V.
    expect(pwm().watts).toBeGreaterThan(2 * 6.1 * 13.3);
    expect(pwm().watts).toBeLessThan(2 * 6.7 * 13.7);
    expect(
      pwm((system) => void (system.runs = [{ id: 'r', kind: 'pv', from: 'a', to: 'c', length_m: 50, size: '4mm2' }]))
        .watts,
    ).toBe(pwm().watts);
  });
});

describe('every grouping once', () => {
  const shapes = (controllers: string[], counts: [string, number][], options = {}) =>
    [...groupings(controllers, new Map(counts), options)].map((shares) =>
      shares.map(({ controllerId, block }) => `${controllerId} ${block.lengths.join('+')}`).join(' | '),
    );
  test('two modules on one controller: one string of two, two of one; one of them may lie', () => {
    expect(shapes(['c'], [['m', 2]]).sort()).toEqual(['c 1+1', 'c 2']);
    expect(shapes(['c'], [['m', 3]])).toContain('c 2');
    expect(shapes(['c'], [['m', 3]])).toContain('c 2+1');
    expect(shapes(['c'], [['m', 3]], { even: true })).not.toContain('c 2+1');
    // Half or more lying is no layout.
    expect(shapes(['c'], [['m', 4]]).some((shape) => shape === 'c 2' || shape === 'c 1+1')).toBe(false);
  });
  test('over two controllers at most the odd one lies, and each has some', () => {
    const found = shapes(['c', 'd'], [['m', 3]]).filter((shape) => shape.includes('|'));
    expect(found.sort()).toEqual(['c 1 | d 1', 'c 1 | d 1+1', 'c 1 | d 2', 'c 1+1 | d 1', 'c 2 | d 1']);
  });
  test('two types on one controller: mixed, and each in strings of its own beside the other', () => {
    const found = shapes(
      ['c'],
      [
        ['m', 2],
        ['n', 2],
      ],
    );
    expect(found).toContain('c 4');
    expect(found).toContain('c 2 | c 2');
    expect(found).toContain('c 2 | c 1+1');
  });
  test('no string is empty, and a block’s strings are its modules', () => {
    for (let size = 1; size <= 9; size++)
      for (const block of blocksOf('m', size)) {
        expect(Math.min(...block.lengths)).toBeGreaterThan(0);
        expect(block.lengths.reduce((sum, length) => sum + length, 0)).toBe(size);
        expect(isEven(block)).toBe(size % block.lengths.length === 0);
      }
  });
});
