import { canLimit, chargeLimits, heat, lowerVolts, moreStrings, setTo } from '../src/rules/cures/bank';
import { largerInverter, largerPart, moreModules, takeTurns } from '../src/rules/cures/devices';
import { cableAndFuse, fuseCures, jointsAway, sizeUp, stringFuseBodies, stringFuses } from '../src/rules/cures/wires';
import {
  chargingDevices,
  check,
  gistOf,
  neededFor,
  remediesOf,
  settingSheets,
  worstGist,
  type Bank,
  type Finding,
  type Inverter,
  type Load,
  type Model,
  type ModuleType,
  type PvArray,
  type Run,
  type System,
} from '../src/index';
import { BANK, find, hut, hutRuns, part } from './hut';

/** The hut with a 1,000 W inverter that lets go at 10 V: 1000 / (0.9 x 10) = 111 A in its cable, 139 A with a quarter more. */
const wired = (change: (system: System) => void = () => undefined) =>
  hut((system) => {
    system.inverters = [{ id: 'i', label: 'Inv', continuous_W: 1000, surge_W: 1500, settings: { cutoff_V: 10 } }];
    system.runs = hutRuns();
    change(system);
  });
const runOf = (model: Model, id: string) => model.system.runs!.find((run) => run.id === id)!;
const titles = (list: readonly { title: string }[]) => list.map(({ title }) => title);
const values = (list: readonly { changes: readonly { value?: unknown }[] }[]) =>
  list.map(({ changes }) => changes.map(({ value }) => value));
/** The verdict of a rule, and what is offered against it. */
function offered(model: Model, rule: string, quantity?: string) {
  const finding = find(model, rule, quantity)!;
  return { finding, remedies: remediesOf(model, finding, check(model)) };
}

describe('more of a bank', () => {
  const lfp: Bank = { ...BANK, chemistry: 'lfp', cells: 4 };
  test('beside a lead bank of unknown age all blocks are new, up to four strings; from three on each has its fuse', () => {
    const found = moreStrings(hut(), BANK);
    expect(titles(found)).toEqual(['A new bank of 2 strings', 'A new bank of 3 strings', 'A new bank of 4 strings']);
    const [[two], [three]] = values(found) as [[Partial<Bank>], [Partial<Bank>]];
    expect(two).toEqual({
      parallel: 2,
      tapping: 'busbar',
      link: { length_m: 0.5, size: '35mm2' },
      age_y: 0,
      health_pct: 100,
      ageSpread_months: 0,
    });
    expect(three.stringFuse).toMatchObject({ type: 'class-t', fromSource_m: 0, dcRated: true, polarised: false });
  });
  test('half a year old is young, and keeps its age; a month more is not', () => {
    const young = moreStrings(hut(), {
      ...BANK,
      age_y: 0.5,
      series: 2,
      parallel: 2,
      tapping: 'opposite-ends',
      maxParallel: 3,
    });
    expect(titles(young)).toEqual(['Add a string to the existing 2']);
    expect(young[0]!.detail).toMatch(
      /^2 in series each, of 200 Ah; of the same make and age; a \d+ A fuse in each string$/,
    );
    expect(values(young)[0]![0]).toMatchObject({ parallel: 3, tapping: 'opposite-ends' });
    expect(values(young)[0]![0]).not.toHaveProperty('age_y');
    const older = moreStrings(hut(), { ...BANK, age_y: 0.58, parallel: 2, maxParallel: 3 });
    expect(titles(older)).toEqual(['A new bank of 3 strings']);
  });
  test('lithium of unknown age is taken as new, each string of two fused, at most four more', () => {
    const model = hut((system) => void (system.bank = { ...lfp, maxParallel: 9 }));
    const found = moreStrings(model, { ...lfp, maxParallel: 9 });
    expect(titles(found)).toEqual(
      [1, 2, 3, 4].map((n) => `Add ${n === 1 ? 'a string' : `${n} strings`} to the existing one`),
    );
    for (const [value] of values(found)) expect(value).toHaveProperty('stringFuse.type', 'class-t');
    // The maker's own figure is the end of it.
    expect(moreStrings(model, { ...lfp, maxParallel: 2 })).toHaveLength(1);
    expect(moreStrings(model, { ...lfp, maxParallel: 1 })).toEqual([]);
  });
  test('a string that has its fuse keeps it', () => {
    const fused: Bank = { ...BANK, parallel: 3, age_y: 0, stringFuse: { type: 'nh', rating_A: 80 } };
    expect(values(moreStrings(hut(), fused))[0]![0]).not.toHaveProperty('stringFuse');
  });
});

