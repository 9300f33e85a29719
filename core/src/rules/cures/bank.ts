import { cellsInSeries } from '../../bank/bank';
import { blocksInSeries } from '../../bank/fresh';
import { chargingDevices, settingSheets, type ChargingDevice } from '../../bank/charging';
import { CHEMISTRY, isLithium } from '../../chemistry/chemistry';
import { largestWhole } from '../../numeric/roots';
import { figure } from '../../ledger/figures';
import { createLedger } from '../../ledger/ledger';
import { type Model, withChanges } from '../../system/model';

import type { Bank, Change, Settings } from '../../system/schema';
import { present } from '../bank/cases';
import { postFuse, stringFuseBodies } from './wires';
import type { Cure } from '../rule';

/** What may be done about a bank: more of it, less into it, its volts set right. */

/** A new string beside old ones ages with them: up to this age it is the same bank, months of the book's own default. */
const YOUNG_Y = 0.5;
const MOST_MORE = 4;

/** More strings of the same blocks; beside an old bank all of them new. */
export function moreStrings(model: Model, bank: Bank): Cure[] {
  const lithium = isLithium(bank.chemistry);
  const most = Math.min(bank.parallel + MOST_MORE, bank.maxParallel ?? MOST_PARALLEL);
  const young = (bank.age_y ?? (lithium ? 0 : YOUNG_Y + 1)) <= YOUNG_Y;
  const found: Cure[] = [];
  for (let parallel = bank.parallel + 1; parallel <= most; parallel++) {
    const value: Partial<Bank> = {
      parallel,
      tapping: bank.parallel > 1 ? (bank.tapping ?? 'busbar') : 'busbar',
      link: bank.link ?? { length_m: 0.5, size: '35mm2' },
      ...(young ? {} : { age_y: 0, health_pct: 100 }),
      ageSpread_months: 0,
    };
    const [fuse] = needsFuses(bank, parallel) ? stringFuseBodies(model, { ...bank, ...value }) : [];
    if (needsFuses(bank, parallel) && !fuse) continue;
    const more = parallel - bank.parallel;
    const of = `${bank.series > 1 ? `${bank.series} in series each, ` : ''}of ${figure(bank.blockCapacity_Ah)} Ah`;
    found.push({
      title: young
        ? `Add ${more === 1 ? 'a string' : `${more} strings`} to the existing ${bank.parallel === 1 ? 'one' : bank.parallel}`
        : `A new bank of ${parallel} strings`,
      detail: `${of}; ${young ? 'of the same make and age' : 'new blocks next to old ones age with them'}${fuse ? `; a ${fuse.rating_A} A fuse in each string` : ''}`,
      changes: [
        {
          op: 'set',
          at: 'bank',
          id: bank.id,
          value: {
            ...value,
            ...(fuse ? { stringFuse: postFuse(fuse.type, fuse.rating_A) } : {}),
          },
        },
      ],
    });
  }
  return found;
}
/** As the rule of parallel strings has it where no maker says. */
const MOST_PARALLEL = 4;
const needsFuses = (bank: Bank, parallel: number) =>
  parallel >= (isLithium(bank.chemistry) ? 2 : 3) && !bank.stringFuse?.type;

/** A device whose current can be set: never what only joins two things, never a pwm controller. */
export const canLimit = (device: ChargingDevice): boolean => {
  if (device.rating_A === null) return false;
  if (device.at === 'controllers') return device.part.type === 'mppt';
  if (device.at === 'inverters') return true;
  if (device.part.kind === 'alternator-direct') return false;
  // A plain charger has no menu: one whose settings were read, or that takes custom voltages, has.
  return device.settings !== null || Boolean(device.profiles?.includes('custom'));
};

/**
 * Charging held back by the devices' own settings, to the ampere: one of them alone as far as it must come down, the one
 * that gives up least first; then all of them by the same share. Found by search over what `holds` says.
 */
