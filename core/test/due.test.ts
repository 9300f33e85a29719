import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { readSystemFile, type SystemFile } from '../src/index';
import { dayFrom } from '../src/service/days';
import { dueOf, type Due } from '../src/service/due';

const folder = join(__dirname, '../../docs/format/reference/look');
const read = (name: string) => readFileSync(join(folder, name), 'utf8');
const hut = (): SystemFile => readSystemFile(read('d01-window.lantern.json')).file;
const day = (date: string) => dayFrom(date)!;

/** The hut with some of it otherwise; nothing logged, read or signed but what is given. */
function bare(change: (file: SystemFile) => void = () => undefined): SystemFile {
  const file = structuredClone({ ...hut(), log: [], readings: [], visits: [] });
  file.site.since = '2024-03-01';
  change(file);
  return readSystemFile(JSON.stringify(file)).file;
}
const all = (file: SystemFile, on = '2030-01-01') => dueOf(file, day(on), 3650);
const of = (file: SystemFile, key: Due['key'], on?: string) => all(file, on).filter((one) => one.key === key);
const one = (file: SystemFile, key: Due['key'], on?: string): Partial<Due> => of(file, key, on)[0] ?? {};
const entry = (at: string, kind: string, more: object = {}) =>
  ({ id: `e${at}${kind}${JSON.stringify(more)}`, at: `${at}T09:00:00Z`, kind, ...more }) as never;
const reading = (at: string, subject: string, quantity: string, more: object = {}) =>
  ({
    id: `n${at}${subject}${quantity}${JSON.stringify(more)}`,
    at: `${at}T09:00:00Z`,
    subject,
    quantity,
    value: 1,
    ...more,
  }) as never;

test('what another program found due from the same page of the book', () => {
  const { due } = JSON.parse(read('d01-window.due.json')) as { due: Partial<Due>[] };
  const found = dueOf(hut(), day('2026-04-10'));
  expect(
    found.map(({ key, subject, every_d, last, due, overdue_d }) => ({ key, subject, every_d, last, due, overdue_d })),
  ).toEqual(
    due.map(({ key, subject, every_d, last, due, overdue_d }) => ({ key, subject, every_d, last, due, overdue_d })),
  );
});