describe('charging held back by settings', () => {
  const model = hut((system) => {
    system.chargers = [
      { id: 'set', kind: 'mains', max_A: 30, settings: {} },
      { id: 'own', kind: 'mains', max_A: 20, profiles: ['custom'] },
      { id: 'plain', kind: 'mains', max_A: 10, profiles: ['agm'] },
      { id: 'belt', kind: 'alternator-direct', max_A: 60, settings: {} },
    ];
  });
  test('what has a menu can be limited: a charger whose settings were read or that takes volts of one’s own; no belt, no pwm', () => {
    expect(
      chargingDevices(model.system)
        .filter(canLimit)
        .map(({ id }) => id),
    ).toEqual(['c', 'set', 'own']);
    const pwm = hut((system) => void (part.controller(system).type = 'pwm'));
    expect(chargingDevices(pwm.system).filter(canLimit)).toEqual([]);
  });
  const sum = (changed: Model) =>
    (part.controller(changed.system).settings?.maxCharge_A ?? 60) +
    (changed.system.chargers ?? [])
      .slice(0, 2)
      .reduce((all, { max_A, settings }) => all + (settings?.maxCharge_A ?? max_A), 0);
  test('one of them to the ampere, the one that gives up least first; else all by the same share', () => {
    // 60 + 30 + 20 = 110 A, 90 wanted: each alone comes down by 20; the smallest one would have nothing left.
    const found = chargeLimits(model, (changed) => sum(changed) <= 90);
    expect(titles(found)).toEqual([
      'Set Controller to 40 A',
      'Set Mains charger 1 to 10 A',
      // 80 % each: 48 + 24 + 16 = 88.
      'Set Controller to 48 A, Mains charger 1 to 24 A, Mains charger 2 to 16 A',
    ]);
    expect(found[0]).toMatchObject({
      detail: 'instead of 60 A; a setting',
      changes: [{ at: 'controllers', id: 'c', value: { settings: { maxCharge_A: 40 } } }],
    });
    // Nothing alone does, and nothing together.
    expect(chargeLimits(model, () => false)).toEqual([]);
  });
  test('an ampere is the least that is set; what is within it already is asked for the whole of it less one', () => {
    expect(
      titles(chargeLimits(hut(), (changed) => (part.controller(changed.system).settings?.maxCharge_A ?? 60) <= 1)),
    ).toEqual(['Set Controller to 1 A']);
    expect(titles(chargeLimits(hut(), () => true))).toEqual(['Set Controller to 59 A']);
    const already = hut((system) => void (part.controller(system).settings = { maxCharge_A: 20 }));
    expect(
      chargeLimits(already, (changed) => (part.controller(changed.system).settings?.maxCharge_A ?? 60) <= 12)[0],
    ).toMatchObject({
      title: 'Set Controller to 12 A',
      detail: 'instead of 20 A; a setting',
    });
  });
  test('what has no part in it is left alone: nobody turns the sun down for a weak generator', () => {
    const weak = wired((system) => {
      system.chargers = [{ id: 'ch', kind: 'mains', max_A: 60, settings: {}, sourceId: 'g' }];
      system.sources = [{ id: 'g', kind: 'generator', power_W: 1000 }];
    });
    const { finding, remedies } = offered(weak, 'charger.input');
    expect([finding.verdict, finding.limit]).toEqual(['over', 800]);
    // Of 1,046 VA at 60 A four fifths of 800 W are left: 36.7 A.
    expect(titles(remedies)).toEqual(['Set Mains charger to 36 A']);
  });
});

