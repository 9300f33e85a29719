import { inState } from '../src/system/states';
import { splitPath } from '../src/system/evidence';
import { warningsOf } from '../src/system/warnings';
import { lowered, raised, withArticle } from '../src/parts/said';
import {
  checkSystemFile,
  fromRows,
  searchShelf,
  toRows,
  type ShelfItem,
  type System,
  type SystemFile,
} from '../src/index';
import { endName, partName, partTitle } from '../src/conductors/names';
import { networkOf } from '../src/conductors/network';
import { stepOfSize } from '../src/conductors/sizes';

const BANK = { id: 'b', chemistry: 'agm' as const, block_V: 12, blockCapacity_Ah: 100, series: 1, parallel: 1 };
const run = (
  id: string,
  kind: 'pv' | 'controller-battery' | 'battery-inverter' | 'charger' | 'converter' | 'dc-load' | 'link' | 'ac',
  from: string,
  to: string,
) => ({
  id,
  kind,
  from,
  to,
  length_m: 2,
  size: '16mm2',
});

describe('a system in one of its states', () => {
  const system: System = {
    nominal_V: 12,
    moduleTypes: [{ id: 'm', pmax_W: 100, voc_V: 22, isc_A: 6, vmp_V: 18, imp_A: 5.6 }],
    arrays: [{ id: 'roof', strings: [['m']], controllerId: 'cc' }],
    controllers: [{ id: 'cc', type: 'mppt', maxOutput_A: 30 }],
    bank: BANK,
    inverters: [
      { id: 'inv', continuous_W: 1000, charger: { max_A: 50 } },
      { id: 'inv2', continuous_W: 500 },
    ],
    converters: [{ id: 'conv', in_V: 12, out_V: 5, max_A: 5 }],
    sources: [
      { id: 'gen', kind: 'generator', power_W: 2000 },
      { id: 'engine', kind: 'alternator', hours_d: 1 },
    ],
    chargers: [
      { id: 'mains', kind: 'mains', max_A: 20 },
      { id: 'dd', kind: 'dc-dc', max_A: 20 },
      { id: 'behind', kind: 'mains', max_A: 5, onInverterOutput: true },
    ],
    otherBanks: [{ id: 'start', role: 'starter', chemistry: 'flooded', nominal_V: 12 }],
    distribution: [{ id: 'board', circuits: ['toLamp'] }],
    loads: [
      { id: 'lamp', label: 'Lamp', kind: 'dc', power_W: 5, hours_d: 1 },
      { id: 'phone', label: 'Phone', kind: 'dc', power_W: 5, hours_d: 1, converterId: 'conv' },
      { id: 'fan', label: 'Fan', kind: 'ac', power_W: 50, hours_d: 1, inverterId: 'inv' },
      { id: 'kettle', label: 'Kettle', kind: 'ac', power_W: 900, hours_d: 1 },
      { id: 'radio', label: 'Radio', kind: 'dc', power_W: 5, hours_d: 1, controllerId: 'cc' },
    ],
    switches: [{ id: 'sw', kind: 'isolator', runId: 'toLamp' }],
    runs: [
      run('sun', 'pv', 'roof', 'cc'),
      run('toBank', 'controller-battery', 'cc', 'b'),
      run('toBoard', 'dc-load', 'b', 'board'),
      run('toLamp', 'dc-load', 'board', 'lamp'),
      run('toInv', 'battery-inverter', 'b', 'inv'),
      run('toInv2', 'battery-inverter', 'b', 'inv2'),
      run('start-dd', 'charger', 'start', 'dd'),
      run('dd-b', 'charger', 'dd', 'b'),
    ],
    states: [],
  };
  const left = (...off: string[]) => {
    const now = inState({ ...system, states: [{ id: 's', label: 'S', off }] }, 's');
    const ids = (list?: readonly { id: string }[] | null) => (list ?? []).map(({ id }) => id);
    return {
      now,
      ids: [
        ...ids(now.arrays),
        ...ids(now.controllers),
        ...ids(now.inverters),
        ...ids(now.chargers),
        ...ids(now.loads),
        ...ids(now.runs),
        ...ids(now.switches),
        ...ids(now.distribution),
        ...ids(now.sources),
        ...ids(now.otherBanks),
        ...(now.bank ? [now.bank.id] : []),
      ],
    };
  };
  const gone = (...off: string[]) => {
    const all = left().ids;
    const still = new Set(left(...off).ids);
    return all.filter((id) => !still.has(id)).sort();
  };
  test('nothing off: nothing gone', () => expect(gone()).toEqual([]));
  test('a controller takes its array, their cables and what hangs on its output along', () =>
    expect(gone('cc')).toEqual(['cc', 'radio', 'roof', 'sun', 'toBank']));
  test('one inverter takes its own load and cable; what has no inverter of its own runs on the other', () =>
    expect(gone('inv')).toEqual(['fan', 'inv', 'toInv']));
  test('both inverters take the kettle and the charger behind them', () =>
    expect(gone('inv', 'inv2')).toEqual(['behind', 'fan', 'inv', 'inv2', 'kettle', 'toInv', 'toInv2']));
  test('the generator takes what charges from the mains, and the charger within the inverter', () => {
    expect(gone('gen')).toEqual(['gen', 'mains']);
    expect(left('gen').now.inverters?.[0]?.charger).toBeNull();
    expect(left().now.inverters?.[0]?.charger).toMatchObject({ max_A: 50 });
  });
  test('the engine takes the DC-DC charger and its cables; the starter battery stays: it has a way of its own', () =>
    expect(gone('engine')).toEqual(['dd', 'dd-b', 'engine', 'start-dd']));
  test('a cable takes its switch and what only it reached, two steps on', () => {
    expect(gone('toBoard')).toEqual(['board', 'lamp', 'sw', 'toBoard', 'toLamp']);
    expect(gone('toLamp')).toEqual(['lamp', 'sw', 'toLamp']);
    expect(left('toLamp').now.distribution?.[0]?.circuits).toEqual([]);
  });
  test('the bank off: all that hung on it is gone, the generator and starter are not', () => {
    const still = left('b').ids;
    expect(still).not.toContain('lamp');
    expect(still).toContain('gen');
    expect(still).toContain('start');
  });
  test('an AC load with a cable of its own goes when the cable goes, though inverters are left', () => {
    const wired: System = {
      ...system,
      runs: [...(system.runs ?? []), run('toKettle', 'ac', 'inv2', 'kettle')],
      states: [{ id: 's', label: 'S', off: ['toKettle'] }],
    };
    expect(inState(wired, 's').loads?.map(({ id }) => id)).not.toContain('kettle');
    expect(
      inState({ ...wired, states: [{ id: 's', label: 'S', off: ['toLamp'] }] }, 's').loads?.map(({ id }) => id),
    ).toContain('kettle');
  });
});

