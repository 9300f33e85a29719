import { place_min_C } from '../src/bank/bank';
import { faultBank_ohm, sagBank_ohm, sharing } from '../src/bank/resistance';
import { usable_Wh } from '../src/power/energy';
import { arrayCurve } from '../src/pv/array-curve';
import { stringCurve } from '../src/pv/curve';
import { currentAt, fit, lit } from '../src/pv/diode';
import { createLedger } from '../src/ledger/ledger';
import { sunHours } from '../src/sun/tilted';
import { check, type Bank, type Load, type ModuleType, type System } from '../src/index';
import { BANK, find, hut, MODULE, part } from './hut';

const io = () => createLedger(hut());
const load = (more: Partial<Load>): Load => ({ id: 'l', label: 'Load', kind: 'ac', power_W: 100, hours_d: 1, ...more });
const powered = (loads: Load[], more: (system: System) => void = () => undefined) =>
  hut((system) => {
    system.inverters = [
      {
        id: 'inv',
        continuous_W: 1000,
        continuous_VA: 1000,
        surge_W: 2000,
        efficiency_pct: 90,
        lowCutoff_V: 10.5,
        idle_W: 10,
      },
    ];
    system.loads = loads;
    more(system);
  });

describe('the single-diode model', () => {
  const m60: ModuleType = {
    ...MODULE,
    voc_V: 36.9,
    isc_A: 8.5,
    vmp_V: 29.8,
    imp_A: 7.89,
    pmax_W: 235,
    cells: 60,
    betaVoc_pct_C: -0.33,
    alphaIsc_pct_C: 0.06,
  };
  test('meets the plate at its three points, its top and its warm open circuit to a millionth', () => {
    const diode = fit(m60);
    const std = lit(diode, 1000, 25);
    expect(diode.exact).toBe(true);
    expect(currentAt(std, 0) / 8.5).toBeCloseTo(1, 6);
    expect(currentAt(std, 29.8) / 7.89).toBeCloseTo(1, 6);
    const open_V = (cell_C: number) => stringCurve([{ module: m60, irradiance_W_m2: 1000, cell_C }]).open_V;
    expect(open_V(25) / 36.9).toBeCloseTo(1, 6);
    expect(open_V(35) / (36.9 * 0.967)).toBeCloseTo(1, 6);
    const power = (v: number) => v * currentAt(std, v);
    expect(power(29.8)).toBeGreaterThan(power(29.75));
    expect(power(29.8)).toBeGreaterThan(power(29.85));
  });
  test('strings in parallel add currents, modules in series volts', () => {
    const one = arrayCurve([[{ module: m60, irradiance_W_m2: 1000, cell_C: 25 }]]).best;
    const standing = { module: m60, irradiance_W_m2: 1000, cell_C: 25 };
    const many = arrayCurve([
      [standing, standing],
      [standing, standing],
      [standing, standing],
    ]).best;
    expect(many.v).toBeCloseTo(2 * one.v, 2);
    expect(many.i).toBeCloseTo(3 * one.i, 2);
  });
  test('a shaded module gives the string a second top', () => {
    const bright = { module: m60, irradiance_W_m2: 1000, cell_C: 25 };
    const { maxima, best } = arrayCurve([[bright, bright, { ...bright, irradiance_W_m2: 300 }]]);
    expect(maxima).toHaveLength(2);
    // Two lit modules less the third's bypass diodes, against three at three tenths: the first wins.
    expect(best.v).toBeGreaterThan(2 * 27);
    expect(best.v).toBeLessThan(2 * 31);
  });
});

describe('the sun on a tilted plane', () => {
  test('a level plane gets what falls on the level', () => {
    for (let month = 1; month <= 12; month++)
      expect(sunHours({ latitude_deg: 45, tilt_deg: 0, azimuth_deg: 180 }, month, 2)).toBeCloseTo(2, 1);
  });
  test('in winter a steep plane toward the equator gains, one away from it loses, south or north', () => {
    const south = (azimuth_deg: number) => sunHours({ latitude_deg: 46.5, tilt_deg: 60, azimuth_deg }, 12, 1.2);
    expect(south(180)).toBeGreaterThan(1.6 * 1.2);
    expect(south(0)).toBeLessThan(1.2);
    expect(sunHours({ latitude_deg: -46.5, tilt_deg: 60, azimuth_deg: 0 }, 6, 1.2)).toBeGreaterThan(1.6 * 1.2);
  });
  test('east and west mirror each other; the polar night brings nothing', () => {
    const at = (azimuth_deg: number) => sunHours({ latitude_deg: 50, tilt_deg: 40, azimuth_deg }, 4, 4);
    expect(at(90)).toBeCloseTo(at(270), 9);
    expect(sunHours({ latitude_deg: 80, tilt_deg: 40, azimuth_deg: 180 }, 12, 0.5)).toBe(0);
  });
});

