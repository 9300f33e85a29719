import { applyChanges, modelOf, type Change, type Model, type SystemFile } from '../src/index';
import { CABIN, HOUSE, VAN } from '../src/faults/made-up';

/** Ten systems that were sound until somebody did what people do to them, and what a senior technician would say first. */

interface Trouble {
  name: string;
  model: Model;
  /** The finding that it is about. */
  rule: string;
  subject: string;
  /** What the first cure says, or, where nothing is to be bought or set, what is needed. */
  says: RegExp;
}

const set = (at: string, id: string, value: object): Change => ({ op: 'set', at, id, value });

function troubled(file: SystemFile, changes: Change[], site: Partial<SystemFile['site']> = {}): Model {
  const model = modelOf({ ...file, site: { ...file.site, ...site } });
  return { ...model, system: applyChanges(model.system, { changes }) };
}

export const TROUBLED: Trouble[] = [
  {
    name: 'three panels in series where two were right',
    model: troubled(CABIN, [
      set('controllers', 'cc', { maxPv_V: 100 }),
      set('arrays', 'south', { strings: [['m', 'm', 'm']] }),
    ]),
    rule: 'pv.cold-voltage',
    subject: 'south',
    says: /^3 in parallel|^2 in series|Controller for \d+ V or more/,
  },
  {
    name: 'a main cable thinner than what it feeds',
    model: troubled(CABIN, [set('runs', 'r-bus', { size: '10mm2' })]),
    rule: 'run.ampacity',
    subject: 'r-bus',
    says: / mm2 (instead of 10 mm2|and a)/,
  },
  {
    name: 'a cable to the inverter whose fuse is too large for it',
    model: troubled(CABIN, [set('runs', 'r-inv', { protection: { rating_A: 250 } })]),
    rule: 'run.fuse-protects',
    subject: 'r-inv',
    says: /^An NH fuse of (125|160|200) A/,
  },
  {
    name: 'a blade fuse where the bank short-circuits with thousands of amperes',
    model: troubled(VAN, [
      set('runs', 'r-main', { protection: { type: 'strip', rating_A: 250, voltage_V: 32, interrupt_A: 2000 } }),
    ]),
    rule: 'run.interrupt',
    subject: 'r-main',
    says: /class T|NH/i,
  },
  {
    name: 'a relay between the starter battery and lithium',
    model: troubled(VAN, [set('otherBanks', 'start', { joinedBy: 'relay' })]),
    rule: 'bank.mixed',
    subject: 'bank',
    says: /^Separate the banks: a DC-DC charger/,
  },
  {
    name: 'an alternator straight onto lithium',
    model: troubled(VAN, [set('chargers', 'dcdc', { kind: 'alternator-direct', max_A: 100 })]),
    rule: 'alternator.load',
    subject: 'engine',
    says: /^A DC-DC charger of \d+ A/,
  },
  {
    name: 'lithium left to freeze with nothing that stops the charging',
    model: troubled(VAN, [
      set('bank', 'bank', { heated: false, lowTemperatureProtection: false, place: { min_C: -8 } }),
    ]),
    rule: 'bank.low-temperature',
    subject: 'bank',
    says: /^Keep the cells above 5/,
  },
  {
    name: 'charged at volts meant for another battery',
    model: troubled(VAN, [set('controllers', 'cc', { settings: { absorb_V: 15.2, equalise_V: 16 } })]),
    rule: 'settings',
    subject: 'cc',
    says: /^Set (absorb|equalising) of .* to (14\.2 V|0, off)/,
  },
  {
    name: 'a kettle and an oven on an inverter that ran the radio',
    model: troubled(CABIN, [
      {
        op: 'add',
        at: 'loads',
        value: {
          id: 'kettle',
          label: 'Kettle',
          kind: 'ac',
          type: 'resistive',
          power_W: 1000,
          hours_d: 0.2,
          overlap: 'may',
        },
      },
      {
        op: 'add',
        at: 'loads',
        value: { id: 'oven', label: 'Oven', kind: 'ac', type: 'resistive', power_W: 900, hours_d: 0.2, overlap: 'may' },
      },
    ]),
    rule: 'inverter.continuous',
    subject: 'inv',
    says: /one at a time|^An inverter of \d+ W/,
  },
  {
    name: 'the house battery in the bedroom, of salvaged modules',
    model: troubled(HOUSE, [set('bank', 'bank', { salvaged: true, place: { space: 'living' } })]),
    rule: 'bank.place',
    subject: 'bank',
    says: /^Needs another place/,
  },
];