describe('volts of one’s own', () => {
  const set = hut((system) => {
    part.controller(system).settings = { absorb_V: 15.5, equalise_V: 15.8, float_V: 13.5 };
    system.chargers = [
      { id: 'ch', kind: 'mains', max_A: 30, settings: { absorb_V: 14.8, equalise_V: 0 } },
      { id: 'al', kind: 'alternator-direct', max_A: 60 },
    ];
  });
  test('equalising off first, then absorb down to the chemistry’s own: six cells of 2.43 V are 14.58', () => {
    const found = lowerVolts(set);
    expect(titles(found)).toEqual(['Equalising off on Controller', 'Absorb at 14.5 V on Controller, Mains charger']);
    expect(values(found)).toEqual([
      [{ settings: { equalise_V: 0 } }],
      [{ settings: { equalise_V: 0 } }, { settings: { absorb_V: 14.5 } }, { settings: { absorb_V: 14.5 } }],
    ]);
    expect(found[1]!.detail).toBe('2.43 V a cell, equalising off; settings, nothing to buy');
    expect(
      lowerVolts(hut((system) => void (part.controller(system).settings = { absorb_V: 14.5, equalise_V: 0 }))),
    ).toEqual([]);
    expect(lowerVolts(hut((system) => void (system.bank = null)))).toEqual([]);
  });
  test('one setting of one device, where it was found set', () => {
    const { path } = settingSheets(set.system).find(({ id }) => id === 'c')!;
    expect(setTo(set, path, 'absorb_V', 2.41)).toMatchObject([
      {
        title: 'Set absorb of Controller to 14.5 V',
        detail: '2.41 V a cell; read it back',
        changes: [{ value: { settings: { absorb_V: 14.5 } } }],
      },
    ]);
    expect(setTo(set, path, 'equalise_V', 0)).toMatchObject([
      { title: 'Set equalising of Controller to 0, off', detail: 'not for this bank; read it back' },
    ]);
    expect(setTo(set, path, 'cutoff_V', 1.93)).toEqual([]);
    expect(setTo(set, 'nobody', 'absorb_V', 2.4)).toEqual([]);
  });
  test('warmth for cells that have none', () => {
    expect(heat(set, BANK)).toMatchObject([
      { title: 'Keep the cells above 5 degC', changes: [{ at: 'bank', value: { heated: true } }] },
    ]);
    expect(heat(set, { ...BANK, heated: true })).toEqual([]);
  });
});

