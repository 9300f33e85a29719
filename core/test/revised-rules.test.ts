import { check, flips, partTitle, type Finding, type Model, type PvArray, type System } from '../src/index';
import { sentenceOf } from '../src/rules/check';
import { harvest_Wh } from '../src/power/energy';
import { createLedger } from '../src/ledger/ledger';
import { hut } from './hut';

/** Rules of the revised book, each from both sides, with what was not read, and one figure by hand. */

const of = (model: Model, rule: string, subject: string, quantity: string | null = null): Finding | undefined =>
  check(model).find((one) => one.rule === rule && one.subject === subject && one.quantity === quantity);
const verdictOf = (model: Model, rule: string, subject: string, quantity: string | null = null) =>
  of(model, rule, subject, quantity)?.verdict;

describe('strings on one controller input', () => {
  const arrays = (strings: string[][][], change: (system: System) => void = () => undefined) =>
    hut((system) => {
      system.arrays = strings.map((own, i): PvArray => ({ id: `a${i}`, strings: own, controllerId: 'c' }));
      change(system);
    });
  const S = ['m', 'm'];
  // 1.25 x (4 - 1) x 6.5 A = 24.4 A against a series fuse of 15 A.
  test('two arrays or one, the same strings: the same danger', () => {
    const one = of(arrays([[S, S, S, S]]), 'pv.string-protection', 'a0', 'backfeed');
    const two = arrays([[S, S, S], [S]]);
    expect(one).toMatchObject({ demand: expect.closeTo(24.375, 9), limit: 15, verdict: 'over', consequence: 'danger' });
    for (const id of ['a0', 'a1'])
      expect(of(two, 'pv.string-protection', id, 'backfeed')).toMatchObject({
        demand: one?.demand,
        limit: 15,
        verdict: 'over',
      });
    expect(of(two, 'pv.parallel-match', 'c')).toMatchObject({ demand: 0, verdict: 'holds' });
    expect(of(arrays([[S, S]]), 'pv.parallel-match', 'a0')).toMatchObject({ demand: 0 });
  });
  test('one string by itself has nothing to fear', () =>
    expect(of(arrays([[S]]), 'pv.string-protection', 'a0', 'backfeed')).toBeUndefined());
  test('unlike volts on one input: a loss, and a danger where a string is not protected from the others', () => {
    // 65.6 V beside 32.8 V: 50 % apart. Four strings unfused feed 24.4 A back; two feed 8.1 A, within 15.
    const unlike = arrays([[S, S, S], [['m', 'm', 'm', 'm']]]);
    expect(of(unlike, 'pv.parallel-match', 'c')).toMatchObject({
      demand: expect.closeTo(50, 9),
      verdict: 'over',
      consequence: 'danger',
    });
    expect(of(arrays([[S], [['m', 'm', 'm', 'm']]]), 'pv.parallel-match', 'c')).toMatchObject({
      verdict: 'over',
      consequence: 'loss',
    });
    const fused = arrays([[S, S, S], [['m', 'm', 'm', 'm']]], (system) =>
      system.arrays!.forEach((array) => (array.stringFuse_A = 15)),
    );
    expect(of(fused, 'pv.parallel-match', 'c')).toMatchObject({ consequence: 'loss' });
    const unread = arrays(
      [[S, S, S], [['m', 'm', 'm', 'm']]],
      (system) => (system.moduleTypes![0]!.maxSeriesFuse_A = null),
    );
    expect(of(unread, 'pv.parallel-match', 'c')).toMatchObject({ consequence: 'danger' });
  });
  test('a fuse is what the strings own run, stringProtection or stringFuse_A says, the worse where two differ', () => {
    const fuses = (change: (array: PvArray, system: System) => void) =>
      arrays([[S, S, S, S]], (system) => change(system.arrays![0]!, system));
    const backfeed = (model: Model) => of(model, 'pv.string-protection', 'a0', 'backfeed')?.demand;
    const blow = (model: Model) => of(model, 'pv.string-protection', 'a0', 'blow');
    const protection = fuses(
      (array) => (array.stringProtection = { type: 'breaker', rating_A: 12, dcRated: true, voltage_V: 500 }),
    );
    expect(backfeed(protection)).toBe(12);
    expect(blow(protection)).toMatchObject({ demand: 9.75, limit: 12, consequence: 'outage' });
    const both = fuses((array) => {
      array.stringProtection = { type: 'breaker', rating_A: 12 };
      array.stringFuse_A = 9;
    });
    expect(backfeed(both)).toBe(12);
    expect(blow(both)).toMatchObject({ limit: 9, verdict: 'over', consequence: 'outage' });
    const none = fuses((array) => (array.stringProtection = { type: 'none' }));
    expect(backfeed(none)).toBeCloseTo(24.375, 9);
    expect(blow(none)).toBeUndefined();
    const unread = fuses((array) => (array.stringProtection = { type: 'breaker' }));
    expect(blow(unread)).toMatchObject({ verdict: 'unknown', missing: ['a0.stringProtection.rating_A'] });
    // Three of four strings on runs of their own with a fuse; the fourth has none and is the worst.
    const runs = fuses((_, system) => {
      system.runs = [0, 1, 2].map((index) => ({
        id: `r${index}`,
        kind: 'pv',
        from: 'a0',
        to: 'c',
        strings: [index],
        length_m: 1,
        size: '6mm2',
        protection: { type: 'breaker', rating_A: 12 },
      }));
    });
    expect(backfeed(runs)).toBeCloseTo(24.375, 9);
  });
  test('its DC volts are asked for as those of a run', () => {
    const at = (protection: object) =>
      of(
        arrays([[S, S]], (system) => (system.arrays![0]!.stringProtection = protection)),
        'run.dc-rating',
        'a0',
        'string',
      );
    // 2 x 20 V x 1.12 at -15 degC.
    expect(at({ type: 'breaker', rating_A: 10, dcRated: true, voltage_V: 60 })).toMatchObject({
      demand: expect.closeTo(44.8, 9),
      limit: 60,
      verdict: 'holds',
    });
    expect(at({ type: 'breaker', rating_A: 10, dcRated: true, voltage_V: 32 })?.verdict).toBe('over');
    expect(at({ type: 'breaker', rating_A: 10, voltage_V: 60 })?.missing).toEqual(['a0.stringProtection.dcRated']);
    expect(at({ type: 'none' })).toBeUndefined();
  });
});

