import { cablesWanted, likelyRatings, plateOf, type Model, type System } from '@true-lantern/core';

describe('a module plate from five figures', () => {
  const plate = { pmax_W: 235, voc_V: 36.8, isc_A: 8.54, vmp_V: 29.8, imp_A: 7.9 };
  test('in any order that a plate has them', () => {
    expect(plateOf([235, 36.8, 8.54, 29.8, 7.9])).toEqual(plate);
    expect(plateOf([235, 29.8, 7.9, 36.8, 8.54])).toEqual(plate);
    expect(plateOf([8.54, 36.8, 7.9, 29.8, 235])).toEqual(plate);
    // A small module: 5 W, 17.5 V x 0.286 A.
    expect(plateOf([5, 21.6, 0.31, 17.5, 0.286])).toMatchObject({ voc_V: 21.6, imp_A: 0.286 });
  });
  test('five figures that make no module are asked for by name', () => {
    // 29.8 V x 7.9 A is 235 W, not 300.
    expect(plateOf([300, 36.8, 8.54, 29.8, 7.9])).toBeNull();
    // Half a volt between open and full power: no such cell.
    expect(plateOf([235, 30.1, 8.54, 29.8, 7.9])).toBeNull();
    expect(plateOf([235, 36.8, 8.54, 29.8])).toBeNull();
    expect(plateOf([235, 36.8, 8.54, 29.8, 0])).toBeNull();
    expect(plateOf([235, 36.8, 8.54, 29.8, Number.NaN])).toBeNull();
  });
});

describe('cables that the parts imply', () => {
  const controller = { type: 'mppt' as const, maxOutput_A: 30 };
  const system: System = {
    nominal_V: 12,
    arrays: [
      { id: 'roof', strings: [['m']], controllerId: 'cc' },
      { id: 'loose', strings: [['m']] },
    ],
    controllers: [{ id: 'cc', ...controller }],
    bank: { id: 'b', chemistry: 'agm', block_V: 12, blockCapacity_Ah: 100, series: 1, parallel: 1 },
    inverters: [{ id: 'inv', continuous_W: 1000 }],
    otherBanks: [{ id: 'start', role: 'starter', chemistry: 'flooded', nominal_V: 12 }],
    chargers: [
      { id: 'dd', kind: 'dc-dc', max_A: 30 },
      { id: 'mains', kind: 'mains', max_A: 20 },
    ],
    converters: [{ id: 'conv', in_V: 12, out_V: 5, max_A: 5 }],
    distribution: [{ id: 'box' }],
    loads: [
      { id: 'lamp', label: 'Lamp', kind: 'dc', power_W: 5, hours_d: 3 },
      { id: 'phone', label: 'Phone', kind: 'dc', power_W: 5, hours_d: 3, converterId: 'conv' },
      { id: 'kettle', label: 'Kettle', kind: 'ac', power_W: 900, hours_d: 0.2 },
    ],
  };
  const ways = (of: System) => cablesWanted(of).map(({ kind, from, to }) => `${kind} ${from}>${to}`);
  test('from the sun down, both sides of a DC-DC charger, loads from the one board', () => {
    expect(ways(system)).toEqual([
      'pv roof>cc',
      'controller-battery cc>b',
      'charger start>dd',
      'charger dd>b',
      'charger mains>b',
      'battery-inverter b>inv',
      'converter b>conv',
      'dc-load b>box',
      'dc-load box>lamp',
    ]);
  });
  test('what is recorded is not asked again, whichever way its ends were written', () => {
    const run = (
      id: string,
      kind: 'pv' | 'controller-battery' | 'battery-inverter' | 'dc-load',
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
    const after = ways({
      ...system,
      runs: [
        run('1', 'pv', 'cc', 'roof'),
        run('2', 'battery-inverter', 'inv', 'b'),
        run('3', 'dc-load', 'lamp', 'box'),
      ],
    });
    expect(after).not.toContain('pv roof>cc');
    expect(after).not.toContain('battery-inverter b>inv');
    expect(after).not.toContain('dc-load box>lamp');
    // The board that the bank and a source share is the bus: the rest starts from there.
    const bus = ways({
      ...system,
      runs: [run('1', 'dc-load', 'b', 'box'), run('2', 'controller-battery', 'cc', 'box')],
    });
    expect(bus).toContain('battery-inverter box>inv');
    expect(bus).not.toContain('dc-load b>box');
  });
  test('without a bank only the sun\u2019s cables; nothing at all where nothing is', () => {
    expect(ways({ ...system, bank: null, distribution: [] })).toEqual(['pv roof>cc']);
    expect(ways({})).toEqual([]);
  });
});

test('ratings that one may expect on a conductor: those sold of the type, nearest what it allows', () => {
  const model: Model = {
    site: { name: 'S', kind: 'hut' },
    schools: { conductor: 'metric' },
    system: {
      nominal_V: 12,
      bank: { id: 'b', chemistry: 'agm', block_V: 12, blockCapacity_Ah: 100, series: 1, parallel: 1 },
    },
    evidence: {},
  };
  const run = { id: 'r', kind: 'dc-load' as const, from: 'b', length_m: 2, size: '16mm2' };
  // 16 mm2 clipped direct, terminals for 75 degC: the column of 70 degC, 85 A; the largest sold not above it is 80 A.
  expect(likelyRatings(model, run, 'nh')).toEqual([40, 50, 63, 80, 100, 125]);
  expect(likelyRatings(model, run, 'blade', 3)).toEqual([25, 30, 40]);
  expect(likelyRatings(model, { ...run, size: '0.1mm2' }, 'blade', 3)).toEqual([1, 2, 3]);
});
