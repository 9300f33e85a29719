import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import {
  changesOfTries,
  darkSentence,
  dayName,
  isTrying,
  mergeChanges,
  modelOf,
  modelOfTries,
  NO_TRIES,
  readSystemFile,
  spellSentence,
  storyOf,
  yearDay,
  yearSlice,
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
    occupied: Array.from({ length: 12 }, () => true),
    totals: { harvest_kWh: 100, engine_kWh: 0, generator_kWh: 0, inlet_kWh: 0 },
    worst: { year: 0, start_h: 0, hours: 0 },
    ...over,
  }) as YearStory;
const months = (...chances: [month: number, chance: number][]) =>
  Array.from({ length: 12 }, (_, month) => chances.find(([at]) => at === month)?.[1] ?? 0);

describe('what a year says', () => {
  test('the question that customers ask, by the worst month', () => {
    expect(darkSentence(story({}))).toBe('Simulated over 200 years: the power never fails.');
    expect(darkSentence(story({ darkYears: 0.1, darkMonths: months([0, 0.095], [11, 0.01]) }))).toBe(
      'Simulated over 200 years: the power fails in 19 of 200 Januaries.',
    );
    expect(darkSentence(story({ darkYears: 1, darkMonths: months([11, 1]) }))).toBe(
      'Simulated over 200 years: the power fails in every December.',
    );
    expect(darkSentence(story({ count: 1 }))).toBe('In an average year the power never fails.');
    expect(darkSentence(story({ count: 1, darkYears: 1, darkMonths: months([1, 1]) }))).toBe(
      'In an average year the power fails in February.',
    );
  });
  test('months in which nobody is there do not stand for those in which somebody is', () => {
    const occupied = months([5, 1], [6, 1]).map(Boolean);
    const dark = (...chances: Parameters<typeof months>) =>
      darkSentence(story({ darkYears: 1, occupied, darkMonths: months(...chances) }));
    expect(dark([0, 1], [6, 0.1])).toBe('Simulated over 200 years: the power fails in 20 of 200 Julies.');
    expect(dark([0, 0.5])).toBe(
      'Simulated over 200 years: the power fails in 100 of 200 Januaries, while nobody is there.',
    );
  });
  test('a bank that nothing charges is said to be that, whatever the weather', () => {
    const model = read('sagging-12v');
    const bare = {
      ...model,
      system: { ...model.system, arrays: [], controllers: [], chargers: [], sources: [], runs: [] },
    };
    expect(darkSentence(yearStory(bare, seeded, 2))).toBe(
      'Nothing recorded here charges this bank. It runs flat and stays flat.',
    );
    expect(darkSentence(yearStory(model, seeded, 2))).toContain('the power fails');
  });
  test('the life of a bank is said with the depth it rests on: cycles by the day', () => {
    const model = read('sagging-12v');
    const { years } = yearSlice(model, seeded, 0, 3);
    const mean = years.reduce((sum, { cycles }) => sum + cycles, 0) / 3 / 365;
    expect(yearStory(model, seeded, 3).dailyDepth).toBeCloseTo(mean, 9);
    expect(mean).toBeGreaterThan(0.01);
  });
  test('the longest spell, with its date: hours up to two days, then days', () => {
    expect(spellSentence(story({}))).toBe('The bank never goes below its planned depth of discharge.');
    // The 32nd day of the year is the first of February.
    const spell = (start_h: number, hours: number, count = 200) =>
      spellSentence(story({ count, worst: { year: 3, start_h, hours } }));
    expect(spell(31 * 24 + 5, 31)).toBe(
      'Longest stretch without power or below the planned depth of discharge: 31 hours from 1 February, in one year of 200.',
    );
    expect(spell(8 * 24, 100, 1)).toBe(
      'Longest stretch without power or below the planned depth of discharge: 4 days from 9 January.',
    );
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
  test('what one would try at once: twice the bank, a string more, the largest load for half the hours; each helps here', () => {
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
  test('in slices by several threads, in whatever order they come, the same to the last bit', () => {
    const slices = [yearSlice(model, seeded, 5, 3), yearSlice(model, seeded, 0, 2), yearSlice(model, seeded, 2, 3)];
    expect(storyOf(slices)).toEqual(many);
  });
  test('by day: how often dark, the generator’s hours, and the year that stands lowest', () => {
    const { darkDays, generatorDays_h, lowYears } = many;
    expect([darkDays.length, generatorDays_h.length, lowYears.length]).toEqual([365, 365, 365]);
    // A month in which some year is dark has a day on which it is, and the other way round.
    const january = Math.max(...darkDays.slice(0, 31));
    expect(january > 0).toBe((many.darkMonths[0] ?? 0) > 0);
    expect(Math.max(...darkDays)).toBeLessThanOrEqual(1);
    expect(generatorDays_h.reduce((sum, hours) => sum + hours, 0)).toBeCloseTo(many.totals.generator_h, 6);
    const day = 10;
    const lows = Array.from({ length: 8 }, (_, year) => Math.min(...yearDay(model, seeded, year, day).soc));
    expect(lows[lowYears[day] ?? -1]).toBeCloseTo(Math.min(...lows), 12);
  });
  test('a day’s hours are those of its year: nothing served beyond what is asked, what is dark is not served', () => {
    const { sun_W, demand_W, served_W, soc } = yearDay(
      model,
      seeded,
      many.worst.year,
      Math.floor(many.worst.start_h / 24),
    );
    expect([sun_W, demand_W, served_W, soc].map((hours) => hours.length)).toEqual([24, 24, 24, 24]);
    demand_W.forEach((asked, h) => expect(served_W[h]).toBeLessThanOrEqual(asked + 1e-9));
    expect(Math.min(...soc)).toBeLessThan(many.depthAt + 1e-9);
  });
  test('days by name', () => {
    expect([0, 8, 31, 58, 59, 364].map(dayName)).toEqual([
      '1 January',
      '9 January',
      '1 February',
      '28 February',
      '1 March',
      '31 December',
    ]);
  });
  describe('what is tried by thumb', () => {
    const { system } = model;
    const load = system.loads![0]!;
    const array = system.arrays![0]!;
    test('nothing tried is nothing changed; what stands as it is, neither', () => {
      expect(isTrying(model, NO_TRIES)).toBe(false);
      expect(modelOfTries(model, NO_TRIES).system).toEqual(system);
      expect(
        changesOfTries(model, { ...NO_TRIES, hours: { [load.id]: load.hours_d }, parallel: system.bank!.parallel }),
      ).toEqual([]);
    });
    test('hours, tilt, strings, the bank: each the change of a proposal', () => {
      const tries = {
        ...NO_TRIES,
        hours: { [load.id]: 0 },
        tilt: { [array.id]: 70 },
        strings: { [array.id]: 2 },
        parallel: 3,
      };
      expect(changesOfTries(model, tries).map(({ at }) => at)).toEqual(['loads', 'arrays', 'arrays', 'bank']);
      const after = modelOfTries(model, tries).system;
      expect(after.loads![0]!.hours_d).toBe(0);
      expect(after.arrays![0]).toMatchObject({ tilt_deg: 70 });
      expect(after.arrays![0]!.strings).toHaveLength(array.strings.length + 2);
      expect(after.bank!.parallel).toBe(3);
    });
    test('the winter’s hours keep their share of the day’s, up to the whole day', () => {
      const of = (hours: number) =>
        changesOfTries(
          { ...model, system: { loads: [{ ...load, hours_d: 4, winterHours_d: 8 }] } },
          { ...NO_TRIES, hours: { [load.id]: hours } },
        )[0];
      expect(of(2)).toMatchObject({ value: { hours_d: 2, winterHours_d: 4 } });
      expect(of(20)).toMatchObject({ value: { hours_d: 20, winterHours_d: 24 } });
    });
    test('the generator by itself, where there is one; who is there is of the site, and no proposal', () => {
      const withGenerator = {
        ...model,
        system: { ...system, sources: [{ id: 'g', kind: 'generator' as const, power_W: 2000 }] },
      };
      expect(changesOfTries(withGenerator, { ...NO_TRIES, autoStart: true })).toEqual([
        { op: 'set', at: 'sources', id: 'g', value: { autoStart: true } },
      ]);
      expect(changesOfTries(withGenerator, { ...NO_TRIES, autoStart: false })).toEqual([]);
      const summer = { ...NO_TRIES, occupied: [6, 7, 8] };
      expect(changesOfTries(model, summer)).toEqual([]);
      expect(isTrying(model, summer)).toBe(true);
      expect(modelOfTries(model, summer).site.occupiedMonths).toEqual([6, 7, 8]);
    });
  });
  test('nothing is offered where there is nothing', () => {
    expect(yearWhatIfs({ ...model, system: {} })).toEqual([]);
  });
});
