import {
  mergeChanges,
  judgeSpec,
  leastBody,
  specify,
  swapChanges,
  verdictOf,
  type Model,
  type Run,
  type SpecLine,
  type Specification,
  type System,
} from '../src/index';
import { inputsOf, inputsOfKind, down, mostHolding, up } from '../src/successor/in-its-place';
import { cabledChanges, joinChanges } from '../src/successor/join';
import { freeId } from '../src/system/free-id';
import { fusesThatServe } from '../src/successor/wires';
import { hut, wired as wiredHut } from './hut';

/** The wired hut, its bank in a place that bears and holds so much. */
const wired = (change: (system: System) => void = () => undefined): Model =>
  wiredHut((system) => {
    Object.assign(system.bank!.place!, { maxMass_kg: 101, length_mm: 600, width_mm: 300, height_mm: 300 });
    change(system);
  });
const lithium = (system: System) => void (system.bank = { ...system.bank!, chemistry: 'lfp', cells: 4, block_V: 12.8 });
const at = (spec: Specification | null, field: string | null, test: SpecLine['test'], nth = 0) =>
  spec!.lines.filter((line) => line.field === field && line.test === test)[nth];
const said = (spec: Specification | null) => spec!.lines.map(({ label }) => label);

describe('a controller for two modules of 20 V, 6.5 A, 100 W on 200 Ah of flooded lead', () => {
  const spec = specify(wired(), 'c');
  test('each figure with the room that its rule asks for, then as sold', () => {
    // 2 x 20 V x (1 + 0.3 % x 40 K) = 44.8 V, at 95 % of it.
    expect(at(spec, 'maxPv_V', 'least')).toMatchObject({ value: 50, rule: 'pv.cold-voltage', unit: 'V', must: true });
    expect(at(spec, 'maxPv_V', 'least')!.exact).toBeCloseTo(44.8 / 0.95, 9);
    expect(at(spec, 'maxPv_A', 'least')!.exact).toBeCloseTo(6.5 / 0.8, 9);
    expect(at(spec, 'maxPv_A', 'least')!.value).toBe(10);
    expect(at(spec, 'maxOutput_A', 'least')!.exact).toBeCloseTo(200 / 12 / 0.95, 9);
    expect(at(spec, 'maxOutput_A', 'least')!.value).toBe(20);
    expect(at(spec, 'maxPv_W.12', 'least')).toMatchObject({ value: 220, must: false });
  });
  test('its window: equalising lifted by the sensor in the cold, down to an empty bank', () => {
    // 6 x (2.58 V + 5 mV x 23 K) = 16.17 V; 6 x 1.92 V.
    expect(at(spec, 'maxBattery_V', 'least')!.exact).toBeCloseTo(16.17, 9);
    expect(at(spec, 'maxBattery_V', 'least')!.value).toBe(16.2);
    expect(at(spec, 'minBattery_V', 'most')).toMatchObject({ value: 11.5 });
    expect(at(spec, 'minBattery_V', 'most')!.exact).toBeCloseTo(11.52, 9);
    expect(at(spec, 'startAbove_V', 'most')).toMatchObject({ value: 20.5, must: false });
  });
  test('profiles that serve, and volts of one’s own; a sensor is recommended on lead, the cold is proved on lithium', () => {
    expect(at(spec, 'profiles', 'includes')).toMatchObject({
      words: ['flooded', 'custom'],
      rule: 'controller.profile',
    });
    expect(at(spec, 'temperatureSensor', 'true')!.must).toBe(false);
    // A fifth of 200 Ah, at nine tenths.
    expect(said(spec)).toContain('Output can be limited to 36 A');
    expect(said(spec)).toContain('Terminals take 10 mm2 and 4 mm2');
    const cold = said(specify(wired(lithium), 'c'));
    expect(cold).toContain('Stops charging in the cold');
    expect(cold).not.toContain('Temperature sensor at the bank');
    expect(
      said(
        specify(
          wired((system) => {
            lithium(system);
            system.bank!.heated = true;
          }),
          'c',
        ),
      ),
    ).not.toContain('Stops charging in the cold');
  });
  test('pwm may stay pwm where it throws little away, and carries a quarter more than the strings’ own amperes', () => {
    const pwm = (strings: string[][]) =>
      specify(
        wired((system) => {
          Object.assign(system.controllers![0]!, { type: 'pwm', selfUse_W: 2 });
          system.arrays![0]!.strings = strings;
        }),
        'c',
      );
    expect(at(pwm([['m'], ['m']]), 'type', 'one-of')).toMatchObject({ words: ['pwm', 'mppt'], value: 'PWM or MPPT' });
    // Two modules in series at 13.5 V give half.
    expect(at(pwm([['m', 'm']]), 'type', 'one-of')!.words).toEqual(['mppt']);
    expect(at(pwm([['m'], ['m']]), 'maxOutput_A', 'least')!.why.at(-1)).toBe("if PWM: 1.25 x the strings' own 13 A");
    // Four strings: 26 A, a quarter more 32.5; by watts 400 / 12 / 0.95 = 35.1.
    expect(at(pwm([['m'], ['m'], ['m'], ['m']]), 'maxOutput_A', 'least')!.exact).toBeCloseTo(400 / 12 / 0.95, 9);
    expect(at(pwm([['m'], ['m']]), 'selfUse_W', 'most')).toMatchObject({ value: 2, must: false });
    expect(at(spec, 'selfUse_W', 'most')).toBeUndefined();
  });
});

