import {
  readSystemFile,
  modelOf,
  modelInState,
  linesOf,
  check,
  chargingDevices,
  type Bank,
  type Bay,
  type Rung,
  type SpecLine,
  type YearStory,
  type YearSums,
  strokeOf,
  settingName,
  settingUnit,
  KIND_ORDER,
  type PartKind,
  type System,
  barsOf,
  arrangementOf,
  bayOf,
  COMPARE_ROWS,
  spentOf,
  type CompareColumn,
  type CompareWorked as Worked,
} from '@true-lantern/core';
import { ampsAt, curveLayout, HEIGHT, nice, PAD } from '../src/check/curve-layout';
import { STEPS, stepsLayout, stepsOf } from '../src/plan/steps-layout';
import { STRIP as HOURS, stripLayout as hoursLayout } from '../src/survey/strip-layout';
import { climbed } from '../src/check/ladder-layout';
import { sharesLayout } from '../src/entry/shares-layout';
import { bayLayout, WIDTH } from '../src/ui/bay-layout';
import { DAY, dayLayout } from '../src/year/day-layout';
import { asked, plainLabel, ruleName, specTitle, wanted } from '../src/plan/spec-words';
import { comparisonText } from '../src/plan/words';
import { priceText, shelfFact, shelfKindWord } from '../src/ui/shelf-words';
import { dayText, momentText } from '../src/ui/dates';
import { METRIC } from '../src/data/units';
import { pretty, sizeText, withUnit, written } from '../src/ui/units';
import { proposedOf } from '../src/plan/proposed';
import { faultsOfSignIn } from '../src/signin/SignIn';
import { answer } from '../src/workers/questions';
import { openCorrach } from './corrach';
import { RIBBON, ribbonLayout, STRIP, stripLayout } from '../src/year/ribbon-layout';
import { leadLayout } from '../src/shell/lead-layout';
import { leadOf } from '../src/data/reading';
import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { likelyFirst, SEEN, seenAs } from '../src/survey/seen';
import { fieldSpec } from '../src/data/fields';