describe('what lets go before the bank is empty', () => {
  const lithium = { chemistry: 'lfp', block_V: 12.8, cells: 4 } as const;
  const at = (volts: number | null, bank: object = {}, site: object = {}) =>
    hut((system, file) => {
      Object.assign(system.bank!, bank);
      Object.assign(file.site, site);
      system.inverters = [{ id: 'i', continuous_W: 300, settings: { cutoff_V: volts } }];
    });
  test.each<[string, number, object, string, number, string]>([
    // Lead: 6 x (1.92 - 0.10) = 10.92 V; empty at 6 x 1.75 = 10.5 V.
    ['lead, early enough', 10.92, {}, 'holds', 1.82, 'life'],
    ['lead, below it', 10.9, {}, 'tight', 1.82, 'life'],
    ['lead, not below empty', 10.5, {}, 'tight', 1.82, 'life'],
    ['lead, below empty', 10.4, {}, 'over', 1.75, 'life'],
    // Lithium iron: 4 x 3.0 = 12 V; empty at 10 V.
    ['lithium, early enough', 12, lithium, 'holds', 3, 'damage'],
    ['lithium, below it', 11.9, lithium, 'tight', 3, 'damage'],
    ['lithium, below empty', 9.9, lithium, 'over', 2.5, 'damage'],
    ['lithium that its protection cuts off', 9.9, { ...lithium, protection: {} }, 'tight', 3, 'damage'],
  ])('%s: %f V', (_, volts, bank, verdict, limit, consequence) =>
    expect(of(at(volts, bank), 'bank.deep-discharge', 'b', 'i')).toMatchObject({
      verdict,
      limit: expect.closeTo(limit, 9),
      consequence,
    }),
  );
  test('a cut-off that was set, else printed, else the window; none of them: unknown', () => {
    const inverter = (more: object) =>
      of(
        hut((system) => (system.inverters = [{ id: 'i', continuous_W: 300, ...more }])),
        'bank.deep-discharge',
        'b',
        'i',
      );
    expect(inverter({ settings: { cutoff_V: 12 }, lowCutoff_V: 11, minDc_V: 10 })?.demand).toBe(2);
    expect(inverter({ lowCutoff_V: 11.4, minDc_V: 10 })?.demand).toBeCloseTo(1.9, 9);
    expect(inverter({ minDc_V: 10.8 })?.demand).toBeCloseTo(1.8, 9);
    expect(inverter({})).toMatchObject({ verdict: 'unknown', missing: ['i.minDc_V'] });
  });
  const lamps = (change: (system: System) => void = () => undefined, site: object = {}) =>
    hut((system, file) => {
      Object.assign(file.site, site);
      system.loads = [{ id: 'lamp', label: 'Lamp', kind: 'dc', power_W: 20, hours_d: 4 }];
      system.distribution = [{ id: 'box', circuits: ['r-l'] }];
      system.runs = [
        { id: 'r-box', kind: 'dc-load', from: 'b', to: 'box', length_m: 1, size: '6mm2' },
        { id: 'r-l', kind: 'dc-load', from: 'box', to: 'lamp', length_m: 1, size: '2.5mm2' },
      ];
      change(system);
    });
  test('DC loads that nothing lets go of: tight where somebody is there, over where nobody is', () => {
    expect(verdictOf(lamps(), 'bank.deep-discharge', 'b', 'loads')).toBe('tight');
    expect(verdictOf(lamps(undefined, { layup_d: 30 }), 'bank.deep-discharge', 'b', 'loads')).toBe('over');
    expect(
      verdictOf(
        lamps((system) => Object.assign(system.bank!, lithium)),
        'bank.deep-discharge',
        'b',
        'loads',
      ),
    ).toBe('over');
    expect(
      verdictOf(
        lamps((system) => Object.assign(system.bank!, { ...lithium, protection: {} })),
        'bank.deep-discharge',
        'b',
        'loads',
      ),
    ).toBe('tight');
  });
  test('a disconnect anywhere on the way, or a load output, lets go of them', () => {
    const opened = lamps(
      (system) => (system.switches = [{ id: 'sw', kind: 'load-disconnect', runId: 'r-box', lvd_V: 11.4 }]),
    );
    expect(of(opened, 'bank.deep-discharge', 'b', 'loads')).toBeUndefined();
    expect(of(opened, 'bank.deep-discharge', 'b', 'sw')).toMatchObject({
      demand: expect.closeTo(1.9, 9),
      verdict: 'holds',
    });
    const isolated = lamps((system) => (system.switches = [{ id: 'sw', kind: 'isolator', runId: 'r-box' }]));
    expect(verdictOf(isolated, 'bank.deep-discharge', 'b', 'loads')).toBe('tight');
    const output = lamps((system) => {
      system.loads![0]!.controllerId = 'c';
      system.controllers![0]!.settings = { lvd_V: 10.8 };
    });
    expect(of(output, 'bank.deep-discharge', 'b', 'loads')).toBeUndefined();
    expect(of(output, 'bank.deep-discharge', 'b', 'c')).toMatchObject({
      demand: expect.closeTo(1.8, 9),
      verdict: 'tight',
    });
  });
  test('where the way to them is not recorded, that is asked', () =>
    expect(
      of(
        lamps((system) => (system.runs = [])),
        'bank.deep-discharge',
        'b',
        'loads',
      ),
    ).toMatchObject({
      verdict: 'unknown',
      missing: ['lamp.run'],
    }));
});

