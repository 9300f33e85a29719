import { check, checkWithRemedies, keyOf, withChanges, type Model, type System } from '../src/index';
import { CONTROLLER, hut, hutRuns, MODULE, wired } from './hut';

/** The cure that a senior names first, on systems that are bad in just that way: what is free before what is bought. */

const cures = (model: Model, rule: string, subject?: string) =>
  checkWithRemedies(model).find(
    (finding) => finding.rule === rule && finding.verdict === 'over' && (!subject || finding.subject === subject),
  )?.remedies ?? [];
const titles = (model: Model, rule: string, subject?: string) => cures(model, rule, subject).map(({ title }) => title);
const after = (model: Model, rule: string, subject?: string) =>
  new Map(check(withChanges(model, cures(model, rule, subject)[0]!.changes)).map((one) => [keyOf(one), one]));
const roof = (strings: string[][], controller: object = {}, change: (system: System) => void = () => undefined) =>
  hut((system) => {
    system.arrays = [{ id: 'a', strings, mounting: 'raised', controllerId: 'c' }];
    system.controllers = [{ ...CONTROLLER, ...controller }];
    change(system);
  });

describe('too many volts from a string', () => {
  it('the same modules strung shorter come before a larger controller', () => {
    // 4 x 20 V, a good tenth more at -15 degC, into 75 V.
    const first = titles(roof([['m', 'm', 'm', 'm']], { maxPv_V: 75 }), 'pv.cold-voltage');
    expect(first[0]).toBe('2 in series, 2 strings');
    expect(first[1]).toMatch(/^Controller for/);
  });
});

describe('strings that feed back into each other', () => {
  it('a fuse for modules in each string, of those that are sold; no controllers of their own', () => {
    const model = roof([['m'], ['m'], ['m'], ['m']]);
    const [first] = titles(model, 'pv.string-protection');
    // At least 1.5 x 6.5 A = 9.75, at most the 15 A of the plate.
    expect(first).toBe('A 10 A PV fuse in each string');
    expect(titles(model, 'pv.string-protection').join()).not.toMatch(/controller/i);
  });
  it('a module whose plate allows less than half as much again has no fuse that serves', () => {
    const model = roof([['m'], ['m'], ['m'], ['m']], {}, (system) => {
      system.moduleTypes = [{ ...MODULE, maxSeriesFuse_A: 8 }];
    });
    expect(titles(model, 'pv.string-protection').join()).not.toMatch(/PV fuse/);
  });
});

describe('a start that the inverter does not bear', () => {
  const site = (watts: number, kettle_W: number) =>
    wired((system) => {
      system.loads = [
        { id: 'p', label: 'Pump', kind: 'ac', type: 'induction', power_W: watts, hours_d: 1, inverterId: 'i' },
        { id: 'k', label: 'Kettle', kind: 'ac', type: 'resistive', power_W: kettle_W, hours_d: 0.2, inverterId: 'i' },
      ];
    });
  // The hut stands at 30 degC: 1,500 W of surge are 1,425. A start is five times the pump's watts.
  it('one at a time, where that is enough, comes first', () =>
    expect(titles(site(200, 450), 'inverter.surge')[0]).toBe('Kettle, Pump: one at a time'));
  it('then a soft start', () =>
    // 5 x 300 is too much even alone; 2 x 300 + 400 = 1,000 is not.
    expect(titles(site(300, 400), 'inverter.surge')[0]).toBe('A soft start on Pump'));
  it('then both together', () =>
    expect(titles(site(600, 700), 'inverter.surge')[0]).toBe('Kettle, Pump: one at a time, with a soft start on Pump'));
});

describe('a bank whose 12 V blocks stand in series on a 12 V system', () => {
  const model = hut((system) => {
    system.bank = { ...system.bank!, series: 2, parallel: 1, blockCapacity_Ah: 40, place: { space: 'outside' } };
  });
  it('is joined side by side: nothing to buy', () => {
    const [first] = titles(model, 'bank.voltage');
    expect(first).toBe('The 2 blocks side by side: 2 in parallel');
    expect(after(model, 'bank.voltage').get('bank.voltage|b|')?.verdict).toBe('holds');
  });
});

