import {
  chargingDevices,
  check,
  checkWithRemedies,
  mergeChanges,
  settingChanges,
  settingSheets,
  type System,
} from '../src/index';
import { lfpSettings } from '../src/proposal/settings';
import { find, hut, part } from './hut';

/** A controller, an inverter with a charger whose amperes nobody read, one without, a mains and a dc-dc charger. */
const all = () =>
  hut((system) => {
    Object.assign(part.controller(system), { label: 'Sun', settings: { absorb_V: 14.4 } });
    system.inverters = [
      {
        id: 'inv',
        label: 'Combi',
        continuous_W: 1000,
        settings: { cutoff_V: 11 },
        charger: { settings: { equalise_V: 15.5 }, profiles: ['lfp'] },
      },
      { id: 'plain', continuous_W: 300, charger: { max_A: 0 } },
    ];
    system.chargers = [
      { id: 'm', kind: 'mains', max_A: 15, settings: { absorb_V: 14.6 } },
      { id: 'd', kind: 'dc-dc', max_A: 30 },
    ];
  }).system;

describe('everything that charges', () => {
  test('in the order of the file, each where it is recorded; a charger of 0 A is none, one not read is one', () =>
    expect(
      chargingDevices(all()).map(({ name, path, at, occasion, rating_A }) => [name, path, at, occasion, rating_A]),
    ).toEqual([
      ['Sun', 'c', 'controllers', 'sun', 60],
      ["Combi's charger", 'inv.charger', 'inverters', 'mains', null],
      ['Mains charger', 'm', 'chargers', 'mains', 15],
      ['DC-DC charger', 'd', 'chargers', 'driving', 30],
    ]));
  test('each is set where its settings stand, and rated where its amperes do', () => {
    const system = all();
    const changed = mergeChanges(
      system,
      chargingDevices(system).flatMap((device) => [device.set({ float_V: 13.5 }), device.rate(7, { maxCharge_A: 7 })]),
    );
    expect(changed.controllers?.[0]).toMatchObject({
      maxOutput_A: 7,
      settings: { absorb_V: 14.4, float_V: 13.5, maxCharge_A: 7 },
    });
    expect(changed.inverters?.[0]).toMatchObject({
      settings: { cutoff_V: 11 },
      charger: { max_A: 7, settings: { equalise_V: 15.5, float_V: 13.5, maxCharge_A: 7 } },
    });
    expect(changed.inverters?.[1]?.charger).toEqual({ max_A: 0 });
    expect(changed.chargers?.map(({ max_A, settings }) => [max_A, settings?.float_V])).toEqual([
      [7, 13.5],
      [7, 13.5],
    ]);
  });
  test('settings sheets: an inverter by itself cuts off, its charger charges', () =>
    expect(settingSheets(all()).map(({ path, charges, cutsOff }) => [path, charges !== null, cutsOff])).toEqual([
      ['c.settings', true, true],
      ['inv.settings', false, true],
      ['inv.charger.settings', true, false],
      ['plain.settings', false, true],
      ['m.settings', true, false],
      ['d.settings', true, false],
    ]));
});

describe('a charger inside an inverter whose amperes nobody read', () => {
  test('its equalising at 15.5 V is on the bus, and on the settings sheet with an end to it', () => {
    const system = all();
    system.bank = { ...part.bank(system), chemistry: 'lfp', block_V: 12.8 };
    const sheet = lfpSettings(system, 4, new Set());
    expect(sheet.find(({ id, setting }) => id === 'inv.charger' && setting === 'equalise_V')).toMatchObject({
      before: 15.5,
      after: 0,
    });
    expect(sheet.filter(({ id }) => id === 'plain.charger')).toEqual([]);
    expect(find({ ...hut(), system }, 'settings', 'equalise_V')).toMatchObject({ subject: 'inv', verdict: 'over' });
  });
  test('too much charge that it brings has a cure: it is turned down', () => {
    const model = hut((system: System) => {
      part.bank(system).blockCapacity_Ah = 200;
      part.controller(system).maxOutput_A = 5;
      system.inverters = [
        { id: 'inv', label: 'Combi', continuous_W: 300, charger: { max_A: 70, profiles: ['flooded'] } },
      ];
    });
    const found = checkWithRemedies(model).find(({ rule }) => rule === 'bank.charge-max');
    // 70 A and 5 A of sun into 0.20 x 200 Ah = 40 A: 0.9 of it is 36 A, of which 31 A are left for the charger.
    expect(found).toMatchObject({ verdict: 'over', demand: 75, limit: 40 });
    expect(found?.remedies.map(({ title }) => title)).toContain("Set Combi's charger to 31 A");
    const cured = mergeChanges(model.system, found?.remedies[0]?.changes ?? []);
    expect(check({ ...model, system: cured }).find(({ rule }) => rule === 'bank.charge-max')?.verdict).toBe('holds');
  });
});

test('settings that differ, device by device; what is no longer set is no setting to make', () => {
  const before = all();
  const after = mergeChanges(before, [
    { op: 'set', at: 'controllers', id: 'c', value: { settings: { absorb_V: 14.2, float_V: 13.5 } } },
    {
      op: 'set',
      at: 'inverters',
      id: 'inv',
      value: { settings: { cutoff_V: null }, charger: { settings: { equalise_V: 0 } } },
    },
    { op: 'set', at: 'chargers', id: 'm', value: { settings: { absorb_V: 14.6 } } },
  ]);
  expect(settingChanges(before, after)).toEqual([
    { id: 'c', device: 'Sun', setting: 'absorb_V', before: 14.4, after: 14.2 },
    { id: 'c', device: 'Sun', setting: 'float_V', before: null, after: 13.5 },
    { id: 'inv.charger', device: "Combi's charger", setting: 'equalise_V', before: 15.5, after: 0 },
  ]);
});
