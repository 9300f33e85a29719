import { expectedTests, modelOf, type System, type SystemFile } from '../src/index';
import { likeStrings, stringOpening } from '../src/readings/string-opening';
import { hut, MODULE } from './hut';

/** How a string is read alone: by what is there to open, never by a plug under load, and beside those that are like it. */

const site = (change: (system: System) => void = () => undefined) =>
  hut((system) => {
    system.moduleTypes = [MODULE, { ...MODULE, id: 'n', pmax_W: 120, imp_A: 7.3, isc_A: 7.8 }];
    system.arrays = [
      {
        id: 'a',
        strings: [
          ['m', 'm'],
          ['m', 'm'],
          ['n', 'n'],
        ],
        mounting: 'raised',
        controllerId: 'c',
      },
    ];
    system.runs = [0, 1, 2].map((s) => ({
      id: `s${s}`,
      kind: 'pv' as const,
      from: 'a',
      to: 'c',
      length_m: 5,
      size: '4mm2',
      strings: [s],
    }));
    change(system);
  });
const opening = (change?: (system: System) => void, s = 0) => {
  const { system } = site(change);
  return stringOpening(system, system.arrays![0]!, s);
};
const isolator = { id: 'x', runId: 's0', kind: 'isolator' as const };

test('its own isolator, and no other string\u2019s', () => {
  expect(opening((system) => (system.switches = [isolator]))).toEqual({
    open: 'its isolator open',
    breaks: 'isolator',
  });
  expect(opening((system) => (system.switches = [isolator]), 1).breaks).toBeNull();
});
test('a breaker recorded as the protection of its cable is its handle', () =>
  expect(
    opening((system) => (system.runs![0]!.protection = { type: 'breaker', rating_A: 16, voltage_V: 250 })),
  ).toEqual({ open: 'its breaker open', breaks: 'breaker' }));
test('a fuse holder and plugs open at no current alone', () => {
  const fused = opening((system) => (system.runs![0]!.protection = { type: 'pv', rating_A: 15, voltage_V: 1000 }));
  expect(fused.open).toMatch(/fuse holder open, at no current/);
  expect(opening().open).toMatch(/plugs disconnected at no current.*never under load/);
  expect([fused.breaks, opening().breaks]).toEqual([null, null]);
});
test('strings are compared with those like them: of other modules, or in noted shade, each by itself', () => {
  const array = (shade?: number[][]) => {
    const { system } = site((one) => shade && (one.arrays![0]!.shade = shade));
    return [0, 1, 2].map((s) => likeStrings(system.arrays![0]!, s));
  };
  expect(array()).toEqual([[1], [0], []]);
  expect(
    array([
      [0.3, 1],
      [1, 1],
      [1, 1],
    ]),
  ).toEqual([[], [], []]);
});
test('the walk says so: the short never by a plug, the odd string beside no other', () => {
  const model = site();
  const { tests } = expectedTests(
    modelOf({ format: 'true-lantern', version: 2, ...model } as unknown as SystemFile),
    {},
  );
  const how = (quantity: string, s: number) =>
    tests.find((one) => one.quantity === quantity && one.position?.string === s)?.how ?? '';
  expect(how('stringIsc_A', 0)).toContain('never by its plugs');
  expect(how('stringIsc_A', 0)).toContain('strings like it within 3 %');
  expect(how('stringVoc_V', 2)).not.toContain('strings like it');
});
