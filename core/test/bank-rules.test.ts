import { c20_Ah, health_pct, place_min_C, top_V } from '../src/bank/bank';
import { cellsPerBlock } from '../src/chemistry/chemistry';
import { createLedger } from '../src/ledger/ledger';
import type { Bank } from '../src/index';
import { BANK, find, hut, part } from './hut';

const withBank = (change: Partial<Bank>) => hut((system) => Object.assign(part.bank(system), change));
const io = (model = hut()) => createLedger(model);

describe('capacity', () => {
  test('100 Ah at 5 h is a larger bank at 20 h: flooded, k 1.25: x 4^0.2', () => {
    expect(c20_Ah(io(), { ...BANK, blockCapacity_Ah: 100, rate_h: 5 })).toBeCloseTo(100 * 4 ** 0.2, 9);
  });
  test('a flooded bank loses a fifth over its six years and never falls below half', () => {
    expect(health_pct(io(), { ...BANK, health_pct: null, age_y: 3 })).toBeCloseTo(90, 9);
    expect(health_pct(io(), { ...BANK, health_pct: null, age_y: 40 })).toBe(50);
    expect(health_pct(io(), { ...BANK, health_pct: null })).toBe(100);
  });
  test.each([
    ['lfp', 12.8, 4, false],
    ['lfp', 48, 16, true],
    ['lfp', 51.2, 16, false],
    ['nmc', 25.9, 7, false],
    ['nmc', 44.4, 12, false],
    ['flooded', 6, 3, false],
    ['agm', 2, 1, false],
    ['nmc', 24, null, false],
    ['lfp', 13, null, false],
  ] as const)('%s of %f V has %s cells', (chemistry, block_V, cells, assumed) => {
    expect(cellsPerBlock({ chemistry, block_V })).toEqual({ cells, assumed });
  });
});

describe('volts on the bus', () => {
  test('equalising that nobody read counts: flooded 6 x 2.58 V', () => expect(top_V(io(), BANK)).toBeCloseTo(15.48, 9));
  test('equalising that is off leaves absorb', () => {
    const model = hut((system) => (part.controller(system).settings = { absorb_V: 14.4, equalise_V: 0 }));
    expect(top_V(io(model), BANK)).toBeCloseTo(14.4, 9);
  });
  test('a temperature sensor lifts a bank at 5 degC by 6 x 5 mV x 20 K', () => {
    const model = hut((system) => {
      part.controller(system).temperatureSensor = true;
      part.bank(system).place = { space: 'vented-box', min_C: 5 };
    });
    expect(top_V(io(model), part.bank(model.system))).toBeCloseTo(15.48 + 0.6, 9);
  });
  test('the coldest place is the record low outside, 5 degC in a box, unknown where nobody said', () => {
    const cold = (bank: Bank) => {
      const ledger = io();
      return [place_min_C(ledger, bank), [...ledger.missing]];
    };
    expect(cold({ ...BANK, place: { space: 'outside' } })).toEqual([-15, []]);
    expect(cold({ ...BANK, place: { space: 'sealed-vented-box' } })).toEqual([5, []]);
    expect(cold(BANK)).toEqual([NaN, ['b.place.min_C']]);
  });
  test('a controller for 15 V does not stand equalising at 15.48 V; turning it off is the cure', () => {
    const model = hut((system) => (part.controller(system).maxBattery_V = 15));
    expect(find(model, 'controller.voltage')).toMatchObject({
      verdict: 'over',
      demand: expect.closeTo(15.48, 9),
      limit: 15,
      sense: 'max',
    });
  });
  test('the bottom is told where it is over, and is a loss: 6 x 1.92 V against 11.6 V', () => {
    const at = (least: number) =>
      find(
        hut((system) => (part.controller(system).minBattery_V = least)),
        'controller.voltage',
      );
    expect(at(11.6)).toMatchObject({
      demand: expect.closeTo(11.52, 9),
      limit: 11.6,
      sense: 'min',
      verdict: 'over',
      consequence: 'loss',
    });
    expect(at(11.5)).toMatchObject({ sense: 'max', limit: 34, verdict: 'holds', consequence: 'damage' });
  });
  test('a top that is over needs no bottom', () => {
    const model = hut((system) => Object.assign(part.controller(system), { maxBattery_V: 15, minBattery_V: null }));
    expect(find(model, 'controller.voltage')).toMatchObject({ verdict: 'over', limit: 15, missing: [] });
  });
  test('a window that was not read is unknown', () => {
    const model = hut((system) => (part.controller(system).maxBattery_V = null));
    expect(find(model, 'controller.voltage')).toMatchObject({ verdict: 'unknown', missing: ['c.maxBattery_V'] });
  });
});

