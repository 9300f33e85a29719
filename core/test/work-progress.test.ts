import corrach from '../../demo/sites/corrach-bothy.lantern.json';
import gannet from '../../demo/sites/gannet-ledge.lantern.json';
import {
  bringsVolts,
  checkSystemFile,
  clocksOf,
  deviceOfLog,
  fromRows,
  isolationOf,
  modelOf,
  MOST_OF_A_COLUMN,
  nameOfRow,
  nextStep,
  positionsOf,
  positionWords,
  readAt,
  readingFault,
  readingsOfLog,
  seriesOf,
  settle,
  toRows,
  waitsFor,
  workOf,
  writeSystemFile,
  type Done,
  type LogMap,
  type PartRow,
  type Quantity,
  type Reading,
  type SystemFile,
} from '../src/index';
import { applyFields } from '../src/system/changes';
import { applyProposal } from '../src/system/proposals';
import { linkFaultsByRow, readSystemFile } from '../src/system/read';

const file = checkSystemFile(gannet).file;
const { steps } = workOf(modelOf(file), modelOf(file, 'p-lfp'));
const upTo = (act: string, state: 'done' | 'skipped' = 'done'): Done => {
  const last = steps.findLast((step) => step.act === act)!.n;
  return Object.fromEntries(
    steps.filter(({ n }) => n <= last).map(({ key, n }) => [key, { state, at: new Date(n * 60_000).toISOString() }]),
  );
};

describe('how far an order is', () => {
  test('the next is the first that is neither done nor skipped', () => {
    expect(nextStep(steps, {})?.n).toBe(1);
    expect(nextStep(steps, upTo('load-off'))?.act).toBe('source-off');
    expect(nextStep(steps, upTo('sign'))).toBeNull();
    expect(nextStep(steps, upTo('load-off', 'skipped'))?.act).toBe('source-off');
  });
  test('a step waits for those before it that nobody ticked; one that was skipped with a reason holds nobody', () => {
    const bankOff = steps.find(({ act }) => act === 'bank-off')!;
    expect(waitsFor(bankOff, steps, {}).map(({ act }) => act)).toContain('pv-off');
    expect(waitsFor(bankOff, steps, upTo('pv-off'))).toEqual([]);
    const { [steps.find(({ act }) => act === 'pv-off')!.key]: _, ...without } = upTo('pv-off');
    expect(waitsFor(bankOff, steps, without).map(({ act }) => act)).toEqual(['pv-off']);
  });
  test('the state of isolation, from the ticks alone', () => {
    expect(isolationOf(steps, {})).toMatchObject({ since: null, dead: false });
    expect(isolationOf(steps, {}).words).toMatch(/Nothing is switched off/);
    const onePv = steps.find(({ act }) => act === 'pv-off')!.key;
    expect(isolationOf(steps, { [onePv]: { state: 'done' } }).words).toMatch(/PV partly off/);
    const off = isolationOf(steps, upTo('bank-off'));
    expect(off.words).toBe('Loads off, AC sources off, PV off, bank isolated, not proved dead.');
    expect(off.dead).toBe(false);
    expect(off.since).toBe(new Date(steps.find(({ act }) => act === 'bank-off')!.n * 60_000).toISOString());
    expect(isolationOf(steps, upTo('prove-dead'))).toMatchObject({ dead: true });
    expect(isolationOf(steps, upTo('prove-dead')).words).toMatch(/bank isolated, proved dead\.$/);
    const on = isolationOf(steps, upTo('bank-on'));
    expect(on.words).toMatch(/PV off, bank on\.$/);
    expect(on.dead).toBe(false);
  });
  test('what was skipped was not switched off', () => {
    expect(isolationOf(steps, upTo('bank-off', 'skipped')).words).toMatch(/Nothing is switched off/);
  });
  test('what brings volts back is blocked by the stop card; what takes them away never is', () => {
    const live = new Set(steps.filter(bringsVolts).map(({ act }) => act));
    expect([...live].sort()).toEqual(['bank-on', 'inverter-on', 'load-on', 'precharge', 'pv-on', 'source-on']);
  });
  test('a clock for each phase: planned, and from the first tick to the last', () => {
    const clocks = clocksOf(steps, upTo('bank-off'));
    expect(clocks.map(({ phase }) => phase)).toEqual([...new Set(steps.map(({ phase }) => phase))]);
    const off = clocks.find(({ phase }) => phase === 'off')!;
    expect(off).toMatchObject({ steps: 6, ticked: 5 + 1, taken_min: 5 });
    expect(off.planned_min).toBe(
      steps.filter(({ phase }) => phase === 'off').reduce((sum, { minutes }) => sum + minutes, 0),
    );
    expect(clocks.find(({ phase }) => phase === 'fit')).toMatchObject({ ticked: 0, taken_min: null });
  });
});

