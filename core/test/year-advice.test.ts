import gannet from '../../demo/sites/gannet-ledge.lantern.json';
import whelk from '../../demo/sites/whelk-bank.lantern.json';
import { mergeChanges, withSystem, type Change, type Model, type System } from '../src/index';
import { yearAdvice } from '../src/year/advice';
import { ASKED, type Advice, type Asked } from '../src/year/trials';
import { YearSimulator } from '../src/year/year';
import { open } from './open';

const asked: Asked = { ...ASKED, accept: 0.26, years: 4 };
const dark = (model: Model, years = asked.years) => {
  const simulator = new YearSimulator(model, { kind: 'seeded', seed: asked.seed });
  return (
    Array.from({ length: years }, (_, i) => simulator.year(i)).filter(({ totals }) => totals.off_h > 0).length / years
  );
};
const found = (advice: readonly Advice[], id: Advice['id']) => advice.find((one) => one.id === id);
const withChanges = (model: Model, changes: Change[]) => withSystem(model, mergeChanges(model.system, changes));

/** A sunny hut with a lithium bank too small for its nights, and modules too few for its days. */
const hut = (change: (system: System) => void = () => undefined): Model =>
  open(
    whelk,
    (file: {
      system: System;
      site: { climate: object; latitude_deg: number };
      readings: unknown[];
      visits: unknown[];
    }) => {
      file.readings = [];
      file.visits = [];
      file.site.latitude_deg = 40;
      file.site.climate = {
        globalHorizontal_kWh_m2_d: [2.2, 3, 4.2, 5.2, 6, 6.6, 6.6, 5.8, 4.6, 3.4, 2.4, 2],
        meanTemp_C: [5, 6, 9, 12, 16, 20, 23, 23, 19, 14, 9, 6],
      };
      file.system.sources = [];
      // A controller that is never the limit: what is short is sun or store.
      file.system.controllers![0]!.maxOutput_A = 400;
      change(file.system);
    },
  );

describe('fewest modules, smallest bank', () => {
  const short = hut((system) => {
    system.arrays![0]!.strings = system.arrays![0]!.strings.slice(0, 1);
    system.bank = { ...system.bank!, parallel: 1, blockCapacity_Ah: 60 };
    for (const load of system.loads ?? []) load.hours_d = Math.min(24, load.hours_d * 2);
  });
  const advice = yearAdvice(short, asked);
  test('the hut goes dark more often than is accepted', () => expect(dark(short)).toBeGreaterThan(asked.accept));
  test.each(['modules', 'bank'] as const)('%s: enough, and one fewer is not', (id) => {
    const one = found(advice, id)!;
    const read = /^(\d+) (module|string)s? more/.exec(one.text);
    if (!read) {
      // Then it must be true that none will do.
      expect(one.text).toMatch(/^No /);
      expect(one.changes).toBeNull();
      return;
    }
    const array = short.system.arrays![0]!;
    const string = array.strings[0]!;
    const count = Number(read[1]) / (id === 'modules' ? string.length : 1);
    const withMore = (n: number): Change[] =>
      id === 'modules'
        ? [
            {
              op: 'set',
              at: 'arrays',
              id: array.id,
              value: { strings: [...array.strings, ...Array.from({ length: n }, () => string)] },
            },
          ]
        : [{ op: 'set', at: 'bank', value: { parallel: short.system.bank!.parallel + n } }];
    expect(dark(withChanges(short, withMore(count)))).toBeLessThanOrEqual(asked.accept);
    expect(count === 1 || dark(withChanges(short, withMore(count - 1))) > asked.accept).toBe(true);
    // What turns something over is said, and is no proposal by itself.
    expect(one.changes === null).toBe(one.harms.length > 0);
  });
  test('modules for which the measured roof has no place are no proposal, and the roof is named as the reason', () => {
    const plain = found(advice, 'modules')!;
    const needed = Number(/^\d+/.exec(plain.text)![0]);
    const type = short.system.moduleTypes![0]!;
    const [width_mm, length_mm] = [1000, 1700];
    // Room for just what is there: modules side by side, 20 mm between them, 100 mm kept free all round.
    const there = short.system.arrays!.flatMap(({ strings }) => strings.flat()).length;
    const wide = 200 + there * width_mm + (there - 1) * 20;
    const onRoof = (outline: number): Model =>
      withSystem(short, {
        ...short.system,
        moduleTypes: [{ ...type, width_mm, length_mm }, ...short.system.moduleTypes!.slice(1)],
        arrays: short.system.arrays!.map((array) => ({ ...array, mounting: 'raised' as const })),
        roofs: [
          {
            id: 'top',
            outline_mm: [
              [0, 0],
              [outline, 0],
              [outline, 1900],
              [0, 1900],
            ],
          },
        ],
      });
    const refused = found(yearAdvice(onRoof(wide), asked), 'modules')!;
    expect(refused.changes).toBeNull();
    expect(refused.text).toContain(`It takes ${needed} module`);
    expect(refused.text).toContain(`${there + needed} do not fit`);
    const roomy = found(yearAdvice(onRoof(wide + needed * 1020), asked), 'modules')!;
    expect(roomy.text).toBe(plain.text);
  });
  test('at least one of the two is found here', () =>
    expect(advice.filter(({ text }) => /^\d+ (module|string)/.test(text)).length).toBeGreaterThan(0));
  test('a customer who accepts it every year needs nothing more', () => {
    const easy = yearAdvice(short, { ...asked, accept: 1 });
    expect(found(easy, 'modules')).toBeUndefined();
    expect(found(easy, 'bank')).toBeUndefined();
  });
});