describe('pairs of facts that cannot both be right', () => {
  const plate = { id: 'm', pmax_W: 100, voc_V: 22, isc_A: 6, vmp_V: 18, imp_A: 5.6 };
  const said = (system: System) => warningsOf(system).map((line) => line.split(':')[0]);
  test('a plate', () => {
    expect(said({ moduleTypes: [plate] })).toEqual([]);
    expect(said({ moduleTypes: [{ ...plate, isc_A: 5.5 }] })).toEqual(['system.moduleTypes[0].isc_A']);
    expect(said({ moduleTypes: [{ ...plate, voc_V: 17.9 }] })).toEqual(['system.moduleTypes[0].voc_V']);
    // 18 x 5.6 is 100.8 W: 4.9 % off is printed so, 5.1 % is not.
    expect(said({ moduleTypes: [{ ...plate, pmax_W: 100.8 / 1.049 }] })).toEqual([]);
    expect(said({ moduleTypes: [{ ...plate, pmax_W: 100.8 / 1.051 }] })).toEqual(['system.moduleTypes[0].pmax_W']);
    expect(said({ moduleTypes: [{ ...plate, pmax_W: 100.8 / 0.949 }] })).toEqual(['system.moduleTypes[0].pmax_W']);
  });
  test('an inverter that surges below what it carries all day; equal is no contradiction, unread none either', () => {
    const inverter = (surge_W?: number) => ({
      inverters: [{ id: 'i', continuous_W: 1000, ...(surge_W === undefined ? {} : { surge_W }) }],
    });
    expect(said(inverter(999))).toEqual(['system.inverters[0].surge_W']);
    expect(said(inverter(1000))).toEqual([]);
    expect(said(inverter())).toEqual([]);
  });
  test('a string fuse written at two places: on the array, in its holder, on the string’s own cable', () => {
    const array = (more: object, runs: object[] = []) =>
      ({ arrays: [{ id: 'a', strings: [['m']], ...more }], runs }) as unknown as System;
    const own = (rating_A: number, more: object = {}) => ({
      ...run('r', 'pv', 'x', 'a'),
      protection: { type: 'nh', rating_A },
      ...more,
    });
    expect(said(array({ stringFuse_A: 15, stringProtection: { type: 'nh', rating_A: 20 } }))).toEqual([
      'system.arrays[0].stringProtection.rating_A',
    ]);
    expect(said(array({ stringFuse_A: 15, stringProtection: { type: 'none', rating_A: 20 } }))).toEqual([]);
    expect(said(array({ stringFuse_A: 15, stringProtection: { type: 'nh', rating_A: 15 } }))).toEqual([]);
    expect(said(array({ stringFuse_A: 15 }, [own(20)]))).toEqual(['system.arrays[0].stringFuse_A']);
    expect(said(array({ stringFuse_A: 15 }, [own(15)]))).toEqual([]);
    // Two strings on one cable: its fuse is no string's.
    expect(said(array({ stringFuse_A: 15, strings: [['m'], ['m']] }, [own(30)]))).toEqual([]);
    expect(said(array({ stringFuse_A: 15, strings: [['m'], ['m']] }, [own(30, { strings: [0] })]))).toEqual([
      'system.arrays[0].stringFuse_A',
    ]);
    expect(said(array({ stringFuse_A: 15 }, [{ ...own(20), kind: 'dc-load' }]))).toEqual([]);
    expect(said(array({ stringFuse_A: 15 }, [{ ...own(20), from: 'x', to: 'y' }]))).toEqual([]);
  });
  test('volts of a block that no such block has', () => {
    const bank = (more: object) => ({ bank: { ...BANK, ...more } });
    expect(said(bank({}))).toEqual([]);
    expect(said(bank({ block_V: 11 }))).toEqual(['system.bank.block_V']);
  });
});

