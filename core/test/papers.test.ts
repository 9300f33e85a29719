import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import {
  check,
  checkSystemFile,
  COMPARE_ROWS,
  fieldText,
  inputName,
  makePaper,
  METRIC,
  modelOf,
  namesOfProposals,
  readSystemFile,
  yearsOfLog,
  type Block,
  type BlockPaperKind,
  type Paper,
  type ShelfItem,
  type SystemFile,
} from '../src/index';
import { hut } from './hut';

/** A paper says what the system is, no more and no less; what is over, unknown or without a price is never left off. */

const site = (name: string): SystemFile =>
  readSystemFile(readFileSync(join(__dirname, `../../demo/sites/${name}.lantern.json`), 'utf8')).file;
const corrach = site('corrach-bothy');
const gannet = site('gannet-ledge');
const FEET = { length: 'ft', small: 'in', mass: 'lb', temperature: 'degF', size: 'AWG' } as const;
const SHELF: (ShelfItem & { id: string })[] = [
  { id: 's1', kind: 'moduleTypes', label: 'Tarnlight 235', price: 128, currency: 'GBP', body: { pmax_W: 235 } },
];
const paper = (file: SystemFile, kind: BlockPaperKind, about: string, more: object = {}): Paper =>
  makePaper(file, {
    kind,
    about,
    units: METRIC,
    day: '2026-12-02',
    shelf: SHELF,
    terms: { firm: 'Saltmarsh', tax_pct: 20, validity_d: 30, payment: 'Half on order.' },
    ...more,
  });
/** Everything that a paper says, a line each. */
const said = ({ title, under, blocks }: Paper): string[] => [title, under, ...blocks.flatMap(linesOf)];
const linesOf = (block: Block): string[] => {
  if (block.is === 'list') return block.items;
  if (block.is === 'table')
    return [block.columns.map(({ title }) => title), ...block.rows, ...(block.sums ?? [])].map((row) =>
      row.join(' | '),
    );
  if (block.is === 'finding') return [block.sentence, block.about, ...block.working, ...block.notes];
  if (block.is === 'line') return [block.title];
  if (block.is === 'svg') return [block.about];
  return block.is === 'sign' ? block.who : [block.text];
};
const tableUnder = ({ blocks }: Paper, head: string) => {
  const at = blocks.findIndex((block) => block.is === 'head' && block.text === head);
  const table = blocks.slice(at + 1).find((block) => block.is === 'table');
  return at >= 0 && table?.is === 'table' ? table : null;
};

