import gannet from '../../demo/sites/gannet-ledge.lantern.json';
import { DEMO_SHELF } from '../../demo/shelf';
import {
  applyChanges,
  convert,
  partsListOf,
  layouts,
  wholeConversion,
  type Change,
  type PartsLine,
  type Model,
} from '../src/index';
import { hut } from './hut';
import { open } from './open';

/** What goes into the van: everything that must be bought, set, regrouped or left, in words. */

const partsList = (model: Model, changes: Change[]) =>
  partsListOf(model.system, applyChanges(model.system, { changes }), DEMO_SHELF).lines;
const said = (lines: PartsLine[], what: PartsLine['what']) =>
  lines
    .filter((line) => line.what === what)
    .map(({ quantity, unit, label, detail }) => `${quantity} ${unit} ${label}: ${detail}`);

const wired = hut((system) => {
  system.bank = {
    ...system.bank!,
    label: 'Old lead',
    parallel: 2,
    tapping: 'opposite-ends',
    link: { length_m: 0.4, size: '35mm2' },
  };
  system.inverters = [{ id: 'i', continuous_W: 800 }];
  system.runs = [
    {
      id: 'r-i',
      kind: 'battery-inverter',
      from: 'b',
      to: 'i',
      length_m: 3.5,
      size: '25mm2',
      protection: { type: 'terminal', rating_A: 100, voltage_V: 58, fromSource_m: 0.4 },
    },
  ];
});