describe('the bay from above', () => {
  const bank: Bank = {
    id: 'b',
    chemistry: 'agm',
    block_V: 12,
    blockCapacity_Ah: 100,
    series: 1,
    parallel: 3,
    place: { length_mm: 700, width_mm: 400, height_mm: 400 },
    block: { length_mm: 330, width_mm: 170, height_mm: 220 },
  };
  const seen = (more: Partial<Bank> = {}, runs: System['runs'] = []) => {
    const bay = bayOf({ runs }, { ...bank, ...more });
    if (typeof bay === 'string') throw new Error(bay);
    return bay;
  };
  const drawn = (bay: Bay, more: Partial<Bank> = {}) => bayLayout(bay, arrangementOf({}, { ...bank, ...more }, bay));
  test('drawn to one scale, within its frame, the wanted ones first', () => {
    const found = seen();
    const { bay, items, spare, front } = drawn(found);
    expect(bay.w / bay.h).toBeCloseTo(700 / 400, 9);
    expect(bay.w).toBeLessThanOrEqual(WIDTH - 64);
    expect([found.fit.count, items.length, spare.length]).toEqual([4, 3, 1]);
    for (const { x, y, w, h, posts } of items) {
      expect(x).toBeGreaterThanOrEqual(bay.x);
      expect(y).toBeGreaterThanOrEqual(bay.y);
      expect(x + w).toBeLessThanOrEqual(bay.x + bay.w + 1e-9);
      expect(y + h).toBeLessThanOrEqual(bay.y + bay.h + 1e-9);
      expect(posts.map((post) => (post.x - x) / w).map((share) => Number(share.toFixed(6)))).toEqual([0.2, 0.8]);
      expect(posts[0]?.y).toBeCloseTo(y + h / 2, 9);
    }
    // From the front: what stands nearer is drawn later; all stand on the floor, the rest above is free.
    expect(front.items.map(({ index }) => items[index]!.y)).toEqual([...items.map(({ y }) => y)].sort((a, b) => a - b));
    for (const { x, y, w, h } of front.items) {
      expect(y + h).toBeCloseTo(front.bay.y + front.bay.h, 9);
      expect(h / w).toBeCloseTo(220 / 330, 9);
      expect(x).toBeGreaterThan(0);
    }
    expect(front.clear.h / front.bay.h).toBeCloseTo(180 / 400, 9);
    // A deep bay is held by its depth.
    const deep = drawn(seen({ place: { length_mm: 400, width_mm: 2600, height_mm: 400 } }));
    expect(deep.bay.h).toBeCloseTo(260, 9);
  });
  test('a hand needs 60 mm above the posts, a cable eight times its own thickness to bend', () => {
    const run = { id: 'r', kind: 'battery-inverter' as const, from: 'b', to: 'i', size: '50mm2', length_m: 1 };
    const place = (height_mm: number) => ({ place: { length_mm: 700, width_mm: 400, height_mm } });
    expect([seen(place(280)).hand, seen(place(279)).hand]).toEqual([true, false]);
    // 50 mm2 of fine strands are some 9.2 mm across, with its insulation 13 to 14; eight times that.
    const wide = seen(place(400), [run]);
    expect(wide.cable).toMatchObject({ size: '50mm2', outer_mm: 13, bend_mm: 104, fits: true });
    expect(drawn(wide).front.bend?.r).toBeCloseTo((104 * drawn(wide).bay.w) / 700, 9);
    expect(seen(place(323), [run]).cable?.fits).toBe(false);
    expect(seen(place(324), [run]).cable?.fits).toBe(true);
    // The thickest counts: of the cables on the bank, and its own links; another cable's does not.
    expect(seen({ ...place(400), link: { size: '70mm2', length_m: 0.3 } }, [run]).cable?.size).toBe('70mm2');
    expect(seen(place(400), [{ ...run, from: 'x' }]).cable).toBeNull();
  });
  test('what stands badly is marked with what it is too near, and then no room for more is drawn', () => {
    const at = (x_mm: number, y_mm: number) => ({ partId: 'b', x_mm, y_mm });
    const stands = [at(10, 10), at(10, 185), at(355, 10)];
    const { items, spare, front } = drawn(seen(), { stands });
    expect(items.map(({ wrong }) => wrong)).toEqual([true, true, false]);
    expect(front.items.filter(({ wrong }) => wrong)).toHaveLength(2);
    expect(spare).toEqual([]);
  });
  test('what was not measured is named', () => {
    expect(bayOf({}, { ...bank, place: null })).toBe('place');
    expect(bayOf({}, { ...bank, block: null })).toBe('block');
  });
});

describe('the curves', () => {
  const points = [
    { v: 0, i: 9 },
    { v: 20, i: 8 },
    { v: 36, i: 0 },
  ];
  const best = { v: 20, i: 8, p: 160 };
  test('axes end at round figures; the top of the power lies where it is', () => {
    const layout = curveLayout({ points, maxima: [best, { v: 30, i: 2, p: 60 }], best }, 350, 12);
    expect([layout.volts, layout.amps, layout.watts]).toEqual([40, 10, 200]);
    expect(layout.x(0)).toBe(PAD.left);
    expect(layout.x(40)).toBe(350 - PAD.right);
    expect([layout.y(0), layout.y(1)]).toEqual([HEIGHT - PAD.bottom, PAD.top]);
    expect(layout.maxima.map(({ best: is }) => is)).toEqual([true, false]);
    expect(layout.maxima[0]).toMatchObject({ x: layout.x(20), y: layout.y(0.8) });
    expect(layout.bank).toBe(layout.x(12));
    expect(layout.current.startsWith(`M${PAD.left.toFixed(1)} ${layout.y(0.9).toFixed(1)} L`)).toBe(true);
    expect(layout.power.startsWith(`M${PAD.left.toFixed(1)} ${layout.y(0).toFixed(1)} L`)).toBe(true);
  });
  test('a bank off the scale is not drawn', () => {
    expect(curveLayout({ points, maxima: [], best }, 350, 48).bank).toBeNull();
    expect(curveLayout({ points, maxima: [], best }, 350, null).bank).toBeNull();
  });
  test('round figures', () =>
    expect([0.13, 1, 1.01, 7.2, 81, 240].map((value) => Number(nice(value).toFixed(9)))).toEqual([
      0.15, 1, 1.5, 8, 100, 250,
    ]));
});