describe('the survey report', () => {
  const report = paper(corrach, 'survey', 'found');

  test('begins with what is worst, then how much is known and how well', () => {
    const [, under, lead, known] = said(report);
    expect(under).toBe('Corrach bothy refuge, hut');
    expect(lead).toMatch(/154\u00a0V.*150\u00a0V/);
    expect(known).toBe(
      '21 parts recorded; of their figures 3 measured, 5 read from a plate, 2 stated by somebody, 1 assumed.',
    );
  });

  test('parts of one kind stand under its name, in the plural that English has', () => {
    const heads = (file: SystemFile) =>
      paper(file, 'survey', 'found').blocks.flatMap((block) => (block.is === 'head' ? [block.text] : []));
    const all = [corrach, gannet, site('whelk-bank'), site('harbour-workshop')].flatMap(heads);
    for (const head of ['Arrays', 'Switches', 'Cables']) expect(all).toContain(head);
    for (const head of all) expect(head).not.toMatch(/[aeiou]ies$|chs$|ys$(?<!arrays)/i);
  });
  test('months stand as their names, runs of them as a stretch', () => {
    const months = (value: number[]) =>
      fieldText(null, 'site', { occupiedMonths: value }, { path: 'occupiedMonths', kind: 'months' }, METRIC);
    expect(months([3, 4, 5, 6, 7, 8, 9, 10])).toBe('March to October');
    expect(months([12, 6, 7])).toBe('June to July, December');
    expect(months([1, 2, 10, 11, 12])).toBe('October to February');
    expect(months([1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12])).toBe('all year');
  });

  test('a figure says where it comes from, with its range where it is a guess', () => {
    const all = said(report).join('\n');
    expect(report.blocks.find((block) => block.is === 'table')).toMatchObject({ pairs: true });
    expect(all).toContain('150\u00a0V (nameplate)');
    expect(all).toMatch(/assumed, \u22120\.34\u00a0%\/K to \u22120\.25\u00a0%\/K/);
  });

  test('what nobody could see on site is not among what is in order', () => {
    const line = (begins: string) => said(report).find((text) => text.startsWith(begins));
    expect(line('Missing or wrong')).toContain('surge arrester');
    expect(line('Could not be seen')).toContain('main fuse');
    expect(line('In order')).not.toMatch(/main fuse|surge arrester/);
  });

  test('a cable whose fuse nobody saw says so; a load is multiplied out', () => {
    const model = hut((system) => {
      system.runs = [{ id: 'r', kind: 'battery-inverter', from: 'b', to: 'c', size: '35mm2', length_m: 1.5 }];
      system.loads = [{ id: 'l', label: 'Lamps', kind: 'dc', power_W: 5, quantity: 4, hours_d: 3 }];
    });
    const { file } = checkSystemFile({
      format: 'true-lantern',
      version: 1,
      site: model.site,
      schools: model.schools,
      system: model.system,
    });
    const made = paper(file, 'survey', 'found');
    expect(tableUnder(made, 'Cables')?.rows[0]).toEqual([
      'Bank to inverter',
      '35\u00a0mm²',
      '1.5\u00a0m',
      'not read',
      '',
    ]);
    expect(tableUnder(made, 'Loads')?.rows[0]).toEqual(['Lamps', '4', '5\u00a0W', '3\u00a0h', '60\u00a0Wh']);
  });

  test('in feet and degrees Fahrenheit for whom reads these', () => {
    const all = said(paper(corrach, 'survey', 'found', { units: FEET })).join('\n');
    expect(all).toContain('2001\u00a0ft');
    expect(all).toContain('\u221211.2\u00a0°F');
    expect(all).not.toMatch(/\d\u00a0°C/);
  });

  test('an open stop stands on it, a settled one does not', () => {
    const seen = (stopCard: object | null): SystemFile => ({
      ...corrach,
      site: { ...corrach.site, observations: { ...corrach.site.observations, noLeak: 'no' }, stopCard } as never,
    });
    const stops = (file: SystemFile) => said(paper(file, 'survey', 'found')).join('\n');
    expect(stops(seen(null))).toContain('A swollen or leaking cell');
    expect(stops(seen({ cell: { state: 'made-safe', by: 'Isla' } }))).not.toContain('A swollen or leaking cell');
  });
});