export function chargeLimits(model: Model, holds: (changed: Model) => boolean): Cure[] {
  const devices = chargingDevices(model.system).filter(canLimit);
  const now = (device: ChargingDevice) => Math.min(device.rating_A ?? 0, device.settings?.maxCharge_A ?? Infinity);
  const with_ = (changes: Change[]) => holds(withChanges(model, changes));
  const single = devices.flatMap((device) => {
    const most = Math.ceil(now(device)) - 1;
    if (most < 1 || !with_([device.set({ maxCharge_A: 1 })])) return [];
    const amps = largestWhole((value) => with_([device.set({ maxCharge_A: value })]), 1, most) ?? most;
    return [{ device, amps, lost: now(device) - amps }];
  });
  const together = sharedLimit(devices, now, with_);
  return [
    ...single
      .sort((a, b) => a.lost - b.lost)
      .map(({ device, amps }): Cure => ({
        title: `Set ${device.name} to ${amps} A`,
        detail: `instead of ${figure(now(device))} A; a setting`,
        changes: [device.set({ maxCharge_A: amps })],
        limits: 'charge',
      })),
    ...together,
  ];
}

const STEPS = 20;
function sharedLimit(
  devices: readonly ChargingDevice[],
  now: (device: ChargingDevice) => number,
  holds: (changes: Change[]) => boolean,
): Cure[] {
  if (devices.length < 2) return [];
  for (let step = STEPS - 1; step >= 1; step--) {
    const amps = (device: ChargingDevice) => Math.max(1, Math.floor((now(device) * step) / STEPS));
    const changesOf = (some: readonly ChargingDevice[]) =>
      some.map((device) => device.set({ maxCharge_A: amps(device) }));
    if (!holds(changesOf(devices))) continue;
    // What has no part in it is left as it is: nobody turns the sun down for a weak generator.
    const needed = devices.reduce<readonly ChargingDevice[]>((some, device) => {
      const others = some.filter((one) => one !== device);
      return holds(changesOf(others)) ? others : some;
    }, devices);
    // One of them alone is among the single ones, set no lower than it must be.
    if (needed.length < 2) return [];
    return [
      {
        title: `Set ${needed.map((device) => `${device.name} to ${amps(device)} A`).join(', ')}`,
        detail: 'settings; together they stay within it',
        changes: changesOf(needed),
        limits: 'charge',
      },
    ];
  }
  return [];
}

/** Charging stops below it, with a margin to the cells' own limit, degC (Practice, A). */
const COLD_CUT_C = 5;
/** The cold cut that a device has, and that is set too low or not at all to stop in time. */
function coldCut({ system }: Model, bank: Bank): Cure[] {
  const devices = chargingDevices(system).filter(({ settings }) => typeof settings?.lowTempCut_C === 'number');
  if (bank.lowTemperatureProtection || devices.length === 0 || devices.length < chargingDevices(system).length)
    return [];
  return [
    {
      title: `Set the cold cut of ${devices.map(({ name }) => name).join(', ')} to ${COLD_CUT_C} degC`,
      detail: 'sensor on the cells; cool it and check that charging stops',
      changes: [
        ...devices.map(({ set }) => set({ lowTempCut_C: COLD_CUT_C })),
        { op: 'set', at: 'bank', id: bank.id, value: { lowTemperatureProtection: true } },
      ],
      eases: true,
    },
  ];
}

/** The cold cut that is there, set to stop in time; then warmth for lithium that gets too cold. */
export const heat = (model: Model, bank: Bank): Cure[] =>
  bank.heated
    ? []
    : [
        ...coldCut(model, bank),
        {
          title: 'Keep the cells above 5 degC',
          detail: 'insulate the box; heater on the charging side with a thermostat on the cells',
          changes: [{ op: 'set', at: 'bank', id: bank.id, value: { heated: true } }],
        },
      ];