test('a sound system is quiet: nobody is sent up a ladder for a year that is served', () => {
  const advice = yearAdvice(open(whelk), asked);
  expect(advice.map(({ id }) => id).filter((id) => id !== 'unused' && id !== 'generator')).toEqual([]);
});

describe('Gannet Ledge', () => {
  // The lights and the fridge run through the winter, when nobody is there to start the generator.
  const model = open(gannet, (file: { system: System }) =>
    file.system.loads!.forEach((load) => (load.unattended = load.id === 'lights' || load.id === 'fridge')),
  );
  const advice = yearAdvice(model, asked);
  test('a generator that starts by itself: its hours and litres, and how much less dark; no proposal, it takes a relay', () => {
    const one = found(advice, 'generator')!;
    const auto = withChanges(model, [{ op: 'set', at: 'sources', id: 'gen', value: { autoStart: true } }]);
    expect(dark(auto)).toBeLessThan(dark(model));
    expect(one.text).toContain(
      `cuts in ${Math.round(dark(auto) * asked.years)} of 4 years instead of ${Math.round(dark(model) * asked.years)} of 4`,
    );
    expect(one.changes).toBeNull();
  });
  test('PWM costs what the same array on an MPPT brings more, sun that nobody takes counted on both sides', () => {
    const one = found(advice, 'mppt')!;
    const sun = (changes: Change[]) => {
      const simulator = new YearSimulator(withChanges(model, changes), { kind: 'seeded', seed: asked.seed });
      return (
        Array.from({ length: asked.years }, (_, i) => simulator.year(i).totals).reduce(
          (sum, { harvest_kWh, unused_kWh }) => sum + harvest_kWh + unused_kWh,
          0,
        ) / asked.years
      );
    };
    const types: Change[] = ['pwm1', 'pwm2'].map((id) => ({
      op: 'set',
      at: 'controllers',
      id,
      value: { type: 'mppt' },
    }));
    const gain = sun(types) - sun([]);
    const said = Number(/gain (\d+(?:\.\d+)?) kWh/.exec(one.text)![1]);
    expect(Math.abs(said / gain - 1)).toBeLessThan(0.01);
  });
  test('a tilt for the scarcest month is steeper than for the year at 57 degrees north, and brings what it says', () => {
    const tilt = advice.filter(({ id }) => id === 'tilt');
    expect(tilt.length).toBe(2);
    for (const { text } of tilt) {
      const [, best, now, percent] = /at (\d+) degrees instead of (\d+) brings ([\d.]+) % more/.exec(text)!.map(Number);
      expect(best).toBeGreaterThanOrEqual(65);
      expect(now).toBe(45);
      expect(percent).toBeGreaterThan(5);
      expect(text).toMatch(/December/);
    }
  });
  test('lithium is named by what it serves or keeps more; sun that nobody takes by its month', () => {
    expect(found(advice, 'lithium')?.text).toMatch(/^Lithium of the same Ah would deliver \d+/);
    expect(found(advice, 'unused')?.text).toMatch(/kWh a year of solar yield go unused.*(May|June|July|April)/);
  });
  test('what a year lacks is named, not guessed', () => {
    const blind = open(gannet, (file: { system: System }) => {
      file.system.arrays![0]!.tilt_deg = null;
    });
    expect(() => yearAdvice(blind, asked)).toThrow('east.tilt_deg');
  });
});

test('what a controller holds back, and what the next size sold brings of it', () => {
  const held = hut((system) => {
    system.controllers![0]!.maxOutput_A = 20;
    system.controllers![0]!.settings = { ...system.controllers![0]!.settings, maxCharge_A: 15 };
    for (const load of system.loads ?? []) load.hours_d = Math.min(24, load.hours_d * 3);
  });
  const one = found(yearAdvice(held, asked), 'clipped')!;
  expect(one.text).toMatch(/are lost at the controllers’ limit; one of 30 A in place of .* would save \d/);
  expect(one.changes).toBeNull();
});

test('a load that runs at night moved into the day, where that serves more', () => {
  const night = hut((system) => {
    system.bank = { ...system.bank!, parallel: 1, blockCapacity_Ah: 30 };
    system.loads = [
      { id: 'pump', label: 'Pump', kind: 'ac', power_W: 600, hours_d: 4, from_h: 19, to_h: 23 },
      { id: 'house', label: 'House', kind: 'ac', power_W: 40, hours_d: 24, overlap: 'base' },
    ];
    system.runs = system.runs!.filter(({ from, to }) => ![from, to].includes('lamps'));
    for (const box of system.distribution ?? [])
      box.circuits = (box.circuits ?? []).filter((id) => system.runs!.some((run) => run.id === id));
    system.states = [];
    system.switches = (system.switches ?? []).filter(({ runId }) => system.runs!.some(({ id }) => id === runId));
  });
  const one = found(yearAdvice(night, asked), 'day');
  expect(one?.text).toMatch(/^Pump between 9 and 16 h: [\d.]+ kWh a year less without power/);
});