describe('the check report', () => {
  test('every finding stands on it once, in its place', () => {
    const model = modelOf(gannet, 'p-lfp');
    const findings = check(model);
    const report = paper(gannet, 'check', 'p-lfp');
    const count = (verdict: string) => findings.filter((one) => one.verdict === verdict).length;
    const blocks = (verdict: string) =>
      report.blocks.filter((block) => block.is === 'finding' && block.verdict === verdict).length;
    for (const verdict of ['over', 'tight', 'note']) expect(blocks(verdict)).toBe(count(verdict));
    expect(tableUnder(report, 'Unknown until measured')?.rows).toHaveLength(count('unknown'));
    const ok = tableUnder(report, 'OK')?.rows.length ?? 0;
    const listed = report.blocks.findLast((block) => block.is === 'list');
    expect(ok + (listed?.is === 'list' ? listed.items.length : 0)).toBe(count('holds'));
    expect(said(report)).toContain(
      `${count('over')} over, ${count('tight')} tight, ${count('unknown')} unknown, ${count('note')} notes, ${count('holds')} OK.`,
    );
    expect(report.under).toContain('Lithium bank, keep the modules');
  });

  test('a finding brings its working, what it rests on and what helps', () => {
    const block = paper(corrach, 'check', 'found').blocks.find((one) => one.is === 'finding');
    expect(block).toMatchObject({ verdict: 'over', about: 'Over · damage · open-circuit voltage (Voc) in the cold' });
    const lines = block ? linesOf(block).join('\n') : '';
    expect(lines).toContain('153.9\u00a0V against 150\u00a0V');
    expect(lines).toContain('Assumed: Tarnlight 235: Voc coefficient.');
    expect(lines).toContain('What helps: ');
  });

  test('by which standards it was judged is said, as they were chosen', () => {
    const strict = { ...corrach, schools: { ...corrach.schools, leadDepth: 0.3 } };
    const rows = (file: SystemFile) => tableUnder(paper(file, 'check', 'found'), 'Design standards')?.rows;
    expect(rows(strict)).toContainEqual(['Usable depth, lead', '30 %']);
    expect(rows(corrach)).not.toContainEqual(['Usable depth, lead', '30 %']);
  });

  test('no path of the format is printed to a person', () => {
    for (const file of [corrach, gannet])
      for (const line of said(paper(file, 'check', 'found')).concat(said(paper(file, 'survey', 'found'))))
        expect(line).not.toMatch(/observations|_[A-Z]|\w\.\w+_\w/);
  });
});

describe('an offer', () => {
  const offer = (ids: string[], more: object = {}) => paper(corrach, 'offer', namesOfProposals(ids), more);

  test('one proposal is its title; several are options with a letter each, beside the system as it is', () => {
    expect(offer(['p-two']).title).toBe('Proposal: Two in series, third set aside');
    const both = offer(['p-lantern', 'p-two']);
    expect(both.title).toBe('Options');
    expect(tableUnder(both, 'Side by side')?.columns.map(({ title }) => title)).toEqual([
      '',
      'As it is',
      'A: Two more modules',
      'B: Two in series, third set aside',
    ]);
    expect(said(both)).toContain('Option chosen: ____________________');
  });

  test('the tax is on what has a price, and what has none is said, not taken for free', () => {
    const table = tableUnder(offer(['p-lantern', 'p-two']), 'Side by side');
    expect(table?.sums).toEqual([
      ['Parts', '', '128.00 GBP', 'nothing to buy'],
      ['Tax 20\u00a0%', '', '25.60 GBP', ''],
      ['Total with tax', '', '153.60 GBP', ''],
      ['Without a price', '', '4 lines', ''],
    ]);
    const parts = tableUnder(offer(['p-lantern']), 'Parts');
    expect(parts?.rows.filter(([, , price]) => price === 'no price')).toHaveLength(4);
  });

  test('without a rate of tax there is none, and no total beside the sum', () => {
    const table = tableUnder(offer(['p-lantern'], { terms: { firm: 'S' } }), 'What it gives');
    expect(table?.sums?.map(([label]) => label)).toEqual(['Parts', 'Without a price']);
  });

  test('what it leaves over stands on it as what it fixes does; a limit exceeded is counted in every column', () => {
    const made = offer(['p-two']);
    const lines = said(made);
    expect(lines).toContain(
      'On the coldest morning the string reaches 154\u00a0V; this controller is rated for 150\u00a0V.',
    );
    expect(lines.indexOf('Still over')).toBeGreaterThan(lines.indexOf('What it fixes'));
    const [label, now] = tableUnder(made, 'What it gives')?.rows[0] ?? [];
    const over = check(modelOf(corrach)).filter(({ verdict }) => verdict === 'over').length;
    expect([label, now]).toEqual(['Limits exceeded', String(over)]);
  });

  test('valid as many days as the firm says, from the day on it', () => {
    expect(said(offer(['p-two']))).toContain('Valid until 2027-01-01.');
  });

  test('a row in which nobody has anything (no generator, no fuel) is left out', () => {
    const rows = tableUnder(offer(['p-two']), 'What it gives')?.rows.map(([label]) => label);
    expect(rows).toContain('Days without sun');
    expect(rows).not.toContain('Fuel a year');
    expect(COMPARE_ROWS.map(({ label }) => label)).toContain('Fuel a year');
  });

  test('what is not there, nothing, and more than three are refused with the member', () => {
    expect(() => offer(['p-none'])).toThrow(/about: is "p-none", expected the id of a proposal/);
    expect(() => offer([])).toThrow(/about: names 0 proposals, expected 1 to 3/);
    expect(() => offer(['a', 'b', 'c', 'd'])).toThrow(/about: names 4 proposals/);
    expect(() => paper(corrach, 'offer', '%zz')).toThrow(/about: is "%zz"/);
  });

  test('ids with commas and strokes are told apart in an address', () => {
    expect(namesOfProposals(['a,b', 'c/d'])).toBe('a%2Cb,c%2Fd');
    expect(() => offer(['p,x'])).toThrow(/is "p,x"/);
  });
});

