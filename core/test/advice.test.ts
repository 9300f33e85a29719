import {
  withChecked,
  check,
  checkWithRemedies,
  compare,
  harmOf,
  isWorse,
  keyOf,
  layouts,
  neededFor,
  RULES,
  type Change,
  type Finding,
  type Model,
} from '../src/index';
import { hut } from './hut';
import { open, SITES } from './open';
import { TROUBLED } from './troubled-sites';
import posts from '../../docs/format/reference/posts.lantern.json';
import motorhome from '../../docs/format/reference/motorhome.lantern.json';
import sagging from '../../docs/format/reference/sagging-12v.lantern.json';
import upgrade from '../../docs/format/reference/upgrade-24v.lantern.json';

/** Advice is what the customer pays for: whatever is offered was tried, and nothing is made worse by it. */

const after = (model: Model, changes: Change[]): Model => withChecked(model, changes);

/** How far over, written anew: a figure, or beyond measure. */
const badness = ({ verdict, use }: Finding) => (verdict !== 'over' ? 0 : (use ?? Infinity));

const REFERENCES: [string, Model][] = [
  ['posts', open(posts)],
  ['motorhome', open(motorhome)],
  ['sagging', open(sagging)],
  ['upgrade', open(upgrade)],
];
const TEN: [string, Model][] = TROUBLED.map(({ name, model }) => [name, model]);

describe.each([...SITES, ...REFERENCES, ...TEN])('%s', (_, model) => {
  const found = checkWithRemedies(model);
  const over = found.filter(({ verdict }) => verdict === 'over');

  test('every remedy, tried: it holds then, and nothing is over that was not, nor worse than it was', () => {
    for (const finding of found)
      for (const { title, detail, changes } of finding.remedies) {
        const then = check(after(model, changes));
        const same = then.find((one) => keyOf(one) === keyOf(finding));
        // A fuse at the posts lets those behind it off: that is tight, by the book; all else holds, or says how close.
        if (same && same.verdict !== 'holds')
          expect([title, same.verdict, /post of|still close|cold cut/.test(title + detail)]).toEqual([
            title,
            'tight',
            true,
          ]);
        const was = new Map(found.map((one) => [keyOf(one), badness(one)]));
        // A fuse for what the cable bears blows before the load is left off: it says so, and nothing else turns over.
        const bears = /as much as this cable bears/.test(title) ? `run.fuse-carries|${finding.subject}|` : '';
        const harmed = then.filter((one) => badness(one) > 1.01 * (was.get(keyOf(one)) ?? 0) && keyOf(one) !== bears);
        if (!detail.includes('costs: ')) expect([title, harmed.map(keyOf)]).toEqual([title, []]);
        else {
          expect(finding.consequence).not.toBe('loss');
          expect([...new Set(harmed.map(({ consequence }) => consequence))]).toEqual(['loss']);
        }
      }
  });
  test('every over has a cure, or says what would be needed, in words', () => {
    for (const finding of over) {
      const said = finding.remedies[0]?.title ?? neededFor(model, finding);
      if (finding.remedies.length === 0) expect(said).toMatch(/^Needs /);
      // No name of a member, no question mark for a figure.
      expect(said).not.toMatch(/[a-z]_[A-Z]|\?|NaN|undefined|Infinity/);
      expect(new Set(finding.remedies.map(({ title }) => title)).size).toBe(finding.remedies.length);
    }
  });
});

test.each(TROUBLED)('$name: what a senior technician would say first', ({ model, rule, subject, says }) => {
  const finding = checkWithRemedies(model).find(
    (one) => one.rule === rule && one.subject === subject && one.verdict === 'over',
  );
  expect(finding).toBeDefined();
  expect(finding!.remedies[0]?.title ?? neededFor(model, finding!)).toMatch(says);
});

test('whatever rule is over, something is said of what it needs', () => {
  const model = SITES[0]![1];
  for (const { id } of RULES) {
    const finding: Finding = {
      rule: id,
      subject: 'bank',
      quantity: null,
      verdict: 'over',
      consequence: 'danger',
      demand: 3,
      limit: 2,
      unit: 'A',
      sense: 'max',
      use: 1.5,
      tightAbove: 0.8,
      working: [],
      assumed: [],
      missing: [],
      cautions: [],
      remedies: [],
    };
    expect(neededFor(model, finding)).toMatch(/^Needs .{12}/);
  }
});

