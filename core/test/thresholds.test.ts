import type { Bank, Inverter, Load, Run, Site, System, Verdict } from '../src/index';
import { find, hut, part } from './hut';

/**
 * Both sides of the thresholds, by hand: the figure just inside, just tight, just over; and the unknown. Each row says what
 * is changed in the hut and what must be read.
 */
type Change = (system: System, site: Site) => void;
const read = (rule: string, change: Change, quantity?: string): Verdict | undefined =>
  find(
    hut((system, file) => change(system, file.site)),
    rule,
    quantity,
  )?.verdict;

const bank =
  (change: Partial<Bank>): Change =>
  (system) =>
    Object.assign(part.bank(system), change);
const LITHIUM: Partial<Bank> = {
  chemistry: 'lfp',
  block_V: 12.8,
  maxCharge_A: 100,
  maxDischarge_A: 100,
  peakDischarge_A: 200,
  peak_s: 10,
};
const lithium = (change: Partial<Bank> = {}) => bank({ ...LITHIUM, ...change });
const INVERTER: Inverter = {
  id: 'inv',
  continuous_W: 900,
  continuous_VA: 900,
  surge_W: 1800,
  surge_s: 5,
  efficiency_pct: 100,
  lowCutoff_V: 10,
  idle_W: 10,
  minDc_V: 10,
  maxDc_V: 17,
};
const both =
  (...changes: Change[]): Change =>
  (system, site) =>
    changes.forEach((change) => change(system, site));
const inverter =
  (change: Partial<Inverter> = {}): Change =>
  (system) =>
    void (system.inverters = [{ ...INVERTER, ...change }]);
const loads =
  (...all: Partial<Load>[]): Change =>
  (system) =>
    void (system.loads = all.map((load, i) => ({
      id: `l${i}`,
      label: 'Load',
      kind: 'ac' as const,
      power_W: 100,
      hours_d: 1,
      type: 'resistive' as const,
      ...load,
    })));
const run = (change: Partial<Run>): Run => ({
  id: 'r',
  kind: 'dc-load',
  from: 'b',
  to: 'box',
  length_m: 1,
  size: '16mm2',
  ...change,
});

describe('the bank', () => {
  test.each<[string, Change, string | undefined, Verdict | undefined]>([
    ['bank.parallel-count', bank({ parallel: 4 }), undefined, 'holds'],
    ['bank.parallel-count', bank({ parallel: 5 }), undefined, 'over'],
    ['bank.series-count', lithium({ series: 2 }), undefined, 'over'],
    ['bank.series-count', lithium({ series: 2, maxSeries: 2 }), undefined, 'holds'],
    ['bank.series-count', lithium(), undefined, undefined],
    ['bank.voltage', bank({ block_V: 13.4 }), undefined, 'holds'],
    ['bank.voltage', bank({ block_V: 14 }), undefined, 'over'],
    ['bank.high-temperature', bank({ place: { max_C: 38 } }), undefined, 'holds'],
    ['bank.high-temperature', bank({ place: { max_C: 38.1 } }), undefined, 'tight'],
    ['bank.high-temperature', bank({ place: { max_C: 40.1 } }), undefined, 'over'],
    ['bank.high-temperature', lithium({ place: { max_C: 40.1 } }), undefined, 'holds'],
    ['bank.high-temperature', bank({}), undefined, 'unknown'],
    ['bank.low-temperature', lithium({ place: { min_C: 5 } }), undefined, 'holds'],
    ['bank.low-temperature', lithium({ place: { min_C: 4.9 } }), undefined, 'tight'],
    ['bank.low-temperature', lithium({ place: { min_C: -0.1 } }), undefined, 'over'],
    ['bank.low-temperature', lithium({ place: { min_C: -0.1 }, lowTemperatureProtection: true }), undefined, 'tight'],
    ['bank.low-temperature', lithium({ place: { min_C: -20 }, heated: true }), undefined, 'holds'],
    ['bank.low-temperature', lithium(), undefined, 'unknown'],
    ['bank.string-fuse', lithium({ parallel: 2, fusedStrings: false }), undefined, 'over'],
    ['bank.string-fuse', lithium({ parallel: 2, fusedStrings: null }), undefined, 'unknown'],
    ['bank.string-fuse', bank({ parallel: 2, fusedStrings: false }), undefined, undefined],
    ['bank.string-fuse', bank({ parallel: 3, fusedStrings: true }), undefined, 'holds'],
    ['bank.mixed', bank({ parallel: 2, ageSpread_months: 6 }), 'age', 'holds'],
    ['bank.mixed', bank({ parallel: 2, ageSpread_months: 7 }), 'age', 'tight'],
    ['bank.mixed', bank({ parallel: 2, ageSpread_months: 25 }), 'age', 'over'],
    ['bank.mixed', bank({ parallel: 2 }), 'age', 'unknown'],
    ['bank.mixed', bank({}), 'age', undefined],
    ['bank.mixed', bank({ mixedChemistry: true }), 'chemistry', 'over'],
    ['bank.place', bank({ place: { space: 'living' } }), undefined, 'over'],
    ['bank.place', bank({ chemistry: 'agm', place: { space: 'living' } }), undefined, 'tight'],
    ['bank.place', lithium({ place: { space: 'living' } }), undefined, 'note'],
    ['bank.place', lithium({ salvaged: true, place: { space: 'living' } }), undefined, 'over'],
    ['bank.place', bank({ place: { space: 'outbuilding' } }), undefined, undefined],
    ['bank.place', bank({}), undefined, 'unknown'],
    ['bank.ventilation', bank({ place: { space: 'outside' } }), undefined, undefined],
    ['bank.ventilation', bank({ place: { space: 'vented-box' } }), undefined, 'unknown'],
    ['bank.sharing', bank({ parallel: 2 }), undefined, 'unknown'],
    ['bank.sharing', bank({ parallel: 2, tapping: 'busbar' }), undefined, 'holds'],
  ])('%s %#: %s', (rule, change, quantity, verdict) => expect(read(rule, change, quantity)).toBe(verdict));
});

