import {
  check,
  FaultError,
  flips,
  grouped,
  inState,
  modelInState,
  offIn,
  readSystemFile,
  stopsOf,
  worstGist,
  worstState,
  type Finding,
  type Model,
  type System,
  type SystemFile,
} from '../src/index';
import { keyOf, overOf } from '../src/rules/finding';
import { allCharging_A } from '../src/power/charging';
import { createLedger } from '../src/ledger/ledger';
import { sentenceOf as sentence } from '../src/rules/check';
import { hut } from './hut';

/** What runs when, what hangs on what, and what a person sees of it. */

const of = (model: Model, rule: string, subject: string, quantity: string | null = null): Finding | undefined =>
  check(model).find((one) => one.rule === rule && one.subject === subject && one.quantity === quantity);
const charge = (change: (system: System) => void) => allCharging_A(createLedger(hut(change)));
/** 200 W on 12 V: the sun brings 16.7 A, whatever else runs. */
const SUN = 200 / 12;

describe('sources that never run together', () => {
  const both = (system: System) => {
    system.sources = [
      { id: 'eng', kind: 'alternator', rating_A: 120, nominal_V: 12 },
      { id: 'shore', kind: 'inlet', inlet_A: 16 },
    ];
    system.chargers = [
      { id: 'd1', kind: 'dc-dc', max_A: 30 },
      { id: 'd2', kind: 'dc-dc', max_A: 20, settings: { maxCharge_A: 15 } },
      { id: 'm', kind: 'mains', max_A: 40 },
    ];
  };
  test('the sun and the occasion that brings most: 45 A on the way, 40 A plugged in', () =>
    expect(charge(both)).toBeCloseTo(SUN + 45, 9));
  test('an inverter charges with inlet and generator, each in its turn', () => {
    const more = (system: System) => {
      both(system);
      system.sources!.push({ id: 'gen', kind: 'generator', power_W: 2000 });
      system.inverters = [{ id: 'i', continuous_W: 500, charger: { max_A: 25 } }];
    };
    // Plugged in and with the generator 40 + 25 A alike; never twice.
    expect(charge(more)).toBeCloseTo(SUN + 65, 9);
  });
  test('a charger that names its source takes its occasion', () =>
    expect(
      charge((system) => {
        both(system);
        system.sources![1]!.occasion = 'driving';
        system.chargers![2]!.sourceId = 'shore';
      }),
    ).toBeCloseTo(SUN + 85, 9));
  test('an amperage that was not read leaves the sum unknown', () => {
    const model = hut((system) => {
      both(system);
      system.inverters = [{ id: 'i', continuous_W: 500, charger: {} }];
      system.bank!.maxCharge_A = 80;
    });
    expect(of(model, 'bank.charge-max', 'b')).toMatchObject({ verdict: 'unknown', missing: ['i.charger.max_A'] });
  });
});