describe('strings that share', () => {
  const link = { length_m: 0.35, size: '35mm2' };
  const bank = (parallel: number, tapping: Bank['tapping']): Bank => ({
    ...BANK,
    blockCapacity_Ah: 225,
    block_V: 6,
    series: 4,
    parallel,
    tapping,
    link,
  });
  test('a bank tapped at one end loads its first string most', () => {
    const { shares, worst } = sharing(io(), bank(4, 'same-end'));
    expect([...shares].sort((a, b) => b - a)).toEqual(shares);
    expect(shares.reduce((sum, share) => sum + share, 0)).toBeCloseTo(1, 9);
    expect(worst).toBeGreaterThan(1.2);
  });
  test('two strings at opposite ends are equal by symmetry; bus bars always are', () => {
    expect(sharing(io(), bank(2, 'opposite-ends')).shares[0]).toBeCloseTo(0.5, 9);
    expect(sharing(io(), bank(4, 'busbar')).worst).toBe(1);
  });
  test('two strings at one end: the second string pays for two rails', () => {
    const rail = 0.35 * 0.554e-3 * 1.1179 + 0.1e-3;
    const string = 4 * ((3 * 0.12) / 225) + 3 * rail;
    expect(sharing(io(), bank(2, 'same-end')).shares[1]).toBeCloseTo(string / (2 * string + 2 * rail), 9);
  });
  test('not knowing how it is tapped is not knowing', () => expect(sharing(io(), bank(2, null)).worst).toBeNaN());
  test('age and cold raise the slow resistance, not the fault current', () => {
    const worn: Bank = { ...BANK, health_pct: 80, place: { space: 'vented-box', min_C: 5 } };
    expect(sagBank_ohm(io(), worn, true)).toBeCloseTo(((6 * 0.12) / 200 / 0.8) * 1.3, 9);
    expect(faultBank_ohm(io(), worn)).toBeCloseTo((6 * 0.1) / 200 + 0.2e-3, 12);
    expect(place_min_C(io(), worn)).toBe(5);
  });
});

describe('inverters and loads', () => {
  test('loads that never run together count once, the hardest start on top', () => {
    const model = powered([
      load({ id: 'a', power_W: 100, overlap: 'base' }),
      load({ id: 'b', power_W: 400, overlap: 'alone', type: 'resistive' }),
      load({ id: 'd', power_W: 300, overlap: 'alone', type: 'induction' }),
      load({ id: 'e', power_W: 200, overlap: 'alone', group: 'x', type: 'microwave' }),
    ]);
    // 100 + 400 + 1.5 x 200; the motor starts with 5 x 300
    expect(find(model, 'inverter.continuous')?.demand).toBe(800);
    expect(find(model, 'inverter.surge')?.demand).toBe(800 + 1200);
  });
  test('heat takes 10 % at 35 degC, 22.5 % at 45; thin air 1 % per 100 m above 2000', () => {
    const limit = (recordHigh_C: number, elevation_m = 0) =>
      find(
        hut((system, file) => {
          Object.assign(file.site, { recordHigh_C, elevation_m });
          system.inverters = [{ id: 'inv', continuous_W: 1000 }];
        }),
        'inverter.continuous',
      )?.limit;
    expect(limit(35)).toBeCloseTo(900, 9);
    expect(limit(45)).toBeCloseTo(775, 9);
    expect(limit(20, 2500)).toBeCloseTo(950, 9);
  });
  test('an inverter on a small bank and a long cable collapses', () => {
    const model = powered([load({ power_W: 3000, type: 'resistive' })], (system) => {
      part.bank(system).place = { space: 'living' };
      system.runs = [{ id: 'r', kind: 'battery-inverter', from: 'b', to: 'inv', length_m: 8, size: '10mm2' }];
    });
    expect(find(model, 'system.sag', 'running')).toMatchObject({ verdict: 'over', demand: null, unit: 'V', use: null });
  });
  test('a sine that is needed on a modified wave; a building fed without a transfer switch; a charger on its own bank', () => {
    const model = powered([load({ needsSine: true })], (system) => {
      Object.assign(system.inverters![0]!, { waveform: 'modified', feeds: 'building', transfer: 'none' });
      system.chargers = [{ id: 'x', kind: 'mains', max_A: 20, onInverterOutput: true }];
    });
    for (const rule of ['inverter.waveform', 'inverter.feed', 'charger.loop'])
      expect(find(model, rule)?.verdict).toBe('over');
  });
});

