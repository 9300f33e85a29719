import { check, checkWithRemedies, networkOf, type Finding, type Model, type Run, type System } from '../src/index';
import { design_A } from '../src/power/design';
import { createLedger } from '../src/ledger/ledger';
import { hut } from './hut';

/** Wires as they are found: tapped from a device's posts, written either way round, on boards, behind converters. */

const fuse = (rating_A: number, more: object = {}) => ({
  type: 'terminal' as const,
  rating_A,
  voltage_V: 58,
  fromSource_m: 0.05,
  dcRated: true,
  ...more,
});
const run = (id: string, kind: Run['kind'], from: string, to: string, more: Partial<Run> = {}): Run => ({
  id,
  kind,
  from,
  to,
  length_m: 1,
  size: '16mm2',
  insulation_C: 90,
  negativeThroughShunt: true,
  ...more,
});
/** An inverter of 500 W on a fused 16 mm2, and what else somebody wired. */
const wired = (runs: Run[], more: (system: System) => void = () => undefined): Model =>
  hut((system) => {
    system.inverters = [{ id: 'inv', continuous_W: 500, efficiency_pct: 90, lowCutoff_V: 10.5 }];
    system.runs = [run('r-inv', 'battery-inverter', 'b', 'inv', { protection: fuse(80) }), ...runs];
    more(system);
  });
const of = (model: Model, rule: string, subject: string, quantity: string | null = null): Finding | undefined =>
  check(model).find((one) => one.rule === rule && one.subject === subject && one.quantity === quantity);
const swapped = (one: Run): Run => ({ ...one, from: one.to, to: one.from });
const amps = (model: Model, id: string) =>
  design_A(
    createLedger(model),
    model.system.runs!.find((one) => one.id === id)!,
  );

describe("a controller wired to the inverter's posts", () => {
  const tapped = run('r-c', 'controller-battery', 'c', 'inv', { protection: fuse(40, { fromSource_m: 0.3 }) });
  // Inverter 500 / (0.9 x 10.5) = 52.9 A out, array 200 W / 12 V = 16.7 A in: the larger sets the shared cable.
  test('the shared cable is sized for the larger of what comes and what goes', () => {
    const model = wired([tapped], (system) => (system.inverters![0]!.continuous_W = 90));
    expect(amps(model, 'r-inv')).toBeCloseTo(200 / 12, 9);
    expect(amps(wired([tapped]), 'r-inv')).toBeCloseTo(500 / (0.9 * 10.5), 9);
    expect(amps(wired([tapped]), 'r-c')).toBeCloseTo(200 / 12, 9);
  });
  test("what feeds it is the inverter's cable, and the fuse there is upstream", () => {
    const model = wired([tapped]);
    expect(
      networkOf(model.system)
        .feedersOf(tapped)
        ?.map(({ id }) => id),
    ).toEqual(['r-inv']);
    expect(of(model, 'run.selectivity', 'r-c')).toMatchObject({ demand: 40 / 80, limit: 1 / 1.6 });
  });
  test('the order in which its ends were written says nothing', () => {
    for (const rule of ['run.fuse-protects', 'run.far-fault', 'run.interrupt', 'run.drop', 'run.ampacity'])
      expect({ rule, ...of(wired([swapped(tapped)]), rule, 'r-c') }).toEqual({
        rule,
        ...of(wired([tapped]), rule, 'r-c'),
      });
    const inverter = wired([tapped], (system) => (system.runs![0] = swapped(system.runs![0]!)));
    expect(check(inverter)).toEqual(check(wired([tapped])));
  });
  test('its fuse belongs at the posts, unless the fuse before it protects this cable too', () => {
    // 16 mm2, 60 degC air is not said: 90 degC column of 6 AWG, 75 A; building never asks less than the next size, 80 A.
    const thin = { ...tapped, size: '4mm2' };
    expect(of(wired([thin]), 'run.source-end', 'r-c')).toMatchObject({ demand: 0.3, limit: 0.18, verdict: 'over' });
    expect(
      of(
        wired([tapped], (system) => (system.runs![0]!.protection = fuse(60))),
        'run.source-end',
        'r-c',
      ),
    ).toBeUndefined();
  });
});