describe('all chargers on one alternator', () => {
  // Flooded: 6 x 2.43 = 14.58 V; each 20 A x 14.58 / (12 x 0.9) = 27 A at the input.
  const two = (rating_A: number | null, more: object = {}) =>
    hut((system) => {
      system.sources = [{ id: 'eng', kind: 'alternator', rating_A, nominal_V: 12, ...more }];
      system.chargers = [
        { id: 'd1', kind: 'dc-dc', max_A: 20, efficiency_pct: 90 },
        { id: 'd2', kind: 'dc-dc', max_A: 40, efficiency_pct: 90, sourceId: 'eng', settings: { maxCharge_A: 20 } },
      ];
    });
  test.each([
    [160, 71, 'holds'],
    [140, 59, 'tight'],
    [130, 53, 'over'],
  ])('%f A of rating give %f A for long: %s', (rating, limit, verdict) =>
    expect(of(two(rating), 'alternator.load', 'eng')).toMatchObject({ demand: expect.closeTo(54, 9), limit, verdict }),
  );
  test('a rating that was not read', () =>
    expect(of(two(null), 'alternator.load', 'eng')).toMatchObject({ verdict: 'unknown', missing: ['eng.rating_A'] }));
  test('without a source those of one rating are taken together', () => {
    const model = hut((system) => {
      system.chargers = ['d1', 'd2'].map((id) => ({
        id,
        kind: 'dc-dc',
        max_A: 20,
        input_V: 12.5,
        efficiency_pct: 90,
        alternator_A: 160,
      }));
    });
    expect(of(model, 'alternator.load', 'd1')).toMatchObject({ demand: expect.closeTo(54, 9), limit: 71 });
    expect(of(model, 'alternator.load', 'd2')).toBeUndefined();
  });
  test('the cable of a dc-dc charger is judged by the volts that arrive', () => {
    const least = (inputMin_V: number | null) =>
      of(
        hut((system) => {
          system.chargers = [{ id: 'd', kind: 'dc-dc', max_A: 20, input_V: 12.5, inputMin_V, alternator_A: 160 }];
          system.runs = [{ id: 'in', kind: 'charger', to: 'd', length_m: 4, size: '16mm2' }];
        }),
        'run.drop',
        'in',
      );
    // Of 13.8 V: (13.8 - 13.2) / 12 = 5 %; never more than 6.
    expect(least(13.2)?.limit).toBeCloseTo(5, 9);
    expect(least(12.5)?.limit).toBe(6);
    expect(least(null)?.limit).toBe(6);
  });
});

describe('what the mains are asked for', () => {
  // 20 A x 14.58 V / (0.9 x 1) = 324 VA of charging; 1,000 VA pass through.
  const plugged = (more: object) =>
    of(
      hut((system) => {
        system.sources = [{ id: 'shore', kind: 'inlet', inlet_A: 10, ac_V: 230 }];
        system.inverters = [
          {
            id: 'i',
            continuous_W: 2000,
            transfer: 'built-in',
            charger: { max_A: 20, efficiency_pct: 90, powerFactor: 1 },
            ...more,
          },
        ];
        system.loads = [{ id: 'kettle', label: 'Kettle', kind: 'ac', power_W: 1000, hours_d: 1, powerFactor: 1 }];
      }),
      'charger.input',
      'shore',
    )?.demand;
  test('charging and what passes through', () => expect(plugged({})).toBeCloseTo(1324 / 230, 9));
  test('a limit caps it where the bank may help', () =>
    expect(plugged({ inputLimit_A: 3, assist: true })).toBeCloseTo(3, 9));
  test('or the charger steps back, never below what runs', () => {
    expect(plugged({ inputLimit_A: 5 })).toBeCloseTo(5, 9);
    expect(plugged({ inputLimit_A: 3 })).toBeCloseTo(1000 / 230, 9);
  });
});

