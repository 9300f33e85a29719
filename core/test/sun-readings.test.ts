import {
  dayReadings,
  expectedTests,
  trendsOf,
  type LiveStep,
  type Model,
  type Reading,
  type SystemFile,
} from '../src/index';
import { clearLight_W_m2, type PlaneThere } from '../src/sun/clear';
import { BANK, CONTROLLER, hut } from './hut';

/** What an array gave, from live values alone: read only where the sky was clear for certain. */

const MINUTE = 60_000;
const HOUR = 60 * MINUTE;
const MADRID = { latitude_deg: 40.4, longitude_deg: -3.7, elevation_m: 0 };
const SOUTH: PlaneThere = { ...MADRID, tilt_deg: 30, azimuth_deg: 180 };

describe('the light of a clear sky', () => {
  const noon = (month: number, day = 21) => Date.UTC(2026, month - 1, day, 12, 15);
  test.each([
    // Published clear-sky days at sea level, summer and winter noon at 40 degrees north, level and tilted.
    ['June, level', { ...SOUTH, tilt_deg: 0 }, noon(6), 920, 1010],
    ['December, level', { ...SOUTH, tilt_deg: 0 }, noon(12), 380, 470],
    ['March, tilted to the sun', { ...SOUTH, tilt_deg: 40 }, noon(3), 960, 1080],
    ['June, a wall to the north', { ...SOUTH, tilt_deg: 90, azimuth_deg: 0 }, noon(6), 90, 230],
  ] as const)('%s', (_, plane, at, least, most) => {
    const light = clearLight_W_m2(plane, at);
    expect(light).toBeGreaterThan(least);
    expect(light).toBeLessThan(most);
  });
  test('none at night; more beam on a mountain; an east slope has its sun in the morning', () => {
    expect(clearLight_W_m2(SOUTH, noon(6) - 12 * HOUR)).toBe(0);
    const up = clearLight_W_m2({ ...SOUTH, elevation_m: 3000 }, noon(6)) / clearLight_W_m2(SOUTH, noon(6));
    expect(up).toBeGreaterThan(1.06);
    expect(up).toBeLessThan(1.18);
    const east = { ...SOUTH, azimuth_deg: 90 };
    expect(clearLight_W_m2(east, noon(6) - 3 * HOUR)).toBeGreaterThan(1.5 * clearLight_W_m2(east, noon(6) + 3 * HOUR));
  });
});

/** The hut in Madrid under a plane of its own. */
const there = (change: (system: SystemFile['system'], file: SystemFile) => void = () => undefined): Model =>
  hut((system, file) => {
    Object.assign(file.site, MADRID, { climate: { meanTemp_C: Array.from({ length: 12 }, () => 15) } });
    Object.assign(system.arrays![0]!, { tilt_deg: 30, azimuth_deg: 180 });
    change(system, file);
  });
const sound_A = (model: Model, irradiance_W_m2: number) =>
  expectedTests(model, { irradiance_W_m2, irradianceBy: 'sky', ambient_C: 15, soc: 0.6 }).tests.find(
    ({ quantity, subject }) => quantity === 'out_A' && subject === CONTROLLER.id,
  )!.expected!;
const DAY = '2026-05-10';
/** Two days of steps; `gives`: A by the clear light of the moment and the hour of the day, UTC. */
function steps(
  gives: (clear_W_m2: number, hour: number) => number | null,
  { plane = SOUTH, soc = 0.6, volts = 13 }: { plane?: PlaneThere; soc?: number; volts?: number } = {},
): LiveStep[] {
  const begin = Date.parse(`${DAY}T00:00:00Z`);
  return Array.from({ length: 2 * 288 }, (_, i) => begin + 5 * MINUTE * (i - 288)).flatMap((at): LiveStep[] => {
    const amps = gives(clearLight_W_m2(plane, at + 2.5 * MINUTE), ((((at - begin) / HOUR) % 24) + 24) % 24);
    const of = (subject: string, quantity: LiveStep['quantity'], mean: number): LiveStep => ({
      subject,
      quantity,
      at,
      mean,
    });
    return [
      ...(amps === null ? [] : [of(CONTROLLER.id, 'out_A', amps)]),
      of(BANK.id, 'load_V', volts),
      of(BANK.id, 'head_soc', soc),
    ];
  });
}
const sunOf = (readings: readonly Reading[]) => readings.filter(({ quantity }) => quantity === 'out_A');
const read = (model: Model, of: LiveStep[]) => sunOf(dayReadings(model, DAY, of));
/** A of a sound array by the light; `share` of it. */
const share = (model: Model, part = 1) => {
  const at = sound_A(model, 1000) / 1000;
  return (clear: number) => at * part * clear;
};

test('a clear day is read once, near noon, in the light of its sky', () => {
  const model = there();
  const [one, ...more] = read(model, steps(share(model)));
  expect(more).toEqual([]);
  expect(one).toMatchObject({
    subject: CONTROLLER.id,
    conditions: { irradianceBy: 'sky', ambient_C: 15 },
    visit: `live-${DAY}-sun-${CONTROLLER.id}`,
  });
  expect(Math.abs(Date.parse(one!.at!) - Date.parse(`${DAY}T12:15:00Z`))).toBeLessThan(10 * MINUTE);
  const light = one!.conditions!.irradiance_W_m2!;
  expect(light).toBeGreaterThan(900);
  expect(one!.value / sound_A(model, light)).toBeGreaterThan(0.9);
  expect(one!.value / sound_A(model, light)).toBeLessThan(1.1);
});

