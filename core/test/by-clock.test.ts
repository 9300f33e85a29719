import fc from 'fast-check';
import {
  acceptancePlan,
  acceptanceResult,
  capacityPlan,
  capacityResult,
  nextReadingAt,
  type AcceptancePlan,
  type CapacityPlan,
  type Sample,
} from '../src/index';
import { hut } from './hut';

const START = Date.parse('2026-03-02T08:00:00Z');
const at = (minutes: number, volts: number, amps: number): Sample => ({
  at: new Date(START + minutes * 60_000).toISOString(),
  volts,
  amps,
});
const site = hut();
const plan = capacityPlan(site) as CapacityPlan;
/** A bank that falls straight from 12.6 V to its end in some hours at one current. */
const straight = (hours: number, amps: number, every = 10): Sample[] =>
  Array.from({ length: Math.ceil((hours * 60) / every) + 1 }, (_, k) =>
    at(k * every, 12.6 - ((12.6 - plan.end_V) * k * every) / (hours * 60), amps),
  );

describe('a capacity test', () => {
  test('a 12 V flooded bank of 200 Ah: from full to 10.5 V, at 10 A, after four hours of rest', () => {
    expect(plan).toMatchObject({ end_V: 10.5, gentle_A: 10, labelled_Ah: 200, rest_h: 4, most_A: 40 });
  });
  test('what would charge it is off first, and an inverter that switches off too early is told', () => {
    const prepared = (
      capacityPlan(
        hut((system) => {
          system.inverters = [{ id: 'inv', label: 'Ostrum 1200', continuous_W: 1200, lowCutoff_V: 11 }];
          system.chargers = [{ id: 'ch', label: 'Ferrol 20', type: 'mains', max_A: 20 } as never];
        }),
      ) as CapacityPlan
    ).prepare;
    expect(prepared.find((line) => line.includes('isolator'))).toBe('Switch the solar array off at its isolator.');
    expect(prepared.some((line) => line.includes('Ferrol 20'))).toBe(true);
    expect(prepared.find((line) => line.includes('Ostrum 1200'))).toContain('switches off at 11 V');
    // Off before the rest: a bank that is charged does not rest.
    const [off, rest] = ['isolator', 'rest 4 h'].map((part) => prepared.findIndex((line) => line.includes(part)));
    expect(off).toBeLessThan(rest!);
  });
  test('of batteries in series one alone may be emptied first: its volts are watched', () => {
    const { stop, end_V } = capacityPlan(hut((system) => (system.bank!.series = 2))) as CapacityPlan;
    expect(end_V).toBe(21);
    expect(stop.some((line) => line.startsWith('One battery falls below 9.66 V'))).toBe(true);
    expect(plan.stop.some((line) => line.startsWith('One battery'))).toBe(false);
  });
  test('lithium ends at 3.0 V a cell, well above its protection, and rests an hour', () => {
    const lithium = capacityPlan(
      hut((system) => (system.bank = { ...system.bank!, chemistry: 'lfp', block_V: 12.8, blockCapacity_Ah: 100 })),
    ) as CapacityPlan;
    expect(lithium.end_V).toBe(12);
    expect(lithium.rest_h).toBe(1);
    expect(lithium.prepare.some((line) => line.includes('Ventilate'))).toBe(false);
  });
  test('20 h at 10 A is 200 Ah, the label; nothing is corrected at 25 degC', () => {
    const found = capacityResult(site, plan, straight(20, 10), 25)!;
    expect(found.ended).toBe(true);
    expect(found.drawn_Ah).toBeCloseTo(200, 6);
    expect(found.capacity_Ah).toBeCloseTo(200, 6);
    expect(found.ofLabel_pct).toBeCloseTo(100, 6);
    expect(found.doubts).toEqual([]);
  });
  test('5 h at 25 A is 125 Ah drawn, and by Peukert (k 1.25) 164.9 Ah at the 20 h rate', () => {
    // I^k t is one constant: I20 = 25 (5/20)^(1/1.25) = 8.247 A, so C20 = 164.9 Ah.
    const found = capacityResult(site, plan, straight(5, 25), 25)!;
    expect(found.drawn_Ah).toBeCloseTo(125, 6);
    expect(found.capacity_Ah).toBeCloseTo(164.94, 1);
  });
  test('in the cold a bank shows less: 184 Ah at 15 degC is 200 at 25', () => {
    const found = capacityResult(site, plan, straight(20, 9.2), 15)!;
    expect(found.capacity_Ah).toBeCloseTo(184, 6);
    expect(found.at25_Ah).toBeCloseTo(200, 6);
  });
  test('between the last two readings the end is taken straight, and what they leave open is told', () => {
    const found = capacityResult(site, plan, [at(0, 12.6, 10), at(40, 11, 10), at(80, 10, 10)], 25)!;
    expect(found.hours).toBeCloseTo(1, 9);
    expect(found.drawn_Ah).toBeCloseTo(10, 9);
    expect(found.between_Ah[0]).toBeCloseTo(6.667, 3);
    expect(found.between_Ah[1]).toBeCloseTo(13.333, 3);
  });
  test('stopped early: not ended; what was drawn is the least it has', () => {
    expect(capacityResult(site, plan, straight(20, 10).slice(0, 60), 25)).toMatchObject({ ended: false });
    expect(capacityResult(site, plan, [at(0, 12.6, 10)], 25)).toBeNull();
  });
  test('the sun came on, nobody read for an hour, the load was switched: each is told', () => {
    const doubts = (samples: Sample[]) => capacityResult(site, plan, samples, 25)!.doubts.join(' ');
    expect(doubts([at(0, 12.5, 10), at(10, 12.2, 10), at(20, 12.9, 10)])).toContain('rose from 12.2 to 12.9 V');
    expect(doubts([at(0, 12.5, 10), at(61, 12.2, 10)])).toContain('no reading for 61 min');
    expect(doubts([at(0, 12.5, 10), at(10, 12.2, 14)])).toContain('varied between 10 and 14 A');
    expect(doubts([at(0, 12.5, 50), at(10, 12.2, 50)])).toContain('under 5 h');
  });
  test('read every ten minutes, every two near the end, and no more after it', () => {
    expect(nextReadingAt(plan, [])).toBeNull();
    expect(nextReadingAt(plan, [at(0, 12.4, 10)])).toBe(START + 10 * 60_000);
    expect(nextReadingAt(plan, [at(0, 10.6, 10)])).toBe(START + 2 * 60_000);
    expect(nextReadingAt(plan, [at(0, 10.5, 10)])).toBeNull();
  });
  test('readings in any order, doubled or senseless ones among them: the same answer', () => {
    const samples = straight(10, 12);
    const once = capacityResult(site, plan, samples, 20);
    fc.assert(
      fc.property(fc.shuffledSubarray(samples, { minLength: samples.length }), (mixed) => {
        const spoilt = [...mixed, mixed[0]!, { at: 'never', volts: 3, amps: 1 }, at(5, Number.NaN, 3)];
        expect(capacityResult(site, plan, spoilt, 20)).toEqual(once);
      }),
      { numRuns: 20 },
    );
  });
  test('without a bank, or of unknown cells, it says what is missing', () => {
    expect(capacityPlan(hut((system) => delete system.bank))).toEqual({ missing: ['system.bank'] });
    expect(capacityPlan(hut((system) => (system.bank!.block_V = 13.37)))).toHaveProperty('missing');
  });
});