describe('how often', () => {
  test.each([
    ['water', 60],
    ['density', 90],
    ['rest', 90],
    ['resistance', 365],
    ['joints', 365],
    ['clean', 180],
    ['insulation', 1095],
    ['shunt', 30],
    ['rcd', 90],
    ['alarm', 30],
    ['genset', 180],
    ['settings', 365],
  ] as const)('%s every %i days', (key, every) => expect(one(bare(), key).every_d).toBe(every));

  test('a hot bank, or one that is equalised, drinks twice as fast; both together no faster', () => {
    const hot = (file: SystemFile) => void (file.system.bank!.place!.max_C = 35);
    const boiled = (file: SystemFile) => void (file.system.controllers![0]!.settings!.equalise_V = 31);
    expect(one(bare(hot), 'water').every_d).toBe(30);
    expect(one(bare(boiled), 'water').every_d).toBe(30);
    expect(
      one(
        bare((file) => (hot(file), boiled(file))),
        'water',
      ).every_d,
    ).toBe(30);
    expect(
      one(
        bare((file) => void (file.system.bank!.place!.max_C = 34)),
        'water',
      ).every_d,
    ).toBe(60);
  });

  test('equalising is due as the device is set to, the shortest of several; set to 0 V it is off', () => {
    const plan = (every: number[], volts?: number) =>
      bare((file) => {
        every.forEach((each, i) => {
          const part = i === 0 ? file.system.controllers![0]! : file.system.chargers![0]!;
          part.settings = { ...part.settings, equaliseEvery_d: each, equalise_V: volts ?? null };
        });
      });
    expect(one(plan([45, 30]), 'equalise')).toMatchObject({ every_d: 30, subject: 'bank' });
    expect(of(plan([45], 0), 'equalise')).toEqual([]);
    expect(one(plan([45]), 'water').every_d).toBe(30);
  });

  test('a roof that lies flat is not washed by rain; a tilt that nobody noted is not flat', () => {
    const tilted = (tilt: number | null) => bare((file) => void (file.system.arrays![0]!.tilt_deg = tilt));
    expect(one(tilted(9.9), 'clean').every_d).toBe(90);
    expect(one(tilted(10), 'clean').every_d).toBe(180);
    expect(one(tilted(null), 'clean').every_d).toBe(180);
  });

  test('only a bank older than two years is due for a capacity test', () => {
    const aged = (age: number) => bare((file) => void (file.system.bank!.age_y = age));
    expect(of(aged(2), 'capacity')).toEqual([]);
    expect(one(aged(2.1), 'capacity')).toMatchObject({ every_d: 730, subject: 'bank' });
  });

  test('valve-regulated lead takes no water; lithium neither, nor has it a resting voltage to read', () => {
    const made = (chemistry: 'agm' | 'lfp') => bare((file) => void (file.system.bank!.chemistry = chemistry));
    for (const chemistry of ['agm', 'lfp'] as const)
      expect([...of(made(chemistry), 'water'), ...of(made(chemistry), 'density')]).toEqual([]);
    expect(of(made('agm'), 'rest')).toHaveLength(1);
    expect(of(made('lfp'), 'rest')).toEqual([]);
  });

  test('a starter battery is read at rest too', () => {
    const file = bare(
      (it) =>
        void (it.system.otherBanks = [{ id: 'start', role: 'starter', chemistry: 'flooded', nominal_V: 12 }] as never),
    );
    expect(of(file, 'rest').map(({ subject }) => subject)).toEqual(['bank', 'start']);
  });

  test('strings under 60 V in the cold need no insulation test', () => {
    const file = bare((it) => void (it.system.arrays![0]!.strings = [['m235']]));
    expect(of(file, 'insulation')).toEqual([]);
    // Two in series reach some 85 V in the cold.
    const two = bare((it) => void (it.system.arrays![0]!.strings = [['m235', 'm235']]));
    expect(of(two, 'insulation')).toHaveLength(1);
    expect(one(bare(), 'insulation').licensed).toBe(true);
  });

  test('alarms are tested where people sleep beside gas or an engine, and nowhere else', () => {
    expect(
      of(
        bare((file) => void (file.site.livingSpace = false)),
        'alarm',
      ),
    ).toEqual([]);
    const quiet = (file: SystemFile) => void (file.system.sources = []);
    expect(of(bare(quiet), 'alarm')).toEqual([]);
    expect(
      of(
        bare((file) => (quiet(file), (file.system.bank!.place!.space = 'sealed-vented-box'))),
        'alarm',
      ),
    ).toHaveLength(1);
    expect(
      of(
        bare((file) => (quiet(file), (file.system.bank!.chemistry = 'lfp'))),
        'alarm',
      ),
    ).toHaveLength(1);
  });

  test('settings are read back of what has some recorded, an inverter and its charger once', () => {
    const file = bare((it) => {
      it.system.inverters![0]!.charger = { max_A: 35, settings: { absorb_V: 29 } };
      it.system.controllers![0]!.settings = {};
    });
    expect(of(file, 'settings').map(({ subject }) => subject)).toEqual(['inv', 'mains']);
  });
});