describe('what minds each cell', () => {
  const bank = (more: object) =>
    hut((system) => Object.assign(system.bank!, { chemistry: 'lfp', block_V: 12.8, cells: 4 }, more));
  test.each<[string, object, string | undefined, string | undefined]>([
    ['a block with its own, cells not read', { protection: {} }, undefined, undefined],
    ['made for the cells of the block', { protection: { cells: 4 } }, 'holds', 'damage'],
    ['made for the cells of the string', { series: 2, protection: { cells: 8 } }, 'holds', 'damage'],
    ['made for other cells', { protection: { cells: 8 } }, 'over', 'damage'],
    ['single cells without any', { block_V: 3.2, cells: 1, series: 4 }, 'over', 'danger'],
    ['single cells, not balanced', { block_V: 3.2, cells: 1, series: 4, protection: { cells: 4 } }, 'tight', 'damage'],
    [
      'single cells, balanced',
      { block_V: 3.2, cells: 1, series: 4, protection: { cells: 4 }, balancer: true },
      'holds',
      'damage',
    ],
    ['salvaged without any', { salvaged: true }, 'over', 'danger'],
  ])('%s', (_, more, verdict, consequence) => {
    const finding = of(bank(more), 'bank.cells', 'b');
    expect([finding?.verdict, finding?.consequence]).toEqual([verdict, consequence]);
  });
  test('lead has none', () => expect(of(hut(), 'bank.cells', 'b')).toBeUndefined());
});

