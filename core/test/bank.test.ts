import { blocksInSeries } from '../src/bank/fresh';
import { capacity_Ah, c20_Ah, emf_V, fullCell_V, top_V } from '../src/bank/bank';
import { harvest_Wh, occupied, pwmWaste, usable_Wh } from '../src/power/energy';
import { faultBank_ohm, half_V, link_ohm, sagBank_ohm, sharing } from '../src/bank/resistance';
import { createLedger } from '../src/ledger/ledger';
import { arrayCurve } from '../src/pv/array-curve';
import type { Bank, Model } from '../src/index';
import { BANK, hut, part } from './hut';

/** Banks by hand: resistances in mohm, shares of the current, energy. */
const io = (model: Model = hut()) => createLedger(model);
const PLACE = { space: 'vented-box', min_C: 25 } as const;
const LINK = { length_m: 0.3, size: '35mm2' };
const bank = (change: Partial<Bank>): Bank => ({ ...BANK, place: PLACE, link: LINK, ...change });
const mohm = (ohm: number) => Number((1000 * ohm).toFixed(6));

describe('resistance', () => {
  // 0.3 m x 0.554 mohm/m, at 50 degC x 1.1179
  test('a link, warm and cold', () => {
    expect(mohm(link_ohm(io(), bank({}), 50))).toBeCloseTo(0.185795, 6);
    expect(mohm(link_ohm(io(), bank({}), 20))).toBeCloseTo(0.1662, 6);
  });
  // 6 cells x 0.12 ohm Ah / 200 Ah = 3.6 mohm a block
  test.each<[string, Partial<Bank>, number]>([
    ['one block', {}, 3.6],
    ['two in series: a link and its lugs between', { series: 2 }, 7.485795],
    ['two in parallel', { parallel: 2 }, 1.8],
    ['three in series, two strings', { series: 3, parallel: 2 }, (3 * 3.6 + 2 * 0.285795) / 2],
    ['worn to 80 %', { health_pct: 80 }, 4.5],
    ['as its sheet says', { internal_mohm: 5 }, 5],
    ['with a protection circuit', { protection: {} }, 5.1],
  ])('for sag: %s', (_, change, expected) =>
    expect(mohm(sagBank_ohm(io(), bank(change), false))).toBeCloseTo(expected, 5),
  );
  test('in the cold: 5 degC makes lead 1.3 times it, lithium 1.8 times; heat holds it at 5', () => {
    const at = (change: Partial<Bank>) => mohm(sagBank_ohm(io(), bank(change), true));
    const cold = (min_C: number) => ({ space: 'vented-box', min_C }) as const;
    expect(at({ place: cold(5) })).toBeCloseTo(4.68, 5);
    expect(at({ place: cold(-10), heated: true })).toBeCloseTo(4.68, 5);
    expect(at({ place: cold(-10) })).toBeCloseTo(5.49, 5);
    // 4 cells x 0.09 / 100 Ah = 3.6 mohm
    expect(at({ chemistry: 'lfp', block_V: 12.8, blockCapacity_Ah: 100, place: cold(5) })).toBeCloseTo(6.48, 5);
  });
  // 6 x 0.1 / 200 + 0.2 of its posts = 3.2 mohm; links cold, without lugs; age and cold count nothing
  test('for a short circuit', () => {
    expect(mohm(faultBank_ohm(io(), bank({ health_pct: 50, protection: {} })))).toBeCloseTo(3.2, 6);
    expect(mohm(faultBank_ohm(io(), bank({ series: 2, parallel: 2 })))).toBeCloseTo((2 * 3.2 + 0.1662) / 2, 6);
  });
  test('what was not read is named', () => {
    const ledger = io();
    expect(sagBank_ohm(ledger, bank({ series: 2, link: null }), false)).toBeNaN();
    expect([...ledger.missing].sort()).toEqual(['b.link.length_m', 'b.link.size']);
  });
  test('volts at half charge', () =>
    expect([half_V(bank({})), half_V(bank({ chemistry: 'lfp' })), half_V(bank({ chemistry: 'nmc' }))]).toEqual([
      2.017, 3.25, 3.7,
    ]));
});