describe('larger devices, and loads that take turns', () => {
  const inverter: Inverter = { id: 'i', label: 'Inv', continuous_W: 1000, surge_W: 1500 };
  const loads: Load[] = [
    { id: 'l1', label: 'Kettle', kind: 'ac', power_W: 900, hours_d: 0.2 },
    { id: 'l2', label: 'Iron', kind: 'ac', power_W: 400, quantity: 3, hours_d: 0.2 },
    { id: 'l3', label: 'Fridge', kind: 'ac', power_W: 80, hours_d: 8, overlap: 'base' },
    { id: 'l4', label: 'Saw', kind: 'ac', power_W: 700, hours_d: 1, overlap: 'may' },
    { id: 'l5', label: 'Drill', kind: 'ac', power_W: 800, hours_d: 1, overlap: 'alone' },
  ];
  const model = hut((system) => {
    system.inverters = [inverter];
    system.loads = loads;
  });
  const watts = (list: ReturnType<typeof largerInverter>) =>
    list.map(({ changes }) => (changes[0]!.value as { continuous_W: number }).continuous_W);
  test('sizes as sold, four of them, from the least; twice the rating for the start', () => {
    const found = largerInverter(model, inverter, { W: 1800 });
    expect(watts(found)).toEqual([2000, 2500, 3000, 3500]);
    expect(found[0]).toMatchObject({
      title: 'An inverter of 2000 W in place of Inv',
      changes: [{ value: { continuous_W: 2000, surge_W: 4000 } }],
    });
    expect(found[0]!.detail).toMatch(/^4000 W for starting/);
    expect(watts(largerInverter(model, inverter, { W: 2000 }))[0]).toBe(2000);
    // Never one of its own size again.
    expect(watts(largerInverter(model, inverter, {}))[0]).toBeGreaterThan(1000);
  });
  test('a start of 9,000 W wants one of 5,000; volt-amperes grow with it; a better surge of its own is kept', () => {
    expect(watts(largerInverter(model, inverter, { surge_W: 9000 }))[0]).toBe(5000);
    expect(largerInverter(model, { ...inverter, continuous_VA: 1200 }, { W: 4100 })[0]!.changes[0]!.value).toEqual({
      continuous_W: 5000,
      continuous_VA: 5000,
      surge_W: 10_000,
    });
    expect(
      largerInverter(model, { ...inverter, continuous_VA: 6500, surge_W: 20_000 }, { VA: 4100, surge_W: 15_000 })[0]!
        .changes[0]!.value,
    ).toEqual({ continuous_W: 5000, continuous_VA: 6500, surge_W: 20_000 });
    expect(largerInverter(model, { id: 'i', continuous_W: 1000 }, { W: 1800 })[0]!.changes[0]!.value).toEqual({
      continuous_W: 2000,
    });
  });
  test('the largest two, then three: by watts times how many; what always runs and what has its turn already are left out', () => {
    const found = takeTurns(model, inverter);
    expect(titles(found)).toEqual(['Iron, Kettle: one at a time', 'Iron, Kettle, Saw: one at a time']);
    expect(found[0]!.changes).toEqual([
      { op: 'set', at: 'loads', id: 'l2', value: { overlap: 'alone', group: 'one at a time' } },
      { op: 'set', at: 'loads', id: 'l1', value: { overlap: 'alone', group: 'one at a time' } },
    ]);
  });
  test('a part by a figure: what holds exactly is enough, four at most, none where it is not known', () => {
    const sizes = (least: number | null) =>
      titles(
        largerPart('controllers', 'c', 'maxPv_V', least, [100, 150, 200, 250, 300, 450], (size) => ({
          title: String(size),
          detail: '',
        })),
      );
    expect(sizes(150)).toEqual(['150', '200', '250', '300']);
    expect(sizes(150.001)).toEqual(['200', '250', '300', '450']);
    expect(sizes(500)).toEqual([]);
    expect([sizes(null), sizes(Infinity), sizes(NaN)]).toEqual([[], [], []]);
    expect(largerPart('controllers', 'c', 'maxPv_V', 99, [100], () => ({ title: '', detail: '' }))[0]!.changes).toEqual(
      [{ op: 'set', at: 'controllers', id: 'c', value: { maxPv_V: 100 } }],
    );
  });
  test('strings like the longest, one to six of them; none where types are mixed', () => {
    const more = (strings: string[][]) => moreModules(hut(), { id: 'a', strings });
    expect(titles(more([['m', 'm'], ['m']])).slice(0, 2)).toEqual([
      '2 modules more: one string of 2 beside the rest',
      '4 modules more: 2 strings of 2 beside the rest',
    ]);
    expect(titles(more([['m']]))[0]).toBe('1 module more: one string of 1 beside the rest');
    expect(
      more([['m', 'm'], ['m']]).map(({ changes }) => (changes[0]!.value as { strings: string[][] }).strings),
    ).toHaveLength(6);
    expect((more([['m', 'm']])[1]!.changes[0]!.value as { strings: string[][] }).strings).toEqual([
      ['m', 'm'],
      ['m', 'm'],
      ['m', 'm'],
    ]);
    expect(more([['m', 'n']])).toEqual([]);
  });
  test('nobody is told to buy modules for which the measured roof has no place', () => {
    // 2,500 by 2,000 mm less 100 mm all round: two of 1,000 by 1,700 mm side by side, never three.
    const roofed = (strings: string[][], size: Partial<ModuleType> = {}, array: Partial<PvArray> = {}) => {
      const model = hut((system) => {
        system.roofs = [
          {
            id: 'top',
            outline_mm: [
              [0, 0],
              [2500, 0],
              [2500, 2000],
              [0, 2000],
            ],
          },
        ];
        Object.assign(system.moduleTypes![0]!, { width_mm: 1000, length_mm: 1700, ...size });
        system.arrays = [{ ...system.arrays![0]!, ...array, strings }];
      });
      return moreModules(model, model.system.arrays![0]!);
    };
    const m = hut().system.moduleTypes![0]!.id;
    expect(titles(roofed([[m]]))).toEqual(['1 module more: one string of 1 beside the rest']);
    expect(roofed([[m]])[0]!.detail).toBe('of the same type; the measured roof has room');
    expect(roofed([[m], [m]])).toEqual([]);
    // A string of two finds no place beside two.
    expect(roofed([[m, m]])).toEqual([]);
    // Beside the house there is room, and of a module whose size nobody read nothing is known.
    expect(roofed([[m], [m]], {}, { mounting: 'ground' })).toHaveLength(6);
    expect(roofed([[m], [m]], { width_mm: null })[0]!.detail).toBe('of the same type, if the roof has room');
  });
});

