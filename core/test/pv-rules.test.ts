import { coldBand } from '../src/pv/strings';
import { cell_C } from '../src/pv/temperature';
import { find, hut, MODULE, part } from './hut';

describe('the coldest dawn', () => {
  test('an open string of two 20 V modules at -15 degC stands at 44.8 V', () => {
    // 2 x 20 V x (1 + 0.30 % x 40 K) = 40 x 1.12
    expect(find(hut(), 'pv.cold-voltage', 'controller')).toMatchObject({
      demand: expect.closeTo(44.8, 9),
      limit: 100,
      verdict: 'holds',
    });
  });
  test('five modules that run at 200 V at noon kill a 250 V controller at dawn', () => {
    const model = hut((system, file) => {
      file.site.recordLow_C = -30;
      Object.assign(part.module(system), {
        voc_V: 45.1,
        vmp_V: 36.8,
        imp_A: 8.42,
        isc_A: 8.96,
        pmax_W: 310,
        betaVoc_pct_C: -0.335,
      });
      part.array(system).strings = [['m', 'm', 'm', 'm', 'm']];
      part.controller(system).maxPv_V = 250;
    });
    // 5 x 45.1 x (1 + 0.00335 x 55) = 267 V
    expect(find(model, 'pv.cold-voltage', 'controller')).toMatchObject({
      verdict: 'over',
      consequence: 'damage',
      demand: expect.closeTo(267.05, 1),
    });
  });
  test.each([
    [44.8, 'holds'],
    [44.79, 'over'],
    [44.81, 'tight'],
    [44.8 / 0.95 + 0.01, 'holds'],
    [44.8 / 0.95 - 0.01, 'tight'],
  ])('a limit of %f V reads %s', (limit, verdict) => {
    // Exactly at the wall is not over, but it is closer than 95 %.
    const expected = limit === 44.8 ? 'tight' : verdict;
    const model = hut((system) => (part.controller(system).maxPv_V = limit));
    expect(find(model, 'pv.cold-voltage', 'controller')?.verdict).toBe(expected);
  });
  test('a missing coefficient falls to the bands and says so', () => {
    const model = hut((system) => (part.module(system).betaVoc_pct_C = null));
    const finding = find(model, 'pv.cold-voltage', 'controller');
    expect(finding?.demand).toBeCloseTo(40 * 1.16, 9);
    expect(finding?.assumed).toContain('m.betaVoc_pct_C');
  });
  test('the school of bands is used where it is chosen, whatever the sheet says', () => {
    const model = hut((_, file) => (file.schools = { ...file.schools, coldVoltage: 'bands' }));
    expect(find(model, 'pv.cold-voltage', 'controller')).toMatchObject({
      demand: expect.closeTo(46.4, 9),
      school: 'bands',
    });
  });
  test('below -40 degC without a coefficient nobody can say', () => {
    const model = hut((system, file) => {
      file.site.recordLow_C = -41;
      part.module(system).betaVoc_pct_C = null;
    });
    expect(find(model, 'pv.cold-voltage', 'controller')).toMatchObject({
      verdict: 'unknown',
      missing: ['m.betaVoc_pct_C'],
      demand: null,
      use: null,
    });
  });
  test('all that is missing is named at once', () => {
    const model = hut((system, file) => {
      file.site.recordLow_C = null;
      part.controller(system).maxPv_V = null;
    });
    expect(find(model, 'pv.cold-voltage', 'controller')?.missing).toEqual(['c.maxPv_V', 'site.recordLow_C']);
  });
  test("the modules' own limit is silent when no plate states it", () => {
    expect(find(hut(), 'pv.cold-voltage', 'modules')).toMatchObject({ limit: 600, verdict: 'holds' });
    expect(
      find(
        hut((system) => (part.module(system).maxSystem_V = null)),
        'pv.cold-voltage',
        'modules',
      ),
    ).toBeUndefined();
  });
  test.each([
    [25, 1],
    [24.9, 1.02],
    [0, 1.1],
    [-0.5, 1.12],
    [-5, 1.12],
    [-5.1, 1.14],
    [-40, 1.25],
    [-40.5, null],
  ])('band at %f degC is %s', (t, factor) => expect(coldBand(t)).toBe(factor));
});

