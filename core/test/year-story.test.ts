import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import {
  darkSentence,
  mergeChanges,
  modelOf,
  readSystemFile,
  spellSentence,
  yearStory,
  yearWhatIfs,
  type YearStory,
} from '../src/index';

const read = (name: string) =>
  modelOf(
    readSystemFile(readFileSync(join(__dirname, '../../docs/format/reference', `${name}.lantern.json`), 'utf8')).file,
  );
const seeded = { kind: 'seeded', seed: 2 } as const;

const story = (over: Partial<YearStory>): YearStory =>
  ({
    count: 200,
    darkMonths: Array.from({ length: 12 }, () => 0),
    darkYears: 0,
    worst: { year: 0, start_h: 0, hours: 0 },
    ...over,
  }) as YearStory;
const months = (...chances: [month: number, chance: number][]) =>
  Array.from({ length: 12 }, (_, month) => chances.find(([at]) => at === month)?.[1] ?? 0);

describe('what a year says', () => {
  test('the question that customers ask, by the worst month', () => {
    expect(darkSentence(story({}))).toBe('Never dark in 200 years.');
    expect(darkSentence(story({ darkYears: 0.1, darkMonths: months([0, 0.095], [11, 0.01]) }))).toBe(
      'Dark in 19 of 200 Januaries.',
    );
    expect(darkSentence(story({ darkYears: 1, darkMonths: months([11, 1]) }))).toBe(
      'Dark in every one of 200 Decembers.',
    );
    expect(darkSentence(story({ count: 1 }))).toBe('Never dark in a mean year.');
    expect(darkSentence(story({ count: 1, darkYears: 1, darkMonths: months([1, 1]) }))).toBe(
      'Dark in a mean February.',
    );
  });
  test('the longest spell, with its date: hours up to two days, then days', () => {
    expect(spellSentence(story({}))).toBe('The bank never goes below its planning depth.');
    // The 32nd day of the year is the first of February.
    const spell = (start_h: number, hours: number, count = 200) =>
      spellSentence(story({ count, worst: { year: 3, start_h, hours } }));
    expect(spell(31 * 24 + 5, 31)).toBe(
      'The longest spell dark or below the planning depth: 31 hours from 1 February, in one year of 200.',
    );
    expect(spell(8 * 24, 100, 1)).toBe('The longest spell dark or below the planning depth: 4 days from 9 January.');
    expect(spell(0, 1)).toContain('1 hour from 1 January');
  });
});

describe('many years of one system', () => {
  const model = read('sagging-12v');
  const many = yearStory(model, seeded, 8);
  test('means of sums, chances, the worst of all years, where depth and cut-off lie', () => {
    expect(many.days).toHaveLength(365);
    const sum = many.months.reduce((all, { used_kWh }) => all + used_kWh, 0);
    expect(sum).toBeCloseTo(many.totals.used_kWh, 6);
    expect(many.totals.unservedBy_kWh['3']).toBeCloseTo(many.totals.unserved_kWh, 6);
    expect(many.darkYears).toBe(1);
    expect(Math.max(...many.darkMonths)).toBe(1);
    // agm: half of it is planned with, an inverter lets go at a fifth.
    expect([many.depthAt, many.cutAt]).toEqual([0.5, 0.2]);
    expect(many.worst.hours).toBeGreaterThanOrEqual(yearStory(model, seeded, 1).worst.hours);
  });
  test('what one would try at once: twice the bank, a string more, the largest load for half its hours; each helps here', () => {
    const tries = yearWhatIfs(model);
    expect(tries.map(({ id }) => id)).toEqual(['bank', 'string', 'less']);
    const before = many.totals;
    for (const { changes, id } of tries) {
      const after = yearStory({ ...model, system: mergeChanges(model.system, changes) }, seeded, 8).totals;
      if (id === 'less')
        expect(after.used_kWh + after.unserved_kWh).toBeLessThan(before.used_kWh + before.unserved_kWh);
      expect(after.unserved_kWh).toBeLessThan(before.unserved_kWh);
    }
    expect(mergeChanges(model.system, tries[0]!.changes).bank!.parallel).toBe(2 * model.system.bank!.parallel);
  });
  test('nothing is offered where there is nothing', () => {
    expect(yearWhatIfs({ ...model, system: {} })).toEqual([]);
  });
});