describe('cables and fuses', () => {
  const model = wired();
  test('a fuse between the current and the conductor, the largest that protects it first, within a hand of the source', () => {
    // 10 mm2 in a building: 50 A at 75 degC; the sun's 200 W / 12 V = 16.7 A, a quarter more 20.8.
    const found = fuseCures(model, runOf(model, 'r2'));
    expect(titles(found)[0]).toBe('A strip fuse of 50 A at the source end');
    for (const { changes } of found) {
      const { protection } = changes[0]!.value as Run;
      expect(protection!.rating_A).toBeGreaterThanOrEqual(20.8);
      expect(protection!.rating_A).toBeLessThanOrEqual(50);
      expect(protection!.fromSource_m).toBe(0.05);
    }
    // Of each type the smallest too, which clears a far fault.
    expect(titles(found)).toContain('A strip fuse of 30 A at the source end');
    // The sun's own cable takes only what breaks its volts.
    for (const title of titles(fuseCures(model, runOf(model, 'r3'))))
      expect(title).toMatch(/^(A PV fuse|A DC breaker) of (12|15|16|20) A at the source end$/);
  });
  test('none where the conductor carries less than is asked of it: then cable and fuse together', () => {
    const run = runOf(model, 'r1');
    // 139 A asked, 65 A carried.
    expect(fuseCures(model, run)).toEqual([]);
    const both = cableAndFuse(model, run);
    expect(titles(both)[0]).toBe('50 mm2 and a strip fuse of 150 A');
    expect(both[0]!.detail).toBe('2 m one way; rated 32 V DC, interrupts up to 2 kA here; its data sheet must say so');
    // It sits where the old one sat.
    expect((both[0]!.changes[0]!.value as Run).protection).not.toHaveProperty('fromSource_m');
    const bare = cableAndFuse(model, { ...run, protection: null });
    expect((bare[0]!.changes[0]!.value as Run).protection).toHaveProperty('fromSource_m', 0.05);
    expect(cableAndFuse(model, { ...run, kind: 'ac' })).toEqual([]);
  });
  test('thicker ones of its own kind of size, then two of a size', () => {
    const sizes = (run: Run) => titles(sizeUp(model, run)).map((title) => title.replace(/ instead.*/, ''));
    const run = runOf(model, 'r1');
    expect(sizes(run)).toEqual([
      '25 mm2',
      '35 mm2',
      '50 mm2',
      '70 mm2',
      '95 mm2',
      '120 mm2',
      '150 mm2',
      '185 mm2',
      '240 mm2',
      'Two of 50 mm2 a pole',
      'Two of 70 mm2 a pole',
      'Two of 95 mm2 a pole',
      'Two of 120 mm2 a pole',
    ]);
    expect(sizes({ ...run, size: '4AWG' }).slice(0, 3)).toEqual(['2 AWG', '1 AWG', '1/0 AWG']);
    expect(sizes({ ...run, size: '4AWG' })).not.toContain('3 AWG');
    // Aluminium of 16 mm2 conducts as copper of 10 does: a size of copper that is no larger fixes it too.
    expect(sizes({ ...run, material: 'aluminium' })[0]).toBe('10 mm2');
    // Nobody lays less than 1.5 mm2 for a cure; two a pole are not doubled again.
    expect(sizes({ ...run, size: '0.75mm2' })[0]).toBe('1.5 mm2');
    expect(sizes({ ...run, perPole: 2 }).filter((title) => title.startsWith('Two'))).toEqual([]);
    expect(sizeUp(model, run).at(-1)).toMatchObject({
      last: true,
      changes: [{ value: { size: '120mm2', perPole: 2, material: 'copper' } }],
    });
    expect(sizeUp(model, run)[0]!.last).toBeUndefined();
  });
  test('what it must get into is said', () => {
    const small = wired((system) => void (system.inverters![0]!.terminals = { max_mm2: 25 }));
    const details = sizeUp(small, runOf(small, 'r1')).map(({ detail }) => detail);
    expect(details[0]).toBe('2 m one way');
    expect(details[1]).toBe('2 m one way; Inv takes 25 mm2: with a reducing lug or a short tail');
  });
  test('a fuse at the post of each string: a quarter more than its share, class T and NH as sold', () => {
    // 111 A x 1.25 = 139 A.
    expect(stringFuseBodies(model, BANK)).toEqual([
      { type: 'class-t', rating_A: 150 },
      { type: 'nh', rating_A: 160 },
    ]);
    expect(titles(stringFuses(model))).toEqual([
      'A class T fuse of 150 A at the post of the bank',
      'An NH fuse of 160 A at the post of the bank',
    ]);
    const two = wired(
      (system) =>
        void (system.bank = { ...BANK, parallel: 2, tapping: 'busbar', link: { length_m: 0.3, size: '35mm2' } }),
    );
    expect(titles(stringFuses(two))[0]).toMatch(/at the post of each string$/);
    expect(stringFuses(hut((system) => void (system.bank = null)))).toEqual([]);
  });
  test('joints away, where there are any', () => {
    expect(jointsAway(runOf(model, 'r2'))).toMatchObject([
      {
        title: 'No joints in the cable',
        detail: 'one length of 10 mm2 instead of 2 joints',
        changes: [{ value: { joints: 0 } }],
      },
    ]);
    expect(jointsAway(runOf(model, 'r1'))).toEqual([]);
  });
});