describe('a bank', () => {
  const ah = (model: Model, grouping?: { series: number; parallel: number }) =>
    at(specify(model, 'b', undefined, grouping), 'blockCapacity_Ah', 'least')!;
  test('lead by what it gives for long: 111.1 A are a fifth of it, at nine tenths; two strings share', () => {
    expect(ah(wired())).toMatchObject({ rule: 'bank.discharge', value: 620 });
    expect(ah(wired()).exact).toBeCloseTo(1000 / 9 / 0.2 / 0.9, 0);
    expect(ah(wired(), { series: 1, parallel: 2 }).exact).toBeCloseTo(1000 / 9 / 0.2 / 0.9 / 2, 0);
    // Two 6 V blocks in series have the ampere-hours of one.
    expect(ah(wired(), { series: 2, parallel: 1 }).value).toBe(620);
    // No more than the sun still fills: 12.5 A, a tenth of it wanted with a quarter to spare.
    expect(at(specify(wired(), 'b'), 'blockCapacity_Ah', 'most')).toMatchObject({
      value: 100,
      must: false,
      rule: 'bank.charge-min',
    });
    expect(at(specify(wired(), 'b', undefined, { series: 1, parallel: 2 }), 'blockCapacity_Ah', 'most')!.value).toBe(
      50,
    );
  });
  test('lithium by the days; its own limits by what is asked, a string of two with a tenth less', () => {
    const model = wired(lithium);
    expect(ah(model)).toMatchObject({ rule: 'bank.autonomy', missing: [] });
    const two = specify(model, 'b', undefined, { series: 1, parallel: 2 });
    // 16.7 A of sun over two, at nine tenths.
    expect(at(two, 'maxCharge_A', 'least')!.exact).toBeCloseTo(200 / 12 / 2 / 0.9, 9);
    expect(at(two, 'maxCharge_A', 'least')!.must).toBe(true);
    expect(at(two, 'maxDischarge_A', 'least')!.exact).toBeCloseTo(1000 / 9 / (2 * 0.9) / 0.9, 9);
    expect(at(two, 'peak_s', 'least')).toMatchObject({ value: 5, unit: 's' });
    expect(at(two, 'maxParallel', 'least')!.value).toBe(2);
    expect(at(two, 'maxSeries', 'least')).toBeUndefined();
    expect(at(specify(model, 'b', undefined, { series: 2, parallel: 1 }), 'maxSeries', 'least')!.value).toBe(2);
    expect(at(two, 'lowTemperatureProtection', 'true')!.must).toBe(true);
    // The label of 12.8 V stands for 12; two of 6.4 for it too.
    expect(at(two, 'block_V', 'one-of')!.words).toEqual(['12', '12.8']);
    expect(at(specify(model, 'b', undefined, { series: 2, parallel: 1 }), 'block_V', 'one-of')!.words).toEqual([
      '6',
      '6.4',
      '12.8',
    ]);
  });
  test('a lead block’s own charge limit is recommended; above freezing the cold is no matter of it', () => {
    expect(at(specify(wired(), 'b'), 'maxCharge_A', 'least')).toMatchObject({ value: 20, must: false });
    expect(at(specify(wired(), 'b'), 'maxDischarge_A', 'least')).toBeUndefined();
    const warm = wired((system) => {
      lithium(system);
      system.bank!.place!.min_C = 5;
    });
    expect(at(specify(warm, 'b'), 'lowTemperatureProtection', 'true')).toBeUndefined();
    const unread = wired((system) => {
      lithium(system);
      system.bank!.place = null;
    });
    expect(at(specify(unread, 'b'), 'lowTemperatureProtection', 'true')).toBeDefined();
  });
  test('the floor bears so much for each of them; what fits is for the eyes', () => {
    expect(at(specify(wired(), 'b', undefined, { series: 1, parallel: 2 }), 'block.mass_kg', 'most')).toMatchObject({
      value: 50,
      exact: 50.5,
    });
    expect(specify(wired(), 'b')!.lines.find(({ label }) => label.endsWith('with 10 mm around each'))).toMatchObject({
      test: 'eyes',
      must: false,
    });
    expect(said(specify(wired(), 'b', undefined, { series: 1, parallel: 2 }))).toContain(
      'All 2 of one make, model and age',
    );
    expect(said(specify(wired(), 'b'))).toContain('Made less than 6 months ago');
  });
});

