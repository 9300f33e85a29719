import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { checkSystemFile, modelOf, type Change, type Model, type SystemFile, withChanges } from '../src/index';

import { differences, type PartWork } from '../src/work-order/difference';
import { workOf } from '../src/work-order/work';

const reference = (name: string): SystemFile =>
  checkSystemFile(
    JSON.parse(readFileSync(join(__dirname, '../../docs/format/reference', `${name}.lantern.json`), 'utf8')),
  ).file;
const sound = modelOf(reference('sound-48v'));
const motorhome = modelOf(reference('motorhome'));
const lead = modelOf(reference('upgrade-24v'));

const after = (model: Model, ...changes: Change[]): Model => withChanges(model, changes);
const set = (at: string, id: string, value: object): Change => ({ op: 'set', at, id, value });
/** What is to be done to one part, in a line: "strip fit", "reset", "cut". */
const done = (model: Model, id: string, ...changes: Change[]): string => {
  const work = differences(model.system, after(model, ...changes).system).find((one) => one.id === id);
  return work ? said(work) : 'nothing';
};
const said = ({ strip, fit, reset, replaced, cut, fuses }: PartWork) =>
  [
    strip && 'strip',
    fit && 'fit',
    reset && 'reset',
    replaced && 'another',
    cut && 'cut',
    fuses.length > 0 && `${fuses.length} fuse`,
  ]
    .filter(Boolean)
    .join(' ');