describe('the shares', () => {
  test('the hardest worked string fills most; an equal share is one line', () => {
    const layout = sharesLayout([0.5, 0.3, 0.2], 'same-end');
    expect(layout.width).toBe(192);
    expect(layout.strings.map(({ fill }) => Number(fill.toFixed(6)))).toEqual([150, 90, 60]);
    for (const { top, tall, fillTop, fill } of layout.strings) expect(fillTop + fill).toBeCloseTo(top + tall, 9);
    expect(layout.even).toBeCloseTo(20 + 150 - 100, 9);
    expect(layout.taps.map(({ x }) => x)).toEqual([25, 25]);
    expect(sharesLayout([0.5, 0.5], 'opposite-ends').taps.map(({ x }) => x)).toEqual([25, 89]);
    expect(sharesLayout([0.5, 0.5], 'busbar').taps).toEqual([]);
    // Nearly equal shares do not fill the column: a quarter above an equal one still fits.
    expect(sharesLayout([0.5, 0.5], 'busbar').strings[0]?.fill).toBeCloseTo(120, 9);
  });
});

test('the ladder: by watts, never closer than a line of text', () => {
  const rung = (extra_W: number): Rung => ({ extra_W, rule: 'inverter.continuous', subject: 'i', quantity: null });
  expect(climbed([rung(0), rung(10), rung(1000)]).map(({ up }) => up)).toEqual([37, 111, 300]);
  expect(climbed([])).toEqual([]);
});

test('a conductor is drawn by the root of its area, three to fourteen', () =>
  expect([
    strokeOf('0.5mm2'),
    Number(strokeOf('16mm2').toFixed(2)),
    Number(strokeOf('16mm2', 4).toFixed(2)),
    strokeOf('240mm2'),
  ]).toEqual([3, 4.6, 9.2, 14]));

describe('words', () => {
  const line = (more: Partial<SpecLine>): SpecLine => ({
    field: 'maxPv_V',
    label: 'PV voltage, at least',
    test: 'least',
    value: 150,
    exact: 143.2,
    words: [],
    unit: 'V',
    rule: 'pv.cold-voltage',
    why: [],
    missing: [],
    assumed: [],
    must: true,
    ...more,
  });
  test('of a specification: what is sold, and what passes exactly', () => {
    expect([wanted(line({})), asked(line({}))]).toEqual(['at least 150 V', 'at least 144 V']);
    expect(asked(line({ test: 'most', exact: 143.7 }))).toBe('at most 143 V');
    expect(wanted(line({ missing: ['x'] }))).toBe('unknown');
    expect(wanted(line({ test: 'true', value: null }))).toBe('yes');
    expect(wanted(line({ test: 'size', value: '16mm2', unit: null }))).toBe('at least 16 mm\u00b2');
    expect(plainLabel(line({}))).toBe('PV voltage');
    expect([ruleName(line({})), ruleName(line({ rule: null }))]).toEqual([
      'open-circuit voltage (Voc) in the cold',
      'practice',
    ]);
    expect((['part', 'module', 'fuse', 'cable'] as const).map((aspect) => specTitle('X', { aspect }))).toEqual([
      'Replacing X',
      'A module of X',
      'Fuse of X',
      'Cable: X',
    ]);
  });
  test('of a comparison and of settings', () => {
    const some = (n: number) => Array.from<never>({ length: n });
    expect(comparisonText({ cured: some(2), broken: [], worse: [], hidden: [], remaining: some(1) })).toBe(
      'Fixes 2 \u00b7 causes none \u00b7 1 still over',
    );
    expect(comparisonText({ cured: some(11), broken: some(1), worse: some(2), hidden: some(1), remaining: [] })).toBe(
      'Fixes 11 \u00b7 causes 1 new \u00b7 2 made worse \u00b7 1 can no longer be judged',
    );
    expect([settingName('lowTempCut_C'), settingUnit('lowTempCut_C'), settingName('other')]).toEqual([
      'low-temperature cut-off',
      'degC',
      'other',
    ]);
  });
  test('of the shelf: the figures of one piece', () => {
    expect(
      shelfFact({ kind: 'bank', label: '', body: { chemistry: 'lfp', block_V: 12.8, blockCapacity_Ah: 100 } }),
    ).toBe('12.8 V 100 Ah LFP');
    expect(shelfFact({ kind: 'controllers', label: '', body: { type: 'mppt', maxOutput_A: 60, maxPv_V: 150 } })).toBe(
      'MPPT 60 A \u00b7 150 V',
    );
    expect(shelfFact({ kind: 'fuse', label: '', body: { type: 'nh', rating_A: 160, voltage_V: 250 } })).toBe(
      'nh \u00b7 160 A \u00b7 250 V',
    );
    expect(shelfFact({ kind: 'cable', label: '', body: { size: '16mm2', material: 'copper' } })).toBe(
      '16\u00a0mm\u00b2 \u00b7 copper',
    );
    expect(shelfFact({ kind: 'loads', label: '', body: { kind: 'ac', power_W: 60 } })).toBe('60 W');
    expect([shelfKindWord('bank'), shelfKindWord('fuse'), shelfKindWord('inverters')]).toEqual([
      'Battery',
      'Fuse or breaker',
      'Inverter',
    ]);
    expect([
      priceText({ kind: 'fuse', label: '', body: {}, price: 12.5, currency: 'GBP' }),
      priceText({ kind: 'fuse', label: '', body: {} }),
    ]).toEqual(['12.5 GBP', null]);
  });
  test('of figures, sizes and dates', () => {
    expect(pretty('-4 degC, 3 x 16 mm2, 5 V - 2 V')).toBe(
      '\u22124\u00a0\u00b0C, 3 \u00d7 16\u00a0mm\u00b2, 5\u00a0V \u2212 2\u00a0V',
    );
    expect([withUnit(1234.5, 'W'), withUnit(0.1234, 'V')]).toEqual(['1235\u00a0W', '0.123\u00a0V']);
    expect(sizeText('6AWG', { ...METRIC, size: 'mm2', length: 'ft' })).toBe('6\u00a0AWG (\u2248 16\u00a0mm\u00b2)');
    expect(written({ ...METRIC, length: 'ft' }).amount(3.048, 'm')).toBe('10 ft');
    expect(written(METRIC).amount(null, 'm')).toBeNull();
    expect(dayText(new Date(2026, 4, 5))).toBe('5 May 2026');
    expect([momentText('2026-05-05T09:10:00'), momentText('soon')]).toEqual(['5 May 2026, 09:10', 'soon']);
  });
  test('of a sign-in that cannot be', () => {
    expect(faultsOfSignIn('', '')).toEqual({ email: 'Enter your e-mail address.', password: 'Enter your password.' });
    expect(faultsOfSignIn('ann', 'x')).toEqual({ email: 'That is not an e-mail address.' });
    expect(faultsOfSignIn(' ann@ours.example ', 'x')).toEqual({});
  });
});