describe('what the format refuses', () => {
  const file = (system: object) => ({ format: 'true-lantern', version: 1, site: { name: 'S' }, system });
  const paths = (system: object): string[] => {
    try {
      checkSystemFile(file(system));
      return [];
    } catch (error) {
      return (error as { faults: { path: string }[] }).faults.map(({ path }) => path);
    }
  };
  test('inverters that work as one have volts in common', () => {
    const two = (minDc_V: number, maxDc_V: number) => ({
      inverters: [
        { id: 'a', continuous_W: 500, group: 'g', minDc_V: 20, maxDc_V: 32 },
        { id: 'b', continuous_W: 500, group: 'g', minDc_V, maxDc_V },
      ],
    });
    expect(paths(two(10, 16))).toEqual(['system.inverters[1].group']);
    expect(paths(two(40, 64))).toEqual(['system.inverters[1].group']);
    expect(paths(two(22, 30))).toEqual([]);
    expect(paths(two(30, 40))).toEqual([]);
  });
  test('an occasion of the sun: null is none', () => {
    const array = (occasion: unknown) => ({
      moduleTypes: [{ id: 'm', pmax_W: 100, voc_V: 22, isc_A: 6, vmp_V: 18, imp_A: 5.6 }],
      arrays: [{ id: 'a', strings: [['m']], occasion }],
    });
    expect(paths(array('alone'))).toContain('system.arrays[0].occasion');
    expect(paths(array(null))).toEqual([]);
  });
  test.each([
    ['0.1mm2', true],
    ['0.09mm2', false],
    ['5000mm2', true],
    ['5001mm2', false],
    ['40AWG', true],
    ['41AWG', false],
    ['4/0AWG', true],
    ['5/0AWG', false],
  ])('a conductor of %s: %s', (size, known) =>
    expect(
      paths({ runs: [{ ...run('r', 'link', 'x', 'y'), from: undefined, to: undefined, size }] }).length === 0,
    ).toBe(known),
  );
});