test('3.5 m one way is 7.7 m of cable, not 7.8, and four lugs', () => {
  const lines = partsList(wired, [{ op: 'set', at: 'runs', id: 'r-i', value: { size: '35mm2' } }]);
  expect(said(lines, 'buy')).toEqual([
    '7.7 m Bank to inverter, 35 mm2: 35 mm2',
    '4 pc Lugs for 35 mm2, to fit the existing studs: crimped with the right die, sleeved',
  ]);
});
test.each([
  [1, 2.2],
  [2.5, 5.5],
  [5, 11],
  [0.45, 1],
  [0.46, 1.1],
])('%f m one way is cut to %f m', (length_m, cut) => {
  const lines = partsList(wired, [{ op: 'set', at: 'runs', id: 'r-i', value: { size: '35mm2', length_m } }]);
  expect(lines.find(({ unit }) => unit === 'm')?.quantity).toBe(cut);
});
test('a string more is its blocks, its leads and bars, its fuse; the old ones stay', () => {
  const lines = partsList(wired, [
    {
      op: 'set',
      at: 'bank',
      id: 'b',
      value: { parallel: 3, tapping: 'busbar', stringFuse: { type: 'class-t', rating_A: 60, voltage_V: 125 } },
    },
  ]);
  expect(said(lines, 'buy')).toEqual([
    '1 pc Old lead: more of the same make and age: 1 in series, 3 in parallel',
    // Two leads a string, .4 m and a tenth: 6 x .44 m.
    '2.7 m Links and leads of the bank: 35 mm2',
    '2 pc Busbars, positive and negative, with covers: 3 equal leads on each',
    '3 pc Fuse at the post of each string: class T fuse, 60 A, 125 V DC, with its holder',
    '12 pc Lugs for 35 mm2, to fit the existing studs: crimped with the right die, sleeved',
  ]);
  expect(said(lines, 'out')).toEqual([]);
});
test('a string fewer is left; the same blocks otherwise joined are regrouped', () => {
  expect(said(partsList(wired, [{ op: 'set', at: 'bank', id: 'b', value: { parallel: 1 } }]), 'out')).toEqual([
    '1 pc Old lead: left: 1 in series, 1 in parallel',
  ]);
  expect(
    said(partsList(wired, [{ op: 'set', at: 'bank', id: 'b', value: { series: 2, parallel: 1 } }]), 'set'),
  ).toEqual(['1 pc Old lead: regrouped: 2 in series, 1 in parallel']);
});
test('a fuse that only moves is no purchase; one that breaks more is', () => {
  const moved = partsList(wired, [{ op: 'set', at: 'runs', id: 'r-i', value: { protection: { fromSource_m: 0.1 } } }]);
  expect(said(moved, 'buy')).toEqual([]);
  expect(said(moved, 'set')).toEqual(['1 pc Fuse, Bank to inverter, 25 mm2: moved to 0.1 m from its source']);
  const stronger = partsList(wired, [
    { op: 'set', at: 'runs', id: 'r-i', value: { protection: { interrupt_A: 20_000 } } },
  ]);
  expect(said(stronger, 'buy')).toEqual([
    '1 pc Fuse, Bank to inverter, 25 mm2: terminal fuse, 100 A, 58 V DC, with its holder',
  ]);
});
test('nothing is cured that nobody fetched: heat, pre-charge, vents, sense wires, what joins two banks', () => {
  const model = hut((system) => {
    system.otherBanks = [{ id: 's', role: 'starter', chemistry: 'flooded', nominal_V: 12, joinedBy: 'relay' }];
    system.inverters = [{ id: 'i', label: 'Combi', continuous_W: 1800 }];
  });
  const lines = partsList(model, [
    { op: 'set', at: 'bank', id: 'b', value: { heated: true, place: { ventArea_cm2: 300 } } },
    { op: 'set', at: 'inverters', id: 'i', value: { precharge: true } },
    { op: 'set', at: 'otherBanks', id: 's', value: { joinedBy: 'dc-dc' } },
  ]);
  expect(said(lines, 'buy')).toEqual([
    '1 pc A pre-charge resistor with its switch: Combi',
    '1 pc Insulation, a heater and its thermostat for the cells: null',
    '1 pc Vents, one low and one high: 300 cm2 each',
  ]);
  expect(said(lines, 'set')).toEqual([]);
  expect(said(lines, 'out')).toEqual(['1 pc The relay to the starter battery: each bank on its own fuse']);
});
test('a layout says how the modules are strung, and buys a fuse for each string that wants one', () => {
  const roomy = hut((system) => {
    system.controllers = [
      { ...system.controllers![0]!, label: 'Tracker', maxPv_V: 60, maxPv_A: 100, maxOutput_A: 100 },
    ];
    system.bank = { ...system.bank!, blockCapacity_Ah: 2000, place: { min_C: 10 } };
    system.arrays![0]!.label = 'Roof';
  });
  const layout = layouts(roomy, 6)!.find(({ controllers: [share] }) => share?.series === 2 && share.parallel === 3)!;
  const lines = partsList(roomy, layout.changes);
  expect(said(lines, 'set')).toEqual(['1 pc Roof: strung: 2 in series, 3 strings, on Tracker']);
  expect(said(lines, 'buy')).toEqual([
    '4 pc Modules: null',
    '3 pc PV fuse in each string, Roof: 10 A, for DC at the cold voltage, with its holder',
  ]);
});
test('a whole conversion: no id and no name of a field, and each thing once', () => {
  const model = open(gannet);
  const packs = DEMO_SHELF.filter(({ kind, body }) => kind === 'bank' && body.chemistry === 'lfp');
  const { changes } = wholeConversion(model, convert(model, packs).options[0]!, DEMO_SHELF);
  const lines = partsList(model, changes);
  const ids = ['r-i', 'r-c1', 'pwm1', 'r-e', 'mains', 'inv'];
  for (const { label, detail } of lines) {
    const text = `${label} ${detail ?? ''}`;
    expect(text).not.toMatch(/[a-z]_[A-Za-z]+|undefined|NaN|\?/);
    for (const id of ids) expect(text.split(/[ ,:]/)).not.toContain(id);
  }
  expect(new Set(lines.map(({ id, what }) => `${id} ${what}`)).size).toBe(lines.length);
  const buys = said(lines, 'buy').join('\n');
  for (const wanted of [
    /Pell Cell 24-200/,
    /T45-150/,
    /Dock 24-16/,
    /Busbars/,
    /Fuse at the post of each string/,
    /heater/,
    /pre-charge/,
    /lithium, no lead charger/,
    /Lugs for/,
  ])
    expect(buys).toMatch(wanted);
});