describe('the engine answers', () => {
  const site = openCorrach();
  const { model } = site;
  const silent = () => undefined;
  test('each question by its own function', () => {
    expect(answer<'headroom'>({ ask: 'headroom', model }, silent).load.length).toBeGreaterThan(0);
    expect(answer<'figures'>({ ask: 'figures', model }, silent).over).toHaveProperty('danger');
    expect(answer<'voltage'>({ ask: 'voltage', model, to_V: 24 }, silent)).toMatchObject({ from_V: 12, to_V: 24 });
    expect(
      answer<'controllers'>(
        {
          ask: 'controllers',
          model,
          shelf: [
            {
              kind: 'controllers',
              label: 'A',
              body: { type: 'mppt', maxOutput_A: 20, minBattery_V: 8, maxBattery_V: 30 },
            },
            {
              kind: 'controllers',
              label: 'B',
              body: { type: 'mppt', maxOutput_A: 20, minBattery_V: 8, maxBattery_V: 13 },
            },
          ],
          most: 3,
        },
        silent,
      ).map(({ label }) => label),
    ).toEqual(['A']);
  });
  test('and says how far it is', () => {
    const shares: number[] = [];
    answer<'layouts'>(
      {
        ask: 'layouts',
        model,
        modules: Array.from({ length: 4 }, () => ({ type: model.system.moduleTypes![0]!.id, light: 1 })),
        offered: [],
      },
      (share) => shares.push(share),
    );
    expect(shares.length).toBeGreaterThan(3);
    expect(shares.every((share, i) => share >= 0 && share <= 1 && share >= (shares[i - 1] ?? 0))).toBe(true);
  });
  test('a proposal laid over the survey: what no longer applies is counted', () => {
    const { result, lost } = proposedOf(site, {
      id: 'p',
      title: 'P',
      changes: [
        { op: 'set', at: 'controllers', id: chargingDevices(model.system)[0]!.id, value: { maxPv_V: 500 } },
        { op: 'remove', at: 'loads', id: 'gone' },
      ],
    });
    expect(lost).toBe(1);
    expect(result.cured.some(({ rule }) => rule === 'pv.cold-voltage')).toBe(true);
  });
});