describe('current out of the bank', () => {
  // 900 W / 10 V = 90 A; a lithium block gives 100 A, two of them 180 A.
  test.each<[string, Change, string | undefined, Verdict | undefined]>([
    ['bank.discharge', both(lithium(), inverter()), 'continuous', 'holds'],
    ['bank.discharge', both(lithium(), inverter({ continuous_W: 901 })), 'continuous', 'tight'],
    ['bank.discharge', both(lithium(), inverter({ continuous_W: 1001 })), 'continuous', 'over'],
    ['bank.discharge', both(lithium({ parallel: 2 }), inverter({ continuous_W: 1801 })), 'continuous', 'over'],
    ['bank.discharge', both(lithium({ maxDischarge_A: null }), inverter()), 'continuous', 'unknown'],
    // Lead's table is for planning only: 0.20 x 200 Ah, never more than tight.
    ['bank.discharge', inverter(), 'continuous', 'tight'],
    ['bank.discharge', both(lithium(), inverter(), loads({ recordedPeak_W: 1010 })), 'recorded peak', 'over'],
    ['bank.discharge', both(lithium(), inverter(), loads({})), 'recorded peak', undefined],
    ['bank.surge', both(lithium(), inverter()), 'current', 'holds'],
    ['bank.surge', both(lithium(), inverter({ surge_W: 2001 })), 'current', 'over'],
    ['bank.surge', both(lithium({ peakDischarge_A: null }), inverter()), 'current', 'unknown'],
    ['bank.surge', both(lithium({ peak_s: 4 }), inverter()), 'duration', 'over'],
    ['bank.n-1', both(lithium({ parallel: 2 }), inverter(), loads({ power_W: 901 })), undefined, 'tight'],
    ['bank.n-1', both(lithium({ parallel: 2 }), inverter(), loads({ power_W: 900 })), undefined, 'holds'],
    ['inverter.continuous', both(inverter(), loads({ power_W: 684 })), undefined, 'holds'],
    ['inverter.continuous', both(inverter(), loads({ power_W: 685 })), undefined, 'tight'],
    ['inverter.continuous', both(inverter(), loads({ power_W: 856 })), undefined, 'over'],
    ['inverter.apparent', both(inverter(), loads({ power_W: 600, powerFactor: 0.7 })), undefined, 'over'],
    ['inverter.apparent', both(inverter({ continuous_VA: null }), loads({})), undefined, 'unknown'],
    ['inverter.surge', both(inverter(), loads({ power_W: 350, type: 'compressor' })), undefined, 'over'],
    ['inverter.voltage-window', inverter(), undefined, 'holds'],
    ['inverter.voltage-window', inverter({ maxDc_V: 15.4 }), undefined, 'over'],
    ['inverter.voltage-window', inverter({ minDc_V: 11.6 }), undefined, 'over'],
    ['inverter.precharge', inverter({ continuous_W: 1001 }), undefined, 'note'],
    ['inverter.precharge', inverter({ continuous_W: 1000 }), undefined, undefined],
    ['inverter.waveform', both(inverter({ waveform: null }), loads({ needsSine: true })), undefined, 'unknown'],
    ['inverter.waveform', both(inverter({ waveform: 'sine' }), loads({ needsSine: true })), undefined, undefined],
    ['system.sag', both(inverter(), loads({})), 'running', 'unknown'],
  ])('%s %#: %s', (rule, change, quantity, verdict) => expect(read(rule, change, quantity)).toBe(verdict));
});

