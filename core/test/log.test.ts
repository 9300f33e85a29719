import fc from 'fast-check';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { FaultError, fromRows, readSystemFile, toRows, writeSystemFile, type SystemFile } from '../src/index';
import { farOut } from '../src/service/far-out';
import { found, timelineOf, timelineTable } from '../src/service/timeline';

const folder = join(__dirname, '../../docs/format/reference/look');
const text = readFileSync(join(folder, 'd01-window.lantern.json'), 'utf8');
const hut = (more: object = {}): SystemFile =>
  readSystemFile(JSON.stringify({ ...(JSON.parse(text) as object), ...more })).file;
const faultsOf = (more: object): string[] => {
  try {
    hut(more);
    return [];
  } catch (error) {
    return (error as FaultError).faults.map(({ path, message }) => `${path} ${message}`);
  }
};
const entry = (more: object) => ({ log: [{ id: 'e', at: '2026-01-01T09:00:00Z', kind: 'note', ...more }] });

describe('the log in a file', () => {
  test.each([
    [{ at: undefined }, 'log[0].at is missing'],
    [{ at: 'yesterday' }, 'log[0].at is "yesterday"'],
    [{ kind: 'painted' }, 'log[0].kind'],
    [{ kind: 'tested', what: 'nerves' }, 'log[0].what'],
    [{ subject: 'nobody' }, 'log[0].subject is "nobody", expected the id of a part, or of one that is in "gone"'],
    [{ corrects: 'nothing' }, 'log[0].corrects is "nothing", expected the id of an entry of the log'],
    [{ litres: -1 }, 'log[0].litres'],
  ])('%j is a fault with its path', (more, said) => {
    const faults = faultsOf(entry(more));
    expect(faults).toHaveLength(1);
    expect(faults[0]).toContain(said);
  });

  test('may name a part that left, and the site; so may a reading', () => {
    const gone = { gone: [{ id: 'old', label: 'The old bank' }] };
    expect(faultsOf({ ...entry({ subject: 'old' }), ...gone })).toEqual([]);
    expect(faultsOf({ ...gone, readings: [{ id: 'r', subject: 'old', quantity: 'rest_V', value: 12 }] })).toEqual([]);
    expect(faultsOf(entry({ subject: 'site' }))).toEqual([]);
  });

  test('goes through rows and back, byte for byte, what is in it that nobody knows too', () => {
    const file = hut({ ...entry({ subject: 'bank', mood: 'good' }), gone: [{ id: 'old', label: 'Old' }] });
    let n = 0;
    const rows = toRows(file, () => `row-${n++}`);
    expect(rows.filter(({ kind }) => kind === 'log' || kind === 'gone')).toHaveLength(2);
    expect(writeSystemFile(fromRows(rows))).toBe(writeSystemFile(file));
  });

  test('that a database kept before it was known goes on beside the rows of today', () => {
    const rows = toRows(hut({ log: [], readings: [] }), () => 'x');
    const old = {
      id: 'f',
      kind: 'file' as const,
      body: { log: [{ id: 'a', at: '2026-01-01T00:00:00Z', kind: 'note' }] },
      evidence: {},
      position: 0,
      revision: 1,
    };
    const now = {
      id: 'l',
      kind: 'log' as const,
      body: { id: 'b', at: '2026-02-01T00:00:00Z', kind: 'note' },
      evidence: {},
      position: 0,
      revision: 1,
    };
    const without = rows.filter(({ kind }) => kind !== 'file');
    expect(fromRows([...without, old, now]).log!.map(({ id }) => id)).toEqual(['a', 'b']);
  });

  test('what rests on a part that is there again is not taken for the one that left', () => {
    const file = hut({
      gone: [{ id: 'inv', label: 'Old inverter' }],
      evidence: { 'inv.idle_W': { grade: 'measured' } },
    });
    const rows = toRows(file, () => 'x');
    expect(rows.find(({ kind }) => kind === 'inverters')!.evidence).toEqual({ idle_W: { grade: 'measured' } });
  });
});