describe('what settles it', () => {
  test('the latest counts, in whatever order it was written; what is dated after the day does not', () => {
    const file = bare((it) => {
      it.log = [entry('2026-03-01', 'watered'), entry('2026-05-01', 'watered'), entry('2026-01-01', 'watered')];
    });
    expect(one(file, 'water', '2026-04-10')).toMatchObject({ last: '2026-03-01', due: '2026-04-30', overdue_d: 0 });
    expect(one(file, 'water', '2026-05-01').last).toBe('2026-05-01');
    expect(one(file, 'water', '2026-07-10')).toMatchObject({ due: '2026-06-30', overdue_d: 10 });
  });

  test('an entry of another part settles nothing here; one of the site, or of no part, settles it for all', () => {
    const watered = (subject?: string) =>
      bare((it) => void (it.log = [entry('2026-03-01', 'watered', subject ? { subject } : {})]));
    expect(one(watered('inv'), 'water').last).toBeUndefined();
    for (const subject of ['bank', 'site', undefined]) expect(one(watered(subject), 'water').last).toBe('2026-03-01');
  });

  test('struck out, or put right by another entry, it settles nothing', () => {
    const struck = bare((it) => void (it.log = [entry('2026-03-01', 'watered', { struckOut: true })]));
    expect(one(struck, 'water').last).toBeUndefined();
    const corrected = bare((it) => {
      it.log = [
        { ...(entry('2026-03-01', 'watered') as object), id: 'a' } as never,
        { ...(entry('2026-02-01', 'watered') as object), id: 'b', corrects: 'a' } as never,
      ];
    });
    expect(one(corrected, 'water').last).toBe('2026-02-01');
  });

  test('a cell anywhere in the bank settles the round of specific gravity; a reading of the monitor its zero', () => {
    const file = bare((it) => {
      it.readings = [
        reading('2026-02-01', 'bank', 'density_kg_L', { position: { block: 3, cell: 1 } }),
        reading('2026-02-02', 'mon', 'zero_A'),
      ];
    });
    expect(one(file, 'density').last).toBe('2026-02-01');
    expect(one(file, 'shunt').last).toBe('2026-02-02');
  });

  test('an RCD that was tested is not an alarm that was tested', () => {
    const file = bare((it) => void (it.log = [entry('2026-02-01', 'tested', { what: 'alarm' })]));
    expect(one(file, 'alarm').last).toBe('2026-02-01');
    expect(one(file, 'rcd').last).toBeUndefined();
  });

  test('joints: three runs read on one day are a round, two are not, three on two days neither', () => {
    const read = (...of: [string, string][]) =>
      bare((it) => void (it.readings = of.map(([at, run], i) => reading(at, run, i % 2 ? 'drop_V' : 'jointRise_K'))));
    expect(one(read(['2026-02-01', 'r-pv'], ['2026-02-01', 'r-cb'], ['2026-02-01', 'r-bi']), 'joints').last).toBe(
      '2026-02-01',
    );
    expect(one(read(['2026-02-01', 'r-pv'], ['2026-02-01', 'r-cb']), 'joints').last).toBeUndefined();
    expect(
      one(read(['2026-02-01', 'r-pv'], ['2026-02-01', 'r-cb'], ['2026-02-02', 'r-bi']), 'joints').last,
    ).toBeUndefined();
  });

  test('joints that were made new are due thirty days after the signature, until they have been seen to', () => {
    const built = (log: never[] = []) =>
      bare((it) => {
        it.proposals = [{ id: 'p1', title: 'More', changes: [] }];
        it.visits = [{ id: 'v', proposalId: 'p1', signed: { a: { name: 'A', at: '2026-02-01T09:00:00Z' } } }] as never;
        it.log = log;
      });
    expect(one(built(), 'joints', '2026-02-10')).toMatchObject({ due: '2026-03-03', every_d: 30 });
    expect(one(built([entry('2026-02-20', 'retightened', { subject: 'r-bi' })]), 'joints', '2026-03-10')).toMatchObject(
      {
        due: '2027-02-20',
        every_d: 365,
      },
    );
    expect(one(built([entry('2026-01-20', 'retightened')]), 'joints', '2026-03-10')).toMatchObject({
      due: '2026-03-03',
      last: '2026-01-20',
    });
    expect(one(built(), 'settings', '2026-03-10').last).toBe('2026-02-01');
  });

  test('a generator is due by time or by its hours, whichever comes first', () => {
    const run = (...log: never[]) => bare((it) => void (it.log = log));
    const service = entry('2026-01-10', 'note', { subject: 'gen', text: 'oil' });
    expect(one(run(service), 'genset').due).toBe('2026-07-09');
    const hours = (at: string, h: number) => entry(at, 'fuel', { subject: 'gen', hours: h });
    expect(one(run(service, hours('2026-02-01', 60), hours('2026-03-01', 40)), 'genset').due).toBe('2026-03-01');
    expect(one(run(service, hours('2026-02-01', 60), hours('2026-03-01', 39)), 'genset').due).toBe('2026-07-09');
    expect(one(run(hours('2025-02-01', 99), service, hours('2026-03-01', 50)), 'genset').due).toBe('2026-07-09');
    // A note that says how long it ran is no service.
    expect(one(run(entry('2026-01-10', 'note', { subject: 'gen', hours: 3 })), 'genset').last).toBeUndefined();
  });

  test('each meter that was used is compared once a year, found by its name in the entry', () => {
    const file = bare((it) => {
      it.readings = [reading('2026-02-01', 'bank', 'rest_V', { meter: 'Blue 17' })];
      it.log = [entry('2026-02-02', 'calibrated', { text: 'the blue 17 against the reference' })];
    });
    expect(of(file, 'meter')).toMatchObject([{ subject: 'Blue 17', last: '2026-02-02', due: '2027-02-02' }]);
  });
});

