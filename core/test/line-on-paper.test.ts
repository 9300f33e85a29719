import {
  bandText,
  check,
  conditionsAsked,
  conditionsOf,
  conditionWords,
  lastReadings,
  layoutLine,
  lineSvg,
  METRIC,
  modelOf,
  provedOf,
  readingText,
  subjectName,
  testKey,
  walkOrder,
  type ExpectedTest,
  type Reading,
  type SystemFile,
  type Visit,
} from '../src/index';
import { brokenInto, linesOf, widthOf } from '../src/written/measure';
import { FACTORS, shownUnit, toShown } from '../src/written/units';
import corrach from '../../demo/sites/corrach-bothy.lantern.json';
import { SITES } from './open';

const IMPERIAL = { length: 'ft', small: 'in', mass: 'lb', temperature: 'degF', size: 'AWG' } as const;
/** The letters of a drawing, a line each. */
const lettersOf = (svg: string) =>
  [...svg.matchAll(/<text [^>]*>([^<]*)<\/text>/g)].map(([, text = '']) =>
    text
      .replace(/&lt;/g, '<')
      .replace(/&gt;/g, '>')
      .replace(/&quot;/g, '"')
      .replace(/&amp;/g, '&')
      .replace(/\u00a0/g, ' '),
  );

describe('the Line on paper', () => {
  test.each(SITES)(
    '%s: every part says its name, nothing runs out of the drawing, no number is missing',
    (_, model) => {
      const width = 620;
      const layout = layoutLine(model.system, check(model), '', { width, dense: true, foldLoads: true });
      const svg = lineSvg(layout, width);
      expect(svg).not.toMatch(/NaN|undefined|null|Infinity/);
      const letters = lettersOf(svg);
      for (const row of layout.rows) if (row.type === 'station') expect(letters.join(' ')).toContain(row.title);
      for (const [, x = '', y = '', size = '', anchor = '', text = ''] of svg.matchAll(
        /<text x="([^"]+)" y="([^"]+)" font-family="[^"]+" font-size="([^"]+)" font-weight="[^"]+" text-anchor="([^"]+)">([^<]*)/g,
      )) {
        const wide = widthOf(text, Number(size));
        const left = anchor === 'end' ? Number(x) - wide : anchor === 'middle' ? Number(x) - wide / 2 : Number(x);
        expect(left).toBeGreaterThanOrEqual(0);
        expect(left + wide).toBeLessThanOrEqual(width + 1);
        expect(Number(y)).toBeGreaterThan(0);
        expect(Number(y)).toBeLessThanOrEqual(layout.height);
      }
      // A stroke for each cable with its fuse's rating, and the bus twice where something draws.
      for (const row of layout.rows) if (row.type === 'cable' && row.fuse) expect(letters).toContain(row.fuse);
    },
  );
  test('beside the system as found, what is new and what changes says so; what a name holds is no markup', () => {
    const file = structuredClone(corrach) as unknown as SystemFile;
    const named = file.system.controllers![0]!;
    named.label = 'T60 <"&">';
    const svg = lineSvg(
      layoutLine(modelOf(file, 'p-relay').system, [], '', { base: modelOf(file).system, width: 620, dense: true }),
      620,
    );
    expect(svg).not.toContain('<"&">');
    expect(lettersOf(svg).some((line) => line.startsWith('T60 <"&">'))).toBe(true);
    expect(lettersOf(svg).join('|')).toMatch(/\(new\).*\(changed\)|\(changed\).*\(new\)/);
  });
  test('in a person’s units', () => {
    const letters = lettersOf(
      lineSvg(layoutLine(SITES[0]![1].system, [], '', { units: IMPERIAL, width: 620 }), 620),
    ).join('|');
    expect(letters).toMatch(/\d ft/);
    expect(letters).not.toMatch(/\d m\b/);
  });
  test('words are parted at spaces only, and as many lines as are said', () => {
    expect(brokenInto('one two', 10, 1000)).toEqual(['one two']);
    expect(brokenInto('one two', 10, widthOf('one two', 10))).toEqual(['one two']);
    expect(brokenInto('one two', 10, widthOf('one two', 10) - 0.1)).toEqual(['one', 'two']);
    expect(brokenInto('unbreakable', 10, 1)).toEqual(['unbreakable']);
    expect(brokenInto('', 10, 1)).toEqual(['']);
    expect(linesOf('one two three', 10, widthOf('two three', 10))).toBe(2);
    expect(widthOf('00', 20)).toBeCloseTo(26, 9);
  });
});

describe('figures in a person’s units', () => {
  test('feet, inches, pounds, Fahrenheit; what has no other unit stays', () => {
    expect(toShown(3.048, 'm', IMPERIAL)).toBeCloseTo(10, 9);
    expect(toShown(254, 'mm', IMPERIAL)).toBeCloseTo(10, 9);
    expect(toShown(0.45359237, 'kg', IMPERIAL)).toBeCloseTo(1, 9);
    expect(toShown(-40, 'degC', IMPERIAL)).toBe(-40);
    expect(toShown(100, 'degC', IMPERIAL)).toBe(212);
    expect(toShown(12, 'V', IMPERIAL)).toBe(12);
    expect(['m', 'mm', 'kg', 'degC', 'A'].map((unit) => shownUnit(unit, IMPERIAL))).toEqual([
      'ft',
      'in',
      'lb',
      'degF',
      'A',
    ]);
    expect(['m', 'mm', 'kg', 'degC'].map((unit) => shownUnit(unit, METRIC))).toEqual(['m', 'mm', 'kg', 'degC']);
  });
  test('what may be written behind a number: the international inch, pound and hour', () =>
    expect(FACTORS).toEqual({
      m: { m: 1, ft: 0.3048, in: 0.0254, cm: 0.01, mm: 0.001 },
      mm: { mm: 1, cm: 10, m: 1000, in: 25.4, ft: 304.8 },
      kg: { kg: 1, g: 0.001, lb: 0.45359237, oz: 0.028349523 },
      cm2: { cm2: 1, in2: 6.4516 },
      W: { w: 1, kw: 1000 },
      VA: { va: 1, kva: 1000 },
      V: { v: 1, mv: 0.001 },
      A: { a: 1, ma: 0.001, ka: 1000 },
      mohm: { mohm: 1, ohm: 1000 },
      h: { h: 1, min: 1 / 60 },
    }));
  test('a band: both ends, one end, none; as many digits as tell the ends apart', () => {
    const band = (
      low: number | null,
      high: number | null,
      unit = 'V',
      units: Parameters<typeof bandText>[1] = METRIC,
    ) => bandText({ expected: 26.6, low, high, unit }, units).replace(/\u00a0/g, ' ');
    expect(band(26.4, 26.9)).toBe('26.6 V, 26.4 to 26.9');
    expect(band(10, 40)).toBe('26.6 V, 10 to 40');
    expect(band(null, 0.25, 'mohm')).toBe('at most 0.25 mohm');
    expect(band(1, null, 'Mohm')).toBe('at least 1 Mohm');
    expect(band(null, null)).toBe('26.6 V');
    expect(bandText({ expected: 25, low: 20, high: 30, unit: 'degC' }, IMPERIAL).replace(/\u00a0/g, ' ')).toBe(
      '77 °F, 68 to 86',
    );
    expect(bandText({ expected: 0.8, low: 0.7, high: 0.9, unit: '' })).toBe('0.8, 0.7 to 0.9');
    expect(readingText(5, 'degC', IMPERIAL).replace(/\u00a0/g, ' ')).toBe('41 °F');
    expect(readingText(0.8, '')).toBe('0.8');
  });
});

describe('what was read, and in what', () => {
  const { system } = SITES.find(([name]) => name === 'Whelk Bank')![1];
  const bank = system.bank!.id;
  const reading = (at: string, quantity: string, value: number, more: Partial<Reading> = {}): Reading => ({
    id: `${at}${quantity}${value}`,
    at,
    subject: bank,
    quantity,
    value,
    ...more,
  });
  const last = (...readings: Reading[]) => {
    const found = lastReadings(system, readings).get(bank);
    return found && [found.quantity, found.value];
  };
  test('the last of a part; of one day the likeliest question: volts at rest before a cell’s density', () => {
    expect(last(reading('2026-05-01T10:00:00Z', 'rest_V', 53), reading('2026-06-01T10:00:00Z', 'temp_C', 12))).toEqual([
      'temp_C',
      12,
    ]);
    expect(last(reading('2026-06-01T09:00:00Z', 'rest_V', 53), reading('2026-06-01T10:00:00Z', 'temp_C', 12))).toEqual([
      'rest_V',
      53,
    ]);
    expect(last(reading('2026-06-01T09:00:00Z', 'rest_V', 53), reading('2026-06-01T10:00:00Z', 'rest_V', 54))).toEqual([
      'rest_V',
      54,
    ]);
    // A day and an hour before is another day.
    expect(last(reading('2026-05-31T09:00:00Z', 'rest_V', 53), reading('2026-06-01T10:00:00Z', 'temp_C', 12))).toEqual([
      'temp_C',
      12,
    ]);
    // The name that it had in older files; what nobody knows is left out.
    expect(last(reading('2026-06-01T09:00:00Z', 'restVoltage_V', 53))).toEqual(['rest_V', 53]);
    expect(last(reading('2026-06-01T09:00:00Z', 'colour', 5))).toBeUndefined();
  });
  test('what a reading is worth nothing without', () => {
    expect(conditionsAsked('stringIsc_A')).toEqual(['irradiance_W_m2', 'cell_C']);
    expect(conditionsAsked('rest_V')).toEqual(['rested_h', 'cell_C']);
    expect(conditionsAsked('drop_V')).toEqual(['current_A', 'cell_C']);
    expect(conditionsAsked('neutralEarth_ohm')).toEqual([]);
  });
  test('and how it is said', () => {
    const said = (conditions: Reading['conditions'], units: Parameters<typeof conditionWords>[1] = METRIC) =>
      conditionWords({ conditions }, units).replace(/\u00a0/g, ' ');
    expect(
      said({ irradiance_W_m2: 640, irradianceBy: 'meter', cell_C: 12, ambient_C: 5, rested_h: 8, current_A: 14 }),
    ).toBe('light 640 W/m² by the meter, cells at 12 °C, air 5 °C, rested 8 h, 14 A flowing');
    expect(said({ cell_C: 0 }, IMPERIAL)).toBe('cells at 32 °F');
    expect(said(undefined)).toBe('');
    expect(said({ occasion: 'generator on' })).toBe('generator on');
  });
  test('each test with the last reading of its place at that visit, what came of it, and why it is left so', () => {
    const test = (position: ExpectedTest['position']): ExpectedTest => ({
      id: `b/stringCurrent_A${JSON.stringify(position)}`,
      subject: bank,
      quantity: 'stringCurrent_A',
      unit: 'A',
      expected: 10,
      low: 9,
      high: 11,
      how: '',
      tool: '',
      minutes: 1,
      cautions: [],
      ...(position ? { position } : {}),
    });
    const visit: Visit = { id: 'v', reasons: { [testKey(test({ string: 1 }).id)]: 'a cold joint' } };
    const of = (value: number, string: number, more: Partial<Reading> = {}) =>
      reading('2026-06-01T09:00:00Z', 'stringCurrent_A', value, { position: { string }, visit: 'v', ...more });
    const [first, second, third] = provedOf(
      [test({ string: 0 }), test({ string: 1 }), test({ string: 2 })],
      [of(3, 0), of(10, 0), of(12, 1), of(10, 2, { visit: 'another' })],
      visit,
    );
    expect([first?.reading?.value, first?.judged, first?.reason]).toEqual([10, 'inside', null]);
    expect([second?.reading?.value, second?.judged, second?.reason]).toEqual([12, 'outside', 'a cold joint']);
    expect([third?.reading, third?.judged]).toEqual([null, null]);
    expect(provedOf([test({ string: 0 })], [of(3, 0)], null)[0]?.reading).toBeNull();
  });
  test('beside it what the same test read before this visit: before and after the work on one row', () => {
    const test = {
      id: 'b/rest_V',
      subject: bank,
      quantity: 'rest_V',
      unit: 'V',
      expected: 12.7,
      low: 12.6,
      high: 12.8,
      how: '',
      tool: '',
      minutes: 1,
      cautions: [],
    } satisfies ExpectedTest;
    const at = (moment: string, value: number, visit?: string) =>
      reading(`2026-${moment}T09:00:00Z`, 'rest_V', value, visit ? { visit } : {});
    const visit: Visit = { id: 'v', at: '2026-06-01T08:00:00Z' };
    const seen = (...readings: Reading[]) => {
      const [row] = provedOf([test], readings, visit);
      return [row?.before?.value, row?.reading?.value];
    };
    expect(seen(at('03-01', 12.1), at('04-01', 12.2, 'old'), at('06-01', 12.7, 'v'))).toEqual([12.2, 12.7]);
    expect(seen(at('06-01', 12.7, 'v'))).toEqual([undefined, 12.7]);
    // A later visit is not before it.
    expect(seen(at('06-01', 12.7, 'v'), at('08-01', 12.3, 'later'))).toEqual([undefined, 12.7]);
    expect(seen(at('03-01', 12.1))).toEqual([12.1, undefined]);
  });
  test('a walk: part by part, at each all that one instrument reads, beginning with the one in the hand', () => {
    const one = (subject: string, quantity: string, tool: string) =>
      ({ id: `${subject} ${quantity}`, subject, quantity, tool }) as ExpectedTest;
    const walked = walkOrder([
      one('array', 'Voc', 'voltmeter'),
      one('array', 'Isc', 'clamp'),
      one('array', 'Vmp', 'voltmeter'),
      one('bank', 'rest', 'voltmeter'),
      one('bank', 'current', 'clamp'),
      one('bank', 'load', 'voltmeter'),
      one('site', 'earth', 'ohmmeter'),
    ]).map(({ id }) => id);
    expect(walked).toEqual([
      'array Voc',
      'array Vmp',
      'array Isc',
      'bank current',
      'bank rest',
      'bank load',
      'site earth',
    ]);
    expect(walkOrder([])).toEqual([]);
  });
  test('conditions of a visit: what was entered, else what the command takes', () => {
    expect(conditionsOf(null, 0.7)).toEqual({
      irradiance_W_m2: 800,
      irradianceBy: 'cell',
      cell_C: null,
      ambient_C: 20,
      soc: 0.8,
      share: 0.5,
      load_A: 0,
      meter_pct: 0.7,
    });
    expect(conditionsOf({ conditions: { ambient_C: 0, soc: 0 } }, 0.5)).toMatchObject({
      ambient_C: 0,
      soc: 0,
      share: 0.5,
    });
  });
  test('a point in a name would lead a level down', () => expect(testKey('inv.2/idle_A')).toBe('inv~2~idle_A'));
  test('what a test is about', () => {
    expect(subjectName({ system }, 'site')).toBe('The whole site');
    expect(subjectName({ system }, 'nobody')).toBe('A part that was removed');
    expect(subjectName({ system }, bank)).toBe('Three Ostrum racks');
  });
});