describe('what a remedy may be', () => {
  const remedies = (model: Model, rule: string) =>
    checkWithRemedies(model).find((one) => one.rule === rule && one.verdict === 'over')?.remedies ?? [];
  test('a current is set on a device that has such a setting: never on pwm, nor on what only joins', () => {
    const charged = (type: 'mppt' | 'pwm') =>
      hut((system) => {
        // Six strings of 6.5 A into a bank that takes 20 A.
        system.arrays![0]!.strings = Array.from({ length: 6 }, () => ['m']);
        system.controllers![0]!.type = type;
        Object.assign(system.bank!, { maxCharge_A: 20, blockCapacity_Ah: 150 });
      });
    expect(remedies(charged('mppt'), 'bank.charge-max').map(({ title }) => title)).toContain('Set Controller to 18 A');
    expect(remedies(charged('pwm'), 'bank.charge-max').filter(({ title }) => title.startsWith('Set '))).toEqual([]);
    const straight = hut((system) => {
      system.controllers = [];
      system.arrays = [];
      system.chargers = [{ id: 'alt', kind: 'alternator-direct', max_A: 90 }];
    });
    expect(remedies(straight, 'bank.charge-max')).toEqual([]);
  });
  test('nobody is told to do what hides a danger', () => {
    // Three in parallel would be few volts; whether a string stands what the two others push back was not read.
    const model = (maxSeriesFuse_A: number | null) =>
      hut((system) => {
        system.moduleTypes![0]!.maxSeriesFuse_A = maxSeriesFuse_A;
        system.moduleTypes![0]!.voc_V = 24;
        system.controllers![0]!.maxPv_V = 60;
        system.arrays![0]!.strings = [['m', 'm', 'm']];
      });
    const titles = (one: Model) => remedies(one, 'pv.cold-voltage').map(({ title }) => title);
    expect(titles(model(30))).toContain('3 in parallel');
    expect(titles(model(null))).not.toContain('3 in parallel');
    expect(titles(model(null)).length).toBeGreaterThan(0);
  });
  test('a cable too thick for a terminal says how it gets in', () => {
    const model = (max_mm2: number) =>
      hut((system) => {
        system.controllers![0]!.terminals = { max_mm2 };
        system.controllers![0]!.label = 'Tracker';
        system.arrays![0]!.strings = [['m', 'm', 'm', 'm', 'm']];
        system.controllers![0]!.maxPv_V = 150;
        system.bank!.maxCharge_A = 100;
        system.runs = [
          {
            id: 'r',
            kind: 'controller-battery',
            from: 'c',
            to: 'b',
            length_m: 3,
            size: '6mm2',
            protection: { type: 'nh', rating_A: 80, voltage_V: 250, fromSource_m: 0.1 },
          },
        ];
      });
    const [wide] = remedies(model(95), 'run.drop');
    expect(wide?.title).toMatch(/mm2 instead of 6 mm2/);
    expect(wide?.detail).not.toMatch(/lug/);
    expect(remedies(model(10), 'run.drop')[0]?.detail).toMatch(
      /Tracker takes 10 mm2: with a reducing lug or a short tail/,
    );
  });
  test('where one change turns another over, two are offered together, and why', () => {
    // Far above its rating: no longer a little clipping.
    const strong = open(posts, (file: { system: { controllers: { id: string; maxOutput_A: number }[] } }) =>
      file.system.controllers.forEach((one) => (one.maxOutput_A = 0.75 * one.maxOutput_A)),
    );
    const found = remedies(strong, 'pv.output-current');
    expect(found[0]?.title).toMatch(/^Controller for \d+ A or more(; with it .* of \d+ A)?$/);
    if (found[0]?.title.includes('with it')) expect(found[0]?.detail).toMatch(/^the first alone: /);
  });
  test('a harm of a loss is a price only where nothing costs nothing', () => {
    // Three in series are too many volts; three in parallel do not start the controller: the larger controller comes first.
    const model = hut((system) => {
      system.controllers![0]!.maxPv_V = 45;
      system.arrays![0]!.strings = [['m', 'm', 'm']];
    });
    const found = remedies(model, 'pv.cold-voltage');
    expect(found.length).toBeGreaterThan(0);
    for (const { detail } of found) expect(detail).not.toMatch(/costs:/);
  });
});

