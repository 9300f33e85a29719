import { liveExpected, type Heard, type Model } from '../src/index';
import { hut } from './hut';

const NOW = Date.parse('2026-12-01T20:00:00Z');
const heard = (quantity: Heard['quantity'], value: number, subject = 'b', ago_s = 0): Heard => ({
  subject,
  quantity,
  value,
  at: NOW - 1000 * ago_s,
});
const one = (values: Heard[], site: Model = hut()) => liveExpected(site, values);

describe('what live values should be', () => {
  test('a bank at 80 % that gives 10 A: near its resting voltage less the drop within; a sagging one is outside', () => {
    const [found] = one([heard('load_V', 12.4), heard('head_A', -10), heard('head_soc', 0.8)]);
    // 6 x 2.083 V at 80 %, less some hundredths.
    expect(found!.expected!).toBeGreaterThan(12.2);
    expect(found!.expected!).toBeLessThan(12.5);
    expect(found!.judged).toBe('inside');
    const [bad] = one([heard('load_V', 11.3), heard('head_A', -10), heard('head_soc', 0.8)]);
    expect(bad!.judged).toBe('outside');
  });
  test('while it charges, without its current or its charge, nothing is expected', () => {
    expect(one([heard('load_V', 14.2), heard('head_A', 20), heard('head_soc', 0.8)])).toEqual([]);
    expect(one([heard('load_V', 12.4), heard('head_soc', 0.8)])).toEqual([]);
    expect(one([heard('load_V', 12.4), heard('head_A', -10)])).toEqual([]);
  });
  test('a current of ten minutes ago is not the current of now', () => {
    expect(one([heard('load_V', 12.4), heard('head_A', -10, 'b', 600), heard('head_soc', 0.8)])).toEqual([]);
  });
  const oneRun = (count: number) =>
    hut((system) => {
      system.inverters = [{ id: 'inv', continuous_W: 1200 }];
      system.runs = Array.from({ length: count }, (_, k) => ({
        id: `r${k}`,
        kind: 'battery-inverter' as const,
        from: 'b',
        to: 'inv',
        length_m: 1,
        size: '35mm2',
      }));
    });
  test('the only cable of the bank carries all of its current: 35 mm2, 1 m, 50 A drop 0.05 V; 1.2 V is a bad joint', () => {
    const site = oneRun(1);
    const [good] = one([heard('drop_V', 0.06, 'r0'), heard('head_A', -50)], site);
    expect(good!.judged).toBe('inside');
    expect(one([heard('drop_V', 1.2, 'r0'), heard('head_A', -50)], site)[0]!.judged).toBe('outside');
  });
  test('a small current passes no joint, but 0.3 V lost at 3 A condemns one', () => {
    const site = oneRun(1);
    const at = (volts: number) => one([heard('drop_V', volts, 'r0'), heard('head_A', -3)], site)[0]!.judged;
    expect(at(0.005)).toBe('cannot-tell');
    expect(at(0.03)).toBe('cannot-tell');
    expect(at(0.3)).toBe('outside');
  });
  test('of two cables on the bank nobody knows which carries how much', () => {
    expect(one([heard('drop_V', 1.2, 'r0'), heard('head_A', -50)], oneRun(2))).toEqual([]);
  });
  test('AC volts are what the plate says, whatever flows', () => {
    const site = hut((system) => {
      system.inverters = [{ id: 'inv', continuous_W: 1200, ac_V: 230, ac_Hz: 50 }];
    });
    expect(one([heard('ac_V', 231, 'inv')], site)[0]!.judged).toBe('inside');
    expect(one([heard('ac_V', 198, 'inv')], site)[0]!.judged).toBe('outside');
  });
  test('what the sun drives is not judged: nobody heard the sun', () => {
    expect(one([heard('out_A', 3, 'c'), heard('pv_V', 3, 'c'), heard('head_A', -2)])).toEqual([]);
  });
});