describe('charging, boards and the rest', () => {
  const mains =
    (max_A: number): Change =>
    (system) =>
      void (system.chargers = [
        { id: 'x', kind: 'mains', max_A, efficiency_pct: 100, powerFactor: 1, profiles: ['flooded'] },
      ]);
  const generator =
    (power_W: number | null): Change =>
    (system) =>
      void (system.sources = [{ id: 'g', kind: 'generator', power_W }]);
  const dcdc =
    (alternator_A: number | null): Change =>
    (system) =>
      void (system.chargers = [{ id: 'x', kind: 'dc-dc', max_A: 12, input_V: 12, efficiency_pct: 100, alternator_A }]);
  const direct = (externallyRegulated: boolean): Change =>
    both(
      lithium(),
      (system) => void (system.chargers = [{ id: 'x', kind: 'alternator-direct', max_A: 90, externallyRegulated }]),
    );
  const box =
    (slots: number | null, rating_A: number): Change =>
    (system) => {
      system.loads = [{ id: 'l', label: 'Lamp', kind: 'dc', power_W: 120, hours_d: 1 }];
      system.distribution = [{ id: 'box', slots, rating_A, circuits: ['c1'] }];
      system.runs = [run({ id: 'c1', from: 'box', to: 'l' })];
    };
  const shunt =
    (...through: (boolean | null)[]): Change =>
    (system) => {
      system.monitor = { id: 'mon', shunt_A: 20 };
      system.runs = through.map((negativeThroughShunt, i) =>
        run({ id: `r${i}`, kind: 'controller-battery', from: 'c', to: 'b', negativeThroughShunt }),
      );
    };
  const trips = (low: number, high: number, absorb_V: number): Change =>
    both(
      lithium({ protection: { lowTrip_V_cell: low, highTrip_V_cell: high } }),
      inverter({ lowCutoff_V: 11.6 }),
      (system) => void (part.controller(system).settings = { absorb_V }),
    );
  test.each<[string, Change, string | undefined, Verdict | undefined]>([
    // 20 A x 14.58 V = 291.6 VA against 0.8 of the generator's watts, tight above 0.8 of that
    ['charger.input', both(mains(20), generator(456)), undefined, 'holds'],
    ['charger.input', both(mains(20), generator(455)), undefined, 'tight'],
    ['charger.input', both(mains(20), generator(364)), undefined, 'over'],
    ['charger.input', both(mains(20), generator(null)), undefined, 'unknown'],
    ['charger.input', generator(1000), undefined, undefined],
    ['charger.profile', mains(20), undefined, 'holds'],
    // 12 A x 14.58 / 12 = 14.58 A against 0.6 x alternator - 25 A
    ['alternator.load', dcdc(73), undefined, 'holds'],
    ['alternator.load', dcdc(70), undefined, 'tight'],
    ['alternator.load', dcdc(65), undefined, 'over'],
    ['alternator.load', dcdc(40), undefined, 'over'],
    ['alternator.load', dcdc(null), undefined, 'unknown'],
    ['alternator.load', direct(false), undefined, 'over'],
    ['alternator.load', direct(true), undefined, 'unknown'],
    ['distribution.slots', box(1, 100), undefined, 'holds'],
    ['distribution.slots', box(0, 100), undefined, 'over'],
    ['distribution.slots', box(null, 100), undefined, 'unknown'],
    ['distribution.rating', box(1, 12.5), undefined, 'holds'],
    ['distribution.rating', box(1, 12.4), undefined, 'tight'],
    ['distribution.rating', box(1, 9.9), undefined, 'over'],
    ['monitor.coverage', shunt(true, true), undefined, 'holds'],
    ['monitor.coverage', shunt(true, null), undefined, 'unknown'],
    ['monitor.coverage', shunt(null, false), undefined, 'over'],
    // 16.7 A of sun through 20 A: above four fifths
    ['monitor.shunt', shunt(true), undefined, 'tight'],
    // 11.6 V / 4 = 2.90 V a cell against the trip and 0.20
    ['cutoff.order', trips(2.7, 3.65, 14.2), 'low', 'holds'],
    ['cutoff.order', trips(2.71, 3.65, 14.2), 'low', 'over'],
    ['cutoff.order', trips(2.5, 3.6, 14.2), 'high', 'holds'],
    ['cutoff.order', trips(2.5, 3.59, 14.2), 'high', 'over'],
  ])('%s %#: %s', (rule, change, quantity, verdict) => expect(read(rule, change, quantity)).toBe(verdict));

  test.each([
    [14.4, 14.58, 'holds'],
    [14.4, 14.6, 'tight'],
    [14.4, 14.71, 'over'],
  ] as const)('two sources at %f and %f V: %s', (first, second, verdict) => {
    const change: Change = (system) => {
      part.controller(system).settings = { absorb_V: first };
      system.chargers = [{ id: 'x', kind: 'mains', max_A: 20, settings: { absorb_V: second } }];
    };
    expect(read('settings.agree', change)).toBe(verdict);
  });
  test.each([
    [15.5, 'holds'],
    [15.4, 'over'],
  ] as const)('a load for %f V on a bus that equalises at 15.48 V: %s', (max_V, verdict) => {
    expect(
      read(
        'load.window',
        (system) => void (system.loads = [{ id: 'l', label: 'Radio', kind: 'dc', power_W: 9, hours_d: 1, max_V }]),
      ),
    ).toBe(verdict);
  });
  test.each([
    [8, 'holds'],
    [8.1, 'tight'],
    [10.1, 'over'],
  ] as const)('%f A asked of a converter for 10 A: %s', (amps, verdict) => {
    const change: Change = (system) => {
      system.converters = [{ id: 'v', in_V: 24, out_V: 12, max_A: 10 }];
      system.loads = [{ id: 'l', label: 'Radio', kind: 'dc', power_W: amps * 12, hours_d: 1, converterId: 'v' }];
    };
    expect(read('converter.capacity', change)).toBe(verdict);
  });
});