describe('a wire with nothing on it', () => {
  const lamp = (more: Partial<Run> = {}) =>
    run('r-l', 'dc-load', 'inv', 'lamp', { size: '1.5mm2', protection: { type: 'none' }, ...more });
  const withLamp = (system: System) =>
    (system.loads = [{ id: 'lamp', label: 'Lamp', kind: 'dc', power_W: 12, hours_d: 4 }]);
  test('tapped from posts: over, since 80 A upstream is more than it stands', () =>
    expect(of(wired([lamp()], withLamp), 'run.fuse-protects', 'r-l')).toMatchObject({ verdict: 'over', demand: null }));
  test('thick enough for the fuse before it: nothing to say', () =>
    expect(of(wired([lamp({ size: '25mm2' })], withLamp), 'run.fuse-protects', 'r-l')).toBeUndefined());
  test('nobody looked: unknown, with what to look at', () =>
    expect(of(wired([lamp({ protection: null })], withLamp), 'run.fuse-protects', 'r-l')).toMatchObject({
      verdict: 'unknown',
      missing: ['r-l.protection.type'],
    }));
  test('a board that nothing feeds is asked about', () => {
    const model = wired([lamp({ from: 'box' })], (system) => {
      withLamp(system);
      system.distribution = [{ id: 'box', slots: 4, rating_A: 40, circuits: ['r-l'] }];
    });
    expect(of(model, 'run.fuse-protects', 'r-l')).toMatchObject({ verdict: 'unknown', missing: ['box.run'] });
  });
  test('a fuse is offered of a type and rating that are sold, which this cable allows', () => {
    const finding = checkWithRemedies(wired([lamp()], withLamp)).find(
      ({ rule, subject }) => rule === 'run.fuse-protects' && subject === 'r-l',
    );
    // 1.5 mm2 on the building basis: 15 A, and never above 15.
    expect(finding?.remedies[0]?.title).toMatch(/of 15 A at the source end/);
  });
});

test.each<[Run['kind'], string, (system: System) => void]>([
  ['controller-battery', 'c', () => undefined],
  ['battery-inverter', 'inv', () => undefined],
  ['charger', 'ch', (system) => (system.chargers = [{ id: 'ch', kind: 'mains', max_A: 20 }])],
  ['converter', 'con', (system) => (system.converters = [{ id: 'con', in_V: 24, out_V: 12, max_A: 20 }])],
  [
    'dc-load',
    'lamp',
    (system) => (system.loads = [{ id: 'lamp', label: 'Lamp', kind: 'dc', power_W: 60, hours_d: 1 }]),
  ],
  ['dc-load', 'box', (system) => (system.distribution = [{ id: 'box', slots: 4, rating_A: 40, circuits: [] }])],
  ['link', 'box', (system) => (system.distribution = [{ id: 'box', slots: 4, rating_A: 40, circuits: [] }])],
])('no part is without a voice: %s to %s, with no protection anywhere, is over', (kind, to, add) => {
  const model = hut((system) => {
    system.inverters = [{ id: 'inv', continuous_W: 500, lowCutoff_V: 10.5 }];
    system.runs = [run('r', kind, 'b', to, { protection: { type: 'none' } })];
    add(system);
  });
  expect(of(model, 'run.fuse-protects', 'r')).toMatchObject({ verdict: 'over', consequence: 'danger' });
});