describe('enough charge current, source by source', () => {
  // 200 Ah, C10: 20 A wanted. The sun at three quarters: 12.5 A.
  const charged = (chargers: System['chargers'], more: (system: System) => void = () => undefined) =>
    hut((system) => {
      system.chargers = chargers;
      more(system);
    });
  test('the strongest is judged, each other that is too weak by itself is told', () => {
    const model = charged([
      { id: 'm1', kind: 'mains', max_A: 25 },
      { id: 'm2', kind: 'mains', max_A: 8 },
    ]);
    expect(of(model, 'bank.charge-min', 'b')).toMatchObject({ demand: 25, limit: 20, verdict: 'holds' });
    expect(of(model, 'bank.charge-min', 'b', 'm1')).toBeUndefined();
    expect(of(model, 'bank.charge-min', 'b', 'm2')).toMatchObject({ demand: 8, limit: 20, verdict: 'note' });
  });
  test('over where nothing else charges at the same time, and there is no sun', () => {
    const dark = (more: (system: System) => void) =>
      charged(
        [
          { id: 'm1', kind: 'mains', max_A: 25, sourceId: 'gen' },
          { id: 'm2', kind: 'mains', max_A: 8, sourceId: 'shore' },
        ],
        (system) => {
          system.sources = [
            { id: 'gen', kind: 'generator', power_W: 2000 },
            { id: 'shore', kind: 'inlet', inlet_A: 10 },
          ];
          more(system);
        },
      );
    expect(
      verdictOf(
        dark((system) => (system.arrays = [])),
        'bank.charge-min',
        'b',
        'm2',
      ),
    ).toBe('over');
    expect(
      verdictOf(
        dark(() => undefined),
        'bank.charge-min',
        'b',
        'm2',
      ),
    ).toBe('note');
  });
});

describe('a load output', () => {
  // Lamp 24 W / 12 V = 2 A; pump 60 W / 12 V = 5 A, four times that when it starts.
  const output = (loadOutput_A: number | null) =>
    hut((system) => {
      system.controllers![0]!.loadOutput_A = loadOutput_A;
      system.loads = [
        { id: 'lamp', label: 'Lamp', kind: 'dc', power_W: 24, hours_d: 4, type: 'other', controllerId: 'c' },
        { id: 'pump', label: 'Pump', kind: 'dc', power_W: 60, hours_d: 1, type: 'pump', controllerId: 'c' },
      ];
    });
  test.each([
    [22, 'holds'],
    [21, 'over'],
    [null, 'unknown'],
  ])('of %f A: %s', (rating, verdict) =>
    expect(verdictOf(output(rating), 'controller.load-output', 'c')).toBe(verdict),
  );
  test('7 A run, 22 A when the pump starts', () =>
    expect(of(output(30), 'controller.load-output', 'c')?.demand).toBeCloseTo(22, 9));
  test('it does not feed what does not hang on it', () =>
    expect(
      of(
        hut((system) => (system.controllers![0]!.loadOutput_A = 20)),
        'controller.load-output',
        'c',
      ),
    ).toBeUndefined());
});