describe('from when', () => {
  test('never done: due from the day the system is recorded as it is, else from its first reading, else today', () => {
    expect(one(bare(), 'water', '2026-04-10')).toMatchObject({ due: '2024-03-01', overdue_d: 770 });
    const first = bare((it) => {
      delete it.site.since;
      it.readings = [reading('2025-06-01', 'inv', 'idle_A'), reading('2025-05-01', 'inv', 'idle_A')];
    });
    expect(one(first, 'water', '2026-04-10').due).toBe('2025-05-01');
    expect(
      one(
        bare((it) => void delete it.site.since),
        'water',
        '2026-04-10',
      ),
    ).toMatchObject({ due: '2026-04-10', overdue_d: 0 });
  });

  test('no further ahead than asked', () => {
    const file = bare((it) => void (it.log = [entry('2026-03-01', 'watered')]));
    const keys = (within: number) => dueOf(file, day('2026-04-10'), within).map(({ key }) => key);
    expect(keys(20)).toContain('water');
    expect(keys(19)).not.toContain('water');
  });
});

describe('a hut that is closed for the winter', () => {
  const summer = (log: never[] = []) =>
    bare((it) => {
      it.site.occupiedMonths = [5, 6, 7, 8, 9];
      it.log = log;
    });
  const seasons = (file: SystemFile, on: string, within = 30) =>
    dueOf(file, day(on), within).filter(({ key }) => key === 'lay-up' || key === 'open');

  test('is closed a week before October and opened a week before May', () => {
    expect(seasons(summer([entry('2026-05-01', 'opened')]), '2026-09-01')).toMatchObject([
      { key: 'lay-up', due: '2026-09-24', overdue_d: 0, subject: 'site' },
    ]);
    // Never said to be open, it is still to be opened until it is closed again.
    expect(seasons(summer(), '2026-09-01').map(({ key }) => key)).toEqual(['open', 'lay-up']);
    expect(seasons(summer(), '2026-12-01')).toMatchObject([{ key: 'lay-up', due: '2026-09-24', overdue_d: 68 }]);
    expect(seasons(summer(), '2026-05-02')).toMatchObject([{ key: 'open', due: '2026-04-24', overdue_d: 8 }]);
  });

  test('once the season has turned the other is not asked for any more', () => {
    expect(seasons(summer(), '2026-04-24').map(({ key }) => key)).toEqual(['open']);
    expect(seasons(summer(), '2026-04-23').map(({ key }) => key)).toEqual(['lay-up', 'open']);
  });

  test('what was logged this season settles it; what was logged the year before does not', () => {
    expect(seasons(summer([entry('2026-09-20', 'sealed')]), '2026-10-10')).toEqual([]);
    expect(seasons(summer([entry('2025-09-20', 'sealed')]), '2026-10-10')).toMatchObject([
      { key: 'lay-up', last: '2025-09-20' },
    ]);
  });

  test('all year round, or nobody said: nothing', () => {
    expect(seasons(bare(), '2026-09-20')).toEqual([]);
    expect(
      seasons(
        bare((it) => void (it.site.occupiedMonths = [1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12])),
        '2026-09-20',
      ),
    ).toEqual([]);
  });
});
