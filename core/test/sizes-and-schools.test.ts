import { createLedger } from '../src/ledger/ledger';
import { currentAt, fit, lit } from '../src/pv/diode';
import { checkWithRemedies } from '../src/rules/cures/remedies';
import type { Bank, Run } from '../src/index';
import { largestFuse_A } from '../src/power/conductor-limits';
import { sizeUp } from '../src/rules/cures/wires';
import { SCHOOLS } from '../src/rules/schools';
import {
  CHARGER_A,
  CONTROLLER_OUTPUT_A,
  CONTROLLER_PV_A,
  CONTROLLER_PV_V,
  INVERTER_W,
  PV_FUSE_A,
  SHUNT_A,
  sizeSold,
} from '../src/rules/cures/sold';
import { PRECHARGE_UF_W } from '../src/rules/tables';
import { BANK, find, hut, MODULE, part } from './hut';

describe('what can be bought', () => {
  test('a specification names these sizes and no other', () => {
    expect([...CONTROLLER_OUTPUT_A]).toEqual([10, 15, 20, 30, 40, 50, 60, 70, 80, 85, 100, 120]);
    expect([...CONTROLLER_PV_V]).toEqual([50, 75, 100, 150, 175, 200, 250, 300, 450, 500, 600]);
    expect([...CONTROLLER_PV_A]).toEqual([10, 15, 20, 30, 35, 40, 50, 60, 70, 80, 100, 120]);
    expect([...CHARGER_A]).toEqual([5, 10, 15, 20, 25, 30, 40, 50, 60, 70, 80, 100, 120, 150, 200]);
    expect([...PV_FUSE_A]).toEqual([1, 2, 3, 4, 5, 6, 8, 10, 12, 15, 16, 20, 25, 30, 32]);
    expect([...SHUNT_A]).toEqual([50, 100, 150, 200, 300, 500, 1000, 1500]);
    expect([...INVERTER_W]).toEqual([
      150, 300, 500, 700, 800, 1000, 1200, 1500, 1600, 2000, 2500, 3000, 3500, 4000, 5000, 6000, 8000, 10_000, 12_000,
      15_000,
    ]);
  });
  test('what is asked to the digit is enough, a hair more is the next size, more than is sold is nothing', () => {
    expect([20, 20.001, 0.1 + 0.2 + 19.7, 121].map((least) => sizeSold(CONTROLLER_OUTPUT_A, least))).toEqual([
      20,
      30,
      20,
      undefined,
    ]);
  });
  test('a thicker cable: each size above its own, in its own system; from aluminium in copper', () => {
    const run = (size: string, material?: Run['material']): Run => ({
      id: 'r',
      kind: 'dc-load',
      from: 'b',
      to: 'l',
      length_m: 3,
      size,
      material,
    });
    const sizes = (size: string, material?: Run['material']) =>
      sizeUp(hut(), run(size, material))
        .filter(({ last }) => !last)
        .map(({ changes }) => (changes[0] as { value: { size: string } }).value.size);
    expect(sizes('35mm2')).toEqual(['50', '70', '95', '120', '150', '185', '240'].map((mm2) => `${mm2}mm2`));
    expect(sizes('1mm2')).toHaveLength(15);
    expect(sizes('4AWG')).toEqual(['2', '1', '1/0', '2/0', '3/0', '4/0'].map((awg) => `${awg}AWG`));
    expect(sizes('16AWG')).toHaveLength(12);
    expect(sizes('240mm2')).toEqual([]);
  });
  test('capacitors to fill before the switch closes: 10 uF a watt to 15 V, 4 to 30 V, 1.5 above', () =>
    expect(PRECHARGE_UF_W).toEqual([
      [15, 10],
      [30, 4],
      [Infinity, 1.5],
    ]));
});

