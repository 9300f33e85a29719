import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import {
  checkSystemFile,
  modelOf,
  withSystem,
  workOf,
  type Change,
  type StoredItem,
  type Work,
  withChanges,
} from '../src/index';

/** Kit, weights, prices, words and torques of changes to the sound 48 V reference, by hand. */
const sound = modelOf(
  checkSystemFile(
    JSON.parse(readFileSync(join(__dirname, '../../docs/format/reference/sound-48v.lantern.json'), 'utf8')),
  ).file,
);
const { arrays, loads } = sound.system;
const field = arrays![0]!;
const work = (changes: Change[], shelf: StoredItem[] = []): Work => workOf(sound, withChanges(sound, changes), shelf);
const set = (at: string, id: string, value: object) => ({ op: 'set', at, id, value }) as Change;
const kit = (one: Work) => one.kit.map(({ what, count }) => `${count} x ${what}`);
const item = (kind: StoredItem['kind'], label: string, price: number, body: object = {}): StoredItem => ({
  id: label,
  kind,
  label,
  body: body as Record<string, unknown>,
  price,
  currency: 'GBP',
});

describe('modules that come and go', () => {
  const [string = []] = field.strings;
  test('a string of three more: three modules, four fixings each, and nothing that stays', () => {
    const one = work([set('arrays', 'field', { strings: [...field.strings, string] })]);
    expect(kit(one)).toEqual([
      '3 x 405 W half-cut',
      '12 x Clamps and fixings for modules',
      '1 x Sealant, tubes',
      expect.stringMatching(/x Labels/),
    ]);
    expect(one.removed).toEqual([]);
    expect(one.steps.find(({ act }) => act === 'fit')?.text).toContain('3 strings of 3; 3 modules go up');
  });
  test('a string fewer: three of 21.5 kg come down, 64.5 kg', () => {
    const one = work([set('arrays', 'field', { strings: [string] })]);
    expect(one.removed).toHaveLength(1);
    expect(one.removed[0]).toMatchObject({ what: '3 modules, 405 W half-cut', mass_kg: 64.5 });
    expect(kit(one).join()).not.toContain('405 W');
    expect(one.steps.find(({ act }) => act === 'strip')?.text).toContain('3 modules come off');
  });
  test('the same modules strung otherwise: nothing to carry, nothing to buy', () => {
    const one = work([set('arrays', 'field', { strings: [[...string, ...string]] })]);
    expect(one.removed).toEqual([]);
    expect(kit(one).join()).not.toContain('405 W');
    expect(one.steps.find(({ act }) => act === 'fit')?.text).toContain('rewired');
  });
});

describe('loads by number', () => {
  test('three where there was one are two to come, and none in the kit; one where there were three takes two out', () => {
    const more = work([set('loads', 'house', { quantity: 3 })]);
    expect(kit(more).join()).not.toContain('house');
    expect(more.steps.filter(({ act }) => act === 'fit').map(({ text }) => text)).toEqual(['House: 2 of them.']);
    const many = withSystem(sound, {
      ...sound.system,
      loads: (loads ?? []).map((load) => (load.id === 'house' ? { ...load, quantity: 3 } : load)),
    });
    const fewer = workOf(many, sound);
    expect(fewer.steps.filter(({ act }) => act === 'strip').map(({ text }) => text)).toEqual(['House: 2 of them.']);
    expect(kit(fewer).join()).not.toContain('house');
  });
});

describe('the bank by blocks', () => {
  test('a fourth pack is one to carry, charged alone first, joined anew; a third fewer comes out', () => {
    const four = work([set('bank', 'lfp', { parallel: 4 })]);
    expect(four.kit.find(({ for: of }) => of.includes('lfp'))).toMatchObject({ count: 1 });
    const acts = four.steps.map(({ act }) => act);
    expect(acts).toContain('charge-alone');
    expect(four.steps.find(({ act, parts }) => act === 'fit' && parts.includes('lfp'))?.text).toMatch(
      /1 blocks? more; joined as 1 in series, 4 in parallel/,
    );
    const two = work([set('bank', 'lfp', { parallel: 2 })]);
    expect(two.steps.find(({ act, parts }) => act === 'strip' && parts.includes('lfp'))?.text).toMatch(
      /1 blocks? are removed/,
    );
    expect(two.removed.map(({ id }) => id)).toContain('lfp');
  });
  test('a heater to a bank that stays is the heater alone, and no pack', () => {
    const one = work([set('bank', 'lfp', { heated: true })]);
    expect(one.removed).toEqual([]);
    expect(kit(one)[0]).toMatch(/^1 x Insulation, a heater and its thermostat/);
  });
});