describe('switches', () => {
  const on = (more: object, run: object = {}) =>
    hut((system) => {
      system.inverters = [{ id: 'i', continuous_W: 450, efficiency_pct: 90, lowCutoff_V: 10 }];
      system.bank!.internal_mohm = 3.2;
      system.runs = [
        { id: 'r', kind: 'battery-inverter', from: 'b', to: 'i', length_m: 2, size: '16mm2', ...run },
        { id: 'pv', kind: 'pv', from: 'a', to: 'c', length_m: 5, size: '6mm2' },
      ];
      system.switches = [
        { id: 'sw', kind: 'isolator', runId: 'r', rating_A: 60, voltage_V: 32, dcRated: true, ...more },
      ];
    });
  const rated = (more: object, quantity: string, run: object = {}) =>
    of(on(more, run), 'switch.rating', 'sw', quantity);
  // 450 / (0.9 x 10) = 50 A; what trips by itself carries 1.25 times that.
  test.each([
    [{ rating_A: 50 }, 'holds', 50],
    [{ rating_A: 49 }, 'over', 50],
    [{ rating_A: 60, kind: 'breaker' }, 'over', 62.5],
    [{ rating_A: 63, kind: 'ground-fault' }, 'holds', 62.5],
    [{ rating_A: null }, 'unknown', null],
  ])('current %#', (more, verdict, demand) =>
    expect(rated(more, 'current')).toMatchObject({
      verdict,
      demand: demand === null ? null : expect.closeTo(demand, 9),
    }),
  );
  test('volts, and whether it is for DC at all', () => {
    expect(rated({}, 'volts')).toMatchObject({ limit: 32, verdict: 'holds' });
    expect(rated({ voltage_V: 12 }, 'volts')?.verdict).toBe('over');
    expect(rated({ dcRated: false }, 'volts')).toMatchObject({ verdict: 'over', demand: null });
    expect(rated({ dcRated: null }, 'volts')).toMatchObject({ verdict: 'unknown', missing: ['sw.dcRated'] });
    expect(rated({ polarised: true }, 'volts')?.verdict).toBe('over');
    expect(rated({}, 'volts', { kind: 'ac', from: 'i', to: 'i' })).toBeUndefined();
  });
  test('polarised on an array: over where the input has two strings, of one array or of two', () => {
    const pv = (change: (system: System) => void) => {
      const model = on({ runId: 'pv', polarised: true, voltage_V: 500 });
      change(model.system);
      return verdictOf(model, 'switch.rating', 'sw', 'volts');
    };
    expect(pv(() => undefined)).toBe('holds');
    expect(pv((system) => system.arrays!.push({ id: 'a2', strings: [['m', 'm']], controllerId: 'c' }))).toBe('over');
  });
  test('what trips is asked to break the fault: at its source end all of it, at the far end through the cable', () => {
    const breaker = { kind: 'breaker', rating_A: 80, interrupt_A: 2500 };
    // 12.732 V / 3.2 mohm; and with 2 x 2 m of 1.21 mohm/m.
    expect(rated(breaker, 'interrupt')).toMatchObject({
      demand: expect.closeTo((1.1 * 12732) / 3.2, 3),
      verdict: 'over',
    });
    expect(rated({ ...breaker, end: 'from' }, 'interrupt')?.demand).toBeCloseTo((1.1 * 12732) / 3.2, 3);
    expect(rated({ ...breaker, end: 'to' }, 'interrupt')).toMatchObject({
      demand: expect.closeTo((1.1 * 12732) / 8.04, 3),
      verdict: 'holds',
    });
    expect(rated({ ...breaker, end: 'to' }, 'interrupt', { from: 'i', to: 'b' })?.demand).toBeCloseTo(
      (1.1 * 12732) / 3.2,
      3,
    );
    expect(rated({}, 'interrupt')).toBeUndefined();
    // Behind the cable's own fuse, which breaks it.
    const behind = { protection: { type: 'class-t', rating_A: 80, fromSource_m: 0 } };
    expect(rated({ ...breaker, interrupt_A: 1000, end: 'to' }, 'interrupt', behind)?.verdict).toBe('tight');
    expect(rated({ ...breaker, interrupt_A: 1000 }, 'interrupt', behind)?.verdict).toBe('over');
  });
});