test('parts and cuts: a box to tick each, lengths with their ends, what goes and what it weighs', () => {
  const made = paper(gannet, 'parts', 'p-lfp');
  const cuts = tableUnder(made, 'Cuts');
  expect(cuts?.boxes).toBe(true);
  expect(cuts?.rows[0]).toEqual(['East to controller', '4\u00a0AWG', '2 × 19.8\u00a0m', '18\u00a0m', '4']);
  expect(tableUnder(made, 'To take away')?.rows.at(-1)?.slice(0, 2)).toEqual([
    '16 blocks of flooded lead, 225 Ah each',
    '464\u00a0kg',
  ]);
  expect(tableUnder(made, 'Kit')?.rows.join(' ')).toContain('breaking capacity at least 24,613\u00a0A');
});

test('the log of a year has that year alone, the earliest first, and what was struck out as such', () => {
  const entry = (id: string, at: string, more: object = {}) => ({ id, at, kind: 'note', text: `note ${id}`, ...more });
  const file = {
    ...corrach,
    readings: [],
    visits: [],
    proposals: [],
    log: [
      entry('b', '2026-07-01T10:00:00Z', { by: 'Isla' }),
      entry('a', '2026-01-01T00:00:00Z'),
      entry('c', '2025-12-31T23:59:00Z'),
      entry('d', '2026-08-01T10:00:00Z', { struckOut: { by: 'Isla', at: '2026-08-02T10:00:00Z' } }),
    ],
  } as unknown as SystemFile;
  const made = paper(file, 'log', '2026');
  const [table] = made.blocks.filter((block) => block.is === 'table');
  expect(table?.rows.map(([day, , text]) => `${day} ${text}`)).toEqual([
    '2026-01-01 note a',
    '2026-07-01 note b',
    '2026-08-01 note d',
  ]);
  expect(table?.rows.map(([, what]) => what?.includes('struck out'))).toEqual([false, false, true]);
  expect(table?.rows[1]?.[3]).toBe('Isla');
  expect(yearsOfLog(file)).toEqual([2026, 2025]);
  expect(said(paper(file, 'log', '2019'))).toContain('Nothing was noted in 2019.');
  expect(() => paper(file, 'log', 'last')).toThrow(/about: is "last", expected a year like 2026/);
});

test('the hand-over as a paper says what the page says, switching off first', () => {
  const lines = said(paper(corrach, 'handover', 'found'));
  expect(lines[2]).toBe('In an emergency: switching everything off');
  expect(lines).toContain('What not to do');
});

test('an input is called by its part and its field; what was looked for on site by its words', () => {
  const model = modelOf(corrach);
  expect(inputName(model, 'site.observations.mainFuse')).toBe('On site: main fuse');
  expect(inputName(model, 'bank')).toBe('Bank');
  expect(inputName(model, 'schools.refill_d')).toBe('Design standard: days to refill');
  expect(inputName(model, 'schools.drop_pct.pv')).toBe('Design standard: voltage drop, PV');
});