describe('what is offered where it is found', () => {
  test('an inverter that lets go too late: six cells at 1.93 V, rounded up', () => {
    const { finding, remedies } = offered(wired(), 'bank.deep-discharge', 'i');
    expect(finding.demand).toBeCloseTo(10 / 6, 9);
    expect(titles(remedies)).toEqual(['Set the cut-off to 11.6 V']);
    expect(values(remedies)).toEqual([[{ settings: { cutoff_V: 11.6 } }]]);
    // Where no setting was ever found there may be none.
    expect(
      offered(
        wired((system) => void (system.inverters = [{ id: 'i', continuous_W: 1000, lowCutoff_V: 10 }])),
        'bank.deep-discharge',
        'i',
      ).remedies,
    ).toEqual([]);
  });
  test('the protection comes last: 0.2 V a cell above its trip, 0.05 V below', () => {
    const guarded = (absorb_V: number) =>
      wired((system) => {
        system.bank!.protection = { lowTrip_V_cell: 1.75, highTrip_V_cell: 2.5 };
        part.controller(system).settings = { absorb_V };
        system.chargers = [{ id: 'ch', kind: 'mains', max_A: 20, settings: { absorb_V: 14.2 } }];
      });
    const low = offered(guarded(15.6), 'cutoff.order', 'low');
    expect(low.finding.limit).toBeCloseTo(1.95, 9);
    expect(titles(low.remedies)).toEqual(['Cut off at 11.7 V on Inv']);
    const high = offered(guarded(15.6), 'cutoff.order', 'high');
    expect([high.finding.demand, high.finding.limit]).toEqual([15.6 / 6, 2.5 - 0.05]);
    // The one that is too high alone; set to the table's 14.58, which is lower still.
    expect(titles(high.remedies)).toEqual(['Absorb at 14.7 V or less on Controller']);
    expect(values(high.remedies)).toEqual([[{ settings: { absorb_V: 14.5 } }]]);
    expect(find(guarded(14.7), 'cutoff.order', 'high')!.verdict).toBe('holds');
  });
  test('sources that disagree are all set to the table’s own', () => {
    const { finding, remedies } = offered(
      wired((system) => {
        part.controller(system).settings = { absorb_V: 14.9 };
        system.chargers = [{ id: 'ch', kind: 'mains', max_A: 20, settings: { absorb_V: 14.2 } }];
      }),
      'settings.agree',
    );
    expect(finding.demand).toBeCloseTo(0.7 / 6, 9);
    expect(titles(remedies)).toEqual(['Absorb at 14.6 V on Controller, Mains charger']);
  });
  test('a charger that is held back is let go of first; else one of which four fifths are enough', () => {
    const alone = (max_A: number, settings: { maxCharge_A: number } | undefined) =>
      wired((system) => {
        system.arrays = [];
        system.controllers = [];
        system.runs = [];
        system.chargers = [{ id: 'ch', kind: 'mains', max_A, ...(settings ? { settings } : {}) }];
      });
    const held = offered(alone(20, { maxCharge_A: 10 }), 'bank.charge-min');
    expect([held.finding.demand, held.finding.limit]).toEqual([10, 20]);
    expect(titles(held.remedies)[0]).toBe('Let Mains charger charge with its 20 A');
    const small = offered(alone(10, undefined), 'bank.charge-min');
    // 20 A wanted are four fifths of 25.
    expect((values(small.remedies)[0]![0] as { max_A: number }).max_A).toBe(25);
  });
  test('a custom profile wants its volts; cells in the cold less current, or warmth', () => {
    const custom = offered(
      wired((system) => void (part.controller(system).profiles = ['custom'])),
      'controller.profile',
    );
    expect(titles(custom.remedies)).toEqual(['Set the custom profile to absorb at 14.6 V']);
    const cold = offered(
      wired(
        (system) =>
          void (system.bank = { ...BANK, chemistry: 'lfp', cells: 4, place: { space: 'outbuilding', min_C: 2 } }),
      ),
      'bank.cold-charge',
    );
    // Below 5 degC a twentieth of 200 Ah.
    expect(cold.finding.limit).toBe(10);
    expect(titles(cold.remedies)[0]).toBe('Set Controller to 10 A');
  });
  test('an alternator straight onto lithium becomes a DC-DC charger, fused at both ends', () => {
    const { finding, remedies } = offered(
      wired((system) => {
        system.bank!.chemistry = 'lfp';
        system.sources = [{ id: 'al', kind: 'alternator', rating_A: 90 }];
        system.chargers = [{ id: 'ch', kind: 'alternator-direct', max_A: 60, sourceId: 'al' }];
      }),
      'alternator.load',
    );
    expect([finding.verdict, finding.demand]).toEqual(['over', null]);
    // 0.6 x 90 - 25 = 29 A for long, four fifths of it 23.
    expect(values(remedies)[0]![0]).toMatchObject({ kind: 'dc-dc', externallyRegulated: null });
    expect((values(remedies)[0]![0] as { max_A: number }).max_A).toBeLessThanOrEqual(23.2);
  });
  test('the negative that goes around the shunt is moved, and none but that', () => {
    const model = wired((system) => {
      system.monitor = { id: 'mo', shunt_A: 100 };
      system.runs![0]!.negativeThroughShunt = false;
      system.runs![1]!.negativeThroughShunt = true;
    });
    const { finding, remedies } = offered(model, 'monitor.coverage');
    expect(finding.verdict).toBe('over');
    expect(remedies[0]!.changes).toEqual([{ op: 'set', at: 'runs', id: 'r1', value: { negativeThroughShunt: true } }]);
    expect(titles(offered(model, 'monitor.shunt').remedies)[0]).toBe('A shunt of 150 A');
  });
  test('a breaker bears a quarter more than its cable’s current, an isolator the current', () => {
    const model = wired((system) => {
      system.switches = [
        { id: 'sw', kind: 'isolator', runId: 'r1', rating_A: 112 },
        { id: 'br', kind: 'breaker', runId: 'r1', rating_A: 112 },
      ];
    });
    const of = (subject: string) =>
      check(model).find(
        (one) => one.rule === 'switch.rating' && one.subject === subject && one.quantity === 'current',
      )!;
    expect([of('sw').verdict, of('br').verdict]).toEqual(['holds', 'over']);
    expect(of('br').demand).toBeCloseTo(1.25 * of('sw').demand!, 9);
    expect(titles(remediesOf(model, of('br'), check(model)))[0]).toBe('The breaker for 160 A');
  });
});