describe('a charge acceptance test', () => {
  const own = acceptancePlan(
    hut((system) => (system.controllers![0]!.settings = { absorb_V: 14.6 })),
  ) as AcceptancePlan;
  test('at the absorption voltage that is set, to 2 % of the capacity', () => {
    expect(own).toMatchObject({ absorb_V: 14.6, tail_A: 4 });
  });
  test('the clock runs from the first reading at absorption to the tail current', () => {
    const found = acceptanceResult(own, [at(0, 13.2, 30), at(30, 14.5, 28), at(90, 14.6, 9), at(150, 14.6, 3.9)]);
    expect(found).toMatchObject({ toTail_h: 2, first_A: 28, last_A: 3.9, rising: false });
  });
  test('not there yet', () => {
    expect(acceptanceResult(own, [at(0, 13.2, 30)])).toBeNull();
    expect(acceptanceResult(own, [at(0, 14.5, 30), at(60, 14.6, 12)])).toMatchObject({ toTail_h: null, hours: 1 });
  });
  test('a current that rises at a voltage that stands still is thermal runaway', () => {
    expect(acceptanceResult(own, [at(0, 14.6, 20), at(60, 14.6, 10), at(90, 14.6, 14)])).toMatchObject({
      rising: true,
    });
    expect(own.stop[0]).toContain('Stop the charge');
  });
});
