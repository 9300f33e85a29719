import { check, interim, modelOf, type Change, type System, type SystemFile } from '../src/index';
import corrach from '../../demo/sites/corrach-bothy.lantern.json';
import sagging from '../../docs/format/reference/sagging-12v.lantern.json';
import seal from '../../demo/sites/seal-sound.lantern.json';
import { open as openFile } from './open';
import { withChanges, withSystem } from '../src/system/model';
import { TROUBLED } from './troubled-sites';

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
    // What is limited at all is the string that is a module too long.
    expect([limits.map(({ rule }) => rule), off]).toEqual([['pv.cold-voltage'], []]);
    expect(left.map(({ finding }) => finding.rule)).toContain('system.sag');
  });
});

describe('a string whose cold volts are beyond the only controller', () => {
  const inSeries = (count: number, maxPv_V: number): System => ({
    ...packs(1),
    arrays: [{ id: 'a', strings: [Array.from({ length: count }, () => 'm')], stringFuse_A: 15, controllerId: 'c' }],
    controllers: [
      {
        id: 'c',
        type: 'mppt',
        maxPv_V,
        maxPv_A: 30,
        maxOutput_A: 20,
        limitsOutput: true,
        minBattery_V: 8,
        maxBattery_V: 32,
      },
    ],
  });
  const cold = (system: System) =>
    modelOf({
      format: 'true-lantern',
      version: 2,
      site: { name: 'Made up', occasion: 'hut', recordLow_C: -20, recordHigh_C: 34, min_C: 5, max_C: 35 },
      system,
    } as unknown as SystemFile);
  it('loses one module a string, by hand, and goes on charging', () => {
    // Cold, 22.5 V is about 25 V: four in series 100 V and more, three about 76 V into 90 V.
    const found = interim(cold(inSeries(4, 90)));
    expect(found.limits).toContainEqual(
      expect.objectContaining({ kind: 'modules', id: 'a', value: 3, rule: 'pv.cold-voltage' }),
    );
    expect(found.limits.map(({ text }) => text).join()).toMatch(/leave 1 of the 4 modules in the string out/);
    expect(found.off).toEqual([]);
    expect(found.left.map(({ finding }) => finding.rule)).not.toContain('pv.cold-voltage');
  });
  it('keeps no more than what the controller bears, and no fewer', () => {
    const found = interim(cold(inSeries(5, 60)));
    expect(found.limits).toContainEqual(expect.objectContaining({ kind: 'modules', value: 2 }));
  });
  it('is not shortened where nobody can say that the rest still charges', () => {
    const found = interim(open(inSeries(4, 90)));
    expect(found.limits.filter(({ kind }) => kind === 'modules')).toEqual([]);
  });
  it('is not shortened to what no longer charges the bank', () => {
    // One module of 18 V cannot charge 24 V: what is over stays said.
    const house: System = { ...inSeries(2, 40), nominal_V: 24 };
    house.bank = { ...house.bank!, block_V: 25.6, maxCharge_A: 50 };
    const found = interim(cold(house));
    expect(found.limits.filter(({ kind }) => kind === 'modules')).toEqual([]);
    expect(found.left.map(({ finding }) => finding.rule)).toContain('pv.cold-voltage');
  });
});

describe('a starter battery joined to lithium', () => {
  const { model } = TROUBLED.find(({ rule }) => rule === 'bank.mixed')!;
  it('is parted from it at once, where something else charges the bank', () => {
    const found = interim(model);
    expect(found.off).toContainEqual(
      expect.objectContaining({ id: 'start', how: expect.stringMatching(/starter|relay/i) as string }),
    );
    expect(found.left.map(({ finding }) => finding.rule)).not.toContain('bank.mixed');
  });
  it('stays joined, and said, where nothing else does', () => {
    const alone = withSystem(model, {
      ...model.system,
      arrays: [],
      controllers: [],
      chargers: [],
      runs: [],
      switches: [],
    });
    const found = interim(alone);
    expect(found.off.map(({ id }) => id)).not.toContain('start');
    expect(found.left.map(({ finding }) => finding.rule)).toContain('bank.mixed');
  });
});

const inTrouble = (rule: string) => interim(TROUBLED.find((one) => one.rule === rule)!.model);

describe('an alternator straight onto lithium', () => {
  const found = inTrouble('alternator.load');
  it('is parted itself; what charges beside it goes on as it is', () => {
    expect(found.off.map(({ id }) => id)).toContain('dcdc');
    expect(found.limits.filter(({ kind }) => kind === 'charge')).toEqual([]);
    expect(found.left.map(({ finding }) => finding.rule)).not.toContain('alternator.load');
  });
});

describe('a controller set to volts of another battery', () => {
  const found = inTrouble('settings');
  it('is set right at once, and stays on', () => {
    // 4 cells at 3.55 V is 14.2 V; equalising lithium is never right.
    expect(found.limits).toContainEqual(expect.objectContaining({ id: 'cc', setting: 'absorb_V', value: 14.2 }));
    expect(found.limits).toContainEqual(expect.objectContaining({ id: 'cc', setting: 'equalise_V', value: 0 }));
    expect([found.off, found.left.filter(({ finding }) => finding.rule === 'settings')]).toEqual([[], []]);
  });
});

describe('what only conduct holds off', () => {
  it('says what not to do with lithium that freezes', () => {
    const { left } = inTrouble('bank.low-temperature');
    const cold = left.find(({ finding }) => finding.rule === 'bank.low-temperature');
    expect(cold?.text).toMatch(/Until then, do not charge while the cells are below 5 degC/);
  });
  it('says who stays out of the room of a salvaged bank', () => {
    expect(
      inTrouble('bank.place')
        .left.map(({ text }) => text)
        .join(),
    ).toMatch(/nobody sleeps in that room/);
  });
});

describe('a load behind an inverter that is off', () => {
  it('is limited for when the inverter is back, not now', () => {
    const { off, limits } = interim(openFile(sagging));
    expect(off.map(({ id }) => id)).toContain('inv');
    expect(limits.filter(({ kind, whenBack }) => kind === 'not-started' && !whenBack)).toEqual([]);
    expect(limits.map(({ text }) => text).filter((text) => /^[a-z]/.test(text))).toEqual([]);
  });
});