describe('charging profiles', () => {
  const verdict = (profiles: string[] | null, chemistry: Bank['chemistry'] = 'gel', absorb?: number) =>
    find(
      hut((system) => {
        part.bank(system).chemistry = chemistry;
        Object.assign(part.controller(system), { profiles, ...(absorb ? { settings: { absorb_V: absorb } } : {}) });
      }),
      'controller.profile',
    )?.verdict;
  test('the chemistry must be among them', () => {
    expect(verdict(['agm', 'gel'])).toBe('holds');
    expect(verdict(['agm', 'flooded'])).toBe('over');
  });
  test('flooded serves tubular', () => expect(verdict(['flooded'], 'tubular')).toBe('holds'));
  test('custom counts once its absorb volts were read', () => {
    expect(verdict(['custom'])).toBe('tight');
    expect(verdict(['custom'], 'gel', 14.2)).toBe('holds');
  });
  test('profiles that were not read are unknown', () => expect(verdict(null)).toBe('unknown'));
});

describe('charge current', () => {
  test('the sun and a mains charger add, each by its setting where that is lower', () => {
    const model = hut((system) => {
      system.chargers = [{ id: 'x', kind: 'mains', max_A: 40, settings: { maxCharge_A: 30 } }];
    });
    // 200 W / 12 V + 30 A against 0.20 x 200 Ah
    expect(find(model, 'bank.charge-max')).toMatchObject({
      demand: expect.closeTo(200 / 12 + 30, 9),
      limit: 40,
      verdict: 'over',
      consequence: 'life',
    });
  });
  test('a bank that limits itself softens it', () => {
    const model = hut((system) => {
      system.chargers = [{ id: 'x', kind: 'mains', max_A: 40 }];
      part.bank(system).chargeLimited = true;
    });
    expect(find(model, 'bank.charge-max')?.verdict).toBe('tight');
  });
  test('lithium has no figure of the table to fall back on', () => {
    const lithium = { chemistry: 'lfp', block_V: 12.8 } as const;
    expect(find(withBank(lithium), 'bank.charge-max')).toMatchObject({
      verdict: 'unknown',
      missing: ['b.maxCharge_A'],
      consequence: 'damage',
    });
    expect(find(withBank({ ...lithium, maxCharge_A: 50, parallel: 2 }), 'bank.charge-max')?.limit).toBe(100);
  });
  test('a 15 A charger on a bank that wants 60 A is undercharging, by the strongest single source', () => {
    const model = hut((system) => {
      system.chargers = [{ id: 'x', kind: 'mains', max_A: 15 }];
      Object.assign(part.bank(system), { blockCapacity_Ah: 200, parallel: 3 });
    });
    // The sun brings 0.75 x 16.7 = 12.5 A; the charger is stronger; neither is summed with the other.
    expect(find(model, 'bank.charge-min')).toMatchObject({ demand: 15, limit: 60, sense: 'min', verdict: 'over' });
  });
  test.each([
    ['C10', 'flooded', 20],
    ['C20', 'flooded', 10],
    ['C20', 'tubular', 20],
    [null, 'gel', 16],
  ] as const)('school %s of a %s bank of 200 Ah asks for %f A', (chargeMin, chemistry, limit) => {
    const model = hut((system, file) => {
      file.schools = { chargeMin };
      part.bank(system).chemistry = chemistry;
    });
    expect(find(model, 'bank.charge-min')?.limit).toBeCloseTo(limit, 9);
  });
  test('a dc-dc charger is no cure for undercharging, and lithium needs none', () => {
    const model = hut((system) => (system.chargers = [{ id: 'x', kind: 'dc-dc', max_A: 60 }]));
    expect(find(model, 'bank.charge-min')?.demand).toBeCloseTo(12.5, 9);
    expect(find(withBank({ chemistry: 'lfp', block_V: 12.8 }), 'bank.charge-min')).toBeUndefined();
  });
});