describe('the hottest noon', () => {
  test('a raised module at 30 degC has cells at 66.25 degC', () => {
    expect(cell_C(30, 1000, 45, 5)).toBeCloseTo(66.25, 9);
  });
  test('the controller wakes on 35.05 V against 12.73 + 5 V', () => {
    // 40 V x (1 - 0.003 x 41.25); bank 6 x 2.122 V
    expect(find(hut(), 'pv.start-voltage')).toMatchObject({
      demand: expect.closeTo(35.05, 6),
      limit: expect.closeTo(17.732, 6),
      sense: 'min',
      verdict: 'holds',
    });
  });
  test('one 12 V module cannot start an mppt controller', () => {
    const model = hut((system) => (part.array(system).strings = [['m']]));
    expect(find(model, 'pv.start-voltage')).toMatchObject({ verdict: 'over', consequence: 'loss' });
  });
  test('a known full density moves the bank: 1.275 + 0.845 a cell', () => {
    const model = hut((system) => (part.bank(system).fullDensity_kg_L = 1.275));
    expect(find(model, 'pv.start-voltage')?.limit).toBeCloseTo(6 * 2.12 + 5, 9);
  });
  test('a pwm controller has no start voltage', () => {
    expect(
      find(
        hut((system) => (part.controller(system).type = 'pwm')),
        'pv.start-voltage',
      ),
    ).toBeUndefined();
  });
});

describe('current and power', () => {
  test('short-circuit currents of parallel strings add; bifacial by a tenth more', () => {
    const model = hut((system) => {
      part.array(system).strings = [
        ['m', 'm'],
        ['m', 'm'],
      ];
      part.module(system).bifacial = true;
    });
    expect(find(model, 'pv.input-current')?.demand).toBeCloseTo(2 * 6.5 * 1.1, 9);
  });
  test('an input limit that was not read is unknown, never a pass', () => {
    expect(
      find(
        hut((system) => (part.controller(system).maxPv_A = null)),
        'pv.input-current',
      ),
    ).toMatchObject({ verdict: 'unknown', missing: ['c.maxPv_A'] });
  });
  test.each([
    // Within 1.15 times its rating a tracker that holds itself loses little; the school with margin asks for more.
    ['plain', 50 / 3, 'tight'],
    ['margin', (1.25 * 50) / 3, 'over'],
    ['clip', 50 / 3, 'tight'],
  ] as const)('output by the school %s', (school, demand, verdict) => {
    const model = hut((system, file) => {
      file.schools = { ...file.schools, controllerOutput: school };
      part.controller(system).maxOutput_A = 15;
    });
    expect(find(model, 'pv.output-current')).toMatchObject({
      demand: expect.closeTo(demand, 9),
      verdict,
      school,
      consequence: 'loss',
    });
  });
  test('a controller that does not limit itself is damaged, and clipping does not excuse it', () => {
    const model = hut((system, file) => {
      file.schools = { ...file.schools, controllerOutput: 'clip' };
      Object.assign(part.controller(system), { maxOutput_A: 15, limitsOutput: false });
    });
    expect(find(model, 'pv.output-current')).toMatchObject({ verdict: 'over', consequence: 'damage' });
  });
  test('a pwm controller passes the array current, not the array watts', () => {
    const model = hut((system) => {
      part.controller(system).type = 'pwm';
      part.array(system).strings = [['m'], ['m']];
    });
    expect(find(model, 'pv.output-current')?.demand).toBeCloseTo(13, 9);
  });
  test('trackers that share an output are judged once, on the first', () => {
    const model = hut((system) => {
      system.controllers = [
        { ...part.controller(system), outputGroup: 'twin', maxOutput_A: 20 },
        { ...part.controller(system), id: 'c2', outputGroup: 'twin', maxOutput_A: 99 },
      ];
      system.arrays = [part.array(system), { ...part.array(system), id: 'a2', controllerId: 'c2' }];
    });
    expect(find(model, 'pv.output-current')).toMatchObject({
      subject: 'c',
      demand: expect.closeTo(400 / 12, 9),
      limit: 20,
    });
  });
  test('watts are judged at the nominal voltage, softened where the controller limits itself', () => {
    const model = hut((system) => (part.controller(system).maxPv_W = { 12: 180, 24: 360 }));
    expect(find(model, 'pv.power')).toMatchObject({ demand: 200, limit: 180, verdict: 'tight' });
    expect(find(hut(), 'pv.power')).toBeUndefined();
    expect(
      find(
        hut((system) => (part.controller(system).maxPv_W = { 24: 360 })),
        'pv.power',
      ),
    ).toMatchObject({ verdict: 'unknown', missing: ['c.maxPv_W.12'] });
  });
});