describe('silent, where a careful technician would not judge', () => {
  const model = there();
  const sound = share(model);
  test.each<[string, (clear: number, hour: number) => number | null]>([
    ['an even grey sky, a fifth of the light all day', (clear) => 0.2 * sound(clear)],
    ['an even grey sky at two fifths', (clear) => 0.4 * sound(clear)],
    ['clouds that come and go', (clear, hour) => sound(clear) * (Math.floor(6 * hour) % 2 ? 1 : 0.6)],
    ['a controller at its limit, flat for hours', () => 5],
    ['a haze that thickens all day', (clear, hour) => sound(clear) * (1.3 - hour / 20)],
    ['a logger that was heard now and then', (clear, hour) => (Math.floor(12 * hour) % 3 ? sound(clear) : null)],
    ['night and nothing', () => 0],
  ])('%s', (_, gives) => {
    expect(read(model, steps(gives))).toEqual([]);
  });
  test('a bank that is nearly full takes less than the sun would give', () => {
    expect(read(model, steps(sound, { soc: 0.99 }))).toEqual([]);
    expect(read(model, steps(sound, { soc: 0.6 }))).toHaveLength(1);
  });
  test.each<[string, (system: SystemFile['system'], file: SystemFile) => void]>([
    ['a van, which stands elsewhere tomorrow', (_, file) => (file.site.kind = 'camper van')],
    ['longitude unknown: no noon', (_, file) => (file.site.longitude_deg = null)],
    ['tilt unknown', (system) => (system.arrays![0]!.tilt_deg = null)],
    [
      'two planes on one controller',
      (system) => system.arrays!.push({ ...system.arrays![0]!, id: 'a2', azimuth_deg: 90 }),
    ],
    ['one of several inputs with one output', (system) => (system.controllers![0]!.outputGroup = 'g')],
  ])('%s', (_, change) => {
    expect(read(there(change), steps(sound))).toEqual([]);
  });
});

test('clear only in the morning: the morning is read', () => {
  const model = there();
  const sound = share(model);
  const [one] = read(
    model,
    steps((clear, hour) => sound(clear) * (hour < 12 ? 1 : 0.4 + 0.1 * Math.sin(9 * hour))),
  );
  expect(new Date(one!.at!).getUTCHours()).toBeLessThan(11);
});

test('level panels need no azimuth; a pwm passes amperes, not watts', () => {
  const level = there((system) => Object.assign(system.arrays![0]!, { tilt_deg: 0, azimuth_deg: null }));
  expect(read(level, steps(share(level), { plane: { ...SOUTH, tilt_deg: 0 } }))).toHaveLength(1);
  const pwm = there((system) => (system.controllers![0]!.type = 'pwm'));
  // A load that comes and goes pulls the bank's volts about; the array's amperes do not follow.
  const pulled = steps(share(pwm)).map((one) =>
    one.quantity === 'load_V' ? { ...one, mean: one.at % (10 * MINUTE) ? 14 : 12 } : one,
  );
  expect(read(pwm, pulled)).toHaveLength(1);
});

test('watts follow the light while the bank rises: amperes alone would look like haze', () => {
  const model = there();
  const amps = share(model);
  const volts = (hour: number) => 12 + (3 * hour) / 24;
  const rising = steps((clear, hour) => (amps(clear) * 13.5) / volts(hour)).map((one) =>
    one.quantity === 'load_V'
      ? { ...one, mean: volts(((((one.at - Date.parse(`${DAY}T00:00:00Z`)) / HOUR) % 24) + 24) % 24) }
      : one,
  );
  expect(read(model, rising)).toHaveLength(1);
});

test('where noon is at midnight UTC the day still comes once, in the day in which its sun ends', () => {
  const place = { latitude_deg: -41, longitude_deg: 174.8, elevation_m: 0 };
  const plane: PlaneThere = { ...place, tilt_deg: 40, azimuth_deg: 0 };
  const model = there((system, file) => {
    Object.assign(file.site, place);
    Object.assign(system.arrays![0]!, { tilt_deg: 40, azimuth_deg: 0 });
  });
  const all = steps(share(model), { plane });
  const [one, ...more] = read(model, all);
  expect(more).toEqual([]);
  // Noon there is at 0:20 UTC.
  expect(Math.abs(Date.parse(one!.at!) - Date.parse(`${DAY}T00:20:00Z`))).toBeLessThan(30 * MINUTE);
});

test('an array that lost one string of two is outside, and fading glass drifts, without anybody driving there', () => {
  const two = there(
    (system) =>
      (system.arrays![0]!.strings = [
        ['m', 'm'],
        ['m', 'm'],
      ]),
  );
  const [half] = read(two, steps(share(two, 0.5)));
  expect(half).toBeDefined();
  const row = expectedTests(two, { ...half!.conditions, soc: 0.6 } as never).tests.find(
    ({ quantity }) => quantity === 'out_A',
  )!;
  expect(half!.value).toBeLessThan(row.low!);
  const model = there();
  const months = (lost: number) =>
    Array.from({ length: 10 }, (_, k) => {
      const gives = share(model, 1 - lost * k);
      const on = new Date(Date.parse(`${DAY}T00:00:00Z`) + 40 * k * 24 * HOUR);
      const name = on.toISOString().slice(0, 10);
      const shifted = steps(() => 0).flatMap((one): LiveStep[] => {
        const at = one.at + 40 * k * 24 * HOUR;
        const mean = one.quantity === 'out_A' ? gives(clearLight_W_m2(SOUTH, at + 2.5 * MINUTE)) : one.mean;
        return [{ ...one, at, mean }];
      });
      return dayReadings(model, name, shifted);
    }).flat();
  const trend = (lost: number) =>
    trendsOf({ format: 'true-lantern', version: 1, ...model, readings: months(lost) }).find(
      ({ quantity }) => quantity === 'out_A',
    )!;
  expect(trend(0).verdict).toBe('steady');
  expect(['drifting', 'outside']).toContain(trend(0.05).verdict);
});