describe('schools', () => {
  test("the book's own choice is one of those offered", () => {
    for (const { path, book, choices } of SCHOOLS.filter((school) => school.book !== null))
      expect([path, choices.some(([value]) => value === book)]).toEqual([path, true]);
  });
  test('a fuse sits at the post, within 18 cm or within 45 of the source', () =>
    expect(SCHOOLS.find(({ path }) => path === 'sourceEnd_m')).toMatchObject({
      book: 0.18,
      choices: [
        [0, expect.anything(), expect.any(String)],
        [0.18, expect.anything(), expect.any(String)],
        [0.45, expect.anything(), expect.any(String)],
      ],
    }));
});

describe('the largest fuse of a conductor', () => {
  const largest = (conductor: 'building' | 'vehicle' | 'metric', size: string) => {
    const model = hut((system, file) => {
      file.schools = { ...file.schools, conductor };
      file.site.recordHigh_C = 20;
      system.runs = [{ id: 'r', kind: 'dc-load', from: 'b', to: 'l', length_m: 1, size, insulation_C: 75 }];
    });
    return largestFuse_A(createLedger(model), model.system.runs![0]!);
  };
  test('small building wire: 15 A on 14 AWG, 20 A on 12, 30 A on 10, whatever it may carry', () =>
    expect(['14AWG', '12AWG', '10AWG'].map((size) => largest('building', size))).toEqual([15, 20, 30]));
  test('the cap is of the building school alone', () => {
    for (const size of ['14AWG', '12AWG', '10AWG'])
      expect(largest('vehicle', size)).toBeGreaterThan(largest('building', size));
  });
});

describe('curves against the bank', () => {
  const bank: Bank = { ...BANK, chemistry: 'flooded' };
  const hot = (type: 'mppt' | 'pwm' | null, strings: string[][] = [['m']]) =>
    find(
      hut((system) => {
        system.bank = bank;
        part.array(system).strings = strings;
        Object.assign(part.controller(system), { type });
      }),
      'pv.hot-voltage',
    );
  test('the hot module is read at absorb and half a volt into pwm, a whole one into mppt', () => {
    // Raised: 30 degC of air + 25/20 x 25 by NOCT 45 + 5; flooded 12 V absorbs at 14.58 V.
    const cell = 30 + 31.25 + 5;
    const left = (volts: number) => (100 * currentAt(lit(fit(MODULE), 1000, cell), volts)) / 6.1;
    const [pwm, mppt] = [hot('pwm'), hot('mppt')];
    const absorb = 6 * 2.43;
    expect(pwm?.demand).toBeCloseTo(left(absorb + 0.5), 1);
    expect(mppt?.demand).toBeCloseTo(left(absorb + 1), 1);
    expect(pwm?.demand).toBeGreaterThan(mppt?.demand ?? NaN);
    expect(pwm).toMatchObject({ limit: 75, unit: '%' });
  });
  test('of strings of one and of two the one decides; a controller of unread type is not asked', () => {
    expect(hot('mppt', [['m', 'm'], ['m']])?.demand).toBeCloseTo(hot('mppt')?.demand ?? NaN, 6);
    expect(hot(null)).toBeUndefined();
  });
});

describe('an inverter in a building', () => {
  const fed = (transfer: 'none' | 'built-in' | 'external' | null) =>
    find(
      hut((system) => (system.inverters = [{ id: 'inv', continuous_W: 500, feeds: 'building', transfer }])),
      'inverter.feed',
    );
  test('with nothing between two supplies is a danger; unseen is unknown; kept apart is quiet', () => {
    expect(fed('none')).toMatchObject({ verdict: 'over', missing: [] });
    expect(fed(null)).toMatchObject({ verdict: 'unknown', missing: ['inv.transfer'] });
    expect(fed('built-in')).toBeUndefined();
    expect(fed('external')).toBeUndefined();
  });
});

describe('cures of a controller', () => {
  test('too small for the sun: the next size above 1/.95, with its own limit', () => {
    const model = hut((system) => {
      Object.assign(part.controller(system), { maxOutput_A: 10, limitsOutput: false });
    });
    // 200 W at 12 V: 16.7 A, / .95 = 17.5 A: 20 A is sold
    const cures = checkWithRemedies(model).find(({ rule }) => rule === 'pv.output-current')?.remedies ?? [];
    expect(cures.map(({ title }) => title)).toContain('Controller for 20 A or more');
  });
});
