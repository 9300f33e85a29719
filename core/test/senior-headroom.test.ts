import { headroom, modelOf, type System, type SystemFile } from '../src/index';

/** How much more, as a senior says it: the bank's planning limit where nothing else gives out, and no school without end. */

const open = (system: System, schools = {}) =>
  modelOf({
    format: 'true-lantern',
    version: 2,
    site: { name: 'Made up', recordHigh_C: 35, recordLow_C: 0 },
    schools,
    system,
  } as unknown as SystemFile);
const lamps = (power_W: number): System => ({
  nominal_V: 12,
  bank: {
    id: 'b',
    chemistry: 'flooded',
    block_V: 12,
    blockCapacity_Ah: 100,
    rate_h: 20,
    series: 1,
    parallel: 1,
    place: { space: 'living', min_C: 5, max_C: 30 },
  },
  loads: [{ id: 'l', label: 'Lamp', kind: 'dc', type: 'resistive', power_W, hours_d: 3 }],
});

describe('a bank of lead with nothing but lamps on it', () => {
  const [first] = headroom(open(lamps(24))).load;
  it('gives out at its planning limit, C20/5: 20 A at 12 V less the 24 W that run', () => {
    expect(first).toMatchObject({ rule: 'bank.discharge', subject: 'b', extra_W: 216 });
  });
  it('that is asked for more already has no more to give', () => {
    expect(headroom(open(lamps(300))).load[0]).toMatchObject({ rule: 'bank.discharge', extra_W: 0 });
  });
});

describe('where clipping is allowed', () => {
  const sunny: System = {
    ...lamps(24),
    moduleTypes: [
      {
        id: 'm',
        pmax_W: 100,
        voc_V: 22,
        isc_A: 6,
        vmp_V: 18,
        imp_A: 5.55,
        cells: 36,
        maxSeriesFuse_A: 15,
        betaVoc_pct_C: -0.3,
      },
    ],
    arrays: [{ id: 'a', strings: [['m', 'm']], stringFuse_A: 10, controllerId: 'c' }],
    controllers: [
      { id: 'c', type: 'mppt', maxPv_V: 150, maxPv_A: 100, maxPv_W: { 12: 450 }, maxOutput_A: 20, limitsOutput: true },
    ],
  };
  const extra = (controllerOutput: string) => headroom(open(sunny, { controllerOutput })).modules;
  it('the watts that the controller takes still stop: four modules of 100 W into 450 W', () => {
    expect(extra('clip')).toMatchObject({ rule: 'pv.power' });
    expect(extra('clip').extra).toBeLessThanOrEqual(2);
    expect(extra('clip').extra).toBeGreaterThanOrEqual(extra('margin').extra ?? 0);
  });
});