describe('a job part by part', () => {
  const file = {
    format: 'true-lantern',
    version: 1,
    site: { name: 'S' },
    system: { nominal_V: 12, bank: BANK, loads: [], inverters: null },
    evidence: {
      'b.block_V': { grade: 'measured' },
      'later.x': { grade: 'assumed' },
      'site.recordLow_C': { grade: 'assumed' },
    },
    proposals: [],
    visits: null,
    strange: { kept: true },
  } as unknown as SystemFile;
  let n = 0;
  test('taken apart and put together it is what it was: empty lists, nulls and what is not known too', () =>
    expect(fromRows(toRows(file, () => `row-${n++}`))).toEqual(file));
  test('rows begin at revision 1 and in their order; evidence lies with its part', () => {
    const rows = toRows(
      {
        ...file,
        system: {
          ...file.system,
          loads: [
            { id: 'l1', label: 'A', kind: 'dc', power_W: 1, hours_d: 1 },
            { id: 'l2', label: 'B', kind: 'dc', power_W: 1, hours_d: 1 },
          ],
        },
      },
      () => `row-${n++}`,
    );
    expect(rows.filter(({ kind }) => kind === 'loads').map(({ position, revision }) => [position, revision])).toEqual([
      [0, 1],
      [1, 1],
    ]);
    expect(rows.find(({ kind }) => kind === 'bank')?.evidence).toEqual({ block_V: { grade: 'measured' } });
    expect(rows.find(({ kind }) => kind === 'site')?.evidence).toMatchObject({
      '/later.x': { grade: 'assumed' },
      recordLow_C: { grade: 'assumed' },
    });
  });
  test('the longest id that is known wins; a bare word is no path', () => {
    const known = (id: string) => id === 'inv' || id === 'inv.2' || id === 'a';
    expect(splitPath('inv.2.idle_W', known)).toEqual({ partId: 'inv.2', field: 'idle_W' });
    expect(splitPath('inv.idle_W', known)).toEqual({ partId: 'inv', field: 'idle_W' });
    expect(splitPath('a.b', known)).toEqual({ partId: 'a', field: 'b' });
    expect(splitPath('inv', known)).toBeNull();
    expect(splitPath('inv.', known)).toBeNull();
    expect(splitPath('.x', () => true)).toBeNull();
  });
});