describe('the ribbon of a year', () => {
  const days = Array.from({ length: 365 }, (_, day) => ({
    p5: 0.2,
    p25: 0.3,
    p50: day < 180 ? 0.5 : 1,
    p75: 0.8,
    p95: 1,
  }));
  const never = { darkDays: days.map(() => 0), generatorDays_h: days.map(() => 0) };
  test('the middle year has a gap where it is dark; how often and how long stand below, to scale', () => {
    const darkDays = days.map((_, day) => (day === 10 ? 0.5 : day === 11 ? 1 : day === 12 ? 0.25 : 0));
    const generatorDays_h = days.map((_, day) => (day === 20 ? 24 : day === 21 ? 12 : 0));
    const layout = ribbonLayout({ days, darkDays, generatorDays_h }, 400);
    expect(layout.middle.match(/M/g)).toHaveLength(2);
    expect(layout.middle).not.toContain(`L${Math.round(layout.x(10) * 10) / 10} `);
    expect(layout.dark.match(/M/g)).toHaveLength(3);
    const heights = (path: string, foot: number) =>
      [...path.matchAll(/V([\d.]+)/g)].map(([, top]) => foot - Number(top));
    const [half = 0, whole = 0, quarter = 0] = heights(layout.dark, layout.feet.dark);
    expect([half / whole, quarter / whole]).toEqual([0.5, 0.25]);
    const [long = 0, short = 0] = heights(layout.generator, layout.feet.generator);
    expect(short / long).toBe(0.5);
    expect(layout.feet.generator).toBeLessThan(RIBBON.height - 14);
    expect(ribbonLayout({ days, ...never }, 400).dark).toBe('');
  });
  test('a touch is the day under it, the first and the last beyond the ends', () => {
    const { dayAt, x } = ribbonLayout({ days, ...never }, 400);
    expect([0, 8, 200, 364].map((day) => dayAt(x(day)))).toEqual([0, 8, 200, 364]);
    expect([dayAt(0), dayAt(1000)]).toEqual([0, 364]);
  });
  test('a day: charge from hour to hour, sun beside use on one scale, what was not served on top of it', () => {
    const hours = (value: number) => Array.from({ length: 24 }, () => value);
    const layout = dayLayout(
      {
        year: 0,
        day: 0,
        sun_W: hours(100).with(12, 400),
        demand_W: hours(200),
        served_W: hours(150),
        soc: hours(0.5),
        generator: hours(0).map((_, h) => h === 3),
      },
      400,
    );
    expect(layout.most_W).toBe(400);
    expect(layout.hours[12]!.sun).toBeCloseTo(4 * layout.hours[0]!.sun, 9);
    expect(layout.hours[0]!.served).toBeCloseTo(3 * layout.hours[0]!.unserved, 9);
    expect(layout.hours.filter(({ generator }) => generator)).toHaveLength(1);
    expect(layout.foot - layout.hours[12]!.sun).toBeCloseTo(DAY.top + DAY.charge + DAY.gap, 9);
    expect(layout.chargeY(0.5)).toBe((layout.chargeY(0) + layout.chargeY(1)) / 2);
    expect([layout.x(0), layout.x(24)]).toEqual([DAY.left, 400 - DAY.right]);
    expect(layout.charge.match(/[ML]/g)).toHaveLength(24);
  });
  test('full is at the top, empty at the foot, the first of January at the left', () => {
    const { y, middle, outer, letters } = ribbonLayout({ days, ...never }, 400);
    expect([y(1), y(0)]).toEqual([RIBBON.top, RIBBON.height - RIBBON.bottom]);
    expect(y(2)).toBe(y(1));
    expect(middle.startsWith(`M${RIBBON.left} ${y(0.5)}L`)).toBe(true);
    expect(middle.endsWith(`${400 - RIBBON.right} ${y(1)}`)).toBe(true);
    expect(outer.endsWith('Z')).toBe(true);
    expect(letters.map(({ letter }) => letter).join('')).toBe('JFMAMJJASOND');
    expect(letters[0]!.x).toBeGreaterThan(RIBBON.left);
    expect(letters[11]!.x).toBeLessThan(400 - RIBBON.right);
  });
  test('no years yet: nothing is drawn', () => {
    expect(ribbonLayout({ days: [], darkDays: [], generatorDays_h: [] }, 400)).toMatchObject({
      outer: '',
      inner: '',
      middle: '',
    });
  });
  test('sun and use stand on one scale: the largest bar fills the height, twice as much is twice as high', () => {
    const month = (harvest_kWh: number, unused_kWh: number, used_kWh: number, unserved_kWh: number) =>
      ({ harvest_kWh, unused_kWh, used_kWh, unserved_kWh, engine_kWh: 0, generator_kWh: 0 }) as YearSums;
    const { bars, most_kWh, foot } = stripLayout([month(30, 70, 25, 0), month(10, 0, 10, 40)], 400);
    expect(most_kWh).toBe(100);
    expect(bars[0]!.sun + bars[0]!.unused).toBeCloseTo(foot - STRIP.top, 9);
    expect(bars[1]!.unserved).toBeCloseTo(4 * bars[1]!.used, 9);
    expect(bars[1]!.x).toBeGreaterThan(bars[0]!.x + 2 * bars[0]!.width);
  });
});

