import fc from 'fast-check';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { readSystemFile, type SystemFile } from '../src/index';
import { student95 } from '../src/numeric/student';
import { dateOf, dayFrom } from '../src/service/days';
import { straight, strays } from '../src/service/fit';
import { trendsOf, type Trend } from '../src/service/trends';

const folder = join(__dirname, '../../docs/format/reference/look');
const read = (name: string) => readFileSync(join(folder, name), 'utf8');
const hut = (): SystemFile => readSystemFile(read('t13-currents.lantern.json')).file;
const START = dayFrom('2022-01-01')!;

/** The hut with readings of its own, each so many days after the first. */
const seen = (readings: object[], more: object = {}): SystemFile =>
  readSystemFile(
    JSON.stringify({
      ...hut(),
      readings: readings.map((one, i) => ({ id: `n${i}`, ...one })),
      ...more,
    }),
  ).file;
const at = (days: number) => `${dateOf(START + days)}T10:00:00Z`;
/** Drops of the battery cable at 80 A that rise by a share of their expectation each year. */
const drops = (rise: number, days = [0, 200, 400, 600, 800], level = 1) =>
  days.map((day) => ({
    at: at(day),
    subject: 'r-bi',
    quantity: 'drop_V',
    value: 0.16397 * (level + (rise * day) / 365.25),
    conditions: { current_A: 80 },
  }));
const only = (file: SystemFile, on?: string): Trend => trendsOf(file, on ? dayFrom(on)! : undefined)[0]!;

describe('what another program found in the same readings', () => {
  const { trends } = JSON.parse(read('t13-currents.trends.json')) as { trends: Trend[] };
  const found = trendsOf(hut());
  test.each(trends.map((want, i) => [want.subject, want, found[i]!] as const))('%s', (_, want, got) => {
    expect(got).toMatchObject({
      quantity: want.quantity,
      subject: want.subject,
      unit: want.unit,
      n: want.n,
      from: want.from,
      to: want.to,
      verdict: want.verdict,
    });
    got.points.forEach((point, i) => {
      expect(point.at).toBe(want.points[i]!.at);
      expect(point.z).toBeCloseTo(want.points[i]!.z, 5);
      expect(point.half).toBeCloseTo(want.points[i]!.half!, 5);
    });
    expect(got.perYear).toBeCloseTo(want.perYear!, 5);
    expect(got.perYear95![0]).toBeCloseTo(want.perYear95![0], 5);
    expect(got.now).toBeCloseTo(want.now!, 5);
    expect(got.reaches).toEqual(want.reaches);
  });
});

test('Student\u2019s t at 95 %, as in any table', () => {
  for (const [freedom, t] of [
    [1, 12.706],
    [2, 4.303],
    [3, 3.182],
    [6, 2.447],
    [10, 2.228],
    [30, 2.042],
    [120, 1.98],
  ] as const)
    expect(student95(freedom)).toBeCloseTo(t, 2);
});

describe('the line', () => {
  const days = [0, 300, 700, 1100, 1500];
  test('of points on a line is that line', () => {
    const fit = straight(days.map((day) => ({ day, z: 0.1 + (0.3 * day) / 365.25 })));
    expect(fit.perYear).toBeCloseTo(0.3, 9);
    expect(fit.on(3652.5)).toBeCloseTo(3.1, 9);
    // The scatter is never taken below 0.15: five points on a line are luck.
    const spread = days.reduce((sum, day) => sum + ((day - 720) / 365.25) ** 2, 0);
    expect(fit.perYear95[1] - fit.perYear95[0]).toBeCloseTo((2 * 3.1824 * 0.15) / Math.sqrt(spread), 3);
    expect(fit.doubt(720)).toBeCloseTo((3.1824 * 0.15) / Math.sqrt(5), 3);
  });
  test('one that stands far off is left out; scatter is not', () => {
    const flat = days.map((day, i) => ({ day, z: i === 2 ? 1.5 : 0.1 * (i % 2) }));
    expect(strays(flat)).toEqual([false, false, true, false, false]);
    expect(strays(flat.map((point, i) => (i === 2 ? { ...point, z: 0.9 } : point)))).toEqual(days.map(() => false));
    expect(strays(days.map((day, i) => ({ day, z: [0, 1.2, -1, 1.4, -0.9][i]! })))).toEqual(days.map(() => false));
  });
});