describe('names and words', () => {
  test('first letters: a sign keeps its own', () => {
    expect([raised('bank to load'), raised('')]).toEqual(['Bank to load', '']);
    expect(['Bank', 'DC breaker', 'MPPT', 'Voc coefficient', 'Vocal', 'A 5', 'x'].map(lowered)).toEqual([
      'bank',
      'DC breaker',
      'MPPT',
      'Voc coefficient',
      'vocal',
      'a 5',
      'x',
    ]);
    expect(['inverter', 'AGM bank', 'bank', 'MPPT controller', 'class T fuse'].map(withArticle)).toEqual([
      'an inverter',
      'an AGM bank',
      'a bank',
      'an MPPT controller',
      'a class T fuse',
    ]);
  });
  test('three cables alike in all that can be told are counted from 1', () => {
    const system: System = {
      runs: ['x', 'y', 'z'].map((id) => ({ id, kind: 'link' as const, length_m: 1, size: '16mm2' })),
    };
    expect(['x', 'y', 'z'].map((id) => partTitle(system, id))).toEqual([
      'Link, 16 mm2 (1)',
      'Link, 16 mm2 (2)',
      'Link, 16 mm2 (3)',
    ]);
  });
  test('two cables of one kind and size are told apart by where they go; one with an end that is not there keeps the plain name', () => {
    const system: System = {
      bank: BANK,
      controllers: [
        { id: 'c1', type: 'mppt', maxOutput_A: 10 },
        { id: 'c2', type: 'mppt', maxOutput_A: 10 },
      ],
      runs: [
        run('x', 'controller-battery', 'c1', 'b'),
        run('y', 'controller-battery', 'c2', 'b'),
        run('z', 'controller-battery', 'c3', 'b'),
      ],
    };
    expect(['x', 'y', 'z'].map((id) => partTitle(system, id))).toEqual([
      'Controller 1 to bank, 16 mm2',
      'Controller 2 to bank, 16 mm2',
      'Controller to bank, 16 mm2',
    ]);
    expect(partName({ system }, 'c2')).toBe('controller 2');
    expect(partName({ system }, 'b')).toBe('the bank');
    expect(partName({ system }, 'none')).toBe('the site');
    expect(endName(system, 'b')).toBe('bank');
  });
  test('a size one step on; from between two sizes the next on that side; at the ends the last', () => {
    expect(['16mm2', '17mm2', '6AWG', '1AWG', '4/0AWG'].map((size) => stepOfSize(size, 1))).toEqual([
      '25mm2',
      '25mm2',
      '4AWG',
      '1/0AWG',
      '4/0AWG',
    ]);
    expect(['16mm2', '17mm2', '4AWG', '20AWG'].map((size) => stepOfSize(size, -1))).toEqual([
      '10mm2',
      '16mm2',
      '6AWG',
      '20AWG',
    ]);
    expect(stepOfSize('16mm2', 2)).toBe('35mm2');
  });
});

describe('which side a cable is of', () => {
  const system: System = {
    bank: BANK,
    converters: [{ id: 'conv', in_V: 12, out_V: 5, max_A: 5 }],
    chargers: [{ id: 'dd', kind: 'dc-dc', max_A: 20 }],
    otherBanks: [{ id: 'start', role: 'starter', chemistry: 'flooded', nominal_V: 12 }],
    loads: [{ id: 'phone', label: 'Phone', kind: 'dc', power_W: 5, hours_d: 1, converterId: 'conv' }],
    runs: [
      run('in', 'converter', 'b', 'conv'),
      run('out', 'converter', 'conv', 'phone'),
      run('from', 'charger', 'start', 'dd'),
      run('to', 'charger', 'dd', 'b'),
      run('lamp', 'dc-load', 'b', 'lamp'),
      run('second', 'dc-load', 'lamp', 'far'),
    ],
  };
  const network = networkOf(system);
  const side = (id: string) => network.side(system.runs!.find((one) => one.id === id)!);
  test('a converter’s input is fed by the bank, its output is not; a charger’s output reaches the bank', () =>
    expect(['in', 'out', 'from', 'to', 'lamp'].map(side)).toEqual(['input', 'output', 'input', 'output', null]));
  test('the output of a converter hangs on its volts', () => {
    const out = system.runs!.find(({ id }) => id === 'out')!;
    expect(network.converterVolts(out)).toBe(5);
    expect(network.feedersOf(out)).toBeNull();
    expect(network.feedersOf(system.runs!.find(({ id }) => id === 'in')!)).toEqual([]);
  });
});

describe('the shelf’s search', () => {
  const item = (label: string, note = ''): ShelfItem => ({
    kind: 'controllers',
    label,
    body: { maxOutput_A: 60 },
    note,
  });
  const found = (typed: string) =>
    searchShelf(
      [item('Brackwell T100'), item('Brackwell T20'), item('Pell 1', 'takes the place of Brackwell'), item('Ostrum')],
      typed,
    ).map(({ label }) => label);
  test('those whose name begins with it first, numbers in their order', () => {
    expect(found('brackwell')).toEqual(['Brackwell T20', 'Brackwell T100', 'Pell 1']);
    expect(found('pell brackwell')).toEqual(['Pell 1']);
    expect(found('60')).toHaveLength(4);
    expect(found('')).toEqual(['Brackwell T20', 'Brackwell T100', 'Ostrum', 'Pell 1']);
    expect(found('nothing')).toEqual([]);
  });
});