describe('AC', () => {
  const load = (change: (system: System) => void) =>
    hut((system) => {
      system.loads = [{ id: 'l', label: 'Iron', kind: 'ac', power_W: 1150, hours_d: 1 }];
      change(system);
    });
  const fed = (system: System) => {
    system.sources = [{ id: 'shore', kind: 'inlet', inlet_A: 16, ac_V: 230 }];
    system.runs = [{ id: 'r', kind: 'ac', from: 'shore', to: 'l', length_m: 10, size: '2.5mm2', insulation_C: 75 }];
  };
  test('a load that nothing feeds', () => {
    expect(
      of(
        load(() => undefined),
        'load.unserved',
        'l',
      ),
    ).toMatchObject({ verdict: 'over', consequence: 'outage' });
    expect(of(load(fed), 'load.unserved', 'l')).toBeUndefined();
    expect(
      of(
        load((system) => (system.inverters = [{ id: 'i', continuous_W: 2000 }])),
        'load.unserved',
        'l',
      ),
    ).toBeUndefined();
  });
  test('what the mains alone feed is no inverter and no bank of ours', () => {
    const model = load((system) => {
      fed(system);
      system.inverters = [{ id: 'i', continuous_W: 2000 }];
    });
    expect(of(model, 'inverter.continuous', 'i')?.demand).toBe(0);
    expect(of(model, 'charger.input', 'shore')).toMatchObject({ demand: expect.closeTo(5, 9), limit: 16 });
  });
  test('a cable of the mains: at least the inlet, no more than what protects it, no quarter on top', () => {
    expect(of(load(fed), 'run.ampacity', 'r')).toMatchObject({ demand: 16 });
    const protectedBy = (rating_A: number) =>
      load((system) => {
        fed(system);
        system.runs![0]!.protection = { type: 'breaker', rating_A };
      });
    expect(of(protectedBy(10), 'run.ampacity', 'r')?.demand).toBe(10);
    // The iron draws 5 A.
    expect(of(protectedBy(4), 'run.fuse-carries', 'r')).toMatchObject({
      demand: 4,
      limit: expect.closeTo(5, 9),
      verdict: 'over',
    });
    expect(of(protectedBy(6), 'run.fuse-carries', 'r')?.verdict).toBe('holds');
    // 2.5 mm2 counts as 14 AWG: never above 15 A.
    expect(of(protectedBy(16), 'run.fuse-protects', 'r')).toMatchObject({ demand: 16, limit: 15, verdict: 'over' });
    expect(of(load(fed), 'run.fuse-protects', 'r')).toBeUndefined();
    expect(of(protectedBy(16), 'run.dc-rating', 'r')).toBeUndefined();
    expect(of(protectedBy(16), 'run.far-fault', 'r')).toBeUndefined();
    // 16 A x 2 x 10 m x 7.98 mohm/m, warm, of 230 V.
    expect(of(load(fed), 'run.drop', 'r')).toMatchObject({
      demand: expect.closeTo((100 * 16 * 20 * 7.98e-3 * (1 + 0.00393 * 30)) / 230, 6),
      limit: 3,
    });
  });
});

describe('what a day brings', () => {
  const SUN = { latitude_deg: 50, climate: { globalHorizontal_kWh_m2_d: Array.from({ length: 12 }, () => 4) } };
  const day = (change: (system: System) => void) => {
    const io = createLedger(
      hut((system, file) => {
        Object.assign(file.site, SUN);
        Object.assign(system.arrays![0]!, { tilt_deg: 0 });
        change(system);
      }),
    );
    return { months: harvest_Wh(io), missing: [...io.missing] };
  };
  test('flat it faces nowhere; tilted its direction is asked for', () => {
    // 200 W x 4 h x 0.77.
    expect(day(() => undefined).missing).toEqual([]);
    expect(day(() => undefined).months[5]).toBeCloseTo(616, 0);
    expect(day((system) => (system.arrays![0]!.tilt_deg = 30)).missing).toEqual(['a.azimuth_deg']);
  });
  test('no more than the controller puts out in ten hours at float', () =>
    // 3 A x 6 x 2.25 V x 10 h.
    expect(day((system) => (system.controllers![0]!.maxOutput_A = 3)).months[6]).toBeCloseTo(405, 9));
  test('the engine in its hours, held to what its alternator gives', () => {
    const engine = (rating_A: number) => (system: System) => {
      system.arrays = [];
      system.sources = [{ id: 'eng', kind: 'alternator', rating_A, nominal_V: 12, hours_d: 2, winterHours_d: 1 }];
      system.chargers = [{ id: 'd', kind: 'dc-dc', max_A: 20, efficiency_pct: 90 }];
    };
    // 20 A x 13.5 V; it draws 27 A, and 65 A of rating give 14 A for long.
    expect(day(engine(200)).months[6]).toBeCloseTo(540, 9);
    expect(day(engine(200)).months[0]).toBeCloseTo(270, 9);
    expect(day(engine(65)).months[6]).toBeCloseTo((540 * 14) / 27, 9);
  });
});

test('the conductor basis of a vehicle, unless somebody says otherwise', () => {
  const school = (kind: string, conductor?: 'metric') => {
    const model = hut((system, file) => {
      Object.assign(file.site, { kind });
      if (conductor) file.schools = { conductor };
      system.runs = [{ id: 'r', kind: 'pv', from: 'a', to: 'c', length_m: 1, size: '6mm2' }];
    });
    return of(model, 'run.ampacity', 'r')?.school;
  };
  expect(['van', 'Camper van', 'narrow boat', 'boat house', 'hut'].map((kind) => school(kind))).toEqual([
    'vehicle',
    'vehicle',
    'vehicle',
    'building',
    'building',
  ]);
  expect(school('van', 'metric')).toBe('metric');
});

