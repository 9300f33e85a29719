import { dayReadings, expectedTests, trendsOf, type LiveStep, type SystemFile } from '../src/index';
import { BANK, hut } from './hut';

/** A day of live values as the readings that somebody would have taken. */

const MINUTE = 60_000;
const day = (k: number) => new Date(Date.UTC(2026, 0, 1 + k)).toISOString().slice(0, 10);
/** One quantity through a day, by the hour (0 to 24) in steps of five minutes. */
const through = (
  on: string,
  quantity: LiveStep['quantity'],
  value: (hour: number) => number | null,
  subject = BANK.id,
): LiveStep[] =>
  Array.from({ length: 288 }, (_, i) => ({ at: Date.parse(`${on}T00:00:00Z`) + 5 * MINUTE * i, hour: i / 12 })).flatMap(
    ({ at, hour }) => {
      const mean = value(hour);
      return mean === null ? [] : [{ subject, quantity, at, mean }];
    },
  );
/** A night at rest, sun by day, and from 18 to 21 h a steady load of 10 A. */
const amps = (hour: number) => (hour < 7 ? -0.1 : hour < 17 ? 5 : hour >= 18 && hour < 21 ? -10 : -2);
const aDay = (on: string, loaded_V = 12.3, rest_V = 12.5): LiveStep[] => [
  ...through(on, 'head_A', amps),
  ...through(on, 'load_V', (hour) =>
    hour < 7 ? rest_V : hour < 17 ? 13.6 : hour >= 18 && hour < 21 ? loaded_V : 12.6,
  ),
  ...through(on, 'head_soc', (hour) => (hour < 7 ? 0.8 : 0.9)),
  ...through(on, 'temp_C', () => 15),
];
const of = (steps: LiveStep[], change?: Parameters<typeof hut>[0]) => dayReadings(hut(change), day(0), steps);

test('at rest and under the steadiest load, each with the current, the charge and the warmth of its moment', () => {
  const found = of(aDay(day(0)));
  expect(found.map(({ quantity, value }) => [quantity, value])).toEqual([
    ['rest_V', 12.5],
    ['head_soc', 0.8],
    ['load_V', 12.3],
    ['head_soc', 0.9],
  ]);
  const [rest, head, load, charge] = found;
  expect(rest).toMatchObject({ conditions: { current_A: 0, rested_h: 2, ambient_C: 15 }, visit: head!.visit });
  // The last of the hours at rest: the longer it rested, the truer.
  expect(rest!.at).toBe(`${day(0)}T06:55:00.000Z`);
  expect(load).toMatchObject({ conditions: { current_A: 10, ambient_C: 15 }, visit: charge!.visit });
  expect(load!.visit).not.toBe(rest!.visit);
  expect(new Set(found.map(({ id }) => id)).size).toBe(found.length);
});
test('an hour at rest is no rest; a gap in what was heard begins it anew', () => {
  const short = aDay(day(0)).filter(({ at }) => new Date(at).getUTCHours() !== 3 && new Date(at).getUTCHours() < 5);
  expect(of(short).map(({ quantity }) => quantity)).toContain('rest_V');
  const torn = aDay(day(0)).filter(({ at }) => [0, 2, 4, 6].includes(new Date(at).getUTCHours()));
  expect(of(torn).map(({ quantity }) => quantity)).not.toContain('rest_V');
});
test('a load that jumps about, or is small, is not judged; without the charge nothing of the bank is', () => {
  const jumping = aDay(day(0)).map((one) =>
    one.quantity === 'head_A' && one.mean === -10 ? { ...one, mean: one.at % (10 * MINUTE) ? -10 : -4 } : one,
  );
  expect(of(jumping).map(({ quantity }) => quantity)).toEqual(['rest_V', 'head_soc']);
  const small = aDay(day(0)).map((one) => (one.quantity === 'head_A' && one.mean < -1 ? { ...one, mean: -2 } : one));
  expect(of(small).map(({ quantity }) => quantity)).toEqual(['rest_V', 'head_soc']);
  expect(of(aDay(day(0)).filter(({ quantity }) => quantity !== 'head_soc'))).toEqual([]);
});
test('the only cable on the bank is read at the same load; of two, neither; an inverter that is off says no volts', () => {
  const wired = (count: number) => (system: NonNullable<SystemFile['system']>) => {
    system.inverters = [{ id: 'inv', continuous_W: 1200 }];
    system.runs = Array.from({ length: count }, (_, k) => ({
      id: `r${k}`,
      kind: 'battery-inverter' as const,
      from: BANK.id,
      to: 'inv',
      length_m: 1,
      size: '35mm2',
    }));
  };
  const steps = [
    ...aDay(day(0)),
    ...through(day(0), 'drop_V', () => 0.05, 'r0'),
    ...through(day(0), 'ac_V', (hour) => (hour < 12 ? 0 : 229), 'inv'),
  ];
  const found = of(steps, wired(1));
  expect(found.find(({ quantity }) => quantity === 'drop_V')).toMatchObject({
    subject: 'r0',
    value: 0.05,
    conditions: { current_A: 10 },
  });
  expect(found.find(({ quantity }) => quantity === 'ac_V')).toMatchObject({ subject: 'inv', value: 229 });
  expect(of(steps, wired(2)).some(({ quantity }) => quantity === 'drop_V')).toBe(false);
});
test('a bank that sags more from month to month drifts, without anybody having driven there', () => {
  const model = hut();
  const under = { current_A: 10, soc: 0.9, ambient_C: 15 };
  const sound_V = expectedTests(model, under).tests.find(({ quantity }) => quantity === 'load_V')!.expected!;
  const readings = (drift: number) =>
    Array.from({ length: 10 }, (_, k) =>
      dayReadings(model, day(30 * k), aDay(day(30 * k), sound_V - drift * k)),
    ).flat();
  const loads = (drift: number) =>
    trendsOf({ format: 'true-lantern', version: 1, ...model, readings: readings(drift) }).find(
      ({ quantity }) => quantity === 'load_V',
    )!;
  expect(loads(0)).toMatchObject({ verdict: 'steady', n: 10 });
  expect(['drifting', 'outside']).toContain(loads(0.04).verdict);
  expect(loads(0.04).perYear).toBeLessThan(0);
});