describe('inverters that work as one', () => {
  const twin = (more: (system: System) => void = () => undefined) =>
    hut((system) => {
      const one = {
        continuous_W: 1000,
        continuous_VA: 1200,
        surge_W: 2000,
        efficiency_pct: 90,
        lowCutoff_V: 10,
        idle_W: 5,
        group: 'g',
      };
      system.inverters = [
        { id: 'i1', ...one },
        { id: 'i2', ...one, continuous_W: 500, continuous_VA: 600, surge_W: 1000, efficiency_pct: 50 },
      ];
      system.loads = [
        { id: 'iron', label: 'Iron', kind: 'ac', power_W: 400, hours_d: 1, type: 'resistive' },
        { id: 'fan', label: 'Fan', kind: 'ac', power_W: 300, hours_d: 1, type: 'resistive', inverterId: 'i2' },
      ];
      system.runs = [
        { id: 'r1', kind: 'battery-inverter', from: 'b', to: 'i1', length_m: 1, size: '50mm2' },
        { id: 'r2', kind: 'battery-inverter', from: 'b', to: 'i2', length_m: 1, size: '50mm2' },
      ];
      more(system);
    });
  // 30 degC: 95 %.
  test('ratings and loads are summed, the first is the subject', () => {
    expect(of(twin(), 'inverter.continuous', 'i1')).toMatchObject({ demand: 700, limit: expect.closeTo(1425, 9) });
    expect(of(twin(), 'inverter.apparent', 'i1')).toMatchObject({ demand: 700, limit: expect.closeTo(1710, 9) });
    expect(of(twin(), 'inverter.surge', 'i1')).toMatchObject({ demand: 700, limit: expect.closeTo(2850, 9) });
    expect(of(twin(), 'inverter.continuous', 'i2')).toBeUndefined();
  });
  test("each stands on its own cable at the first one's efficiency; without one it hangs on the first's", () => {
    // Design against the column (no derating) is 1.25 x 500 / (0.9 x 10).
    expect(of(twin(), 'run.drop', 'r2')?.working.join(' ')).toContain('55.56 A');
    const alone = twin((system) => void system.runs!.pop());
    expect(of(alone, 'run.drop', 'r1')?.working.join(' ')).toContain('166.7 A');
  });
  test('a group of unlike volts is a fault with its path', () => {
    const model = twin((system) => {
      Object.assign(system.inverters![0]!, { minDc_V: 10, maxDc_V: 16 });
      Object.assign(system.inverters![1]!, { minDc_V: 20, maxDc_V: 32 });
    });
    expect(faults(model)).toEqual([expect.objectContaining({ path: 'system.inverters[1].group' })]);
  });
});

const faults = ({ site, system }: Model, more: object = {}): { path: string; message: string }[] => {
  try {
    readSystemFile(JSON.stringify({ format: 'true-lantern', version: 1, site, system, ...more }));
  } catch (error) {
    if (error instanceof FaultError) return error.faults;
    throw error;
  }
  return [];
};

describe('bad input has a path', () => {
  test.each<[string, (system: System) => void, string]>([
    [
      'a state that names no part',
      (system) => (system.states = [{ id: 's', label: 'S', off: ['nobody'] }]),
      'system.states[0].off[0]',
    ],
    [
      'a switch on no run',
      (system) => (system.switches = [{ id: 'sw', kind: 'plug', runId: 'c' }]),
      'system.switches[0].runId',
    ],
    [
      'a switch without a run',
      (system) => (system.switches = [{ id: 'sw', kind: 'plug' } as never]),
      'system.switches[0].runId',
    ],
    [
      'an occasion on the sun',
      (system) => Object.assign(system.controllers![0]!, { occasion: 'driving' }),
      'system.controllers[0].occasion',
    ],
    [
      'an occasion that there is not',
      (system) => (system.sources = [{ id: 's', kind: 'inlet', occasion: 'sun' as never }]),
      'system.sources[0].occasion',
    ],
    [
      'a charger on no source',
      (system) => (system.chargers = [{ id: 'x', kind: 'mains', max_A: 1, sourceId: 'c' }]),
      'system.chargers[0].sourceId',
    ],
  ])('%s', (_, change, path) => expect(faults(hut(change)).map((fault) => fault.path)).toEqual([path]));
  test('5,001 loads and a deep horizon name where they are', () => {
    const loads = Array.from({ length: 5001 }, (_, i) => ({
      id: `l${i}`,
      label: 'L',
      kind: 'ac',
      power_W: 1,
      hours_d: 1,
    }));
    expect(faults(hut((system) => (system.loads = loads as never))).map(({ path }) => path)).toEqual(['system.loads']);
    let deep: unknown = 1;
    for (let i = 0; i < 70; i += 1) deep = [deep];
    const model = hut();
    Object.assign(model.site, { horizon: deep });
    expect(faults(model).map(({ path }) => path)).toEqual(['site.horizon']);
  });
  test('two records of one string fuse that differ are told, and read', () => {
    const { site, system } = hut((one) => {
      one.arrays![0]!.stringFuse_A = 10;
      one.arrays![0]!.stringProtection = { type: 'breaker', rating_A: 15 };
    });
    const { warnings } = readSystemFile(JSON.stringify({ format: 'true-lantern', version: 1, site, system }));
    expect(warnings.join()).toContain('system.arrays[0].stringProtection.rating_A');
  });
});