test('a single conductor in free air carries more on the building basis: 6 AWG 95 A, in conduit 65 A', () => {
  const column = (freeAir: boolean) =>
    of(
      hut((system, file) => {
        file.schools = { conductor: 'building' };
        system.inverters = [{ id: 'i', continuous_W: 300, lowCutoff_V: 10 }];
        system.runs = [{ id: 'r', kind: 'battery-inverter', from: 'b', to: 'i', length_m: 1, size: '6AWG', freeAir }];
      }),
      'run.ampacity',
      'r',
    )?.limit;
  expect([column(true), column(false)]).toEqual([95, 65]);
});

test('metric: the largest fuse is the one not above what the conductor carries, that one itself included', () => {
  const largest = (size: string) =>
    of(
      hut((system, file) => {
        file.schools = { conductor: 'metric' };
        system.inverters = [{ id: 'i', continuous_W: 300, lowCutoff_V: 10 }];
        system.runs = [
          {
            id: 'r',
            kind: 'battery-inverter',
            from: 'b',
            to: 'i',
            length_m: 1,
            size,
            insulation_C: 70,
            protection: { type: 'nh', rating_A: 63 },
          },
        ];
      }),
      'run.fuse-protects',
      'r',
    );
  // 10 mm2 at 70 degC carries 63 A; 6 mm2 46 A.
  expect(largest('10mm2')).toMatchObject({ limit: 63, verdict: 'holds' });
  expect(largest('6mm2')).toMatchObject({ limit: 40, verdict: 'over' });
});

test('a cable is called by where it leads', () => {
  const model = hut((system) => {
    system.distribution = [{ id: 'box', label: 'Fuse box', circuits: [] }];
    system.loads = [{ id: 'lamp', label: 'Lamp', kind: 'ac', power_W: 10, hours_d: 1 }];
    system.sources = [{ id: 'gen', kind: 'generator' }];
    system.switches = [{ id: 'sw', kind: 'ground-fault', runId: 'l' }];
    system.runs = [
      { id: 'l', kind: 'link', from: 'b', to: 'box', length_m: 1, size: '16mm2' },
      { id: 'mains', kind: 'ac', from: 'gen', to: 'lamp', length_m: 1, size: '2.5mm2' },
      { id: 'p', kind: 'pv', from: 'a', to: 'c', length_m: 1, size: '10AWG' },
      { id: 'n', kind: 'pv', label: 'Long one', from: 'a', to: 'c', length_m: 1, size: '10AWG' },
    ];
  });
  expect(['l', 'mains', 'p', 'n', 'sw', 'gen', 'b', 'nobody'].map((id) => partTitle(model.system, id))).toEqual([
    'Cable to Fuse box, 16 mm2',
    'Cable to Lamp, 2.5 mm2',
    'Array to controller, 10 AWG',
    'Long one',
    'Ground-fault device',
    'Generator',
    'Bank',
    null,
  ]);
});

test('equalising a bank that must not: life, and damage above what its cells stand', () => {
  const set = (equalise_V: number) =>
    of(
      hut((system) => {
        system.bank!.chemistry = 'agm';
        system.controllers![0]!.settings = { equalise_V };
      }),
      'settings',
      'c',
      'equalise_V',
    );
  // 6 x 2.47 = 14.82 V.
  expect(set(14.8)).toMatchObject({ verdict: 'over', consequence: 'life' });
  expect(set(14.9)).toMatchObject({ verdict: 'over', consequence: 'damage' });
  expect(set(0)).toBeUndefined();
});

test('links between bank and board are runs like any other; one between batteries is not', () => {
  const link = (to: string) =>
    hut((system) => {
      system.distribution = [{ id: 'bus', slots: 4, circuits: [] }];
      system.runs = [
        {
          id: 'r',
          kind: 'link',
          from: 'b',
          to,
          length_m: 1,
          size: '16mm2',
          protection: { type: 'strip', rating_A: 80, fromSource_m: 0.5 },
        },
      ];
    });
  expect(verdictOf(link('bus'), 'run.source-end', 'r')).toBe('over');
  expect(of(link('bus'), 'run.interrupt', 'r')).toBeDefined();
  expect(of(link('bus'), 'run.drop', 'r')).toBeDefined();
  expect(of(link('b'), 'run.source-end', 'r')).toBeUndefined();
  expect(of(link('b'), 'run.interrupt', 'r')).toBeUndefined();
  expect(of(link('b'), 'run.drop', 'r')).toBeUndefined();
});