describe('a proposal that was fitted becomes the system as found', () => {
  const cases = [corrach, gannet].flatMap((value) => {
    const { file: each } = checkSystemFile(value);
    return (each.proposals ?? []).map(({ id, title }): [string, SystemFile, string] => [title, each, id]);
  });
  const fitted = (whole: SystemFile, id: string): { rows: PartRow[]; settled: ReturnType<typeof settle> } => {
    let n = 0;
    const rows = toRows(whole, () => `row-${n++}`);
    const settled = settle(modelOf(whole), modelOf(whole, id));
    const gone = new Set(settled.removed.map(({ id: part }) => part));
    const kept = rows
      .filter((row) => !gone.has(nameOfRow(row)))
      .map((row): PartRow => {
        const change = settled.changed.find((one) => one.id === nameOfRow(row) && one.kind === row.kind);
        const closed =
          row.kind === 'proposal' ? { closed: { as: nameOfRow(row) === id ? 'fitted' : 'overtaken' } } : null;
        const set = {
          ...change?.set,
          ...closed,
          ...(row.kind === 'system' && settled.nominal_V !== undefined ? { nominal_V: settled.nominal_V } : {}),
        };
        return applyFields({ ...row, deleted: false }, set);
      });
    const made = settled.added.map(({ kind, body, evidence }, i): PartRow => ({
      id: `new-${i}`,
      kind,
      body,
      evidence,
      position: 900 + i,
      revision: 1,
    }));
    return { rows: [...kept, ...made], settled };
  };
  test.each(cases)('%s', (_, whole, id) => {
    const { rows } = fitted(whole, id);
    const now = fromRows(rows);
    const after = applyProposal(whole, id);
    const sorted = (system: object) =>
      Object.fromEntries(
        Object.entries(system).map(([kind, value]) => [
          kind,
          Array.isArray(value) ? [...(value as { id: string }[])].sort((a, b) => a.id.localeCompare(b.id)) : value,
        ]),
      );
    const bare = (system: object) =>
      JSON.parse(
        JSON.stringify(sorted(system), (_key, value: unknown) => (value === null ? undefined : value)),
      ) as object;
    expect(bare(now.system ?? {})).toEqual(bare(after));
    // The job stays one that can be exported and read again, though the proposal could not be laid over it any more.
    expect(linkFaultsByRow(rows)).toEqual([]);
    expect(readSystemFile(writeSystemFile(now)).file.proposals?.find((one) => one.id === id)?.closed?.as).toBe(
      'fitted',
    );
  });
  test('a plate was read, a setting was read back, and a guess about what stood there is gone', () => {
    const guessed = structuredClone(file);
    guessed.evidence = { ...guessed.evidence, 'bank.blockCapacity_Ah': { grade: 'assumed' } };
    const { rows, settled } = fitted(guessed, 'p-lfp');
    const bank = rows.find(({ kind }) => kind === 'bank')!;
    expect(bank.evidence.blockCapacity_Ah).toEqual({ grade: 'nameplate' });
    const grades = settled.changed.flatMap(({ set }) =>
      Object.entries(set).filter(([field, value]) => field.startsWith('evidence/settings.') && value !== null),
    );
    expect(grades.length).toBeGreaterThan(5);
    for (const [, grade] of grades) expect(grade).toEqual({ grade: 'measured' });
    expect(settled.changed.flatMap(({ set }) => Object.keys(set))).not.toContain('evidence/label');
  });
  test('nothing changed settles nothing', () => {
    const model = modelOf(file);
    expect(settle(model, model)).toEqual({ added: [], changed: [], removed: [], observations: {} });
  });
  test('a reading of what was taken out stays a reading of it', () => {
    const read = structuredClone(file);
    read.readings = [{ id: 'r1', subject: 'bank', quantity: 'rest_V', value: 24.8 }];
    read.proposals = [
      { id: 'p', title: 'No monitor', closed: { as: 'fitted' }, changes: [{ op: 'remove', at: 'monitor', id: 'mon' }] },
    ];
    read.readings.push({ id: 'r2', subject: 'mon', quantity: 'head_A', value: 1 });
    read.system.monitor = null;
    expect(() => checkSystemFile(read)).not.toThrow();
    read.proposals = [];
    expect(() => checkSystemFile(read)).toThrow('r2'.length > 0 ? 'readings[1].subject' : '');
  });
});