describe('cables, their coils and fuses', () => {
  const longer = set('runs', 'r-l', { length_m: 12 });
  test('another length is cut anew: 12 m there and back, a tenth over, 13.2 m each; the smallest coil that serves', () => {
    const one = work([longer]);
    expect(one.cuts).toHaveLength(1);
    expect(one.cuts[0]).toMatchObject({ run: 'r-l', size: '2.5mm2', poles: 2, perPole: 1, cut_m: 13.2 });
    expect(one.coils).toMatchObject([{ size: '2.5mm2', total_m: 26.4, coil_m: 50, count: 1, offcut_m: 23.6 }]);
    expect(one.steps.find(({ act, parts }) => act === 'strip' && parts.includes('r-l'))?.text).toMatch(
      /^Remove the cable/,
    );
  });
  test('two conductors a pole are four pieces', () => {
    const one = work([set('runs', 'r-l', { length_m: 12, perPole: 2 })]);
    expect(one.coils).toMatchObject([{ total_m: 52.8, coil_m: 100 }]);
  });
  test('a coil costs its metres; a fuse is found by type and amperes, neither by the one alone', () => {
    const cable = item('cable', 'Wire 2.5', 0.8, { size: '2.5mm2' });
    const other = item('cable', 'Wire 4', 1.2, { size: '4mm2' });
    const coil = work([longer], [other, cable]).kit.find(({ what }) => what.includes('coil'));
    expect(coil).toMatchObject({ shelfId: 'Wire 2.5', price: 40, currency: 'GBP' });
    const fuse = set('runs', 'r-l', { protection: { type: 'nh', rating_A: 20 } });
    const found = (...shelf: StoredItem[]) => work([fuse], shelf).kit.find(({ what }) => /20 A/.test(what))?.shelfId;
    const nh = (amps: number, type = 'nh') => item('fuse', `${type} ${amps}`, 5, { type, rating_A: amps });
    expect(found(nh(16), nh(20, 'class-t'), nh(20))).toBe('nh 20');
    expect(found(nh(16), nh(20, 'class-t'))).toBeUndefined();
  });
  test('a fuse alone is changed in its cable, which stays', () => {
    const one = work([set('runs', 'r-l', { protection: { type: 'nh', rating_A: 20 } })]);
    expect(one.cuts).toEqual([]);
    expect(one.steps.find(({ act, parts }) => act === 'fit' && parts.includes('r-l'))?.text).toMatch(
      /^Fit the new fuse, NH 20 A, in the cable/,
    );
    expect(one.steps.find(({ act, parts }) => act === 'strip' && parts.includes('r-l'))?.text).toMatch(
      /^Remove the fuse/,
    );
  });
});

describe('torque by the stud', () => {
  const fitted = (value: object) =>
    work([set('controllers', 'cc', { ...value, maxOutput_A: 80 })]).steps.find(
      ({ act, parts }) => act === 'fit' && parts.includes('cc'),
    );
  test.each([
    [4, 1.5],
    [5, 2.5],
    [6, 5],
    [8, 12],
    [10, 22],
    [12, 35],
  ])('M%d: %d Nm', (stud_mm, torque_Nm) =>
    expect(fitted({ terminals: { stud_mm } })).toMatchObject({ torque_Nm, tool: 'insulated torque wrench' }),
  );
  test('where no stud was read no figure is made up', () => expect(fitted({})).not.toHaveProperty('torque_Nm'));
});