describe('the bank in use', () => {
  test('a slow draw gives more than the label, a tenth at most; cold and depth take theirs', () => {
    // 12 V x 200 Ah x 1.1 x (1 + 0.008 x (5 - 25)) x 0.5
    const bank: Bank = { ...BANK, place: { space: 'vented-box', min_C: 5 } };
    expect(usable_Wh(io(), bank, 24)).toBeCloseTo(12 * 200 * 1.1 * 0.84 * 0.5, 6);
  });
  test.each([
    [12, undefined],
    [7, 'over'],
    [-1, 'over'],
  ] as const)('lithium at %i degC with 16.7 A from the sun: %s', (min_C, verdict) => {
    const model = hut((system) =>
      Object.assign(part.bank(system), {
        chemistry: 'lfp',
        block_V: 12.8,
        blockCapacity_Ah: 50,
        maxCharge_A: 50,
        place: { space: 'living', min_C },
      }),
    );
    expect(find(model, 'bank.cold-charge')?.verdict).toBe(verdict);
  });
  test('vents: 0.05 x 6 cells x 28 mA/Ah x 200 Ah / 1000 = 1.68 m3/h, 47 cm2 each', () => {
    const model = hut((system) => (part.bank(system).place = { space: 'vented-box', ventArea_cm2: 40 }));
    expect(find(model, 'bank.ventilation')).toMatchObject({
      limit: expect.closeTo(47.04, 6),
      verdict: 'over',
      consequence: 'danger',
    });
  });
  test('lead half discharged freezes at -23 degC: over below, tight within 3 K', () => {
    const verdict = (min_C: number) =>
      find(
        hut((system) => (part.bank(system).place = { space: 'outside', min_C })),
        'bank.freezing',
      )?.verdict;
    expect([verdict(-24), verdict(-22), verdict(-20)]).toEqual(['over', 'tight', 'holds']);
  });
  test('a nmc bank where people live is over and stays over; only salvaged modules are warned of as salvaged', () => {
    const place = (salvaged: boolean) =>
      find(
        hut((system) =>
          Object.assign(part.bank(system), {
            chemistry: 'nmc',
            block_V: 25.9,
            place: { space: 'living' },
            ...(salvaged && { salvaged }),
          }),
        ),
        'bank.place',
      );
    const warned = expect.arrayContaining([expect.stringContaining('Salvaged')]) as unknown;
    expect(place(true)).toMatchObject({ verdict: 'over', consequence: 'danger', cautions: warned });
    expect(place(false)).toMatchObject({ verdict: 'over', consequence: 'danger' });
    expect(place(false)).not.toMatchObject({ cautions: warned });
  });
  test('lead and lithium joined by a relay is a danger; lead and lead a note', () => {
    const joined = (chemistry: 'lfp' | 'agm') =>
      find(
        hut(
          (system) => (system.otherBanks = [{ id: 'o', role: 'starter', chemistry, nominal_V: 12, joinedBy: 'relay' }]),
        ),
        'bank.mixed',
        'chemistry',
      );
    expect(joined('lfp')).toMatchObject({ verdict: 'over', consequence: 'danger' });
    expect(joined('agm')).toMatchObject({ verdict: 'note' });
  });
  test('settings: equalising on gel is over, absorb far off is over, above the ceiling it is damage', () => {
    const found = (settings: object) =>
      check(
        hut((system) => {
          part.bank(system).chemistry = 'gel';
          part.controller(system).settings = settings;
        }),
      ).filter(({ rule }) => rule === 'settings');
    expect(found({ equalise_V: 15.5 })).toMatchObject([{ quantity: 'equalise_V', verdict: 'over' }]);
    expect(found({ equalise_V: 0 })).toEqual([]);
    // 14.7 / 6 = 2.45 V: 0.09 off, and above 2.40
    expect(found({ absorb_V: 14.7 })).toMatchObject([
      { verdict: 'over', consequence: 'damage', demand: expect.closeTo(0.09, 9) as unknown },
    ]);
  });
  test('what eyes can tell: yes holds, no is over, not asked is unknown; advice speaks only on no', () => {
    const seen = (observations: Record<string, 'yes' | 'no' | 'cannot-see'>) =>
      hut((_, file) => (file.site.observations = observations));
    expect(find(seen({ mainFuse: 'yes' }), 'observed.mainFuse')?.verdict).toBe('holds');
    expect(find(seen({ mainFuse: 'no' }), 'observed.mainFuse')?.verdict).toBe('over');
    expect(find(seen({}), 'observed.mainFuse')).toMatchObject({
      verdict: 'unknown',
      missing: ['site.observations.mainFuse'],
    });
    expect(find(seen({}), 'observed.gasDetector')).toBeUndefined();
    expect(find(seen({ gasDetector: 'no' }), 'observed.gasDetector')?.verdict).toBe('note');
  });
});