describe('a state', () => {
  const van = hut((system) => {
    system.inverters = [{ id: 'i', continuous_W: 500, charger: { max_A: 20 } }];
    system.sources = [
      { id: 'shore', kind: 'inlet', inlet_A: 16 },
      { id: 'eng', kind: 'alternator', rating_A: 100 },
    ];
    system.chargers = [
      { id: 'd', kind: 'dc-dc', max_A: 20 },
      { id: 'mains', kind: 'mains', max_A: 20 },
    ];
    system.distribution = [{ id: 'box', circuits: ['r-l'] }];
    system.loads = [
      { id: 'lamp', label: 'Lamp', kind: 'dc', power_W: 20, hours_d: 1 },
      { id: 'kettle', label: 'Kettle', kind: 'ac', power_W: 900, hours_d: 1 },
      { id: 'heater', label: 'Heater', kind: 'ac', power_W: 900, hours_d: 1 },
    ];
    system.runs = [
      { id: 'r-i', kind: 'battery-inverter', from: 'b', to: 'i', length_m: 1, size: '50mm2' },
      { id: 'r-box', kind: 'dc-load', from: 'b', to: 'box', length_m: 1, size: '6mm2' },
      { id: 'r-l', kind: 'dc-load', from: 'box', to: 'lamp', length_m: 1, size: '2.5mm2' },
      { id: 'r-h', kind: 'ac', from: 'shore', to: 'heater', length_m: 1, size: '2.5mm2' },
    ];
    system.switches = [{ id: 'sw', kind: 'isolator', runId: 'r-l' }];
    system.states = [
      { id: 'box-out', label: 'Box out', off: ['r-box'] },
      { id: 'road', label: 'On the road', off: ['shore'] },
      { id: 'no-i', label: 'Inverter off', off: ['i'] },
      { id: 'no-c', label: 'No sun', off: ['c'] },
      { id: 'parked', label: 'Parked', off: ['eng'] },
    ];
  });
  const off = (state: string) => offIn(van.system, state).sort();
  test.each([
    [
      'a run off: the board behind it, its circuits, what opens them and what they feed',
      'box-out',
      ['box', 'lamp', 'r-box', 'r-l', 'sw'],
    ],
    ['the inlet off: its mains charger and what only it feeds', 'road', ['heater', 'mains', 'r-h', 'shore']],
    ['the inverter off: its cable and its loads, not those of the inlet', 'no-i', ['i', 'kettle', 'r-i']],
    ['the controller off: its array', 'no-c', ['a', 'c']],
    ['the engine off: what lives on it', 'parked', ['d', 'eng']],
  ])('%s', (_, state, gone) => expect(off(state)).toEqual(gone));
  test("with the inlet off the inverter's charger has nothing to charge from", () => {
    expect(inState(van.system, 'road').inverters?.[0]?.charger).toBeNull();
    expect(inState(van.system, 'parked').inverters?.[0]?.charger).toEqual({ max_A: 20 });
  });
  test('no circuit of a board is left that is not there', () => {
    const part = hut((system) => {
      Object.assign(system, structuredClone(van.system));
      system.states = [{ id: 's', label: 'S', off: ['lamp'] }];
    });
    expect(inState(part.system, 's').distribution).toEqual([{ id: 'box', circuits: [] }]);
  });
  test('one that is not there is a fault', () => expect(() => inState(van.system, 'x')).toThrow('--state'));
  test('the list of sites says the worst of all, and in which state', () => {
    const model = hut((system) => {
      system.inverters = [{ id: 'i', continuous_W: 500, feeds: 'building', transfer: 'external' }];
      system.states = [{ id: 's', label: 'Slide in', off: [] }];
    });
    expect(worstGist(model, check(model)).sentence).not.toMatch(/^Slide in/);
    // What only a state makes worse: the second inverter, which carries the sine load, is off.
    const worse = hut((system, file: SystemFile) => {
      file.site.recordLow_C = 5;
      system.inverters = [
        { id: 'i1', continuous_W: 300, waveform: 'modified' },
        { id: 'i2', continuous_W: 300, waveform: 'sine' },
      ];
      system.inverters.reverse();
      system.loads = [{ id: 'l', label: 'L', kind: 'ac', power_W: 100, hours_d: 1, needsSine: true }];
      system.states = [{ id: 's', label: 'Slide in', off: ['i2'] }];
    });
    const inSlide = check(modelInState(worse, 's')).some(
      ({ rule, verdict }) => rule === 'inverter.waveform' && verdict === 'over',
    );
    expect(inSlide).toBe(true);
    // One state only: there is no other to tell it from.
    expect(worstGist(worse, check(worse)).sentence).not.toMatch(/^Slide in: /);
    const two = hut((system, file: SystemFile) => {
      file.site.recordLow_C = 5;
      Object.assign(system, structuredClone(worse.system));
      system.states = [{ id: 'o', label: 'Slide out', off: [] }, ...(system.states ?? [])];
    });
    expect(worstGist(two, check(two)).sentence).toMatch(/^Slide in: /);
    expect(worstState(two)?.id).toBe('s');
  });
  test('what never runs together alarms nobody: over with everything on, in no state', () => {
    const model = hut((system, file: SystemFile) => {
      Object.assign(system, structuredClone(van.system));
      file.site.recordLow_C = 5;
      system.states = [];
    });
    const every = overOf(check(model)).map(keyOf);
    const dark = hut((system, file: SystemFile) => {
      Object.assign(system, structuredClone(van.system));
      file.site.recordLow_C = 5;
      const parts = [...(system.arrays ?? []), ...(system.inverters ?? []), ...(system.chargers ?? [])];
      system.states = [{ id: 'off', label: 'Laid up', off: parts.map(({ id }) => id) }];
    });
    const inState = overOf(check(modelInState(dark, 'off'))).map(keyOf);
    expect(worstGist(dark, check(dark)).over).toBe(inState.length);
    expect(inState.length).toBeLessThan(every.length);
  });
});