describe('how strings share', () => {
  const string = 3.6;
  const rail = 0.185795 + 0.1;
  const shares = (change: Partial<Bank>) => sharing(io(), bank(change));
  test('two at one end: the far one has two rails more', () => {
    const near = (string + 2 * rail) / (2 * string + 2 * rail);
    const { shares: each, worst } = shares({ parallel: 2, tapping: 'same-end' });
    expect(each[0]).toBeCloseTo(near, 6);
    expect(each[1]).toBeCloseTo(1 - near, 6);
    expect(worst).toBeCloseTo(2 * near, 6);
  });
  test('three at one end, as a ladder', () => {
    const last = string + 2 * rail;
    const two = (string * last) / (string + last) + 2 * rail;
    const first = two / (string + two);
    const second = ((1 - first) * last) / (string + last);
    const { shares: each } = shares({ parallel: 3, tapping: 'same-end' });
    [first, second, 1 - first - second].forEach((share, i) => expect(each[i]).toBeCloseTo(share, 6));
  });
  test('at opposite ends two are equal, and of three the middle one works least', () => {
    expect(shares({ parallel: 2, tapping: 'opposite-ends' }).worst).toBeCloseTo(1, 9);
    const { shares: each, worst } = shares({ parallel: 3, tapping: 'opposite-ends' });
    expect(each[0]).toBeCloseTo(each[2] ?? 0, 9);
    // Around the first two strings: r (i0 - i1) = rail x i1, since the middle one has a rail on either side.
    expect((each[0] ?? 0) / (each[1] ?? 1)).toBeCloseTo((string + rail) / string, 6);
    expect(worst).toBeCloseTo(3 * (each[0] ?? 0), 9);
  });
  test('longer strings feel their rails less; bus bars leave none; one string has all', () => {
    expect(shares({ series: 2, parallel: 2, tapping: 'same-end' }).shares[0]).toBeCloseTo(
      (7.485795 + 2 * rail) / (2 * 7.485795 + 2 * rail),
      6,
    );
    expect(shares({ parallel: 4, tapping: 'busbar' })).toEqual({ shares: [0.25, 0.25, 0.25, 0.25], worst: 1 });
    expect(shares({})).toEqual({ shares: [1], worst: 1 });
  });
  test('untold tapping is unknown', () => {
    const ledger = io();
    expect(sharing(ledger, bank({ parallel: 2 })).worst).toBeNaN();
    expect([...ledger.missing]).toEqual(['b.tapping']);
  });
});

describe('volts and capacity', () => {
  test('full: 6 x 2.122 V; by density 6 x (1.28 + 0.845)', () => {
    expect(emf_V(io(), bank({}))).toBeCloseTo(12.732, 9);
    expect(fullCell_V(io(), bank({ fullDensity_kg_L: 1.28 }))).toBeCloseTo(2.125, 9);
    expect(fullCell_V(io(), bank({ chemistry: 'lfp', fullDensity_kg_L: 1.28 }))).toBe(3.35);
  });
  test('200 Ah x 2 x 90 %; at the 5 h rate as flooded x 4^0.2', () => {
    expect(capacity_Ah(io(), bank({ parallel: 2, health_pct: 90 }))).toBeCloseTo(360, 9);
    expect(c20_Ah(io(), bank({ rate_h: 5 }))).toBeCloseTo(200 * 4 ** 0.2, 9);
  });
  test('the bus: with nothing that charges the table\u2019s absorb; what was not read the table\u2019s absorb and equalise', () => {
    const bare = hut((system) => {
      system.controllers = [];
      system.arrays = [];
    });
    expect(top_V(io(bare), bank({}))).toBeCloseTo(6 * 2.43, 9);
    expect(top_V(io(), bank({ chemistry: 'agm' }))).toBeCloseTo(6 * 2.42, 9);
    const set = (settings: object) =>
      top_V(io(hut((system) => (part.controller(system).settings = settings))), bank({ chemistry: 'agm' }));
    expect([set({ absorb_V: 14.4 }), set({ absorb_V: 14.9 }), set({ absorb_V: 14.4, equalise_V: 15.1 })]).toEqual([
      14.4, 14.9, 15.1,
    ]);
  });
  test('blocks for a step: labels up to 12 % off', () =>
    expect([
      blocksInSeries(12, 12.8),
      blocksInSeries(12, 13.4),
      blocksInSeries(12, 13.5),
      blocksInSeries(24, 2),
      blocksInSeries(48, 12),
      blocksInSeries(12, 48),
      blocksInSeries(12, 10.6),
      blocksInSeries(12, 10.5),
    ]).toEqual([1, 1, null, 12, 4, null, 1, null]));
});