describe('a cable and its fuse', () => {
  test('the smallest size for each rule, the largest first; it says which decides', () => {
    const spec = specify(wired(), 'r1', 'cable');
    const sizes = spec!.lines.filter(({ field }) => field === 'size').map(({ rule, value }) => [rule, value]);
    // 139 A with room: 70 mm2; two volts in a hundred with room: 50 mm2; 60 A of the strip fuse: 16 mm2.
    expect(sizes).toContainEqual(['run.fuse-protects', '16mm2']);
    expect(sizes.slice(0, 2)).toEqual([
      ['run.ampacity', '70mm2'],
      ['run.drop', '50mm2'],
    ]);
    expect(sizes.map(([rule]) => rule)).toContain('system.sag');
    expect(spec!.lines.at(-1)!.why).toEqual(['70 mm2: carries its current decides']);
    // There and back, and a tenth more.
    expect(said(spec)).toContain('4.4 m in all: both ways plus 10 %');
    expect(at(spec, 'insulation_C', 'least')!.value).toBe(90);
    // What rests on a fuse that nobody read comes first, and passes nothing.
    const unread = specify(wired(), 'r2', 'cable')!.lines[0]!;
    expect([unread.rule, unread.value, unread.missing]).toEqual(['run.fuse-protects', null, ['r2.protection.type']]);
    // The bank's sag is a matter of the inverter's cable alone.
    expect(specify(wired(), 'r2', 'cable')!.lines.map(({ rule }) => rule)).not.toContain('system.sag');
  });
  test('a fuse’s bounds: a quarter more than the current, no more than the cable, the bank’s volts, its short circuit', () => {
    const spec = specify(wired(), 'r2', 'fuse');
    expect(at(spec, 'protection.rating_A', 'least')).toMatchObject({ value: 25, rule: 'run.fuse-carries' });
    expect(at(spec, 'protection.rating_A', 'least')!.exact).toBeCloseTo((1.25 * 200) / 12, 9);
    expect(at(spec, 'protection.rating_A', 'most')).toMatchObject({ value: 50, rule: 'run.fuse-protects' });
    expect(at(spec, 'protection.rating_A', 'most', 1)!.rule).toBe('run.far-fault');
    expect(at(spec, 'protection.voltage_V', 'least')).toMatchObject({ value: 16 });
    expect(at(spec, 'protection.voltage_V', 'least')!.exact).toBeCloseTo(6 * 2.58, 9);
    expect(at(spec, 'protection.polarised', 'false')).toBeDefined();
    expect(spec!.lines.find(({ rule }) => rule === 'run.source-end')!.label).toBe('Sits within 0.18 m of the source');
    // Rounded up to hundreds, with the room that the rule asks for.
    const breaks = at(spec, 'protection.interrupt_A', 'least')!;
    expect(breaks.value).toBe(Math.ceil(breaks.exact! / 100) * 100);
  });
  test('three ratings of each type at the most, each run through the rules; the sun’s own break its volts', () => {
    const bench = inputsOfKind(wired(), 'r2', 'runs')!;
    const found = fusesThatServe(bench);
    for (const { ratings } of found) {
      expect(ratings.length).toBeLessThanOrEqual(3);
      for (const amps of ratings) expect(amps >= 20.83 && amps <= 50).toBe(true);
    }
    expect(fusesThatServe(inputsOfKind(wired(), 'r3', 'runs')!).map(({ type }) => type)).toEqual(['pv', 'breaker']);
    const sun = specify(wired(), 'r3', 'fuse');
    expect(at(sun, 'protection.polarised', 'false')).toBeDefined();
    // A fuse in the sun's cable sits where it sits; 1.25 x 1.25 x 6.5 A.
    expect(sun!.lines.some(({ rule }) => rule === 'run.source-end')).toBe(false);
    expect(at(sun, 'protection.rating_A', 'least')!.exact).toBeCloseTo(1.25 * 1.25 * 6.5, 9);
  });
  test('where the cable is too thin for its current none serves, and it is said what would', () => {
    const spec = specify(wired(), 'r1', 'fuse')!;
    expect(spec.conflicts[0]).toBe(
      'At least 138.9 A (fuse and current) and at most 70 A (fuse and cable limit): nothing fits until one of the two changes.',
    );
    expect(at(spec, 'protection.type', 'one-of')!.words).toEqual([]);
    expect(spec.conflicts[1]).toContain('with 50 mm2 and a strip fuse of 150 A one would fit');
  });
  test('a shunt for the current at four fifths; a board by its circuits', () => {
    const model = wired((system) => {
      system.monitor = { id: 'mo', shunt_A: 100 };
      system.distribution = [{ id: 'd', slots: 6, circuits: ['x', 'y'] }];
    });
    expect(at(specify(model, 'mo'), 'shunt_A', 'least')!.exact).toBeCloseTo(1000 / 9 / 0.8, 9);
    expect(at(specify(model, 'mo'), 'shunt_A', 'least')!.value).toBe(150);
    expect(at(specify(model, 'd'), 'slots', 'least')!.value).toBe(2);
    expect(said(specify(model, 'd'))).toContain('How it is fed');
  });
});