describe('what would be needed where nothing cures', () => {
  const finding = (more: Partial<Finding>): Finding => ({
    rule: 'run.ampacity',
    subject: 'r1',
    quantity: null,
    verdict: 'over',
    consequence: 'danger',
    demand: 120,
    limit: 80,
    unit: 'A',
    sense: 'max',
    use: 1.5,
    tightAbove: 0.8,
    working: [],
    assumed: [],
    missing: [],
    cautions: [],
    remedies: [],
    ...more,
  });
  test('by its two figures, at its own margin; without figures a person', () => {
    const model = wired();
    const said = (more: Partial<Finding>) => neededFor(model, finding({ rule: 'pv.cold-voltage', ...more }));
    expect(said({})).toBe('Needs 150 A or more at Bank to inverter, 16 mm2, or its load brought down to 64 A.');
    // Where nothing may be asked of it, nobody is told to ask for nothing.
    expect(said({ limit: 0 })).toBe(
      'Needs 150 A or more at Bank to inverter, 16 mm2. As it is, it cannot be used at all.',
    );
    expect(said({ sense: 'min', demand: 10, limit: 20, unit: 'V', tightAbove: 1 })).toBe(
      'Needs 20 V or more at Bank to inverter, 16 mm2; it has 10 V.',
    );
    expect(said({ demand: null })).toMatch(/^Needs Bank to inverter, 16 mm2 checked on site/);
  });
});

describe('what a site is about', () => {
  test('the worst in its sentence and how many are over; a site where nothing is over is quiet', () => {
    const model = wired();
    const findings = check(model);
    const gist = gistOf(model, findings);
    expect(gist.verdict).toBe('over');
    expect(gist.over).toBe(findings.filter(({ verdict }) => verdict === 'over').length);
    const quiet = findings.filter(({ verdict }) => verdict === 'holds' || verdict === 'note');
    expect(gistOf(model, quiet)).toMatchObject({ sentence: 'Nothing is over.', over: 0 });
    expect(gistOf(model, [])).toEqual({ verdict: 'none', sentence: 'Nothing is over.', over: 0 });
  });
  test('a state in which it is graver is named; one in which it is not is not', () => {
    const off = (ids: string[]) =>
      wired((system) => void (system.states = [{ id: 's', label: 'On the road', off: ids }]));
    const model = off(['i']);
    expect(worstGist(model, check(model)).sentence).not.toMatch(/^On the road/);
  });
});