describe('energy', () => {
  // 12 V x 200 Ah x 0.5; slow discharge gives a tenth more at most
  const usable = (draw_Wh_d: number, change: Partial<Bank> = {}, model = hut()) =>
    usable_Wh(io(model), bank(change), draw_Wh_d);
  test('by the rate of the draw: 2,880 Wh a day are the 20 h rate itself; half of it 2^0.25 more, capped', () => {
    expect(usable(2880)).toBeCloseTo(1200, 6);
    expect(usable(0)).toBeCloseTo(1320, 6);
    expect(usable(2880 / 1.2)).toBeCloseTo(1200 * 1.2 ** 0.25, 6);
    expect(usable(2880 / 3)).toBeCloseTo(1320, 6);
    expect(usable(5760)).toBeCloseTo(1200 / 2 ** 0.25, 6);
    // At the 10 h rate its 200 Ah flow at 20 A.
    expect(usable(5760, { rate_h: 10 })).toBeCloseTo(1200, 6);
  });
  test('by cold, age and school', () => {
    expect(usable(2880, { place: { space: 'vented-box', min_C: 0 } })).toBeCloseTo(0.8 * 1200, 6);
    // Worn to 80 % it is drawn at more than its rate.
    expect(usable(2880, { health_pct: 80 })).toBeCloseTo(0.8 * 1200 * 0.8 ** 0.25, 6);
    expect(
      usable(
        0,
        {},
        hut((_, file) => (file.schools = { leadDepth: 0.3 })),
      ),
    ).toBeCloseTo(792, 6);
    expect(usable(0, { chemistry: 'lfp', block_V: 12.8 })).toBeCloseTo(12.8 * 200 * 1.1 * 0.8, 6);
  });

  const SUN = {
    globalHorizontal_kWh_m2_d: [1, 2, 3, 4, 5, 6, 6, 5, 4, 3, 2, 1],
    meanTemp_C: Array.from({ length: 12 }, () => 10),
  };
  const level = (type: 'mppt' | 'pwm' = 'mppt') =>
    hut((system, file) => {
      Object.assign(file.site, { latitude_deg: 50, climate: SUN });
      Object.assign(part.array(system), { tilt_deg: 0, azimuth_deg: 180 });
      part.controller(system).type = type;
      part.bank(system).place = PLACE;
    });
  test('the level harvest is the sun of the month: 200 W x H x 0.77; pwm less what it wastes', () => {
    harvest_Wh(io(level())).forEach((wh, i) =>
      expect(Math.abs(wh / (200 * (SUN.globalHorizontal_kWh_m2_d[i] ?? 0) * 0.77) - 1)).toBeLessThan(0.015),
    );
    const pwm = level('pwm');
    const { waste } = pwmWaste(io(pwm), part.array(pwm.system));
    expect((harvest_Wh(io(pwm))[5] ?? 0) / (harvest_Wh(io(level()))[5] ?? 1)).toBeCloseTo(1 - waste, 9);
  });
  test('what pwm takes: the current half a volt above 6 x 2.25 V, cells at 20 + 25 + 0.8 x 5 degC', () => {
    const model = level('pwm');
    const { waste, taken_W, best_W, volts } = pwmWaste(io(model), part.array(model.system));
    const module = model.system.moduleTypes![0]!;
    const curve = arrayCurve([[0, 1].map(() => ({ module, irradiance_W_m2: 800, cell_C: 49 }))]);
    expect(volts).toBeCloseTo(13.5, 9);
    expect(taken_W).toBeCloseTo(curve.currentAt(14) * 13.5, 6);
    expect(best_W).toBeCloseTo(curve.best.p, 6);
    expect(waste).toBeCloseTo(1 - taken_W / best_W, 9);
  });
  test('months: as recorded, in order, once each; all where nobody said', () => {
    expect(occupied(io(hut((_, file) => (file.site.occupiedMonths = [7, 6, 7]))))).toEqual([6, 7]);
    const ledger = io();
    expect(occupied(ledger)).toHaveLength(12);
    expect([...ledger.assumed]).toEqual(['site.occupiedMonths']);
    expect(occupied(io(hut((_, file) => (file.site.occupiedMonths = []))))).toHaveLength(12);
  });
});

describe('shade that was noted counts in the worst month as it does in the hourly year', () => {
  const june = (shade?: number[][]) => {
    const io = createLedger(
      hut((system, file) => {
        Object.assign(file.site, {
          latitude_deg: 45,
          climate: { globalHorizontal_kWh_m2_d: Array.from({ length: 12 }, () => 4) },
        });
        system.arrays = [{ id: 'a', strings: [['m', 'm']], tilt_deg: 0, controllerId: 'c', ...(shade && { shade }) }];
      }),
    );
    return { wh: harvest_Wh(io)[5] ?? Number.NaN, work: io.working.join(' ') };
  };
  const full = june().wh;
  test('nothing noted, and full light noted, are the same and say nothing', () => {
    expect(june([[1, 1]]).wh).toBe(full);
    expect(june([[1, 1]]).work).not.toContain('shade');
  });
  test('half the light on both is a little under half; three tenths on one of two costs the string that module', () => {
    expect(june([[0.5, 0.5]]).wh / full).toBeGreaterThan(0.45);
    expect(june([[0.5, 0.5]]).wh / full).toBeLessThan(0.51);
    // The shaded module's diodes carry the string's current: the other one gives its half, less their drop.
    expect(june([[1, 0.3]]).wh / full).toBeGreaterThan(0.44);
    expect(june([[1, 0.3]]).wh / full).toBeLessThan(0.5);
    expect(june([[1, 0.3]]).work).toMatch(/noted shade leaves 4\d/);
  });
});