describe('no main fuse', () => {
  const bare = (size: string) =>
    wired((system) => {
      system.runs = hutRuns().map((one) => (one.id === 'r1' ? { ...one, size, protection: { type: 'none' } } : one));
    });
  it('on a cable that carries its inverter: one fuse at the post', () => {
    const [first, ...rest] = titles(bare('70mm2'), 'run.fuse-protects', 'r1');
    expect(first).toMatch(/^An? (DC breaker|class T fuse|strip fuse) of \d+ A/);
    expect(rest.join()).not.toMatch(/as much as this cable bears/);
    const { fuse_A, at_m } = fuseIn(bare('70mm2'));
    // 111 A and a quarter more, by sizes sold; within a hand of the post.
    expect(fuse_A).toBeGreaterThanOrEqual(138.9);
    expect(at_m).toBeLessThanOrEqual(0.18);
  });
  it('on one that is too thin: the larger pair, and what it bears today with what has to be left off', () => {
    const offered = cures(bare('35mm2'), 'run.fuse-protects', 'r1');
    expect(offered[0]?.title).toMatch(/^50 mm2 and /);
    const today = offered.find(({ title }) => title.includes('the largest for this cable'));
    // 35 mm2 at 75 degC in conduit: 115 A, protected by 125 A; four fifths of that may run for long.
    expect(today?.title).toContain('125 A');
    expect(today?.detail).toContain('no more than 100 A');
    expect(today?.changes).toHaveLength(1);
  });
  const fuseIn = (model: Model) => {
    const run = withChanges(model, cures(model, 'run.fuse-protects', 'r1')[0]!.changes).system.runs!.find(
      ({ id }) => id === 'r1',
    )!;
    return { fuse_A: run.protection?.rating_A ?? 0, at_m: run.protection?.fromSource_m ?? Infinity };
  };
});

test('a charger on the inverter that it feeds is pulled out of it: nothing to buy, nobody to be called', () => {
  const model = wired((system) => {
    system.chargers = [{ id: 'x', kind: 'mains', max_A: 30, onInverterOutput: true }];
  });
  const [first] = cures(model, 'charger.loop');
  expect(first).toMatchObject({
    title: 'Unplug it from the inverter',
    detail: expect.stringContaining('nothing to buy') as string,
  });
});

test('an inverter that lets go too late is raised by its own setting, where its cable bears that', () => {
  const model = wired((system) => {
    system.runs = hutRuns().map((one) => (one.id === 'r1' ? { ...one, size: '50mm2', length_m: 1 } : one));
    system.inverters![0]!.settings = { cutoff_V: 10 };
    system.bank!.internal_mohm = 2;
    system.loads![0]!.type = 'electronic';
  });
  expect(titles(model, 'bank.deep-discharge')[0]).toMatch(/^Set the cut-off to 11\.[67] V$/);
});

describe('lithium in the cold', () => {
  const cold = (protection?: object) =>
    hut((system) => {
      system.bank = {
        ...system.bank!,
        chemistry: 'lfp',
        block_V: 12.8,
        place: { space: 'outbuilding', min_C: -10 },
        ...(protection && { protection }),
      };
      system.controllers = [{ ...CONTROLLER, profiles: ['lfp', 'custom'], settings: { absorb_V: 14.2 } }];
    });
  it('without a cut: the cells are kept warm', () =>
    expect(titles(cold(), 'bank.low-temperature')[0]).toMatch(/^Keep the cells above 5 degC$/));
});

describe('strings with cables of their own', () => {
  // Two strings of four, each with its cable into a combiner, on a controller that bears two in series.
  const site = (shade?: number[][]) =>
    roof(
      [
        ['m', 'm', 'm', 'm'],
        ['m', 'm', 'm', 'm'],
      ],
      { maxPv_V: 75, maxPv_A: 60 },
      (system) => {
        system.arrays![0]!.stringProtection = { type: 'pv', rating_A: 15, voltage_V: 1000, dcRated: true };
        if (shade) system.arrays![0]!.shade = shade;
        system.distribution = [{ id: 'box', circuits: ['s0', 's1'], slots: 6 }];
        system.runs = [0, 1].map((s) => ({
          id: `s${s}`,
          kind: 'pv' as const,
          from: 'a',
          to: 'box',
          length_m: 5,
          size: '4mm2',
          strings: [s],
        }));
        system.runs.push({ id: 'down', kind: 'pv', from: 'box', to: 'c', length_m: 6, size: '25mm2' });
      },
    );
  const strung = (model: Model) => {
    const remedy = cures(model, 'pv.cold-voltage').find(({ title }) => title.startsWith('2 in series'))!;
    return withChanges(model, remedy.changes).system;
  };
  it('are strung shorter with a cable and a way for each string that comes', () => {
    const { runs, distribution } = strung(site());
    expect(runs!.filter(({ from }) => from === 'a').map(({ strings }) => strings)).toEqual([[0], [1], [2], [3]]);
    expect(distribution![0]!.circuits).toHaveLength(4);
  });
  it('and the shade that was noted stays with its module', () => {
    const dark = [
      [1, 1, 0.2, 1],
      [1, 1, 1, 0.5],
    ];
    expect(strung(site(dark)).arrays![0]!.shade).toEqual([
      [1, 1],
      [0.2, 1],
      [1, 1],
      [1, 0.5],
    ]);
  });
});