describe('a part is replaced when its plate differs, reset when its settings do, else left alone', () => {
  test.each<[string, string, Change[]]>([
    ['another output', 'strip fit reset another', [set('controllers', 'cc', { maxOutput_A: 80 })]],
    ['watts at another voltage', 'strip fit reset another', [set('controllers', 'cc', { maxPv_W: { '48': 4000 } })]],
    ['another kind', 'strip fit reset another', [set('controllers', 'cc', { type: 'pwm' })]],
    ['a setting', 'reset', [set('controllers', 'cc', { settings: { absorb_V: 56 } })]],
    ['a setting taken out', 'reset', [set('controllers', 'cc', { settings: { float_V: null } })]],
    ['its firmware', 'nothing', [set('controllers', 'cc', { settings: { firmware: '1.2' } })]],
    ['its name', 'nothing', [set('controllers', 'cc', { label: 'South' })]],
    ['its efficiency', 'nothing', [set('controllers', 'cc', { efficiency_pct: 96 })]],
    ['a sensor that is not there either way', 'nothing', [set('controllers', 'cc', { temperatureSensor: null })]],
  ])('a controller: %s', (_, what, changes) => expect(done(sound, 'cc', ...changes)).toBe(what));

  test.each<[string, string, Change[]]>([
    ['another rating', 'strip fit reset another', [set('inverters', 'inv', { continuous_W: 3000 })]],
    ['its charger', 'strip fit reset another', [set('inverters', 'inv', { charger: { max_A: 60 } })]],
    ['its cut-off', 'reset', [set('inverters', 'inv', { settings: { cutoff_V: 47 } })]],
    ['the cut-off that is printed', 'reset', [set('inverters', 'inv', { lowCutoff_V: 46 })]],
    ['the charger\u2019s settings', 'reset', [set('inverters', 'inv', { charger: { settings: { absorb_V: 56 } } })]],
    ['the limit of its input', 'reset', [set('inverters', 'inv', { inputLimit_A: 10 })]],
    ['where it feeds', 'nothing', [set('inverters', 'inv', { feeds: 'sockets' })]],
    ['pre-charge taken away', 'nothing', [set('inverters', 'inv', { precharge: false })]],
  ])('an inverter: %s', (_, what, changes) => expect(done(sound, 'inv', ...changes)).toBe(what));
  test('pre-charge where there was none is fitted to it', () => {
    const bare = after(sound, set('inverters', 'inv', { precharge: false }));
    expect(done(bare, 'inv', set('inverters', 'inv', { precharge: true }))).toBe('fit');
    expect(
      workOf(bare, after(bare, set('inverters', 'inv', { precharge: true }))).kit.map(({ what }) => what)[0],
    ).toMatch(/^A pre-charge resistor/);
  });

  test.each<[string, string, object]>([
    ['more strings', 'fit', { parallel: 4 }],
    ['fewer strings', 'strip fit', { parallel: 2 }],
    ['tapped elsewhere', 'fit', { tapping: 'opposite-ends' }],
    ['thicker links', 'fit', { link: { size: '50mm2' } }],
    ['a heater', 'fit', { heated: true }],
    ['other blocks', 'strip fit another', { blockCapacity_Ah: 200 }],
    ['another chemistry', 'strip fit another', { chemistry: 'nmc' }],
    ['older', 'nothing', { age_y: 3 }],
    ['a vent', 'nothing', { place: { ventArea_cm2: 50 } }],
    ['a fuse at each post', 'fit 1 fuse', { stringFuse: { type: 'class-t', rating_A: 125, voltage_V: 125 } }],
  ])('a bank: %s', (_, what, value) => expect(done(sound, 'lfp', { op: 'set', at: 'bank', value })).toBe(what));
  test('a younger bank of the same make is another', () => {
    const old = after(sound, { op: 'set', at: 'bank', value: { age_y: 9 } });
    expect(done(old, 'lfp', { op: 'set', at: 'bank', value: { age_y: 0 } })).toBe('strip fit another');
  });
  test('one fuse more where a string is added to fused ones', () => {
    const fuse = { type: 'class-t', rating_A: 125, voltage_V: 125 };
    const fused = after(sound, { op: 'set', at: 'bank', value: { stringFuse: fuse } });
    const [work] = differences(fused.system, after(fused, { op: 'set', at: 'bank', value: { parallel: 5 } }).system);
    expect(work?.fuses).toEqual([{ device: expect.objectContaining(fuse) as object, far: false, count: 2 }]);
    const [all] = differences(sound.system, fused.system);
    expect(all?.fuses.map(({ count }) => count)).toEqual([3]);
  });

  test.each<[string, string, string[][]]>([
    [
      'a string more',
      'fit',
      [
        ['m405', 'm405', 'm405'],
        ['m405', 'm405', 'm405'],
        ['m405', 'm405', 'm405'],
      ],
    ],
    [
      'a module fewer',
      'strip fit',
      [
        ['m405', 'm405', 'm405'],
        ['m405', 'm405'],
      ],
    ],
    [
      'rewired',
      'fit',
      [
        ['m405', 'm405'],
        ['m405', 'm405'],
        ['m405', 'm405'],
      ],
    ],
    [
      'as it was',
      'nothing',
      [
        ['m405', 'm405', 'm405'],
        ['m405', 'm405', 'm405'],
      ],
    ],
  ])('an array: %s', (_, what, strings) =>
    expect(done(sound, 'field', set('arrays', 'field', { strings }))).toBe(what),
  );
  test('other modules of the same number are another array, wherever their plate is written', () => {
    expect(done(sound, 'field', set('moduleTypes', 'm405', { pmax_W: 450 }))).toBe('strip fit another');
    expect(done(sound, 'field', set('moduleTypes', 'm405', { label: 'as before' }))).toBe('nothing');
    expect(done(sound, 'field', set('arrays', 'field', { tilt_deg: 20 }))).toBe('nothing');
  });
  test('fuses for its strings: one each; with a string more, one more', () => {
    const fused = after(sound, set('arrays', 'field', { stringFuse_A: 25 }));
    expect(done(sound, 'field', set('arrays', 'field', { stringFuse_A: 25 }))).toBe('fit 1 fuse');
    expect(differences(sound.system, fused.system)[0]?.fuses[0]?.count).toBe(2);
    const three = set('arrays', 'field', { strings: [['m405'], ['m405'], ['m405']] });
    expect(differences(fused.system, after(fused, three).system)[0]?.fuses.map(({ count }) => count)).toEqual([1]);
    expect(done(fused, 'field', set('arrays', 'field', { stringFuse_A: null }))).toBe('nothing');
  });

  test.each<[string, string, object]>([
    ['its size', 'strip fit another cut', { size: '70mm2' }],
    ['its fuse', 'strip fit 1 fuse', { protection: { rating_A: 160 } }],
    ['its fuse moved', 'strip fit 1 fuse', { protection: { fromSource_m: 0.05 } }],
    ['its fuse taken out', 'strip', { protection: { type: 'none' } }],
    ['a fuse at the far end', 'fit 1 fuse', { farProtection: { type: 'nh', rating_A: 100 } }],
    ['cable and fuse', 'strip fit another cut 1 fuse', { size: '70mm2', protection: { rating_A: 160 } }],
    ['its air', 'nothing', { ambient_C: 45 }],
    ['copper, said', 'nothing', { material: 'copper', perPole: 1 }],
  ])('a run: %s', (_, what, value) => expect(done(sound, 'r-bi', set('runs', 'r-bi', value))).toBe(what));
  test('the first fuse of a bare run is fitted, and nothing is stripped', () => {
    const bare = after(sound, set('runs', 'r-bi', { protection: null }));
    expect(done(bare, 'r-bi', set('runs', 'r-bi', { protection: { type: 'nh', rating_A: 100 } }))).toBe('fit 1 fuse');
    expect(said(differences(bare.system, sound.system).find(({ id }) => id === 'r-bi')!)).toBe('fit 1 fuse');
  });

  test('loads: more of one is fitted, fewer stripped, another wattage is another load; hours are nobody\u2019s work', () => {
    expect(done(sound, 'lamps', set('loads', 'lamps', { quantity: 3 }))).toBe('fit');
    const three = after(sound, set('loads', 'lamps', { quantity: 3 }));
    expect(done(three, 'lamps', set('loads', 'lamps', { quantity: 1 }))).toBe('strip');
    expect(done(sound, 'lamps', set('loads', 'lamps', { power_W: 60 }))).toBe('strip fit another');
    expect(done(sound, 'lamps', set('loads', 'lamps', { hours_d: 9, priority: 1 }))).toBe('nothing');
    // What is plugged in is the customer's to bring.
    expect(workOf(sound, three).kit.find(({ for: ids }) => ids.includes('lamps'))).toBeUndefined();
  });
  test('a switch moves with its cable or its end; what it lets go at is a setting', () => {
    const isolated = after(sound, {
      op: 'add',
      at: 'switches',
      value: { id: 'iso', kind: 'isolator', runId: 'r-bi', end: 'from', rating_A: 200 },
    });
    expect(done(isolated, 'iso', set('switches', 'iso', { end: 'to' }))).toBe('strip fit');
    expect(done(isolated, 'iso', set('switches', 'iso', { runId: 'r-bus' }))).toBe('strip fit');
    expect(done(isolated, 'iso', set('switches', 'iso', { rating_A: 300 }))).toBe('strip fit another');
    expect(done(isolated, 'iso', set('switches', 'iso', { lvd_V: 46 }))).toBe('reset');
    // It only moves: nothing is bought, nothing carried away.
    const moved = workOf(isolated, after(isolated, set('switches', 'iso', { end: 'to' })));
    expect(moved.kit.filter(({ for: ids }) => ids.includes('iso'))).toEqual([]);
    expect(moved.removed).toEqual([]);
    const another = workOf(isolated, after(isolated, set('switches', 'iso', { rating_A: 300 })));
    expect(another.removed.map(({ id }) => id)).toEqual(['iso']);
  });
  test('what joins another battery comes out as a thing of its own', () => {
    const joined = after(sound, set('otherBanks', 'genstart', { joinedBy: 'relay' }));
    expect(said(differences(sound.system, joined.system)[0]!)).toBe('fit');
    expect(said(differences(joined.system, sound.system)[0]!)).toBe('strip');
    expect(workOf(joined, sound).removed[0]).toMatchObject({
      id: 'genstart',
      what: 'The relay to the generator battery',
      to: 'stock',
    });
  });
  test('types of modules and states are nobody\u2019s work; an id that became another kind is two parts', () => {
    expect(
      differences(
        sound.system,
        after(sound, { op: 'add', at: 'moduleTypes', value: { ...sound.system.moduleTypes![0]!, id: 'spare' } }).system,
      ),
    ).toEqual([]);
    expect(differences(motorhome.system, { ...motorhome.system, states: [] })).toEqual([]);
    const swapped = after(
      sound,
      { op: 'remove', at: 'monitor', id: 'mon' },
      { op: 'add', at: 'converters', value: { id: 'mon', in_V: 48, out_V: 12, max_A: 10 } },
    );
    expect(differences(sound.system, swapped.system).map((work) => [work.kind, said(work)])).toEqual([
      ['monitor', 'strip'],
      ['converters', 'fit'],
    ]);
  });
});