describe('a series', () => {
  test('of steady readings is steady, whatever current they were taken at', () => {
    expect(only(seen(drops(0)))).toMatchObject({ verdict: 'steady', n: 5 });
  });
  test('that rises by a tenth of its band a year drifts once it cannot be chance, and says when it is out', () => {
    const trend = only(seen(drops(0.13)));
    expect(trend).toMatchObject({ verdict: 'drifting', subject: 'r-bi' });
    const { reaches } = trend;
    expect(reaches!.earliest < reaches!.at).toBe(true);
    expect(reaches!.latest === undefined || reaches!.latest > reaches!.at).toBe(true);
  });
  test('beyond its band is outside, not drifting', () => {
    expect(only(seen(drops(0.13, undefined, 1.4)))).toMatchObject({ verdict: 'outside' });
    expect(only(seen(drops(0, undefined, 1.4))).reaches).toBeUndefined();
  });
  test('of two days, or of a month, tells no slope', () => {
    for (const days of [
      [0, 700],
      [0, 20, 59],
    ])
      expect(only(seen(drops(0.3, days)))).toMatchObject({ verdict: 'too-few' });
    expect(only(seen(drops(0.3, [0, 700]))).perYear).toBeUndefined();
    expect(only(seen(drops(0, [0, 20, 60]))).verdict).toBe('steady');
  });
  test('two readings of one day are one point, their mean', () => {
    const twice = [...drops(0), { ...drops(0, [200], 1.1)[0]!, at: `${dateOf(START + 200)}T18:00:00Z` }];
    const trend = only(seen(twice));
    expect(trend.n).toBe(5);
    expect(trend.points[1]!.value).toBeCloseTo(0.16397 * 1.05, 6);
  });
  test('asked on a day, knows nothing of what was read after it', () => {
    expect(only(seen(drops(0.13)), dateOf(START + 500))).toMatchObject({ n: 3, to: dateOf(START + 400) });
  });
  test('a slipped probe is shown and not counted', () => {
    const slipped = drops(0).map((one, i) => (i === 2 ? { ...one, value: 1.2 } : one));
    const trend = only(seen(slipped));
    expect(trend).toMatchObject({ n: 4, verdict: 'steady' });
    expect(trend.points[2]).toMatchObject({ left: true });
  });
  test('starts anew where the part was replaced, and that of a joint where it was retightened or the fault cured', () => {
    const entry = (kind: string, subject = 'r-bi') => ({ log: [{ id: 'e', at: at(300), kind, subject }] });
    for (const kind of ['replaced', 'retightened', 'cured'])
      expect(only(seen(drops(0.13), entry(kind))).points).toHaveLength(3);
    expect(only(seen(drops(0.13), entry('note'))).points).toHaveLength(5);
    expect(only(seen(drops(0.13), entry('replaced', 'inv'))).points).toHaveLength(5);
    const resistance = drops(0).map((one) => ({ ...one, subject: 'bank', quantity: 'resistance_mohm', value: 5 }));
    expect(only(seen(resistance, entry('retightened', 'bank'))).points).toHaveLength(5);
    expect(only(seen(resistance, entry('replaced', 'bank'))).points).toHaveLength(3);
  });
});

describe('what tells nothing is no series', () => {
  const series = (one: object, more?: object) =>
    trendsOf(
      seen(
        drops(0).map((each) => ({ ...each, ...one })),
        more,
      ),
    );
  test('a drop without its current; rest volts without a state of charge; amperes of the sun without the light', () => {
    expect(series({ conditions: {} })).toEqual([]);
    expect(series({ subject: 'bank', quantity: 'rest_V', value: 25, conditions: {} })).toEqual([]);
    const { system } = hut();
    const array = system.arrays![0]!.id;
    const string = { subject: array, quantity: 'stringIsc_A', value: 7, position: { string: 0 } };
    expect(series({ ...string, conditions: {} })).toEqual([]);
    expect(series({ ...string, conditions: { irradiance_W_m2: 800 } })).toHaveLength(1);
  });
  test('the current of another part\u2019s reading is none of this one; the charge that the monitor showed is', () => {
    const visit = { visit: 'v' };
    const drop = { ...drops(0)[0]!, conditions: {}, ...visit };
    const other = { ...drop, subject: 'r-cb', conditions: { current_A: 20 } };
    expect(trendsOf(seen([drop, other])).map(({ subject }) => subject)).toEqual(['r-cb']);
    const rest = { at: at(0), subject: 'bank', quantity: 'rest_V', value: 25, ...visit };
    const shown = {
      at: at(0),
      subject: hut().system.monitor?.id ?? 'bank',
      quantity: 'head_soc',
      value: 0.8,
      ...visit,
    };
    expect(trendsOf(seen([rest, shown]))).toHaveLength(1);
    expect(trendsOf(seen([rest], { visits: [{ id: 'v', conditions: { soc: 0.8 } }] }))).toHaveLength(1);
  });
  test('the resistance of one block: no row of the model is of that', () => {
    expect(series({ subject: 'bank', quantity: 'resistance_mohm', value: 2, position: { block: 1 } })).toEqual([]);
  });
  test('parts that left', () => {
    expect(series({ subject: 'old' }, { gone: [{ id: 'old', label: 'The old cable' }] })).toEqual([]);
  });
});

