import { check, interim, modelOf, type Change, type System, type SystemFile } from '../src/index';
import corrach from '../../demo/sites/corrach-bothy.lantern.json';
import seal from '../../demo/sites/seal-sound.lantern.json';
import { open as openFile } from './open';
import { withChanges } from '../src/system/model';

/** Limits until parts arrive, as a senior gives them: what the binding part bears, and never the only charge. */

const open = (system: System) =>
  modelOf({
    format: 'true-lantern',
    version: 2,
    site: { name: 'Made up', occasion: 'hut', min_C: 5, max_C: 35 },
    system,
  } as unknown as SystemFile);
const panel = { id: 'm', pmax_W: 150, voc_V: 22.5, isc_A: 9, vmp_V: 18.3, imp_A: 8.2, cells: 36, maxSeriesFuse_A: 15 };
const strings = (count: number) => Array.from({ length: count }, () => ['m']);
/** Strings of one module through a pwm controller onto packs that stand 20 A. */
const packs = (count: number): System => ({
  nominal_V: 12,
  moduleTypes: [panel],
  arrays: [{ id: 'a', strings: strings(count), stringFuse_A: 15, controllerId: 'c' }],
  controllers: [{ id: 'c', type: 'pwm', maxPv_V: 50, maxPv_A: 60, maxOutput_A: 60, limitsOutput: false }],
  bank: {
    id: 'b',
    chemistry: 'lfp',
    block_V: 12.8,
    blockCapacity_Ah: 200,
    rate_h: 5,
    series: 1,
    parallel: 1,
    maxCharge_A: 20,
  },
});
const over = (system: System, changes: Change[], rule: string) =>
  check(withChanges(open(system), changes)).some((one) => one.rule === rule && one.verdict === 'over');

describe('a bank that gets too much from a controller that cannot be turned down', () => {
  const found = interim(open(packs(4)));
  it('has two of its four strings unplugged, and keeps the rest', () => {
    // 4 x 9 A is 36 A into 20 A; two strings are 18 A.
    expect(over(packs(4), [], 'bank.charge-max')).toBe(true);
    expect(found.limits).toContainEqual(
      expect.objectContaining({ kind: 'strings', id: 'a', value: 2, rule: 'bank.charge-max' }),
    );
    expect(found.limits.map(({ text }) => text).join()).toMatch(/unplug 2 of 4 strings/);
    expect(found.off).toEqual([]);
    expect(over(packs(4), found.changes, 'bank.charge-max')).toBe(false);
  });
  it('keeps its only charge, and says what stays open', () => {
    const strong: System = { ...packs(1), bank: { ...packs(1).bank!, maxCharge_A: 5 } };
    const { off, limits, left, changes } = interim(open(strong));
    expect(over(strong, [], 'bank.charge-max')).toBe(true);
    expect([off, limits, changes]).toEqual([[], [], []]);
    expect(left.map(({ finding }) => finding.rule)).toContain('bank.charge-max');
  });
});

describe('a cable of the only charge', () => {
  it('stays on, and that is said with what is wrong with it', () => {
    const { left } = interim(openFile(seal));
    const cable = left.find(({ finding }) => finding.subject === 'r-cc');
    expect(cable?.text).toMatch(/all that charges the bank, so it stays on\.$/);
  });
});

describe('a cable that does not bear what its inverter draws', () => {
  const thin = (watts: number): System => ({
    nominal_V: 12,
    bank: {
      id: 'b',
      chemistry: 'lfp',
      block_V: 12.8,
      blockCapacity_Ah: 300,
      rate_h: 5,
      series: 1,
      parallel: 1,
      maxDischarge_A: 300,
    },
    inverters: [{ id: 'i', minDc_V: 10.5, maxDc_V: 17, continuous_W: 3000, surge_W: 6000, efficiency_pct: 90 }],
    runs: [
      {
        id: 'r',
        kind: 'battery-inverter',
        from: 'b',
        to: 'i',
        length_m: 2,
        size: '25mm2',
        insulation_C: 70,
        freeAir: false,
        protection: { type: 'class-t', rating_A: 60, voltage_V: 125, dcRated: true, fromSource_m: 0.1 },
      },
    ],
    loads: [{ id: 'l', label: 'Heater', kind: 'ac', type: 'resistive', power_W: watts, hours_d: 1, inverterId: 'i' }],
  });
  const limitOf = (watts: number) => interim(open(thin(watts))).limits.find(({ kind }) => kind === 'load');
  it('is held to watts that the cable bears, whatever is plugged in today', () => {
    const [small, large] = [limitOf(500), limitOf(2600)];
    // 25 mm2 enclosed, of the jacket read off, carries far less than the 397 A of 3 kW at the lowest volts.
    expect(small?.value).toBeGreaterThan(300);
    expect(small?.value).toBeLessThan(800);
    expect(large?.value).toBe(small?.value);
    expect(large?.rule).toBe('run.ampacity');
  });
});

describe('an outage', () => {
  it('is told and not limited: an inverter that lets go at a start harms nobody', () => {
    const { limits, off, left } = interim(openFile(corrach));
    expect([limits, off]).toEqual([[], []]);
    expect(left.map(({ finding }) => finding.rule)).toContain('system.sag');
  });
});