describe('behind a converter', () => {
  const fed = (quantity: number, out: Partial<Run> = {}): Model =>
    wired(
      [
        run('in', 'converter', 'con', 'b', { protection: fuse(40) }),
        run('out', 'converter', 'box', 'con', { size: '2.5mm2', protection: { type: 'none' }, ...out }),
        run('r-l', 'dc-load', 'lamp', 'box', { size: '1.5mm2', protection: { type: 'none' } }),
      ],
      (system) => {
        system.converters = [{ id: 'con', in_V: 24, out_V: 12, max_A: 12, quantity, efficiency_pct: 90 }];
        system.distribution = [{ id: 'box', slots: 4, rating_A: 40, circuits: ['r-l'] }];
        system.loads = [{ id: 'lamp', label: 'Lamp', kind: 'dc', power_W: 24, hours_d: 4, converterId: 'con' }];
      },
    );
  test('what the bank reaches is its input, what it feeds its output', () => {
    const { system } = fed(1);
    const network = networkOf(system);
    expect(system.runs!.slice(1).map((one) => [network.side(one), network.converterVolts(one)])).toEqual([
      ['input', null],
      ['output', 12],
      [null, 12],
    ]);
  });
  // 12 A of one are within 2.5 and 1.5 mm2 (20 and 15 A); 24 A of two are not.
  test('what it gives at most is protection enough, or is not', () => {
    expect(of(fed(1), 'run.fuse-protects', 'out')).toBeUndefined();
    expect(of(fed(1), 'run.fuse-protects', 'r-l')).toBeUndefined();
    expect(of(fed(2), 'run.fuse-protects', 'out')).toMatchObject({ verdict: 'over' });
    expect(of(fed(2), 'run.fuse-protects', 'r-l')).toMatchObject({ verdict: 'over' });
  });
  test('two side by side: capacity, input and output double', () => {
    expect(of(fed(2), 'converter.capacity', 'con')).toMatchObject({ demand: 2, limit: 24 });
    expect(amps(fed(2), 'in')).toBeCloseTo((24 * 12) / (24 * 0.9), 9);
    expect(amps(fed(2), 'out')).toBe(24);
  });
});

describe('a fault far from the bank', () => {
  const BATTERY = { internal_mohm: 5 };
  const wire = (protection: object, more: Partial<Run> = {}, change: (system: System) => void = () => undefined) =>
    hut((system) => {
      Object.assign(system.bank!, BATTERY);
      system.inverters = [{ id: 'inv', continuous_W: 500, lowCutoff_V: 10.5 }];
      system.runs = [
        run('r', 'battery-inverter', 'b', 'inv', { length_m: 2, protection: fuse(80, protection), ...more }),
      ];
      change(system);
    });
  const WARM = 1 + 0.00393 * 30;
  // 12.102 V at half charge through 5 mohm of bank and 2 x 2 m of 1.21 mohm/m, warm.
  const ohm = (...more_mohm: number[]) => 5 + 4 * 1.21 * WARM + more_mohm.reduce((sum, each) => sum + each, 0);
  test('through cable and fuse', () =>
    expect(of(wire({}), 'run.far-fault', 'r')?.limit).toBeCloseTo((6 * 2.017 * 1000) / ohm(50 / 80), 4));
  test('switches and the shunt on the way count once each', () => {
    const model = wire({}, {}, (system) => {
      system.monitor = { id: 'mon', shunt_A: 500 };
      system.switches = [{ id: 'sw', kind: 'isolator', runId: 'r', rating_A: 100 }];
    });
    expect(of(model, 'run.far-fault', 'r')?.limit).toBeCloseTo(
      (6 * 2.017 * 1000) / ohm(50 / 80, 50 / 100, 50 / 500),
      4,
    );
    const around = wire(
      {},
      { negativeThroughShunt: false },
      (system) => (system.monitor = { id: 'mon', shunt_A: 500 }),
    );
    expect(of(around, 'run.far-fault', 'r')?.limit).toBeCloseTo((6 * 2.017 * 1000) / ohm(50 / 80), 4);
  });
});

describe('what the tables know of a fault', () => {
  // Flooded 200 Ah by the table: 3.2 mohm, at most twice that. 12.73 V x 1.1 / 3.2 = 4376 A; at twice 2188 A.
  const at = (protection: object, change: (system: System) => void = () => undefined) =>
    of(
      hut((system) => {
        system.inverters = [{ id: 'inv', continuous_W: 200, lowCutoff_V: 10.5 }];
        system.runs = [
          run('r', 'battery-inverter', 'b', 'inv', { protection: fuse(40, { fromSource_m: 0, ...protection }) }),
        ];
        change(system);
      }),
      'run.interrupt',
      'r',
    );
  test.each([
    ['it breaks even the most: holds', 5000, 'holds'],
    ['within a tenth of it: tight', 4500, 'tight'],
    ['only at twice the resistance: tight, read its sheet', 3000, 'tight'],
    ['not even then: over', 2000, 'over'],
  ])('%s', (_, interrupt_A, verdict) => expect(at({ interrupt_A })).toMatchObject({ verdict }));
  test('a resistance and a capacity that were read leave no doubt', () => {
    const read = (system: System) => (system.bank!.internal_mohm = 3.2);
    expect(at({ interrupt_A: 3000 }, read)?.verdict).toBe('over');
    expect(at({ interrupt_A: 3000 }, read)?.assumed).not.toContain('b.internal_mohm');
    expect(at({ interrupt_A: 3000 })?.assumed).toContain('b.internal_mohm');
  });
  test('a small blade is let off up to three times its kiloampere, a large one is not', () => {
    expect(at({ type: 'blade', rating_A: 30, voltage_V: 32 })).toMatchObject({ limit: 1000, verdict: 'tight' });
    expect(at({ type: 'blade', rating_A: 40, voltage_V: 32 })).toMatchObject({ limit: 1000, verdict: 'over' });
    // 3 x 1000 A against 2188 A at twice the resistance; 4 of these blocks are four times that.
    const large = (system: System) => Object.assign(system.bank!, { blockCapacity_Ah: 800 });
    expect(at({ type: 'blade', rating_A: 30, voltage_V: 32 }, large)).toMatchObject({ verdict: 'over' });
  });
});