describe('who may, how long, how tight', () => {
  const stepOf = (model: Model, act: string, part: string, ...changes: Change[]) =>
    workOf(model, after(model, ...changes)).steps.find((step) => step.act === act && step.parts[0] === part)!;
  test('a stud that was read has its torque: M8 12 Nm, M10 22, M6 5', () => {
    for (const [stud_mm, torque] of [
      [4, 1.5],
      [5, 2.5],
      [6, 5],
      [8, 12],
      [10, 22],
      [12, 35],
    ]) {
      const read = after(sound, set('inverters', 'inv', { terminals: { stud_mm } }));
      expect(stepOf(read, 'fit', 'r-bi', set('runs', 'r-bi', { size: '70mm2' })).torque_Nm).toBe(torque);
    }
    expect(stepOf(sound, 'fit', 'r-bi', set('runs', 'r-bi', { size: '70mm2' })).torque_Nm).toBeUndefined();
  });
  test('an AC load is wired where its inverter feeds a panel or a building, plugged in where it feeds sockets', () => {
    const grow = set('loads', 'kettle', { power_W: 1900 });
    expect(stepOf(sound, 'fit', 'kettle', grow).licensed).toBe(true);
    const sockets = after(sound, set('inverters', 'inv', { feeds: 'sockets' }));
    expect(stepOf(sockets, 'fit', 'kettle', grow).licensed).toBeUndefined();
    expect(stepOf(sound, 'fit', 'lamps', set('loads', 'lamps', { power_W: 60 })).licensed).toBeUndefined();
  });
  test('a generator, an inlet, a mains charger, a transfer switch and everything on an AC run are licensed; an alternator is not', () => {
    expect(stepOf(sound, 'fit', 'gen', set('sources', 'gen', { power_W: 5000 })).licensed).toBe(true);
    const alternator = motorhome.system.sources!.find(({ kind }) => kind === 'alternator')!;
    expect(
      stepOf(motorhome, 'fit', alternator.id, set('sources', alternator.id, { rating_A: 222 })).licensed,
    ).toBeUndefined();
    const transfer: Change = { op: 'add', at: 'switches', value: { id: 'ats', kind: 'transfer', runId: 'r-bi' } };
    expect(stepOf(sound, 'fit', 'ats', transfer).licensed).toBe(true);
  });
  test('packs that are regrouped or joined by more are charged alone first; other links alone are no joining', () => {
    const acts = (...changes: Change[]) => workOf(sound, after(sound, ...changes)).steps.map(({ act }) => act);
    expect(acts({ op: 'set', at: 'bank', value: { parallel: 4 } })).toContain('charge-alone');
    expect(acts({ op: 'set', at: 'bank', value: { heated: true } })).not.toContain('charge-alone');
    // Lead is not charged alone: it sags to its neighbours by itself.
    const more = workOf(lead, after(lead, { op: 'set', at: 'bank', value: { parallel: 3, tapping: 'busbar' } }));
    expect(more.steps.map(({ act }) => act)).not.toContain('charge-alone');
  });
  test('a device that is new or replaced is set; new cells: all of them; a cable alone: none', () => {
    const set_ = (model: Model, ...changes: Change[]) =>
      workOf(model, after(model, ...changes))
        .steps.filter(({ act }) => act === 'set')
        .map(({ parts }) => parts[0]);
    expect(set_(sound, set('controllers', 'cc', { maxOutput_A: 80 }))).toEqual(['cc']);
    expect(set_(sound, { op: 'add', at: 'controllers', value: { id: 'new', type: 'mppt', maxOutput_A: 20 } })).toEqual([
      'new',
    ]);
    expect(set_(sound, { op: 'set', at: 'bank', value: { blockCapacity_Ah: 200 } })).toEqual(['cc', 'inv', 'mon']);
    expect(set_(sound, set('runs', 'r-bi', { size: '70mm2' }))).toEqual([]);
    expect(set_(sound, set('inverters', 'inv', { settings: { cutoff_V: 47 } }))).toEqual(['inv']);
  });
  test('what is set is said in volts, and equalising that is off as off', () => {
    const { text } = stepOf(sound, 'set', 'cc', set('controllers', 'cc', { settings: { absorb_V: 56.4 } }));
    expect(text).toMatch(/absorb 56\.4 V, float 54 V, equalise off/);
    expect(text).toMatch(/read everything back/);
  });
  test('the hardest start comes last of the loads: what asks most on top of running', () => {
    const acts = workOf(sound, after(sound, set('runs', 'r-bi', { size: '70mm2' }))).steps.filter(
      ({ act }) => act === 'load-on',
    );
    expect(acts.map(({ parts }) => parts)).toEqual([
      // 40, 90, 1050 (a microwave draws half as much again), 1500 W.
      ['lamps', 'house', 'micro', 'kettle'],
      // A compressor of 80 W starts with five times as much: 320 W on top; all the others nothing, and the untyped house twice its 90.
      ['fridge'],
    ]);
  });
});