describe('readings', () => {
  const system = file.system;
  test('what can be read at a part, by its kind; at the site what is of all', () => {
    expect(readAt(system, 'bank')).toContain('rest_V');
    expect(readAt(system, 'inv')).toContain('idle_A');
    expect(readAt(system, 'site')).toEqual(['parasitic_A', 'frameEarth_ohm']);
    expect(readAt(system, 'nobody')).toEqual([]);
    expect(positionsOf('density_kg_L')).toEqual(['string', 'block', 'cell']);
    expect(positionsOf('rest_V')).toEqual([]);
  });
  test('a slipped point is told at once: 2,664 V is no bank, density is between .9 and 1.5', () => {
    expect(readingFault('rest_V', 26.64)).toBeNull();
    expect(readingFault('rest_V', 2664)).toMatch(/expected -1500 to 1500 V/);
    expect(readingFault('density_kg_L', 12.4)).toMatch(/0\.9 to 1\.5/);
    expect(readingFault('ac_Hz', -50)).toMatch(/0 to 1000/);
    expect(readingFault('head_soc', 80)).toMatch(/0 to 1/);
    expect(readingFault('resistance_mohm', -1)).toMatch(/0 to/);
  });
  test.each<[Quantity, number, number]>([
    ['rest_V', -1500, 1500],
    ['out_A', -10_000, 10_000],
    ['running_W', 0, 1e6],
    ['jointRise_K', -50, 300],
    ['temp_C', -60, 120],
    ['joint_mohm', 0, 100_000],
    ['frameEarth_ohm', 0, 1e6],
    ['insulation_Mohm', 0, 100_000],
    ['ac_Hz', 0, 1000],
    ['density_kg_L', 0.9, 1.5],
    ['head_soc', 0, 1],
  ])('%s lies between %p and %p', (quantity, low, high) => {
    expect([readingFault(quantity, low), readingFault(quantity, high)]).toEqual([null, null]);
    expect(readingFault(quantity, low - 0.01)).not.toBeNull();
    expect(readingFault(quantity, high * 1.01)).not.toBeNull();
  });
  test('by quantity and position, the latest last; the older name of rest volts is the same row', () => {
    const reading = (id: string, at: string, quantity: string, value: number, string?: number): Reading => ({
      id,
      at,
      subject: 'bank',
      quantity,
      value,
      ...(string === undefined ? {} : { position: { string } }),
    });
    const rows = seriesOf([
      reading('c', '2026-03-01T00:00:00Z', 'rest_V', 25.1),
      reading('a', '2026-01-01T00:00:00Z', 'restVoltage_V', 25.4),
      reading('d', '2026-01-02T00:00:00Z', 'stringCurrent_A', -9, 1),
      reading('e', '2026-01-02T00:00:00Z', 'stringCurrent_A', -11, 0),
      reading('f', '2026-01-02T00:00:00Z', 'not one of ours', 1),
    ]);
    expect(rows.map(({ quantity, readings }) => [quantity, readings.map(({ id }) => id)])).toEqual([
      ['rest_V', ['a', 'c']],
      ['stringCurrent_A', ['d']],
      ['stringCurrent_A', ['e']],
    ]);
    expect(positionWords(rows[1]!.position)).toBe('string 2');
    expect(positionWords({ string: 0, block: 3, cell: 1 })).toBe('string 1, block 4, cell 2');
  });
});