describe('the year at the desk', () => {
  const SUN = {
    globalHorizontal_kWh_m2_d: Array.from({ length: 12 }, () => 4),
    meanTemp_C: Array.from({ length: 12 }, () => 15),
  };
  /** On the level in the tropics: 4 sun hours every day of the year, 200 W x 4 h x 0.77 = 616 Wh. */
  const sunny =
    (watts: number, more: Change = () => undefined): Change =>
    (system, site) => {
      Object.assign(site, { latitude_deg: 0, climate: SUN });
      Object.assign(part.array(system), { tilt_deg: 0, azimuth_deg: 180 });
      part.bank(system).place = { space: 'vented-box', min_C: 25 };
      system.loads = [{ id: 'l', label: 'Load', kind: 'dc', power_W: watts, hours_d: 24 }];
      more(system, site);
    };
  // Half of what is used pays the bank's losses: wanted = 24 x watts x (0.5 + 0.5 / 0.75)
  test.each([
    [19.7, 'holds'],
    [20, 'tight'],
    [22.1, 'over'],
  ] as const)('%f W all day from 616 Wh: %s', (watts, verdict) => {
    expect(read('energy.worst-month', sunny(watts))).toBe(verdict);
  });
  test('with a generator it is never more than tight; without a climate nobody can say', () => {
    expect(
      read(
        'energy.worst-month',
        sunny(40, (system) => void (system.sources = [{ id: 'g', kind: 'generator', power_W: 2000 }])),
      ),
    ).toBe('tight');
    expect(
      read(
        'energy.worst-month',
        sunny(20, (_, site) => void (site.climate = undefined)),
      ),
    ).toBe('unknown');
  });
  // 12 V x 200 Ah x 1.1 (slow) x .5 / .75 = 1760 Wh to put back, from 616 Wh less what is drawn; five days wanted
  test.each([
    [6, 1760 / 472, 'holds'],
    [10, 1760 / 376, 'tight'],
    [12, 1760 / 328, 'over'],
  ] as const)('with %f W all day the bank refills in %f days: %s', (watts, days, verdict) => {
    const found = find(
      hut((system, file) => sunny(watts)(system, file.site)),
      'energy.refill',
    );
    expect(found).toMatchObject({ demand: expect.closeTo(days, 1), limit: 5, unit: 'days', verdict });
  });
  test('more drawn than the sun brings never refills', () => expect(read('energy.refill', sunny(26))).toBe('over'));
  // 12 V x 200 Ah x 1.1 (slow) x 0.5 = 1320 Wh; two days wanted
  test.each([
    [21, 'holds'],
    [26, 'tight'],
    [28, 'over'],
  ] as const)('%f W all day on 1320 Wh: %s', (watts, verdict) => {
    expect(read('bank.autonomy', sunny(watts))).toBe(verdict);
  });
});
