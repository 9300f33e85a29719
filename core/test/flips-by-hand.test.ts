import { flips, rangeOf, withField } from '../src/flips/flips';
import { restCell_V, chargeOfRest } from '../src/bank/rest';
import { check } from '../src/index';
import { hut, part } from './hut';
import type { Evidence, Model } from '../src/index';

const model = (change: Parameters<typeof hut>[0] = () => undefined): Model => hut(change);
const range = (
  field: string,
  evidence: Evidence = { grade: 'assumed' },
  change: Parameters<typeof hut>[0] = () => undefined,
) => rangeOf(model(change), field, evidence);

describe('what a guess may be', () => {
  test('a fifth either way, of what is assumed or stated; what is read or measured is what it is', () => {
    expect(range('b.blockCapacity_Ah')).toEqual({ low: 160, high: 240 });
    expect(range('b.blockCapacity_Ah', { grade: 'stated' })).toEqual({ low: 160, high: 240 });
    expect(range('b.blockCapacity_Ah', { grade: 'measured' })).toBeNull();
    expect(range('b.blockCapacity_Ah', { grade: 'nameplate' })).toBeNull();
  });
  test('a cold that is a guess goes both ways too: -15 is -18 to -12', () =>
    expect(range('site.recordLow_C')).toEqual({ low: -18, high: -12 }));
  test('a range that somebody gave counts, whatever its grade; half of one does not', () => {
    expect(range('b.blockCapacity_Ah', { grade: 'measured', low: 190, high: 210 })).toEqual({ low: 190, high: 210 });
    expect(range('b.blockCapacity_Ah', { grade: 'measured', low: 190 })).toBeNull();
    expect(range('b.blockCapacity_Ah', { grade: 'assumed', low: 190 })).toEqual({ low: 160, high: 240 });
  });
  test('what is counted is one more or one less, and never less than there can be', () => {
    expect(range('b.parallel', { grade: 'assumed' }, (system) => void (part.bank(system).parallel = 3))).toEqual({
      low: 2,
      high: 4,
    });
    expect(range('b.series')).toEqual({ low: 1, high: 2 });
    const joints = (count: number) =>
      range('r.joints', { grade: 'assumed' }, (system) => {
        system.runs = [
          { id: 'r', kind: 'controller-battery', from: 'c', to: 'b', length_m: 2, size: '16mm2', joints: count },
        ];
      });
    expect(joints(1)).toEqual({ low: 0, high: 2 });
    // None at all is nothing to vary.
    expect(joints(0)).toBeNull();
    expect(range('m.cells')).toEqual({ low: 31, high: 33 });
  });
  test('a share goes to the whole and no further; a day has 24 hours', () => {
    expect(range('b.health_pct', { grade: 'assumed' }, (system) => void (part.bank(system).health_pct = 90))).toEqual({
      low: 72,
      high: 100,
    });
    const load = (more: object) => (system: Parameters<Parameters<typeof hut>[0] & object>[0]) =>
      void (system.loads = [{ id: 'l', label: 'L', kind: 'dc', power_W: 10, hours_d: 22, powerFactor: 0.9, ...more }]);
    expect(range('l.hours_d', { grade: 'assumed' }, load({}))?.high).toBe(24);
    expect(range('l.powerFactor', { grade: 'assumed' }, load({}))?.high).toBe(1);
    expect(range('l.power_W', { grade: 'assumed' }, load({}))).toEqual({ low: 8, high: 12 });
  });
  test('a conductor is a size smaller or larger, in its own system', () => {
    const run = (size: string) => (system: Parameters<Parameters<typeof hut>[0] & object>[0]) =>
      void (system.runs = [{ id: 'r', kind: 'controller-battery', from: 'c', to: 'b', length_m: 2, size }]);
    expect(range('r.size', { grade: 'assumed' }, run('16mm2'))).toEqual({ low: '10mm2', high: '25mm2' });
    expect(range('r.size', { grade: 'assumed' }, run('6AWG'))).toEqual({ low: '8AWG', high: '4AWG' });
    expect(range('r.size', { low: '10mm2', high: '25mm2' }, run('16mm2'))).toEqual({ low: '10mm2', high: '25mm2' });
    expect(range('r.size', { low: 'thin', high: 'thick' }, run('16mm2'))).toBeNull();
  });
  test('words, nothing, and what is not there cannot be varied', () => {
    expect(range('b.chemistry')).toBeNull();
    expect(range('b.none')).toBeNull();
    expect(range('nobody.power_W')).toBeNull();
  });
});