describe('fuses at the posts of the strings', () => {
  const bank = (system: System) => {
    Object.assign(system.bank!, {
      parallel: 3,
      tapping: 'busbar',
      link: { length_m: 0.3, size: '35mm2' },
      internal_mohm: 3,
    });
    system.inverters = [{ id: 'inv', continuous_W: 500, efficiency_pct: 90, lowCutoff_V: 10.5 }];
    system.runs = [run('r', 'battery-inverter', 'b', 'inv', { protection: fuse(80, { interrupt_A: 9000 }) })];
    system.bank!.stringFuse = fuse(60, { interrupt_A: 9000 });
  };
  const fused = (change: object) =>
    hut((system) => {
      bank(system);
      Object.assign(system.bank!.stringFuse!, change);
    });
  // Each lead 0.3 m of 35 mm2 there and back. The two others push 12.732 V through half of (3 mohm + lead), and the faulty
  // string's own lead; the string's share of the inverter's 52.9 A is a third.
  const LEAD = 2 * 0.3 * 0.554;
  test('are judged as the runs that they are', () => {
    const model = fused({});
    expect(of(model, 'run.interrupt', 'b', 'string')).toMatchObject({
      demand: expect.closeTo((1.1 * 12732) / ((3 + LEAD) / 2 + LEAD), 1),
      verdict: 'holds',
    });
    expect(of(model, 'run.fuse-carries', 'b', 'string')).toMatchObject({
      demand: 60,
      limit: expect.closeTo((1.25 * 500) / (0.9 * 10.5) / 3, 6),
    });
    // 35 mm2 takes the 2 AWG column in free air, 190 A; the terminals are no matter of the link's: 75 degC, 170 A.
    expect(of(model, 'run.fuse-protects', 'b', 'string')).toMatchObject({ demand: 60, limit: 175, verdict: 'holds' });
    expect(of(model, 'run.dc-rating', 'b', 'string')).toMatchObject({ limit: 58, verdict: 'holds' });
    expect(of(model, 'bank.string-fuse', 'b')).toMatchObject({ verdict: 'holds' });
    expect(of(model, 'bank.parallel-count', 'b')).toMatchObject({ limit: 8 });
  });
  test('none is none, whatever a yes says', () => {
    const model = fused({ type: 'none' });
    model.system.bank!.fusedStrings = true;
    expect(of(model, 'bank.string-fuse', 'b')).toMatchObject({ verdict: 'over' });
    expect(of(model, 'bank.parallel-count', 'b')).toMatchObject({ limit: 4 });
    expect(of(model, 'run.interrupt', 'b', 'string')).toBeUndefined();
  });
  test('that break their own fault let off what stands behind them', () => {
    // On a fault behind the bus each carries its own string alone: 12.732 V / 3.33 mohm x 1.1 = 4.2 kA.
    expect(of(fused({ interrupt_A: 4100 }), 'run.interrupt', 'r')).toMatchObject({ verdict: 'over' });
    expect(of(fused({ interrupt_A: 4300 }), 'run.interrupt', 'r')).toMatchObject({ verdict: 'tight' });
    expect(of(fused({ interrupt_A: 4300, type: 'breaker' }), 'run.interrupt', 'r')).toMatchObject({
      verdict: 'over',
    });
  });
});