describe('what a person is told', () => {
  const burnt = (more: object, change: (system: System) => void = () => undefined) =>
    hut((system, file) => {
      Object.assign(file.site, { observations: { noCharring: 'no' }, ...more });
      change(system);
    });
  const stops = (model: Model) => stopsOf(model, check(model)).map(({ key, settled }) => [key, settled?.state ?? null]);
  test('a charred part stops the visit until it is settled, or out of the system', () => {
    expect(stops(burnt({}))).toEqual([['burnt', null]]);
    expect(stops(burnt({ stopCard: { burnt: { partId: 'c' } } }))).toEqual([['burnt', null]]);
    expect(stops(burnt({ stopCard: { burnt: { partId: 'c', state: 'left-off' } } }))).toEqual([['burnt', 'left-off']]);
    expect(
      stops(
        burnt({ stopCard: { burnt: { partId: 'c' } } }, (system) => {
          system.controllers = [];
          delete system.arrays![0]!.controllerId;
        }),
      ),
    ).toEqual([]);
  });
  test('lead and lithium joined stop it wherever that was found', () => {
    const joined = hut((system) => {
      system.otherBanks = [{ id: 'o', role: 'starter', chemistry: 'lfp', nominal_V: 12, joinedBy: 'relay' }];
    });
    expect(stops(joined)).toEqual([['mixed', null]]);
  });
  test('a cable at the bank with nothing on it is no main fuse', () => {
    const bare = (protection: object | null) =>
      hut((system) => {
        system.inverters = [{ id: 'i', continuous_W: 500 }];
        system.runs = [
          { id: 'r', kind: 'battery-inverter', from: 'b', to: 'i', length_m: 1, size: '16mm2', protection },
        ];
      });
    expect(stops(bare({ type: 'none' }))).toEqual([['mainFuse', null]]);
    expect(stops(bare(null))).toEqual([]);
  });
  test('seen, and recorded otherwise: asked, not believed', () => {
    const said = (protection: object) =>
      of(
        hut((system, file) => {
          file.site.observations = { mainFuse: 'yes' };
          system.inverters = [{ id: 'i', continuous_W: 500 }];
          system.runs = [
            { id: 'r', kind: 'battery-inverter', from: 'b', to: 'i', length_m: 1, size: '16mm2', protection },
          ];
        }),
        'observed.mainFuse',
        'site',
      );
    expect(said({ type: 'none' })).toMatchObject({ verdict: 'unknown', missing: ['r.protection.type'] });
    expect(said({ type: 'nh', rating_A: 63 })).toMatchObject({ verdict: 'holds', missing: [] });
  });
  test('fuses that one bank is too much for are one root', () => {
    const model = hut((system) => {
      system.inverters = [{ id: 'i', continuous_W: 500 }];
      system.bank!.internal_mohm = 2;
      const run = (id: string, from: string, interrupt_A: number) => ({
        id,
        kind: 'controller-battery' as const,
        from,
        to: 'b',
        length_m: 1,
        size: '16mm2',
        protection: { type: 'breaker' as const, rating_A: 40, interrupt_A, fromSource_m: 0 },
      });
      system.runs = [run('r1', 'c', 3000), run('r2', 'c', 9000), { ...run('r3', 'i', 3000), kind: 'battery-inverter' }];
    });
    const found = check(model);
    const groups = grouped(
      found.filter(({ verdict }) => verdict === 'over'),
      model.system,
      found,
    );
    expect(groups.filter(({ title }) => title !== null).map(({ title, others }) => [title, others.length])).toEqual([
      ['2 of 3 fuses cannot interrupt a short circuit of the bank.', 1],
    ]);
  });
  test('"four or five modules" is a range like any other', () => {
    const model = hut((system) => {
      system.arrays![0]!.strings = [['m', 'm', 'm', 'm']];
      system.controllers![0]!.maxPv_V = 100;
    });
    model.evidence['a.strings'] = { grade: 'stated', low: 4, high: 5 };
    // 4 x 20 V x 1.12 = 89.6 V, five 112 V.
    const flip = flips(model).find(({ field }) => field === 'a.strings');
    expect(flip?.findings).toContainEqual({
      rule: 'pv.cold-voltage',
      subject: 'a',
      quantity: 'controller',
      from: 'holds',
      to: 'over',
    });
  });
  test('a pump straight from its array is a site: what needs a bank says nothing', () => {
    const model = hut((system) => void (system.bank = null));
    expect(check(model).filter(({ missing }) => missing.includes('bank'))).toEqual([]);
    expect(of(model, 'pv.cold-voltage', 'a', 'controller')).toMatchObject({ verdict: 'holds' });
  });
  test('volts at this bank and which way, not the table', () => {
    const model = hut((system) => (system.controllers![0]!.settings = { absorb_V: 15.6 }));
    const finding = of(model, 'settings', 'c', 'absorb_V')!;
    // 6 x 2.43 = 14.58 V.
    expect(sentence(model, finding)).toBe('Absorb of the controller is 1 V too high for this bank.');
  });
  test('a figure has the digits that tell demand from limit', () => {
    const model = hut((system) => (system.controllers![0]!.maxBattery_V = 15.4));
    expect(sentence(model, of(model, 'controller.voltage', 'c')!)).toBe(
      'Charging reaches 15.5 V; the controller is rated for 15.4 V.',
    );
    const close = hut((system) => (system.controllers![0]!.maxBattery_V = 15.46));
    expect(sentence(close, of(close, 'controller.voltage', 'c')!)).toBe(
      'Charging reaches 15.48 V; the controller is rated for 15.46 V.',
    );
  });
});