describe('side by side', () => {
  test('bars on one scale with the line of what was found', () => {
    expect(barsOf([10, 20, null], 10)).toEqual([{ share: 0.5, found: 0.5 }, { share: 1, found: 0.5 }, null]);
    expect(barsOf([-5, 20], 20)).toEqual([
      { share: 0, found: 1 },
      { share: 1, found: 1 },
    ]);
  });
  test('one figure alone, or nothing but noughts, is no comparison', () => {
    expect(barsOf([10, null], 10)).toEqual([null, null]);
    expect(barsOf([0, 0], 0)).toEqual([null, null]);
    expect(barsOf([3, 4], null)[0]).toEqual({ share: 0.75, found: null });
  });
  test('a year that is awaited, that cannot be said, and that can', () => {
    const row = COMPARE_ROWS.find(({ label }) => label === 'Chance of a power cut in a year')!;
    const column = {} as CompareColumn;
    const year = (year: Worked['year']): Worked => ({ figures: null, year });
    expect(row.value(column, year(null))).toBe('\u2026');
    expect(row.value(column, year('unknown'))).toBe('not known');
    expect(row.value(column, year({ darkYears: 0.24 } as YearStory))).toBe('24 of 100 years');
    expect([row.figure!(year('unknown')), row.figure!(year({ darkYears: 0.24 } as YearStory))]).toEqual([null, 0.24]);
  });
});

describe('what a generator’s year costs', () => {
  const year = (generator_L: number, generator_h: number) =>
    ({ totals: { generator_L, generator_h } }) as unknown as YearStory;
  const site = (money: object | null) => ({ site: { name: 'S', money } }) as unknown as Parameters<typeof spentOf>[0];
  test('litres at their price and hours at their wear; nothing where it never runs; unknown without a price', () => {
    expect(spentOf(site({ fuelPrice_L: 2, wear_h: 0.5 }), year(100, 60))).toBe(230);
    expect(spentOf(site({ fuelPrice_L: 2 }), year(100, 60))).toBe(200);
    expect(spentOf(site(null), year(100, 60))).toBeNull();
    expect(spentOf(site(null), year(0, 0))).toBe(0);
    expect(spentOf(site({ fuelPrice_L: 2 }), null)).toBeNull();
    expect(spentOf(site({ fuelPrice_L: 2 }), 'unknown')).toBeNull();
  });
});