describe('the format keeps work and visits', () => {
  const whole = checkSystemFile(corrach).file;
  test('through rows and back, and through text and back', () => {
    let n = 0;
    const again = fromRows(toRows(whole, () => `row-${n++}`));
    expect(again).toEqual(whole);
    const withVisit: SystemFile = {
      ...whole,
      visits: [{ id: 'v1', at: '2026-05-04T09:10:00Z', people: 'Isla', reasons: { 'a~b': 'why' } }],
    };
    expect(readSystemFile(writeSystemFile(withVisit)).file).toEqual(withVisit);
    expect(fromRows(toRows(withVisit, () => `row-${n++}`))).toEqual(withVisit);
  });
  test('a wrong tick is named by its path', () => {
    const wrong = structuredClone(whole) as unknown as { proposals: { id: string; work?: unknown }[] };
    wrong.proposals[0]!.work = { ticks: { tell: { isla: { state: 'perhaps' } } } };
    expect(() => checkSystemFile(wrong)).toThrow(/proposals\[0\]\.work\.ticks/);
  });
  test('two visits of one id are a fault', () => {
    expect(() => checkSystemFile({ ...whole, visits: [{ id: 'v' }, { id: 'v' }] })).toThrow('visits[1].id');
  });
  test('the refuge\u2019s half-worked order fits the proposal that it is of', () => {
    const work = workOf(modelOf(whole), modelOf(whole, 'p-relay'));
    const ticks = Object.keys(whole.proposals!.find(({ id }) => id === 'p-relay')!.work?.ticks ?? {});
    const keys = work.steps.map(({ key }) => key);
    expect(ticks.length).toBeGreaterThan(10);
    expect(ticks).toEqual(keys.slice(0, ticks.length));
  });
});

describe('a log in CSV', () => {
  const map: LogMap = { time: 0, columns: [{ column: 2, subject: 'bank', quantity: 'load_V' }] };
  test('times as loggers write them, figures of the columns that somebody named; empty cells are no readings', () => {
    const table = [
      ['Time', 'ignored', 'Volts'],
      ['2026-05-04 09:10', 'x', '25.4'],
      ['2026-05-04T09:20:00Z', '', ''],
      ['4.5.2026 9:30', '', '25.1'],
    ];
    const read = readingsOfLog(table, map);
    expect(read.map(({ value, subject, quantity }) => [subject, quantity, value])).toEqual([
      ['bank', 'load_V', 25.4],
      ['bank', 'load_V', 25.1],
    ]);
    expect(Date.parse(read[1]!.at!) - Date.parse(read[0]!.at!)).toBe(20 * 60_000);
  });
  test('a comma is a decimal where columns are parted by semicolons', () => {
    expect(
      readingsOfLog(
        [
          ['t', '', 'V'],
          ['2026-05-04 09:10', '', '25,4'],
        ],
        map,
        true,
      )[0]?.value,
    ).toBe(25.4);
    expect(() =>
      readingsOfLog(
        [
          ['t', '', 'V'],
          ['2026-05-04 09:10', '', '25,4'],
        ],
        map,
      ),
    ).toThrow('line 2, V');
  });
  test('every fault by its line, and nothing taken by halves', () => {
    const table = [
      ['t', '', 'V'],
      ['yesterday', '', '25'],
      ['2026-05-04 09:10', '', 'low'],
      ['2026-05-04 09:20', '', '2540'],
    ];
    expect(() => readingsOfLog(table, map)).toThrow(
      /line 2, t: is "yesterday".*line 3, V: is "low".*line 4, V: 2540 V cannot be right/s,
    );
    expect(() => readingsOfLog([['t']], { ...map, time: 4 })).toThrow('has no column 5');
  });
  test('of a long log two hundred are kept, the first and the last among them', () => {
    const table = [
      ['t', '', 'V'],
      ...Array.from({ length: 1441 }, (_, i) => [new Date(i * 60_000).toISOString(), '', String(20 + i / 1000)]),
    ];
    const read = readingsOfLog(table, map);
    expect(read).toHaveLength(MOST_OF_A_COLUMN);
    expect([read[0]!.value, read.at(-1)!.value]).toEqual([20, 21.44]);
    expect(new Set(read.map(({ at }) => at)).size).toBe(MOST_OF_A_COLUMN);
  });
  test('a device is known again by its header', () =>
    expect(deviceOfLog([' Time', 'VOLTS '])).toBe(deviceOfLog(['time', 'volts'])));
});
