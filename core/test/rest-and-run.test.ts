import {
  applyChanges,
  bankFigures,
  cabledChanges,
  chargeOfRest,
  check,
  modelOf,
  runHours,
  withSystem,
} from '../src/index';
import { hut } from './hut';
import { CABIN } from '../src/faults/made-up';

/** From rest volts to what is in the bank, and how long it lasts: the book's tables, by hand. */

describe('lead, rested a day, a perfect meter', () => {
  const rest = (volts: number, more: object = {}) =>
    chargeOfRest({ chemistry: 'flooded', cells: 6, volts, rested_h: 24, cell_C: 25, meter_pct: 0, ...more })!;
  test.each([
    [12.732, 1],
    [12.498, 0.8],
    [12.24, 0.6],
    [12.102, 0.5],
    [11.808, 0.3],
    [11.358, 0],
    // Half way between 12.498 and 12.618 V lies half way between 80 and 90 %.
    [12.558, 0.85],
    [13.2, 1],
    [10.2, 0],
  ])('%f V is %f of full', (volts, share) => {
    const state = rest(volts);
    expect(state.best).toBeCloseTo(share, 9);
    expect([state.low, state.high]).toEqual([state.best, state.best]);
  });
  test('sealed lead stands 20 mV a cell higher for the same', () => {
    expect(rest(12.102 + 0.12, { chemistry: 'agm' }).best).toBeCloseTo(0.5, 9);
    expect(rest(12.102 + 0.12, { chemistry: 'gel' }).best).toBeCloseTo(0.5, 9);
    expect(rest(12.102 + 0.12, { chemistry: 'tubular' }).best).toBeGreaterThan(0.55);
  });
  test('half a per cent of 12.10 V is 10 mV a cell: from 46 to 54 %', () => {
    const { low, high } = rest(12.102, { meter_pct: 0.5 });
    // 2.017 V less 10.085 mV is 2.006915: 40 % + .013915 / .024; and as much above, over .023.
    expect(low).toBeCloseTo(0.4 + (0.1 * 0.013915) / 0.024, 6);
    expect(high).toBeCloseTo(0.5 + (0.1 * 0.010085) / 0.023, 6);
  });
  test('not known to have rested it may be 50 mV a cell too high or 30 too low, and says so', () => {
    const state = rest(12.102, { rested_h: null });
    expect(state.low).toBeCloseTo(0.2 + (0.1 * (1.967 - 1.943)) / 0.025, 6);
    expect(state.high).toBeCloseTo(0.6 + (0.1 * (2.047 - 2.04)) / 0.022, 6);
    expect(state.notes.join(' ')).toMatch(/rested less than 4 h/);
    expect(rest(12.102, { rested_h: 3.9 }).low).toBe(state.low);
    expect(rest(12.102, { rested_h: 4 }).low).toBe(0.5);
    expect(rest(12.102, { rested_h: 5 }).notes.join(' ')).toMatch(/12 h/);
  });
  test('away from 25 degC the band is wider, never narrower', () => {
    expect(rest(12.102, { cell_C: -15 }).low).toBeLessThan(0.5);
    expect(rest(12.102, { cell_C: 40 }).high).toBeGreaterThan(0.5);
  });
  test('volts that are no such bank are no state of charge', () => {
    expect(chargeOfRest({ chemistry: 'flooded', cells: 6, volts: 25 })).toBeNull();
    expect(chargeOfRest({ chemistry: 'flooded', cells: 12, volts: 6 })).toBeNull();
    expect(chargeOfRest({ chemistry: 'lfp', cells: 0, volts: 13 })).toBeNull();
  });
});

describe('lithium', () => {
  const iron = (cell: number, meter_pct = 0) =>
    chargeOfRest({ chemistry: 'lfp', cells: 4, volts: 4 * cell, rested_h: 12, meter_pct })!;
  test.each([
    [3.4, 0.97, 1],
    [3.35, 0.6, 1],
    [3.3, 0.35, 0.75],
    [3.26, 0.22, 0.45],
    [3.22, 0.13, 0.25],
    [3.1, 0.02, 0.15],
    [2.9, 0, 0.02],
  ])('iron at %f V a cell: %f to %f, never one figure', (cell, low, high) => {
    expect(iron(cell)).toMatchObject({ low, high, best: null });
    expect(iron(cell).notes.join(' ')).toMatch(/only a shunt/);
  });
  test('a meter that may be half a per cent off reaches into the neighbours', () => {
    // 3.30 V +- 16.5 mV touches 3.24-3.28 no more, 3.32 from below no less: 3.2835 to 3.3165 stays in its band.
    expect(iron(3.3, 0.5)).toMatchObject({ low: 0.35, high: 0.75 });
    expect(iron(3.31, 0.5)).toMatchObject({ low: 0.35, high: 1 });
  });
  test('other lithium: straight between 3.30, 3.70 and 4.08 V', () => {
    const nmc = (cell: number) =>
      chargeOfRest({ chemistry: 'nmc', cells: 7, volts: 7 * cell, rested_h: 5, meter_pct: 0 })!.best;
    expect(nmc(3.7)).toBeCloseTo(0.5, 9);
    expect(nmc(3.5)).toBeCloseTo(0.25, 9);
    expect(nmc(3.89)).toBeCloseTo(0.75, 9);
    expect(nmc(4.1)).toBe(1);
  });
});