describe('money as steps', () => {
  test('a set at once, another whenever one is worn out, none as the years end', () => {
    expect(stepsOf({ price: 100, life_y: 5 }, 15)).toEqual([
      [0, 100],
      [5, 200],
      [10, 300],
    ]);
    expect(stepsOf({ price: 100, life_y: 6 }, 15)).toHaveLength(3);
    expect(stepsOf({ price: 100, life_y: 20 }, 15)).toEqual([[0, 100]]);
    expect(stepsOf({ price: 100, life_y: 0 }, 15)).toEqual([[0, 100]]);
  });
  test('on one scale, the dearest at the top; words never lie on one another', () => {
    const { lines, most, y, x } = stepsLayout(
      [
        { id: 'a', title: 'A', price: 100, life_y: 5 },
        { id: 'b', title: 'B', price: 295, life_y: 20 },
      ],
      15,
      400,
    );
    expect(most).toBe(300);
    expect(y(300)).toBe(STEPS.top);
    expect(lines[0]!.path.startsWith(`M${x(0)} ${y(0)}V`)).toBe(true);
    expect(lines[0]!.path.match(/V/g)).toHaveLength(3);
    expect(lines[0]!.end).toEqual({ x: 400 - STEPS.right, y: y(300) });
    expect(Math.abs(lines[1]!.labelY - lines[0]!.labelY)).toBeGreaterThanOrEqual(18);
  });
});

describe('what a curve says of its controller', () => {
  const points = [
    { v: 0, i: 6 },
    { v: 10, i: 6 },
    { v: 20, i: 0 },
  ];
  const answer = { points, maxima: [{ v: 10, p: 60 }], best: { v: 10, p: 60 } } as never;
  test('pwm holds the array at the bank: amperes at those volts, straight between the points', () => {
    expect([0, 5, 10, 15, 20, 30].map((volts) => ampsAt(points, volts))).toEqual([6, 6, 6, 3, 0, 0]);
    const { held, y } = curveLayout(answer, 400, 15, { limit_W: null, pwm: true });
    expect(held).toMatchObject({ amps: 3, y: y(0.5) });
    expect(curveLayout(answer, 400, 15).held).toBeNull();
    expect(curveLayout(answer, 400, 25, { limit_W: null, pwm: true }).held).toBeNull();
  });
  test('the output’s limit is drawn where the array brings more', () => {
    const { limit, y, watts } = curveLayout(answer, 400, 15, { limit_W: 30, pwm: false });
    expect(limit).toBeCloseTo(y(30 / watts), 9);
    expect(curveLayout(answer, 400, 15, { limit_W: 500, pwm: false }).limit).toBeNull();
  });
});

describe('the bank as it stands', () => {
  test('a string of four blocks with their links fills the column; one block is the column', () => {
    const [string] = sharesLayout([0.5, 0.5], 'same-end', 4).strings;
    expect(string!.blocks).toHaveLength(4);
    expect(string!.blocks[0]!.top).toBe(string!.top);
    const last = string!.blocks.at(-1)!;
    expect(last.top + last.tall).toBeCloseTo(string!.top + string!.tall, 9);
    expect(string!.blocks[1]!.top - string!.blocks[0]!.top - string!.blocks[0]!.tall).toBeCloseTo(6, 9);
    expect(sharesLayout([1, 0], null).strings[0]!.blocks).toEqual([{ top: string!.top, tall: string!.tall }]);
  });
});

describe('a day of loads on a strip', () => {
  const hours = (value: number) => Array.from({ length: 24 }, () => value);
  const load = (id: string, mean_W: number[]) => ({
    id,
    title: id,
    kind: 'ac' as const,
    running_W: 2 * Math.max(...mean_W),
    mean_W,
    shares: hours(1),
    overlap: 'may' as const,
  });
  test('pieces stand on one another, all on the scale of what may run at once', () => {
    const layout = hoursLayout(
      { loads: [load('a', hours(100)), load('b', hours(0).with(8, 50))], together_W: hours(400) },
      400,
    );
    expect(layout.most_W).toBe(400);
    expect(layout.pieces).toHaveLength(25);
    // 100 W of 200 on the mean: it runs for half of the time.
    expect(layout.pieces[0]!.runs).toBe(0.5);
    const at8 = layout.pieces.filter(({ hour }) => hour === 8);
    expect(at8[1]!.y + at8[1]!.height).toBeCloseTo(at8[0]!.y, 9);
    expect(at8[0]!.height).toBeCloseTo(2 * at8[1]!.height, 9);
    expect(at8[0]!.y + at8[0]!.height).toBeCloseTo(layout.foot, 9);
    expect(layout.y(400)).toBe(HOURS.top);
    expect(layout.together.match(/H/g)).toHaveLength(24);
  });
});