describe('a harm that grows is a harm', () => {
  const base: Finding = {
    rule: 'run.drop',
    subject: 'r',
    quantity: null,
    verdict: 'over',
    consequence: 'loss',
    demand: 6,
    limit: 3,
    unit: '%',
    sense: 'max',
    use: 2,
    tightAbove: 0.8,
    working: [],
    assumed: [],
    missing: [],
    cautions: [],
    remedies: [],
  };
  const used = (use: number | null, more: Partial<Finding> = {}): Finding => ({ ...base, use, ...more });
  test('by more than one per cent of what it was; not by less, not where it falls', () => {
    expect(isWorse(used(2), used(2.02))).toBe(false);
    expect(isWorse(used(2), used(2.021))).toBe(true);
    expect(isWorse(used(2), used(1.5))).toBe(false);
  });
  test('a collapse is worse than any figure, and no figure is worse than a collapse', () => {
    expect(isWorse(used(2), used(null, { demand: null }))).toBe(true);
    expect(isWorse(used(null, { demand: null }), used(9))).toBe(false);
    // A limit of nothing: what is asked of it counts.
    expect(isWorse(used(null, { demand: 4, limit: 0 }), used(null, { demand: 5, limit: 0 }))).toBe(true);
    expect(isWorse(used(null, { demand: 4, limit: 0 }), used(null, { demand: 4, limit: 0 }))).toBe(false);
  });
  test('newly over and worse are told apart; tight and unknown are neither', () => {
    const other = used(3, { subject: 's' });
    const { newly, worse } = harmOf(
      [used(2), used(0.9, { subject: 'q', verdict: 'tight' })],
      [
        used(2.5),
        other,
        used(0.99, { subject: 'q', verdict: 'tight' }),
        used(null, { subject: 'u', verdict: 'unknown' }),
      ],
    );
    expect(newly).toEqual([other]);
    expect(worse.map(({ finding, was }) => [finding.use, was.use])).toEqual([[2.5, 2]]);
  });
  test('nothing is cured by not knowing: an over that can no longer be judged is told apart', () => {
    const model = hut((system) => {
      system.arrays![0]!.strings = [['m', 'm', 'm', 'm', 'm']];
    });
    const blind = after(model, [{ op: 'set', at: 'controllers', id: 'c', value: { maxPv_V: null } }]);
    const { cured, hidden } = compare(check(model), blind);
    expect(hidden.map(({ rule }) => rule)).toEqual(['pv.cold-voltage']);
    expect(cured.map(({ rule }) => rule)).not.toContain('pv.cold-voltage');
  });
  test('a what-if says so: three modules become four in series on a controller that three are too many for', () => {
    // 3 x 20 V x 1.12 = 67.2 V at -15 degC into 60 V; four bring 89.6 V.
    const three = hut((system) => {
      system.controllers![0]!.maxPv_V = 60;
      system.arrays![0]!.strings = [['m', 'm', 'm']];
    });
    const four = after(three, [{ op: 'set', at: 'arrays', id: 'a', value: { strings: [['m', 'm', 'm', 'm']] } }]);
    const { broken, worse, remaining } = compare(check(three), four);
    const cold = ({ rule }: Finding) => rule === 'pv.cold-voltage';
    expect(broken.filter(cold)).toEqual([]);
    expect(worse.find(cold)?.demand).toBeCloseTo(89.6, 6);
    expect(remaining.filter(cold)).toEqual([]);
  });
});