describe('parts that come with their cables', () => {
  test('an id that nothing has yet', () => {
    expect([freeId(wired(), 'r1'), freeId(wired(), 'new')]).toEqual(['r1-2', 'new']);
  });
  const charger = { id: 'new', kind: 'mains', max_A: 20, label: 'Mains 20' };
  const cableOf = (changes: ReturnType<typeof cabledChanges>) =>
    changes.find(({ at: kind, op }) => kind === 'runs' && op === 'add')!.value as Run;
  test('on the bank: the thinnest that holds, its fuse a hand behind the post; the length is assumed and says so', () => {
    const changes = cabledChanges(wired(), 'chargers', charger);
    expect(changes.map(({ op, at: kind }) => [op, kind])).toEqual([
      ['add', 'chargers'],
      ['add', 'runs'],
    ]);
    const run = cableOf(changes);
    expect(run).toMatchObject({
      id: 'r-new',
      kind: 'charger',
      label: 'Bank to Mains 20',
      from: 'b',
      to: 'new',
      length_m: 1.5,
      negativeThroughShunt: true,
    });
    expect(run.notes).toMatch(/^Length assumed/);
    expect(run.protection!.rating_A).toBeGreaterThanOrEqual(25);
    expect(run.protection!.fromSource_m).toBe(0.05);
    expect(run.farProtection).toBeUndefined();
    // It can be put in as it is.
    expect(mergeChanges(wired().system, changes).chargers).toHaveLength(1);
  });
  test('on the board where it has a slot by the count, and is a circuit of it then', () => {
    const boarded = (slots: number) =>
      wired((system) => {
        system.distribution = [{ id: 'd', label: 'Board', slots, circuits: ['r9'] }];
        system.runs!.push({ id: 'rd', kind: 'dc-load', from: 'b', to: 'd', length_m: 1, size: '25mm2' });
      });
    const spare = cabledChanges(boarded(2), 'chargers', charger);
    expect(cableOf(spare)).toMatchObject({ from: 'd', label: 'Board to Mains 20' });
    expect(spare.at(-1)).toEqual({ op: 'set', at: 'distribution', id: 'd', value: { circuits: ['r9', 'r-new'] } });
    expect(cableOf(cabledChanges(boarded(1), 'chargers', charger)).from).toBe('b');
    // A board is not hung on a board.
    expect(cableOf(cabledChanges(boarded(4), 'distribution', { id: 'new', slots: 4 })).from).toBe('b');
  });
  test('in place of a relay: a DC-DC charger with both its cables, the input fused at both ends', () => {
    const other = { id: 'st', role: 'starter', chemistry: 'flooded', nominal_V: 12, joinedBy: 'relay' } as const;
    const model = wired((system) => void (system.otherBanks = [other]));
    const [joint, device, output, input] = joinChanges(model, other, { max_A: 20, profiles: ['custom'] }, 'DC 20');
    expect(joint).toMatchObject({ at: 'otherBanks', id: 'st', value: { joinedBy: 'dc-dc' } });
    expect(device!.value).toMatchObject({ id: 'dcdc', kind: 'dc-dc', input_V: 12, label: 'DC 20' });
    expect(output!.value).toMatchObject({ from: 'b', to: 'dcdc', length_m: 1.5 });
    expect(input!.value).toMatchObject({ from: 'st', to: 'dcdc', length_m: 5 });
    expect(input!.value).toHaveProperty('farProtection');
    expect(output!.value).not.toHaveProperty('farProtection');
    expect(
      joinChanges(
        hut((system) => void (system.bank = null)),
        other,
        {},
      ),
    ).toEqual([]);
  });
});

