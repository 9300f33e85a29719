import { randomUUID } from 'node:crypto';
import { checkSystemFile, fromRows, mapText, questionsOf, readMap, toRows, valuesOf, type Mapped } from '../src/index';

/** Registers of a device as figures of parts. */

const entry = (register: number, more: Partial<Mapped> = {}): Mapped => ({
  register,
  function: 3,
  type: 'u16',
  order: 'big',
  scale: 1,
  offset: 0,
  subject: 'b',
  quantity: 'load_V',
  ...more,
});
const read = (map: Mapped[], words: Record<number, number>) => {
  const asked = questionsOf(map);
  const answers = asked.map(({ register, count }) => Array.from({ length: count }, (_, i) => words[register + i] ?? 0));
  return valuesOf(map, asked, answers, 5);
};
const figure = (more: Partial<Mapped>, ...words: number[]) =>
  read([entry(10, more)], Object.fromEntries(words.map((word, i) => [10 + i, word]))).values[0]?.value;

describe('what a register says', () => {
  test.each([
    // 0xFFF6 is -10 in two's complement.
    ['u16', { type: 'u16', scale: 0.1 }, [524], 52.4],
    ['s16 below zero', { type: 's16', quantity: 'head_A', scale: 0.1 }, [0xfff6], -1],
    ['u32, high word first', { type: 'u32', quantity: 'pv_A' }, [0x0001, 0x0002], undefined],
    [
      'u32, high word first, in milliamperes',
      { type: 'u32', quantity: 'pv_A', scale: 0.001 },
      [0x0001, 0x0002],
      65.538,
    ],
    ['u32, low word first', { type: 'u32', quantity: 'pv_A', scale: 0.001, order: 'little' }, [0x0002, 0x0001], 65.538],
    ['s32 below zero', { type: 's32', quantity: 'head_A', scale: 0.001 }, [0xffff, 0xfc18], -1],
    // 0x41CC0000 is 25.5 (IEEE 754).
    ['f32', { type: 'f32' }, [0x41cc, 0x0000], 25.5],
    ['f32, low word first', { type: 'f32', order: 'little' }, [0x0000, 0x41cc], 25.5],
    ['an offset: -40 as many sensors count', { quantity: 'temp_C', scale: 0.5, offset: -40 }, [130], 25],
    ['not a number', { type: 'f32' }, [0x7fc0, 0x0000], undefined],
    ['volts that nothing here has: 65535 is "no value" of many devices', { scale: 0.1 }, [65_535], undefined],
  ] as [string, Partial<Mapped>, number[], number | undefined][])('%s', (_, more, words, expected) => {
    if (expected === undefined) expect(figure(more, ...words)).toBeUndefined();
    else expect(figure(more, ...words)).toBeCloseTo(expected, 6);
  });
  test('what cannot be is counted, the rest is kept, all at the same moment', () => {
    const { values, dropped } = read([entry(0, { scale: 0.1 }), entry(1, { scale: 0.1 })], { 0: 528, 1: 65_535 });
    expect(values).toEqual([{ at: 5, subject: 'b', quantity: 'load_V', value: 52.800000000000004 }]);
    expect(dropped).toBe(1);
  });
});

describe('the questions to a device', () => {
  test('registers side by side are asked for at once; a gap is not bridged; each function by itself', () => {
    const map = [entry(4), entry(0, { type: 'u32' }), entry(2), entry(3), entry(7), entry(3, { function: 4 })];
    expect(questionsOf(map)).toEqual([
      { function: 3, register: 0, count: 5 },
      { function: 3, register: 7, count: 1 },
      { function: 4, register: 3, count: 1 },
    ]);
  });
  test('no question is longer than the protocol has it, and none is lost', () => {
    const map = Array.from({ length: 200 }, (_, i) => entry(i));
    const asked = questionsOf(map);
    expect(asked.map(({ count }) => count)).toEqual([125, 75]);
    expect(read(map, Object.fromEntries(map.map(({ register }) => [register, 12]))).values).toHaveLength(200);
  });
  test('what an entry does not say is read as it usually is: a holding register, u16, as it stands', () => {
    const bare: Mapped = { register: 5, subject: 'b', quantity: 'load_V' };
    expect(read([bare], { 5: 52 }).values).toEqual([{ at: 5, subject: 'b', quantity: 'load_V', value: 52 }]);
  });
  test('a question that is refused costs its own registers alone', () => {
    const map = [entry(0), entry(9)];
    const { values } = valuesOf(map, questionsOf(map), [null, [13]], 1);
    expect(values.map(({ value }) => value)).toEqual([13]);
  });
});