describe('what do you see?', () => {
  test('every kind of part is among the things, each drawn in its own way, twenty and more', () => {
    // A roof is measured, not seen: it comes with its outline.
    expect(new Set(SEEN.map(({ kind }) => kind))).toEqual(new Set(KIND_ORDER.filter((kind) => kind !== 'roofs')));
    expect(new Set(SEEN.map(({ thing }) => thing)).size).toBe(SEEN.length);
    expect(new Set(SEEN.map(({ word }) => word)).size).toBe(SEEN.length);
    expect(SEEN.length).toBeGreaterThanOrEqual(20);
  });
  test('what is set by seeing it is a choice of its field', () => {
    for (const { kind, set } of SEEN)
      for (const [path, value] of Object.entries(set)) {
        const spec = fieldSpec(kind, path);
        expect([kind, path, spec?.kind]).toEqual([kind, path, spec?.choices ? 'choice' : 'text']);
        if (spec?.choices) expect(spec.choices).toContain(value);
      }
  });
  test('nothing electrical is guessed by a picture: no watts, volts or amperes, and AC or DC only of a lamp', () => {
    for (const { thing, kind, set } of SEEN) {
      expect(Object.keys(set).filter((path) => /_(W|V|A|Ah|h|d|mm|m)$/.test(path))).toEqual([]);
      if (kind === 'loads' && 'kind' in set) expect(thing).toBe('lamp');
    }
  });
  test('what a system cannot do without comes first until it is there; a second bank is never offered', () => {
    const named = (system: System, ...kinds: PartKind[]) =>
      likelyFirst(
        system,
        kinds.map((kind) => ({ kind })),
      ).map(({ thing }) => thing);
    expect(named({ nominal_V: 12 }).slice(0, 6)).toEqual(SEEN.slice(0, 6).map(({ thing }) => thing));
    const later = named({ nominal_V: 12, bank: { id: 'b' } as never }, 'moduleTypes', 'bank', 'loads');
    expect(later).not.toContain('bank');
    expect(later.indexOf('arrays')).toBeLessThan(later.indexOf('moduleTypes'));
    expect(later.indexOf('runs')).toBeLessThan(later.indexOf('lamp'));
    expect(later.length).toBe(SEEN.length - 1);
  });
  test('an address names a thing of its kind, or none', () => {
    expect(seenAs('sources', 'alternator')?.set).toEqual({ kind: 'alternator' });
    expect(seenAs('bank', 'alternator')).toBeNull();
    expect(seenAs('bank', null)).toBeNull();
  });
});

describe('the sentence at the head', () => {
  test('large, then smaller, then its figures alone; the danger is never left out', () => {
    const whole =
      'Danger. A short circuit sends 11.9 kA through the fuse of Charger to bank, which can interrupt 1 kA.';
    const short = 'Danger. Charger to bank: 11.9 against 1 kA.';
    expect(leadLayout([whole, short], 900)).toEqual({ text: whole, look: 'lead' });
    expect(leadLayout([whole, short], 520)).toEqual({ text: whole, look: 'station' });
    expect(leadLayout([whole, short], 354)).toEqual({ text: short, look: 'lead' });
    expect(leadLayout([whole, short], 240)).toEqual({ text: short, look: 'station' });
    // Where only words tell what is wrong they are all said.
    expect(leadLayout([whole], 240)).toEqual({ text: whole, look: 'station' });
  });
  test('one or two lines for every demo site, in everything on and in each state, from 320 to 430 px', () => {
    const folder = join(__dirname, '../../demo/sites');
    for (const file of readdirSync(folder)) {
      const model = modelOf(readSystemFile(readFileSync(join(folder, file), 'utf8')).file);
      for (const judged of [model, ...(model.system.states ?? []).map(({ id }) => modelInState(model, id))]) {
        const { text, shorter, over } = leadOf({ findings: check(judged), judged } as never);
        const told = (sentence: string) => `${over === 'danger' ? 'Danger. ' : ''}${pretty(sentence)}`;
        for (const width of [320, 360, 390, 430].map((px) => px - 36)) {
          const { text: said, look } = leadLayout([text, ...shorter].map(told), width);
          expect([file, width, linesOf(said, look === 'lead' ? 22 : 18, width) <= 2]).toEqual([file, width, true]);
          if (over === 'danger') expect(said).toMatch(/^Danger\. /);
        }
      }
    }
  });
});