describe('a bound', () => {
  const joints = (values: number[]) =>
    seen(values.map((value, i) => ({ at: at(200 * i), subject: 'r-bi', quantity: 'joint_mohm', value })));
  test('of a joint is a quarter of a milliohm: twice that is ln 2 over', () => {
    const trend = only(joints([0.25, 0.25, 0.25]));
    expect(trend.points.map(({ z, half, expected }) => [z, half, expected])).toEqual(
      [1, 1, 1].map((z) => [z, null, 0.25]),
    );
    expect(only(joints([0.5, 0.5, 0.5])).now).toBeCloseTo(1 + Math.log(2), 9);
    expect(only(joints([0.5, 0.5, 0.5])).verdict).toBe('outside');
  });
  test('that is far below is steady: only more is worse', () => {
    expect(only(joints([0.2, 0.05, 0.01])).verdict).toBe('steady');
    expect(only(joints([0, 0, 0])).now).toBeCloseTo(1 + Math.log(1 / 1000), 6);
  });
  test('that is neared drifts', () => expect(only(joints([0.05, 0.07, 0.1, 0.14, 0.2])).verdict).toBe('drifting'));
  test('of insulation: less is worse', () => {
    const array = hut().system.arrays![0]!.id;
    const tested = (values: number[]) =>
      only(seen(values.map((value, i) => ({ at: at(200 * i), subject: array, quantity: 'insulation_Mohm', value }))));
    expect(tested([20, 10, 5, 2.5, 1.3]).verdict).toBe('drifting');
    expect(tested([1.3, 2.5, 5, 10, 20]).verdict).toBe('steady');
    expect(tested([0.2, 0.2, 0.2]).verdict).toBe('outside');
  });
});

test('a capacity is held against the label, at the temperature of the day', () => {
  const { bank } = hut().system;
  const labelled = bank!.blockCapacity_Ah * bank!.parallel;
  const test = (value: number, ambient_C?: number) =>
    only(
      seen(
        [0, 100, 200].map((day) => ({
          at: at(day),
          subject: 'bank',
          quantity: 'capacity_Ah',
          value,
          ...(ambient_C === undefined ? {} : { conditions: { ambient_C } }),
        })),
      ),
    );
  expect(test(labelled).points[0]).toMatchObject({ z: 0, half: 0.2 * labelled });
  expect(test(labelled, 0).points[0]!.expected).toBeCloseTo(0.8 * labelled, 6);
  expect(test(0.7 * labelled).verdict).toBe('outside');
  // Worn out by the survey is worn out: the label is what it was bought as.
  expect(test(labelled).unit).toBe('Ah');
});

test('the order in which readings were entered makes no difference', () => {
  const readings = [
    ...drops(0.13),
    ...drops(0).map((one) => ({ ...one, subject: 'bank', quantity: 'resistance_mohm', value: 5 })),
  ];
  fc.assert(
    fc.property(fc.shuffledSubarray(readings, { minLength: readings.length }), (shuffled) => {
      const [a, b] = [trendsOf(seen(readings)), trendsOf(seen(shuffled))];
      expect(b.map(({ perYear }) => perYear!)).toEqual(
        a.map(({ perYear }) => expect.closeTo(perYear!, 9) as unknown as number),
      );
    }),
    { numRuns: 20 },
  );
});