describe('hours that a load runs', () => {
  // 200 Ah flooded at 25 degC, half of it usable: 12 V x 200 Ah x .5 = 1,200 Wh at the 20 h rate.
  const warm = hut((system) => {
    system.bank = { ...system.bank!, place: { min_C: 25 } };
    system.inverters = [{ id: 'i', continuous_W: 500, efficiency_pct: 80, idle_W: 8 }];
  });
  test('ten amperes for ten hours at the label; faster draw gives less, by Peukert', () => {
    // 120 W are 10 A, the 20 h rate: factor 1.
    expect(runHours(warm, 120, { ac: false }).hours).toBeCloseTo(10, 9);
    // 480 W are 40 A, four times it: (1/4)^.25 = .7071 of 1,200 Wh.
    expect(runHours(warm, 480, { ac: false }).hours).toBeCloseTo((1200 * 0.25 ** 0.25) / 480, 9);
    // Slow draw gives a tenth more at most.
    expect(runHours(warm, 12, { ac: false }).hours).toBeCloseTo((1200 * 1.1) / 12, 9);
  });
  test('through the inverter with its loss and its idling', () => {
    // 89.6 W / .8 + 8 W = 120 W.
    expect(runHours(warm, 89.6, { ac: true }).hours).toBeCloseTo(10, 9);
  });
  test('from 75 % half of the usable half is left, from 50 % nothing', () => {
    expect(runHours(warm, 120, { ac: false, from: 0.75 }).hours).toBeCloseTo(5, 9);
    expect(runHours(warm, 120, { ac: false, from: 0.5 }).hours).toBe(0);
    expect(runHours(warm, 120, { ac: false, from: 0.2 }).hours).toBe(0);
  });
  test('the depth of the school: to 80 %, three quarters full leave eleven sixteenths of it', () => {
    // (.75 - .2) / .8 = .6875 of 12 V x 200 Ah x .8 at 120 W.
    const deep = { ...warm, schools: { ...warm.schools, leadDepth: 0.8 } };
    expect(runHours(deep, 120, { ac: false, from: 0.75 }).hours).toBeCloseTo((0.6875 * 1920) / 120, 9);
  });
  test('what is missing is named, and nothing is guessed', () => {
    const none = hut((system) => {
      system.bank = null;
    });
    expect(runHours(none, 100, { ac: false })).toMatchObject({ hours: null, missing: ['bank'] });
    expect(runHours(hut(), 100, { ac: true }).missing).toContain('inverters');
  });
  test('the bank by its names: 12 V, 200 Ah, 2.4 kWh', () => {
    const figures = bankFigures(warm)!;
    expect(figures).toMatchObject({ volts: 12, capacity_Ah: 200, stored_kWh: 2.4 });
  });
});

describe('a part that comes with its cable', () => {
  const cabin = modelOf(CABIN);
  test('an inverter on the board with a slot to spare: sized and fused so that nothing of it is over', () => {
    const changes = cabledChanges(cabin, 'inverters', {
      id: 'inv2',
      label: 'Second',
      waveform: 'sine',
      continuous_W: 800,
    });
    const after = withSystem(cabin, applyChanges(cabin.system, { changes }));
    const run = after.system.runs?.find(({ to }) => to === 'inv2');
    expect(run).toMatchObject({
      kind: 'battery-inverter',
      from: 'bus',
      notes: expect.stringMatching(/measure/) as string,
    });
    expect(after.system.distribution?.[0]?.circuits).toContain(run?.id);
    expect(run?.protection?.rating_A).toBeGreaterThan(0);
    const own = check(after).filter(
      ({ subject, rule }) => subject === run?.id && /^run\.(ampacity|drop|fuse|far|interrupt|dc)/.test(rule),
    );
    expect(own.length).toBeGreaterThan(4);
    expect(own.filter(({ verdict }) => verdict === 'over' || verdict === 'unknown')).toEqual([]);
  });
  test('where the board is full it goes to the bank', () => {
    const full = withSystem(
      cabin,
      applyChanges(cabin.system, { changes: [{ op: 'set', at: 'distribution', id: 'bus', value: { slots: 2 } }] }),
    );
    const [, run] = cabledChanges(full, 'converters', { id: 'conv', in_V: 24, out_V: 12, max_A: 10 });
    expect(run?.value).toMatchObject({ kind: 'converter', from: 'bank', to: 'conv' });
  });
});