describe('layouts that a senior technician would draw', () => {
  test('what puts more volts into a controller than it stands is never first, and where all do there is none', () => {
    for (const [, model] of [...SITES.slice(2, 4), ...REFERENCES]) {
      const count = (model.system.arrays ?? []).flatMap(({ strings }) => strings.flat()).length;
      const list = layouts(model, Math.min(6, count + 1)) ?? [];
      const first = list.findIndex(({ onVolts }) => onVolts);
      if (first >= 0) {
        expect(first).toBeGreaterThan(0);
        expect(list.slice(first).every(({ onVolts }) => onVolts)).toBe(true);
      }
    }
    // A module of 20 V, 22.4 V in the cold, and a controller for 20 V: no way to string it.
    const hopeless = hut((system) => {
      system.controllers![0]!.maxPv_V = 20;
    });
    expect(layouts(hopeless, 4)).toEqual([]);
  });
  test('each says all that it turns over', () => {
    for (const [, model] of REFERENCES)
      for (const { overs, why, changes } of layouts(model, 4) ?? []) {
        const then = check(after(model, changes));
        for (const finding of overs) expect(then.map(keyOf)).toContain(keyOf(finding));
        // As many sentences as there are overs, at the least.
        expect(why.split('. ').length).toBeGreaterThanOrEqual(overs.length);
      }
  });
  test('three strings of modules for 15 A get a fuse each: 1.5 x 7.5 A is 11.25 A, 12 A is sold', () => {
    // Two others would push 1.25 x 15 A = 18.75 A into the third, whose modules stand 15 A.
    const roomy = hut((system) => {
      Object.assign(system.moduleTypes![0]!, { isc_A: 7.5, imp_A: 7, pmax_W: 115 });
      system.controllers = [{ ...system.controllers![0]!, maxPv_V: 60, maxPv_A: 100, maxOutput_A: 100 }];
      system.bank = { ...system.bank!, blockCapacity_Ah: 2000, place: { min_C: 10 } };
    });
    const found = layouts(roomy, 6)!.find(({ controllers: [share] }) => share?.series === 2 && share.parallel === 3)!;
    expect(found.fuses).toEqual([{ arrayId: 'a', type: 'pv', count: 3, rating_A: 12 }]);
    const strings = check(after(roomy, found.changes)).filter(({ rule }) => rule === 'pv.string-protection');
    expect(strings.map(({ verdict }) => verdict)).not.toContain('over');
    expect(found.why).toContain('12 A fuse in each of 3 strings');
  });
  test('pwm is weighed by its amperes at the bank: two in series bring what one brings', () => {
    const pwm = hut((system) => {
      system.controllers = [{ ...system.controllers![0]!, type: 'pwm', maxPv_A: 100, maxOutput_A: 100 }];
    });
    const of = (series: number, parallel: number) =>
      layouts(pwm, series * parallel)!.find(
        ({ controllers: [share] }) => share?.series === series && share.parallel === parallel,
      )!.watts;
    // Floating at 6 x 2.25 V = 13.5 V it takes about 6.4 A of each string, 86 W, whatever the string's volts.
    expect(of(2, 1) / of(1, 1)).toBeCloseTo(1, 1);
    expect(of(1, 2) / of(1, 1)).toBeCloseTo(2, 1);
    expect(of(1, 1)).toBeGreaterThan(13.5 * 5.8);
    expect(of(1, 1)).toBeLessThan(13.5 * 6.6);
  });
  test('what arrives is clipped at the output, and less what the cable takes', () => {
    const clipped = hut((system) => {
      system.controllers![0]!.maxOutput_A = 5;
    });
    // 5 A at 13.5 V.
    expect(layouts(clipped, 2)![0]!.watts).toBeCloseTo(67.5, 6);
    const cabled = (length_m: number) =>
      layouts(
        hut((system) => {
          system.runs = [{ id: 'r', kind: 'pv', from: 'a', to: 'c', length_m, size: '2.5mm2' }];
        }),
        2,
      )!.find(({ controllers: [share] }) => share?.series === 2)!.watts;
    // 2 x 10 m of 7.98 mohm/m, warm 1.118 times: .178 ohm at about 6.1 A, 97 % of it counted: 6.4 W.
    expect(cabled(0.01) - cabled(10)).toBeGreaterThan(5.8);
    expect(cabled(0.01) - cabled(10)).toBeLessThan(7);
  });
  test('unlike types stand beside each other or are said to lie; none is dropped in silence', () => {
    const mixed = hut((system) => {
      system.moduleTypes!.push({
        ...system.moduleTypes![0]!,
        id: 'n',
        label: 'Other',
        vmp_V: 33,
        voc_V: 40,
        pmax_W: 201,
      });
      system.controllers = [{ ...system.controllers![0]!, maxPv_V: 250, maxPv_A: 100, maxOutput_A: 100 }];
      system.bank = { ...system.bank!, blockCapacity_Ah: 2000, place: { min_C: 10 } };
    });
    const pool = [...Array<string>(4).fill('m'), 'n', 'n'].map((type) => ({ type, light: 1 }));
    const list = layouts(mixed, pool)!;
    for (const { controllers, unused, why } of list) {
      expect(controllers.reduce((sum, { series, parallel }) => sum + series * parallel, unused)).toBe(6);
      if (unused > 0) expect(why).toMatch(/ of (m|Other) left over\./);
    }
    // Two strings of two 20 V modules beside two of 33 V: volts alike, all in use.
    expect(list[0]!.unused).toBe(0);
    const shapes = list.map(({ controllers }) =>
      controllers
        .map(({ type, series }) => `${series} ${type}`)
        .sort()
        .join(),
    );
    expect(shapes).toContain('1 n,2 m');
  });
});