describe('one field set to another value', () => {
  test('of a part, the site, the schools, the system; the first is left as it was', () => {
    const before = model();
    expect(withField(before, 'b.blockCapacity_Ah', 100)?.system.bank?.blockCapacity_Ah).toBe(100);
    expect(withField(before, 'site.recordLow_C', -40)?.site.recordLow_C).toBe(-40);
    expect(withField(before, 'schools.coldVoltage', 'module')?.schools).toMatchObject({ coldVoltage: 'module' });
    expect(withField(before, 'system.nominal_V', 24)?.system.nominal_V).toBe(24);
    expect(before.system.bank?.blockCapacity_Ah).toBe(200);
    expect(withField(before, 'nobody.x', 1)).toBeNull();
  });
});

describe('a count of modules that is a guess', () => {
  /** The strings that an end of a range makes of others, told by what it flips or by the file itself. */
  const turned = (strings: string[][], low: number, high: number) => {
    const one = hut((system) => {
      part.array(system).strings = strings;
      part.controller(system).maxPv_V = 95;
      part.controller(system).maxPv_A = 13.5;
    });
    one.evidence = { 'a.strings': { grade: 'assumed', low, high } };
    return (
      flips(one)
        .find(({ field }) => field === 'a.strings')
        ?.findings.map(({ rule, to }) => `${rule} ${to}`) ?? []
    );
  };
  const string = (count: number) => Array.from({ length: count }, () => 'm');
  test('one string of three or five: the fifth module is over a controller of 95 V in the cold, -15 degC: 5 x 20 x 1.12', () => {
    expect(turned([string(3)], 3, 5)).toContain('pv.cold-voltage over');
    expect(turned([string(3)], 3, 3)).toEqual([]);
  });
  test('two strings of two: six modules are three strings, 19.5 A into 13.5, and no longer strings', () => {
    const found = turned([string(2), string(2)], 4, 6);
    expect(found.some((one) => one.startsWith('pv.input-current') && one.endsWith('over'))).toBe(true);
    expect(found.some((one) => one.startsWith('pv.cold-voltage'))).toBe(false);
  });
});

describe('which comes first', () => {
  test('what turns a danger over, before what turns a loss', () => {
    const one = hut((system) => {
      part.array(system).strings = [['m', 'm', 'm', 'm']];
      part.controller(system).maxOutput_A = 36;
    });
    // 4 x 20 V x 1.12 = 89.6 V into 100; 400 W / 12 V = 33 A into 36.
    one.evidence = { 'm.voc_V': { grade: 'assumed' }, 'm.pmax_W': { grade: 'assumed' } };
    const [first] = flips(one);
    expect(first?.field).toBe('m.voc_V');
    expect(first?.findings.map(({ rule, from, to }) => [rule, from, to])).toContainEqual([
      'pv.cold-voltage',
      'holds',
      'over',
    ]);
    expect(flips(one, check(one))).toEqual(flips(one));
  });
  test('progress is told from nothing on, and never as done before it is', () => {
    const shares: number[] = [];
    const one = hut();
    one.evidence = { 'm.voc_V': { grade: 'assumed' }, 'm.isc_A': { grade: 'assumed' } };
    flips(one, check(one), (share) => shares.push(share));
    expect(shares).toEqual([0, 0.5]);
  });
});

describe('volts of a cell at rest, by charge', () => {
  test('lithium iron: 2.90 3.18 3.235 3.30 3.33 3.35 at 0 .1 .2 .5 .8 1', () =>
    expect([0, 0.1, 0.2, 0.5, 0.8, 1].map((soc) => restCell_V('lfp', soc, 3.35))).toEqual([
      2.9, 3.18, 3.235, 3.3, 3.33, 3.35,
    ]));
  test('cobalt: 3.30 3.70 4.08 at 0 .5 1', () =>
    expect([0, 0.5, 1].map((soc) => restCell_V('nmc', soc, 4.08))).toEqual([3.3, 3.7, 4.08]));
  test('lead of stronger acid stands higher all the way down; lithium never', () => {
    for (const soc of [0, 0.5, 1])
      expect(restCell_V('agm', soc, 2.15) - restCell_V('agm', soc, 2.122)).toBeCloseTo(0.028, 9);
    expect(restCell_V('lfp', 0.5, 9)).toBe(3.3);
  });
  test('volts that no cell of the kind can have are no reading; a surface charge just after charging still is', () => {
    const read = (cell: number) => chargeOfRest({ chemistry: 'agm', cells: 6, volts: 6 * cell, rested_h: 12 });
    expect(read(2)).not.toBeNull();
    expect(read(1)).toBeNull();
    expect(read(2.6)).toBeNull();
  });
});