test('a cable between two sources wants a fuse at both ends that the cable allows', () => {
  const ends = (farProtection: object | null) =>
    verdictOf(
      hut((system) => {
        system.chargers = [{ id: 'd', kind: 'dc-dc', max_A: 20, input_V: 12.5 }];
        system.runs = [{ id: 'r', kind: 'charger', to: 'd', length_m: 1, size: '6mm2', farProtection }];
      }),
      'run.both-ends',
      'r',
    );
  // 6 mm2 takes the 10 AWG column: never above 30 A.
  expect(ends({ type: 'blade', rating_A: 30 })).toBe('holds');
  expect(ends({ type: 'terminal', rating_A: 40 })).toBe('over');
  expect(ends({ type: 'none' })).toBe('over');
  expect(ends(null)).toBe('unknown');
});

test('a board is rated by what it joins, not by the cable that feeds it', () => {
  const model = hut((system) => {
    system.inverters = [{ id: 'i', continuous_W: 450, efficiency_pct: 90, lowCutoff_V: 10, charger: { max_A: 30 } }];
    system.distribution = [{ id: 'bus', slots: 4, rating_A: 60, circuits: ['r-c', 'r-i'] }];
    system.runs = [
      { id: 'r-b', kind: 'dc-load', from: 'bus', to: 'b', length_m: 1, size: '50mm2' },
      { id: 'r-c', kind: 'controller-battery', from: 'bus', to: 'c', length_m: 1, size: '16mm2' },
      { id: 'r-i', kind: 'battery-inverter', from: 'i', to: 'bus', length_m: 1, size: '16mm2' },
    ];
  });
  // Out 50 A; in 16.7 A of sun and 30 A of the inverter's charger.
  expect(of(model, 'distribution.rating', 'bus')).toMatchObject({ demand: expect.closeTo(50, 9), limit: 60 });
  model.system.inverters![0]!.charger!.max_A = 40;
  expect(of({ ...model, system: { ...model.system } }, 'distribution.rating', 'bus')?.demand).toBeCloseTo(
    40 + 200 / 12,
    9,
  );
});

test('what only a table says of a short circuit is worth finding out, though nobody graded it', () => {
  const model = hut((system) => {
    system.inverters = [{ id: 'i', continuous_W: 200, lowCutoff_V: 10.5 }];
    system.runs = [
      {
        id: 'r',
        kind: 'battery-inverter',
        from: 'b',
        to: 'i',
        length_m: 1,
        size: '16mm2',
        protection: { type: 'breaker', rating_A: 40, voltage_V: 60, dcRated: true, fromSource_m: 0 },
      },
    ];
  });
  // 4.4 kA against a breaker's 3 kA; at twice the bank's 3.2 mohm 2.2 kA.
  const turned = { rule: 'run.interrupt', subject: 'r', quantity: null, from: 'tight', to: 'holds' };
  const found = flips(model);
  expect(found.find(({ field }) => field === 'b.internal_mohm')).toMatchObject({
    low: expect.closeTo(3.2, 9),
    high: expect.closeTo(6.4, 9),
    findings: expect.arrayContaining([turned]),
  });
  expect(found.find(({ field }) => field === 'r.protection.interrupt_A')).toMatchObject({
    low: 3000,
    high: 6000,
    findings: [turned],
  });
});

test('no sentence names an id or a field', () => {
  const model = hut((system) => {
    system.inverters = [{ id: 'inv-7', continuous_W: 500, lowCutoff_V: 10.5 }];
    system.loads = [{ id: 'lamp-7', label: 'Reading lamp', kind: 'dc', power_W: 60, hours_d: 1 }];
    system.switches = [{ id: 'sw-7', kind: 'breaker', runId: 'run-7', rating_A: 10, dcRated: true, voltage_V: 32 }];
    system.runs = [
      {
        id: 'run-7',
        kind: 'battery-inverter',
        from: 'b',
        to: 'inv-7',
        length_m: 3,
        size: '10AWG',
        protection: { type: 'none' },
      },
      {
        id: 'run-8',
        kind: 'dc-load',
        from: 'inv-7',
        to: 'lamp-7',
        length_m: 9,
        size: '0.75mm2',
        protection: { type: 'blade', rating_A: 30 },
      },
    ];
  });
  const said = check(model).map((finding) => sentenceOf(model, finding));
  expect(said.filter((text) => /-7|-8|this cable|_[AVWC]\b/.test(text))).toEqual([]);
  expect(said).toContain('Bank to inverter, 10 AWG has no fuse.');
});
