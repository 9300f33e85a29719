import { DEMO_SHELF } from '../../demo/shelf';
import {
  checkShelfItem,
  FaultError,
  itemsOfTable,
  searchShelf,
  shelfTable,
  SHELF_KINDS,
  type ShelfItem,
} from '../src/index';

const faultsOf = (act: () => unknown): string[] => {
  try {
    act();
  } catch (error) {
    if (error instanceof FaultError) return error.faults.map(({ path, message }) => `${path}: ${message}`);
    throw error;
  }
  return [];
};

describe('the shelf', () => {
  test('every made-up part is one that the format could hold, and each kind has one', () => {
    const checked = DEMO_SHELF.map(checkShelfItem);
    expect(new Set(checked.map(({ kind }) => kind))).toEqual(new Set(SHELF_KINDS));
  });
  test('goes out as a table and comes back the same', () => {
    const items = DEMO_SHELF.map(checkShelfItem);
    expect(itemsOfTable(shelfTable(items))).toEqual(items);
  });
  test('a battery on the shelf is one block: strings, age and place belong to a site', () => {
    const body = { chemistry: 'gel', block_V: 12, blockCapacity_Ah: 130, series: 2, parallel: 3, age_y: 4, place: {} };
    expect(checkShelfItem({ kind: 'bank', label: 'Gel', body }).body).toEqual({
      chemistry: 'gel',
      block_V: 12,
      blockCapacity_Ah: 130,
    });
  });
  test('an item the format could not hold names its fault', () => {
    expect(faultsOf(() => checkShelfItem({ kind: 'monitor', label: 'M', body: { shunt_A: 'many' } }))).toEqual([
      expect.stringMatching(/^body\.shunt_A: is "many", expected a number/),
    ]);
    expect(faultsOf(() => checkShelfItem({ kind: 'magic', label: 'M', body: {} }))[0]).toMatch(/^kind: is "magic"/);
    expect(faultsOf(() => checkShelfItem({ kind: 'monitor', label: ' ', body: {} }))[0]).toMatch(/^label: /);
    expect(faultsOf(() => checkShelfItem(null))[0]).toMatch(/^item: /);
  });
});

describe('a table that somebody else wrote', () => {
  test('without the columns that say what a line is, nothing is taken', () => {
    expect(
      faultsOf(() =>
        itemsOfTable([
          ['name', 'volts'],
          ['x', '1'],
        ]),
      ),
    ).toEqual([expect.stringContaining('line 1: has no column "part" and "label"')]);
  });
  test('a column that is no field is named with its line', () => {
    expect(
      faultsOf(() =>
        itemsOfTable([
          ['part', 'label', 'ohms'],
          ['monitor', 'M', '3'],
        ]),
      ),
    ).toEqual([expect.stringMatching(/^line 2, ohms: is no field of monitor/)]);
  });
  test('a decimal comma is refused with the number it should have been; nothing is guessed', () => {
    expect(
      faultsOf(() =>
        itemsOfTable([
          ['part', 'label', 'shunt_A'],
          ['monitor', 'M', '50,5'],
        ]),
      ),
    ).toEqual(['line 2, shunt_A: is "50,5", expected a number with a decimal point (50.5)']);
  });
  test('between semicolons a decimal comma is one, but 1,200 may be either and is refused', () => {
    const table = (amps: string) => [
      ['part', 'label', 'shunt_A'],
      ['monitor', 'M', amps],
    ];
    expect(itemsOfTable(table('50,5'), true)[0]?.body).toEqual({ shunt_A: 50.5 });
    expect(faultsOf(() => itemsOfTable(table('1,200'), true))).toHaveLength(1);
  });
  test('a prototype is no field', () => {
    expect(
      faultsOf(() =>
        itemsOfTable([
          ['part', 'label', '__proto__.x'],
          ['monitor', 'M', '3'],
        ]),
      ),
    ).toHaveLength(1);
    expect(({} as Record<string, unknown>).x).toBeUndefined();
  });
});

describe('searching as one types', () => {
  const items = DEMO_SHELF.map(checkShelfItem);
  test('every word counts, in names, kinds and figures', () => {
    expect(searchShelf(items, 'brackwell 60 250').map(({ label }) => label)).toEqual(['Brackwell T60-250']);
    expect(searchShelf(items, 'lfp 280').map(({ label }) => label)).toEqual(['Pell Prism 280']);
  });
  test('what begins with the word comes first, numbers in their order', () => {
    const labels = searchShelf(items, 'tarnlight').map(({ label }) => label);
    expect(labels.slice(1, 4)).toEqual(['Tarnlight 100', 'Tarnlight 160', 'Tarnlight 235']);
  });
});

describe('a table that is opened in a spreadsheet', () => {
  const item = (label: string): ShelfItem => ({ kind: 'monitor', label, body: { shunt_A: 50 } });
  test.each([
    ['=HYPERLINK("http://x")', `'=HYPERLINK("http://x")`],
    ['+1+1', `'+1+1`],
    ['-2+3', `'-2+3`],
    ['@SUM(A1)', `'@SUM(A1)`],
    [`'=1`, `''=1`],
    ['-0.28', '-0.28'],
    ['+12', '+12'],
    ['Shunt -x', 'Shunt -x'],
    [`'tis a shunt`, `'tis a shunt`],
  ])('%s is written as %s, and comes back as it was', (label, cell) => {
    const table = shelfTable([item(label)]);
    expect(table[1]?.[1]).toBe(cell);
    expect(itemsOfTable(table)[0]?.label).toBe(label);
  });
  test('so is the name of a column that nobody knows', () =>
    expect(shelfTable([{ ...item('S'), body: { shunt_A: 50, '=cmd': 1 } }])[0]).toContain(`'=cmd`));
});