describe('strings beside and behind one another', () => {
  const mixed = (strings: string[][]) =>
    hut((system) => {
      system.moduleTypes = [MODULE, { ...MODULE, id: 'old', imp_A: 5.49, vmp_V: 15 }];
      part.array(system).strings = strings;
    });
  test('Imp of 6.1 and 5.49 A in series is a spread of exactly 10 %: tight, not over', () => {
    expect(find(mixed([['m', 'old']]), 'pv.series-match')).toMatchObject({
      demand: expect.closeTo(10, 9),
      verdict: 'tight',
    });
  });
  test('parallel strings are compared by volts', () => {
    expect(
      find(
        mixed([
          ['m', 'm'],
          ['old', 'old'],
        ]),
        'pv.parallel-match',
      )?.demand,
    ).toBeCloseTo((100 * 2.8) / 32.8, 9);
  });
  test('one module has nothing to match', () => {
    expect(find(mixed([['m']]), 'pv.series-match')).toBeUndefined();
    expect(find(mixed([['m']]), 'pv.parallel-match')).toBeUndefined();
  });
  test('three strings without fuses push 1.25 x 13 A back into the third', () => {
    const strings = [['m'], ['m'], ['m']];
    const model = hut((system) => (part.array(system).strings = strings));
    expect(find(model, 'pv.string-protection')).toMatchObject({
      demand: expect.closeTo(16.25, 9),
      limit: 15,
      verdict: 'over',
      consequence: 'danger',
    });
    expect(
      find(
        hut((system) => (part.array(system).strings = [['m']])),
        'pv.string-protection',
      ),
    ).toBeUndefined();
  });
  test.each([
    // 1.25 x 2 x 6.5 A come back from the others, or what the fuse lets through where that is less.
    [10, 'backfeed', 10, 15, 'holds', 'danger'],
    [10, 'blow', 9.75, 10, 'holds', 'outage'],
    [9, 'backfeed', 9, 15, 'holds', 'danger'],
    [9, 'blow', 9.75, 9, 'over', 'outage'],
    [20, 'backfeed', 16.25, 15, 'over', 'danger'],
    [20, 'blow', 9.75, 20, 'holds', 'outage'],
  ])('a string fuse of %f A, %s: %f against %f A', (fuse, quantity, demand, limit, verdict, consequence) => {
    const model = hut((system) => {
      part.array(system).strings = [['m'], ['m'], ['m']];
      part.array(system).stringFuse_A = fuse;
    });
    expect(find(model, 'pv.string-protection', quantity)).toMatchObject({ demand, limit, verdict, consequence });
  });
});

describe('the nameplate', () => {
  test('a sound plate is silent', () => expect(find(hut(), 'pv.nameplate')).toBeUndefined());
  test.each([
    ['a watt figure that is not Vmp x Imp', { pmax_W: 104 }],
    ['Isc below Imp', { isc_A: 6 }],
    ['volts swapped', { voc_V: 16.4, vmp_V: 20, pmax_W: 122 }],
    ['a cell count that does not fit', { cells: 60 }],
  ])('%s is doubted', (_, change) => {
    const model = hut((system) => Object.assign(part.module(system), change));
    expect(find(model, 'pv.nameplate')).toMatchObject({ verdict: 'note', use: null });
  });
});