describe('what a swap changes', () => {
  test('made to just its specification it passes it, but for what only eyes can tell', () => {
    for (const id of ['c', 'b', 'i']) {
      const spec = specify(wired(), id)!;
      const body = leastBody(spec);
      const judged = judgeSpec(spec, body).filter(({ line }) => line.must && line.missing.length === 0);
      expect(judged.filter(({ verdict }) => verdict === 'fail')).toEqual([]);
      expect(verdictOf(judgeSpec(spec, {}))).toBe('not-stated');
    }
    expect(leastBody(specify(wired(), 'c')!)).toMatchObject({
      type: 'mppt',
      maxPv_V: 50,
      maxPv_A: 10,
      maxOutput_A: 20,
      profiles: ['flooded'],
    });
    // Worth having at most so much is no part of it.
    expect(leastBody(specify(wired(), 'c')!)).not.toHaveProperty('startAbove_V');
  });
  test('the plate goes, what belongs to the place stays, a label comes', () => {
    const spec = specify(wired(), 'c')!;
    const [change] = swapChanges(
      wired(),
      spec,
      { type: 'mppt', maxPv_V: 100, maxOutput_A: 20, profiles: ['flooded'] },
      'New 20',
    );
    expect(change).toMatchObject({
      op: 'set',
      at: 'controllers',
      id: 'c',
      value: { maxPv_V: 100, maxPv_A: null, minBattery_V: null, label: 'New 20' },
    });
  });
  test('a fuse keeps its place; a module takes the first place of its string; blocks come as many as they are', () => {
    expect(swapChanges(wired(), specify(wired(), 'r1', 'fuse')!, { type: 'class-t', rating_A: 150 })).toEqual([
      { op: 'set', at: 'runs', id: 'r1', value: { protection: { type: 'class-t', rating_A: 150 } } },
    ]);
    const [added, strung] = swapChanges(wired(), specify(wired(), 'a', 'module')!, { pmax_W: 100 }, 'Mod');
    expect(added).toMatchObject({
      op: 'add',
      at: 'moduleTypes',
      value: { id: 'new-module', label: 'Mod', pmax_W: 100 },
    });
    expect(strung!.value).toEqual({ strings: [['new-module', 'm']] });
    const [bank] = swapChanges(
      wired(),
      specify(wired(), 'b', 'part', { series: 2, parallel: 2 })!,
      { block_V: 6, blockCapacity_Ah: 200 },
      'Six',
    );
    expect(bank!.value).toMatchObject({
      series: 2,
      parallel: 2,
      age_y: 0,
      health_pct: 100,
      label: '4 x Six',
      mixedChemistry: false,
    });
  });
});

describe('rounding towards the safe side', () => {
  test('up and down to a step; up to what is sold, beyond the list to two digits', () => {
    expect([up(149.2, 5), up(150, 5), up(2.31, 0.1), up(2.3, 0.1)]).toEqual([150, 150, 2.4, 2.3]);
    expect([down(149.9, 5), down(150, 5), down(2.39, 0.1), down(2.3, 0.1)]).toEqual([145, 150, 2.3, 2.3]);
    expect([
      up(7.001, [5, 10, 20]),
      up(10, [5, 10, 20]),
      up(25, [5, 10, 20]),
      up(253, [5, 10, 20]),
      up(1234, [5]),
    ]).toEqual([10, 10, 25, 260, 1300]);
  });
  test('the largest that bears: what is over without the part is another’s fault', () => {
    const bench = inputsOf(
      wired((system) => void (system.bank!.maxCharge_A = 10)),
      'c',
    )!;
    // The bank takes 10 A: a controller of 10 is borne, one of 20 lets the sun's 16.7 through.
    expect(mostHolding(bench, 'maxOutput_A', [5, 10, 20], ['bank.charge-max'])).toMatchObject({
      value: 10,
      others: false,
    });
    expect(mostHolding(bench, 'maxOutput_A', [20, 30], ['bank.charge-max'])).toMatchObject({ value: null });
    expect(mostHolding(bench, 'maxOutput_A', [5], ['bank.charge-max'])).toMatchObject({ value: 5, first: null });
  });
});