/** The bank's charging volts brought down: equalising off, then absorb and float at the chemistry's own. */
export function lowerVolts(model: Model): Cure[] {
  const { bank } = model.system;
  if (!bank) return [];
  const cells = cellsInSeries(createLedger(model), bank);
  if (!Number.isFinite(cells)) return [];
  const table = CHEMISTRY[bank.chemistry];
  const absorb_V = Math.floor(10 * cells * table.absorb_V + 1e-9) / 10;
  const devices = chargingDevices(model.system).filter(hasVolts);
  const equalising = devices.filter(({ settings }) => settings?.equalise_V !== 0);
  const high = devices.filter(({ settings }) => (settings?.absorb_V ?? 0) > absorb_V);
  const off = equalising.map(({ set }) => set({ equalise_V: 0 }));
  const names = (list: readonly ChargingDevice[]) => list.map(({ name }) => name).join(', ');
  return [
    ...(off.length > 0 && table.equalise_V !== null
      ? [
          {
            title: `Equalising off on ${names(equalising)}`,
            detail: 'set it to 0 and write it down; a flooded bank is then equalised by hand',
            changes: off,
          },
        ]
      : []),
    ...(high.length > 0
      ? [
          {
            title: `Absorb at ${figure(absorb_V)} V on ${names(high)}`,
            detail: `${table.absorb_V} V a cell${off.length > 0 ? ', equalising off' : ''}; settings, nothing to buy`,
            changes: [...off, ...high.map(({ set }) => set({ absorb_V }))],
          },
        ]
      : []),
  ];
}
/** A straight alternator and a plain pwm relay have no volts to set. */
const hasVolts = (device: ChargingDevice) => device.at !== 'chargers' || device.part.kind !== 'alternator-direct';

/** One setting of a device, as the table wants it at this bank. */
export function setTo(model: Model, path: string, setting: keyof Settings, perCell_V: number): Cure[] {
  const { bank } = model.system;
  if (!bank) return [];
  const cells = cellsInSeries(createLedger(model), bank);
  const sheets = settingSheets(model.system).filter(
    (sheet) => sheet.path === path && present(sheet.settings?.[setting]),
  );
  const value = perCell_V === 0 ? 0 : Math.round(10 * cells * perCell_V) / 10;
  if (!Number.isFinite(value)) return [];
  return sheets.map(({ name, set }) => ({
    title: `Set ${SETTING_WORDS[setting] ?? setting} of ${name} to ${value === 0 ? '0, off' : `${figure(value)} V`}`,
    detail: `${value === 0 ? 'not for this bank' : `${figure(perCell_V)} V a cell`}; read it back`,
    changes: [set({ [setting]: value })],
  }));
}
const SETTING_WORDS: Partial<Record<keyof Settings, string>> = {
  absorb_V: 'absorb',
  float_V: 'float',
  equalise_V: 'equalising',
  comp_mV_K_cell: 'temperature compensation',
  cutoff_V: 'the cut-off',
  lvd_V: 'the load cut-off',
};

/** The same blocks joined otherwise, so that they make the volts of the system: side by side where they stand in series. */
export function rejoined({ system: { nominal_V } }: Model, bank: Bank): Cure[] {
  const series = nominal_V ? blocksInSeries(nominal_V, bank.block_V) : null;
  const blocks = bank.series * bank.parallel;
  if (series === null || series === bank.series || blocks % series !== 0) return [];
  const parallel = blocks / series;
  return [
    {
      title:
        series === 1
          ? `The ${blocks} blocks side by side: ${parallel} in parallel`
          : `The ${blocks} blocks joined as ${series} in series, ${parallel} in parallel`,
      detail: 'the same blocks and leads; first read each label and resting voltage; isolated while you work',
      changes: [
        {
          op: 'set',
          at: 'bank',
          id: bank.id,
          value: {
            series,
            parallel,
            ...(parallel > 1
              ? { tapping: bank.tapping ?? 'opposite-ends', link: bank.link ?? { length_m: 0.5, size: '35mm2' } }
              : {}),
          },
        },
      ],
    },
  ];
}
