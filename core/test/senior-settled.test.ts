import { settling, withChanges, type Change } from '../src/index';
import { hutRuns, wired } from './hut';

/** What is fitted answers what only eyes could tell; what is not fitted answers nothing. */

const found = (no: string[], fuse?: object) => {
  const model = wired((system) => {
    system.runs = hutRuns().map((run) => ({
      ...run,
      ...(run.id === 'r1' ? { protection: { type: 'none' as const } } : fuse ? { protection: fuse } : {}),
    }));
  });
  model.site.observations = Object.fromEntries(no.map((name) => [name, 'no' as const]));
  return model;
};
const CLASS_T = { type: 'class-t', rating_A: 160, voltage_V: 125, dcRated: true, fromSource_m: 0.1 };
const fuse = (id: string): Change => ({ op: 'set', at: 'runs', id, value: { protection: CLASS_T } });
const seen = (no: string[], changes: Change[], onR2?: object) => {
  const model = found(no, onR2);
  return withChanges(model, settling(model, changes)).site.observations;
};

test('the main fuse is there once every cable on the posts has one, not before', () => {
  expect(seen(['mainFuse'], [fuse('r1'), fuse('r2')])).toEqual({ mainFuse: 'yes' });
  expect(seen(['mainFuse'], [fuse('r1')], { type: 'none' })).toEqual({ mainFuse: 'no' });
  expect(seen(['mainFuse'], [])).toEqual({ mainFuse: 'no' });
});
test('an isolator at the bank wants one in each cable that leaves it; a PV isolator is not one of them', () => {
  const isolator = (id: string, runId: string): Change => ({
    op: 'add',
    at: 'switches',
    value: { id, runId, kind: 'isolator', poles: 2, rating_A: 200, voltage_V: 60 },
  });
  const both = ['batteryIsolator', 'pvIsolator'];
  expect(seen(both, [isolator('s1', 'r1'), isolator('s2', 'r2')])).toEqual({
    batteryIsolator: 'yes',
    pvIsolator: 'no',
  });
  expect(seen(both, [isolator('s1', 'r1')])).toEqual({ batteryIsolator: 'no', pvIsolator: 'no' });
  expect(seen(both, [isolator('s3', 'r3')])).toEqual({ batteryIsolator: 'no', pvIsolator: 'yes' });
});
test('a new bank is neither swollen nor leaking; more of the same blocks are beside the swollen one', () => {
  const bank = (value: Record<string, unknown>): Change => ({ op: 'set', at: 'bank', value });
  const both = ['noSwelling', 'noLeak', 'noCharring'];
  expect(seen(both, [bank({ chemistry: 'lfp', block_V: 12.8 })])).toEqual({
    noSwelling: 'yes',
    noLeak: 'yes',
    noCharring: 'no',
  });
  expect(seen(both, [bank({ parallel: 2 })])).toEqual({ noSwelling: 'no', noLeak: 'no', noCharring: 'no' });
});
test('what was answered well, or not at all, stays as it was', () => {
  expect(seen([], [fuse('r1'), fuse('r2')])).toEqual({});
});