describe('a roof to mark out', () => {
  const flat = (roof: object, file: SystemFile = corrach): SystemFile => ({
    ...file,
    system: { ...file.system, roofs: [{ id: 'r', ...roof }] },
  });
  /** 5 m by 3 m; its corner 200 mm in and 100 mm up from the tape's nought. */
  const OUTLINE = [
    [200, 100],
    [5200, 100],
    [5200, 3100],
    [200, 3100],
  ];
  const modules = (made: Paper) => tableUnder(made, 'Modules')?.rows;

  test('each module\u2019s four edges and its near corner are measured from corner A, not from the tape\u2019s nought', () => {
    const placed = [
      { arrayId: 'roof', string: 0, index: 0, x: 500, y: 500 },
      { arrayId: 'roof', string: 0, index: 1, x: 1400, y: 500, turned: true },
    ];
    const made = paper(flat({ outline_mm: OUTLINE, placed, label: 'Shed' }), 'roof', 'r');
    expect(made.title).toBe('Shed: marking out');
    // 808 by 1580 mm; the second lies along the roof. From A: 300 and 400, so 500 from corner to corner.
    expect(modules(made)).toEqual([
      ['1: Roof array, string 1, module 1', '300', '1108', '400', '1980', '500'].map(mm),
      ['2: Roof array, string 1, module 2', '1200', '2780', '400', '1208', '1265'].map(mm),
    ]);
    expect(said(made)).toContain(
      'Measure from corner A: to the right, and ahead. Keep 100\u00a0mm to the edge and 20\u00a0mm between modules. Both diagonals of a module are equal when it is square.',
    );
  });
  const mm = (text: string, i: number) => (i === 0 ? text : `${text}\u00a0mm`);

  test('a module too near the edge is said, in the drawing as in words', () => {
    const placed = [{ arrayId: 'roof', string: 0, index: 0, x: 250, y: 500 }];
    const made = paper(flat({ outline_mm: OUTLINE, placed, tilt_deg: 30 }), 'roof', 'r');
    expect(said(made)).toContain('Module 1: 50 mm too near the edge');
    expect(said(made).join(' ')).toContain('to the right, and up the slope');
  });

  test('before any is placed it shows where the most fit, and says that', () => {
    const made = paper(flat({ outline_mm: OUTLINE }), 'roof', 'r');
    expect(said(made)).toContain('No module is placed yet: this is where the most fit.');
    // Within the edge 4.8 by 2.8 m are left: three of 1.58 m along it with gaps are 4.78 m, three of 808 mm deep 2.464 m.
    expect(modules(made)).toHaveLength(9);
  });

  test('what stands on it has its distances and its height; a tree far off stays out of the drawing', () => {
    const obstacles = [
      { id: 'h', kind: 'hatch', outline_mm: [[3000, 2000], [3500, 2000], [3500, 2500], [3000, 2500]], height_mm: 80, movable: true }, // prettier-ignore
      { id: 't', kind: 'tree', circle_mm: [20_000, 2000, 1500], height_mm: 6000 },
    ];
    const made = paper(flat({ outline_mm: OUTLINE, obstacles }), 'roof', 'r');
    expect(tableUnder(made, 'On the roof')?.rows[0]).toEqual(
      ['Hatch (can be moved)', '2800', '3300', '1900', '2400', '80'].map(mm),
    );
    const drawing = made.blocks.find((block) => block.is === 'svg');
    expect(drawing?.is === 'svg' && drawing.svg).not.toContain('r="1');
    expect(drawing?.is === 'svg' && drawing.svg.match(/<rect/g)).toHaveLength(modules(made)?.length ?? 0);
  });

  test('a roof that is not there is refused', () => {
    expect(() => paper(corrach, 'roof', 'nowhere')).toThrow(/about: is "nowhere", expected the id of a roof/);
  });
});