describe('a map as somebody pastes it', () => {
  const parts = new Set(['b', 'cc']);
  test('goes there and back; a head, empty lines, tabs and semicolons are taken', () => {
    const map = [entry(0), entry(2, { type: 'f32', order: 'little', function: 4, scale: 0.1, offset: -4 })];
    expect(readMap(mapText(map), parts)).toEqual({ map, wrong: [] });
    const { map: pasted, wrong } = readMap(
      'Register;Function;...\n\n5;3;s16;big;0.1;0;cc;out_A\n6\t4\tu16\tbig\t\t\tb\tload_V\n',
      parts,
    );
    expect(wrong).toEqual([]);
    expect(pasted.map(({ register, scale, offset, subject }) => [register, scale, offset, subject])).toEqual([
      [5, 0.1, 0, 'cc'],
      [6, 1, 0, 'b'],
    ]);
  });
  test.each([
    ['5, 3, u16', 'columns'],
    ['70000, 3, u16, big, 1, 0, b, load_V', 'register'],
    [', 3, u16, big, 1, 0, b, load_V', 'register'],
    ['1, 6, u16, big, 1, 0, b, load_V', 'function'],
    ['1, 3, u64, big, 1, 0, b, load_V', 'type'],
    ['1, 3, u16, middle, 1, 0, b, load_V', 'order'],
    ['1, 3, u16, big, x, 0, b, load_V', 'scale'],
    ['1, 3, u16, big, 1, x, b, load_V', 'offset'],
    ['1, 3, u16, big, 1, 0, nowhere, load_V', 'subject'],
    ['1, 3, u16, big, 1, 0, b, volts', 'quantity'],
  ])('%s: wrong in its %s', (line, word) => {
    const { map, wrong } = readMap(`1, 3, u16, big, 1, 0, b, load_V\n${line}`, parts);
    expect(map).toHaveLength(1);
    expect(wrong).toHaveLength(1);
    expect(wrong[0]!.line).toBe(2);
    expect(wrong[0]!.why).toContain(word);
  });
});

describe('devices in the file', () => {
  const file = {
    format: 'true-lantern',
    version: 1,
    site: { name: 'hut' },
    system: { bank: { id: 'b', chemistry: 'lfp', block_V: 12.8, blockCapacity_Ah: 100, series: 1, parallel: 1 } },
    feeds: [{ id: 'inv', label: 'Inverter', kind: 'modbus-tcp', host: '10.8.0.2', map: [entry(0)] }],
  };
  const faults = (change: (feed: Record<string, unknown>) => void) => {
    const copy = structuredClone(file) as typeof file & { feeds: Record<string, unknown>[] };
    change(copy.feeds[0]!);
    try {
      checkSystemFile(copy);
      return [];
    } catch (error) {
      return (error as { faults: { path: string }[] }).faults.map(({ path }) => path);
    }
  };
  test('are rows of their own and come back the same', () => {
    const { file: checked } = checkSystemFile(file);
    const rows = toRows(checked, randomUUID);
    expect(rows.filter(({ kind }) => kind === 'feed')).toHaveLength(1);
    expect(fromRows(rows)).toEqual(checked);
  });
  test('what an older version kept as it was stands where the others stand', () => {
    const rows = toRows(checkSystemFile({ ...file, feeds: undefined }).file, randomUUID);
    rows.push({ id: 'x', kind: 'file', body: { feeds: file.feeds }, evidence: {}, position: 0, revision: 1 });
    expect(fromRows(rows).feeds).toEqual(file.feeds);
  });
  test.each([
    [(feed: Record<string, unknown>) => delete feed.host, 'feeds[0].host'],
    [(feed: Record<string, unknown>) => (feed.port = 70_000), 'feeds[0].port'],
    [(feed: Record<string, unknown>) => (feed.kind = 'telnet'), 'feeds[0].kind'],
    [(feed: Record<string, unknown>) => (feed.map = [entry(0, { subject: 'gone' })]), 'feeds[0].map[0].subject'],
    [(feed: Record<string, unknown>) => (feed.map = [entry(0, { function: 6 })]), 'feeds[0].map[0].function'],
    [(feed: Record<string, unknown>) => (feed.map = [entry(-1)]), 'feeds[0].map[0].register'],
  ])('what is wrong is named by its path %#', (change, path) => {
    expect(faults(change as (feed: Record<string, unknown>) => void)).toEqual([path]);
  });
});
