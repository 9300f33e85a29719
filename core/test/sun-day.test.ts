import { FaultError, heard_Ah, sunDays } from '../src/index';
import { BANK, CONTROLLER, hut, part, sunny } from './hut';

/** What a day's sun brought, beside what the year brings around its date. */

const JUNE = Date.UTC(2026, 5, 15) / 86_400_000;
const DECEMBER = Date.UTC(2026, 11, 15) / 86_400_000;
/** A hut that uses all it gets, with a climate of long summer days. */
const lit = () => {
  const model = sunny(
    hut((system) => {
      system.bank = { ...system.bank!, blockCapacity_Ah: 800, place: { space: 'outside' } } as never;
      system.loads = [{ id: 'l', label: 'L', kind: 'dc', power_W: 60, hours_d: 24 }];
    }),
  );
  Object.assign(model.site, {
    climate: {
      globalHorizontal_kWh_m2_d: [0.5, 1.2, 2.4, 4, 5.2, 5.5, 5.2, 4.2, 2.9, 1.5, 0.7, 0.4],
      meanTemp_C: [3, 3, 5, 8, 11, 14, 16, 16, 13, 10, 6, 4],
    },
  });
  return model;
};

test('nine days in ten: a summer day of two 100 W modules brings some 30 to 100 Ah at 13.5 V, a winter day far less', () => {
  const summer = sunDays(lit(), JUNE);
  expect(summer.low_Ah).toBeLessThan(summer.middle_Ah);
  expect(summer.middle_Ah).toBeLessThan(summer.high_Ah);
  // Five sun hours of 200 W, less heat and wiring, at some 13.5 V.
  expect(summer.middle_Ah).toBeGreaterThan(45);
  expect(summer.middle_Ah).toBeLessThan(80);
  // No day brings more than some eight sun hours.
  expect(summer.high_Ah).toBeLessThan(120);
  const winter = sunDays(lit(), DECEMBER);
  expect(winter.middle_Ah).toBeLessThan(summer.middle_Ah / 3);
  expect(winter.low_Ah).toBeGreaterThanOrEqual(0);
});
test('around the turn of the year the days before and after count, and a leap day has its own', () => {
  const [last, first] = [Date.UTC(2026, 11, 31), Date.UTC(2027, 0, 1)].map((at) => sunDays(lit(), at / 86_400_000));
  // Fourteen of their fifteen days are the same.
  expect(first!.middle_Ah / last!.middle_Ah).toBeGreaterThan(0.8);
  expect(first!.middle_Ah / last!.middle_Ah).toBeLessThan(1.25);
  expect(sunDays(lit(), Date.UTC(2028, 1, 29) / 86_400_000)).toEqual(
    sunDays(lit(), Date.UTC(2028, 1, 28) / 86_400_000),
  );
});
test('a full bank takes no more: the same sun brings less where little is used', () => {
  const idle = lit();
  idle.system.loads![0]!.power_W = 5;
  expect(sunDays(idle, JUNE).middle_Ah).toBeLessThan(sunDays(lit(), JUNE).middle_Ah / 2);
});
test('what the year lacks is named', () => {
  const model = lit();
  part.array(model.system).tilt_deg = null;
  expect(() => sunDays(model, JUNE)).toThrow(FaultError);
});

describe('heard over a day', () => {
  const steps = (amps: (hour: number) => number | null) =>
    Array.from({ length: 288 }, (_, i) => {
      const mean = amps(i / 12);
      return mean === null ? null : ([mean - 1, mean, mean + 1] as const);
    });
  const of = (subject: string, amps: (hour: number) => number | null, quantity = 'out_A' as const) => ({
    subject,
    quantity,
    steps: steps(amps),
  });
  const noon = (hour: number) => (hour >= 10 && hour < 14 ? 6 : 0);
  test('four hours of 6 A are 24 Ah; two controllers add up', () => {
    expect(heard_Ah(hut(), [of(CONTROLLER.id, noon)], 300)).toBeCloseTo(24, 9);
    const two = hut((system) => {
      system.controllers!.push({ ...CONTROLLER, id: 'c2' });
      system.arrays!.push({ ...part.array(system), id: 'a2', controllerId: 'c2' });
    });
    expect(heard_Ah(two, [of(CONTROLLER.id, noon), of('c2', (hour) => noon(hour) / 2)], 300)).toBeCloseTo(36, 9);
    expect(heard_Ah(two, [of(CONTROLLER.id, noon)], 300)).toBeNull();
  });
  test('a moment that was not heard is filled; an hour and more is not known', () => {
    expect(heard_Ah(hut(), [of(CONTROLLER.id, (hour) => (hour === 12 ? null : 6))], 300)).toBeCloseTo(144, 9);
    expect(heard_Ah(hut(), [of(CONTROLLER.id, (hour) => (hour >= 11 && hour < 13 ? null : 6))], 300)).toBeNull();
    expect(heard_Ah(hut(), [], 300)).toBeNull();
  });
  test('nothing to compare: no controller with an array, inputs that share an output, another quantity', () => {
    const bare = hut((system) => (system.arrays = []));
    expect(heard_Ah(bare, [of(CONTROLLER.id, noon)], 300)).toBeNull();
    const shared = hut((system) => (part.controller(system).outputGroup = 'g'));
    expect(heard_Ah(shared, [of(CONTROLLER.id, noon)], 300)).toBeNull();
    expect(heard_Ah(hut(), [{ ...of(CONTROLLER.id, noon), quantity: 'pv_A' }], 300)).toBeNull();
    expect(heard_Ah(hut(), [of(BANK.id, noon)], 300)).toBeNull();
  });
});