describe('the timeline', () => {
  const file = hut({
    ...entry({ at: '2026-03-01T09:00:00Z', kind: 'watered', subject: 'bank', litres: 3, text: 'all cells', by: 'Ann' }),
    readings: [
      { id: 'r', at: '2026-02-01T09:00:00Z', subject: 'bank', quantity: 'rest_V', value: 25.1, meter: 'Blue 17' },
    ],
    visits: [
      {
        id: 'v',
        at: '2026-04-01T09:00:00Z',
        people: 'Ann',
        why: 'dark',
        signed: { firm: { name: 'Ann Example', at: '2026-04-01' } },
      },
    ],
    proposals: [
      { id: 'p', title: 'More panels', changes: [], closed: { as: 'fitted', at: '2026-01-01T00:00:00Z', by: 'Ann' } },
    ],
  });
  test('has all of it, the latest first', () => {
    expect(timelineOf(file).map(({ title }) => title)).toEqual([
      'Visit, signed',
      'Topped up with water',
      'Resting voltage: 25.1\u00a0V',
      'Installed: More panels',
    ]);
  });
  test('is searched by any words in any order and case', () => {
    const titles = (words: string) => found(timelineOf(file), words).map(({ id }) => id);
    expect(titles('cells WATER')).toEqual(['e']);
    expect(titles('blue')).toEqual(['r']);
    expect(titles('2026-04')).toEqual(['v']);
    expect(titles('cells dark')).toEqual([]);
    expect(titles('  ')).toHaveLength(4);
  });
  test('shows what was struck out or corrected as that', () => {
    const two = hut({
      log: [
        { id: 'a', at: '2026-01-01T09:00:00Z', kind: 'note', text: 'left' },
        { id: 'b', at: '2026-01-02T09:00:00Z', kind: 'note', text: 'right', corrects: 'a' },
        { id: 'c', at: '2026-01-03T09:00:00Z', kind: 'note', text: 'wrong', struckOut: true },
      ],
      readings: [],
    });
    expect(timelineOf(two).map(({ id, struck }) => [id, struck])).toEqual([
      ['c', true],
      ['b', false],
      ['a', true],
    ]);
  });
  test('as a table has no formula in any cell', () => {
    fc.assert(
      fc.property(fc.constantFrom('=', '+', '-', '@', '\t'), fc.string({ maxLength: 20 }), (sign, rest) => {
        const lines = timelineOf(hut({ ...entry({ text: `${sign}${rest}x` }), readings: [] }));
        for (const cell of timelineTable(lines).flat()) expect(cell).not.toMatch(/^[=+@\t-]/);
      }),
    );
  });
});

describe('a reading far out of range', () => {
  const at = '2026-04-01T09:00:00Z';
  const far = (readings: object[]) =>
    farOut(hut({ readings: readings.map((one, i) => ({ id: `r${i}`, at, ...one })), log: [] }));
  const block = (index: number, value: number) => ({
    subject: 'bank',
    quantity: 'blockRest_V',
    value,
    position: { string: 0, block: index },
  });

  test('a cable that loses eight times what it should is said, one that loses a third more is not', () => {
    const drop = (value: number) =>
      far([{ subject: 'r-bi', quantity: 'drop_V', value, conditions: { current_A: 80 } }]);
    expect(drop(1.6)).toMatchObject([{ subject: 'r-bi', quantity: 'drop_V', value: 1.6 }]);
    expect(drop(1.6)[0]!.sentence).toContain('1.6\u00a0V read');
    expect(drop(0.2)).toEqual([]);
  });
  test('a block 1.5 V below its neighbours is said, whatever the charge; blocks that are alike are not', () => {
    expect(far([block(0, 6.4), block(1, 6.4), block(2, 4.9), block(3, 6.4)])).toMatchObject([
      { position: { string: 0, block: 2 }, expected: 6.4 },
    ]);
    expect(far([block(0, 6.4), block(1, 6.35), block(2, 6.3), block(3, 6.4)])).toEqual([]);
    // Two alone do not say which of them it is.
    expect(far([block(0, 6.4), block(1, 4.9)])).toEqual([]);
  });
  test('a bank at a third of its capacity is said; one at nine tenths is not', () => {
    const { bank } = hut().system;
    const label = bank!.blockCapacity_Ah * bank!.parallel;
    const held = (share: number) => far([{ subject: 'bank', quantity: 'capacity_Ah', value: share * label }]);
    expect(held(0.33)).toHaveLength(1);
    expect(held(0.9)).toEqual([]);
  });
  test('of a joint three times its limit counts, a little over does not', () => {
    const joint = (value: number) => far([{ subject: 'r-bi', quantity: 'joint_mohm', value }]);
    expect(joint(0.8)).toHaveLength(1);
    expect(joint(0.7)).toEqual([]);
  });
  test('what was mended since, or read years before, is not brought up again', () => {
    const bad = { id: 'r', at, subject: 'r-bi', quantity: 'drop_V', value: 1.6, conditions: { current_A: 80 } };
    const mended = hut({
      readings: [bad],
      log: [{ id: 'l', at: '2026-04-02T09:00:00Z', kind: 'retightened', subject: 'r-bi' }],
    });
    expect(farOut(mended, 20_600)).toEqual([]);
    expect(farOut(hut({ readings: [bad], log: [] }), 20_600)).toHaveLength(1);
    expect(farOut(hut({ readings: [bad], log: [] }), 21_100)).toEqual([]);
  });
  test('a system without readings, and the reference\u2019s own, are quiet', () => {
    expect(farOut(hut({ readings: [] }))).toEqual([]);
    expect(farOut(hut())).toEqual([]);
  });
});
