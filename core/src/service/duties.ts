import { chargingDevices, settingSheets } from '../bank/charging';
import { CHEMISTRY, isLithium } from '../chemistry/chemistry';
import { partTitle } from '../conductors/names';
import { createLedger } from '../ledger/ledger';
import { coldString_V, modulesOf } from '../pv/strings';
import type { Model } from '../system/model';
import type { Bank, Settings } from '../system/schema';
import { dayOf } from './days';
import { latestOf, loggedDays, readDays, type Past } from './past';

/** What a system needs regularly, by what it is made of: the table of intervals (docs/service.md). */

/** What each duty is called in files and feeds. */
export type DutyKey =
  | 'water'
  | 'density'
  | 'equalise'
  | 'rest'
  | 'resistance'
  | 'capacity'
  | 'joints'
  | 'clean'
  | 'insulation'
  | 'shunt'
  | 'rcd'
  | 'alarm'
  | 'isolator'
  | 'genset'
  | 'settings'
  | 'meter'
  | 'lay-up'
  | 'open';

/** One duty of one part. */
export interface Duty {
  key: DutyKey;
  what: string;
  subject: string;
  every_d: number;
  /** The day it was last done; null: never. */
  last: number | null;
  /** Where it is not simply so long after the last: the day. */
  due?: number;
  licensed?: true;
  why: string;
}

/** Days of a year, for what is done once in it. */
const YEAR = 365;
/** Strings from here on are dangerous to touch in the cold, V. */
const TOUCH_V = 60;
const HOT_C = 35;
const FLAT_deg = 10;
const OLD_Y = 2;
const OIL_h = 100;
/** New joints settle: they are seen to again so many days after the signature. */
const SETTLED_D = 30;
/** So many runs read on one day are a round of all joints. */
const ROUND_RUNS = 3;

/** A duty with the day on which it is due. */
export interface Dated extends Omit<Duty, 'last' | 'due'> {
  last: number | null;
  day: number;
}

/** Every duty that applies, done or not. */
export const dutiesOf = (model: Model, past: Past): Duty[] => [
  ...bankDuties(model, past),
  ...jointDuties(model, past),
  ...arrayDuties(model, past),
  ...deviceDuties(model, past),
  ...generatorDuties(model, past),
  ...siteDuties(model, past),
  ...meterDuties(past),
];

/** Whether any device pushes the bank over its absorption voltage on purpose; not recorded: whether it does so by a plan. */
const equalises = (settings: Settings | null): boolean =>
  (settings?.equalise_V ?? null) === null ? (settings?.equaliseEvery_d ?? 0) > 0 : (settings?.equalise_V ?? 0) > 0;

function bankDuties({ system }: Model, past: Past): Duty[] {
  const { bank } = system;
  const others = system.otherBanks ?? [];
  const all: { id: string; lead: boolean }[] = [
    ...(bank ? [{ id: bank.id, lead: !isLithium(bank.chemistry) }] : []),
    ...others.map(({ id, chemistry }) => ({ id, lead: !isLithium(chemistry ?? 'flooded') })),
  ];
  const name = (id: string) => partTitle(system, id) ?? id;
  return [
    ...(bank && CHEMISTRY[bank.chemistry].gassesFreely ? wetDuties(system, bank, past) : []),
    ...all
      .filter(({ lead }) => lead)
      .map(({ id }): Duty => ({
        key: 'rest',
        what: `Read the resting voltage of ${name(id)}`,
        subject: id,
        every_d: 90,
        last: latestOf(readDays(past, ['rest_V', 'restVoltage_V'], id)),
        why: 'Lead that is left part charged sulphates; the resting voltage shows it early.',
      })),
    ...all.map(({ id }): Duty => ({
      key: 'resistance',
      what: `Measure the internal resistance of ${name(id)}`,
      subject: id,
      every_d: YEAR,
      last: latestOf(readDays(past, ['resistance_mohm'], id)),
      why: 'A rising resistance is the first sign of a bank that fades.',
    })),
    ...(bank && (bank.age_y ?? 0) > OLD_Y
      ? [
          {
            key: 'capacity' as const,
            what: 'Test the capacity of the bank',
            subject: bank.id,
            every_d: 2 * YEAR,
            last: latestOf(readDays(past, ['capacity_Ah'], bank.id)),
            why: 'The bank is more than two years old: only a test shows what it still holds.',
          },
        ]
      : []),
  ];
}

/** Water, acid and equalising: cells that can be opened. */
function wetDuties(system: Model['system'], bank: Bank, past: Past): Duty[] {
  const devices = chargingDevices(system);
  const on = devices.some(({ settings }) => equalises(settings));
  const hot = (bank.place?.max_C ?? -Infinity) >= HOT_C;
  const plans = devices.flatMap(({ settings }) =>
    settings?.equaliseEvery_d && settings.equalise_V !== 0 ? [settings.equaliseEvery_d] : [],
  );
  return [
    {
      key: 'water',
      what: 'Check the electrolyte level and top up with distilled water',
      subject: bank.id,
      every_d: hot || on ? 30 : 60,
      last: latestOf(loggedDays(past, 'watered', bank.id)),
      why: hot
        ? 'The bank stands in the heat and uses water faster. Goggles and gloves; fill after charging.'
        : on
          ? 'Equalising uses water. Goggles and gloves; fill after charging.'
          : 'Plates that fall dry are lost. Goggles and gloves; fill after charging.',
    },
    {
      key: 'density',
      what: 'Read the specific gravity of every cell',
      subject: bank.id,
      every_d: 90,
      last: latestOf(readDays(past, ['density_kg_L'], bank.id)),
      why: 'One cell that falls behind takes the others with it.',
    },
    ...(plans.length > 0
      ? [
          {
            key: 'equalise' as const,
            what: 'Equalise the bank',
            subject: bank.id,
            every_d: Math.min(...plans),
            last: latestOf(loggedDays(past, 'equalised', bank.id)),
            why: 'As it is set on the charging device. Ventilate, no sparks, check the water first and afterwards.',
          },
        ]
      : []),
  ];
}

function jointDuties({ system }: Model, past: Past): Duty[] {
  if ((system.runs ?? []).length === 0) return [];
  const runsOf = new Map<number, Set<string>>();
  for (const { quantity, subject, day } of past.readings)
    if (quantity === 'jointRise_K' || quantity === 'drop_V')
      runsOf.set(day, (runsOf.get(day) ?? new Set()).add(subject));
  const rounds = [...runsOf].flatMap(([day, runs]) => (runs.size >= ROUND_RUNS ? [day] : []));
  const tightened = past.log.flatMap(({ kind, at }) => (kind === 'retightened' ? (dayOf(at) ?? []) : []));
  const last = latestOf([...rounds, ...tightened]);
  // The first that was built and not seen to since: what came later does not put it off.
  const built = past.signatures.filter(({ day, built: made }) => made && day > (last ?? -Infinity));
  const first = built.length > 0 ? Math.min(...built.map(({ day }) => day)) : null;
  return [
    {
      key: 'joints',
      what: 'Check and retighten the connections to their torque',
      subject: 'site',
      every_d: first === null ? YEAR : SETTLED_D,
      last,
      ...(first === null ? {} : { due: first + SETTLED_D }),
      why:
        first === null
          ? 'Copper and lugs settle; a loose joint heats. Dead, isolated, by the maker\u2019s torque.'
          : 'New connections settle in their first weeks. Dead, isolated, by the maker\u2019s torque.',
    },
  ];
}

function arrayDuties(model: Model, past: Past): Duty[] {
  const { system } = model;
  const io = createLedger(model);
  return (system.arrays ?? []).flatMap((array): Duty[] => {
    const name = partTitle(system, array.id) ?? array.id;
    const flat = typeof array.tilt_deg === 'number' && array.tilt_deg < FLAT_deg;
    const cold_V = Math.max(...array.strings.map((string) => coldString_V(io, modulesOf(system, string))));
    const duties: Duty[] = [
      {
        key: 'clean',
        what: `Clean ${name}`,
        subject: array.id,
        every_d: flat ? 90 : 180,
        last: latestOf(loggedDays(past, 'cleaned', array.id)),
        why: flat ? 'It lies nearly flat: rain does not wash it.' : 'Dust and droppings cost yield and make hot spots.',
      },
    ];
    if (cold_V >= TOUCH_V)
      duties.push({
        key: 'insulation',
        what: `Test the insulation of ${name}`,
        subject: array.id,
        every_d: 3 * YEAR,
        last: latestOf(readDays(past, ['insulation_Mohm'], array.id)),
        licensed: true,
        why: 'Its voltage can be dangerous to touch. A test at 500 V, by a licensed person.',
      });
    return duties;
  });
}

function deviceDuties({ system }: Model, past: Past): Duty[] {
  const name = (id: string) => partTitle(system, id) ?? id;
  const { monitor } = system;
  const recorded = new Set(
    settingSheets(system).flatMap(({ id, settings }) =>
      Object.values(settings ?? {}).some((value) => value !== null && value !== undefined) ? [id] : [],
    ),
  );
  return [
    ...(monitor
      ? [
          {
            key: 'shunt' as const,
            what: 'Charge fully, synchronise the monitor and read its zero',
            subject: monitor.id,
            every_d: 30,
            last: latestOf([
              ...loggedDays(past, 'synchronised', monitor.id),
              ...readDays(past, ['zero_A'], monitor.id),
            ]),
            why: 'A counter drifts: its state of charge is only as good as its last full charge.',
          },
        ]
      : []),
    ...(system.inverters ?? []).flatMap(({ id, feeds }): Duty[] =>
      feeds === 'panel' || feeds === 'building'
        ? [
            {
              key: 'rcd',
              what: `Test the RCD behind ${name(id)}`,
              subject: id,
              every_d: 90,
              last: latestOf(loggedDays(past, 'tested', id, 'rcd')),
              licensed: true,
              why: 'It saves lives only while it trips.',
            },
          ]
        : [],
    ),
    ...(system.switches ?? []).flatMap(({ id, kind }): Duty[] =>
      kind === 'isolator'
        ? [
            {
              key: 'isolator',
              what: `Work ${name(id)} off and on`,
              subject: id,
              every_d: YEAR,
              last: latestOf(loggedDays(past, 'tested', id, 'isolator')),
              why: 'Contacts that are never moved seize. Without load.',
            },
          ]
        : [],
    ),
    ...[...recorded].map((id): Duty => ({
      key: 'settings',
      what: `Read back the settings of ${name(id)}`,
      subject: id,
      every_d: YEAR,
      last: latestOf(past.signatures.map(({ day }) => day)),
      why: 'Settings get changed or reset; compare with the settings sheet.',
    })),
  ];
}

function generatorDuties({ system }: Model, past: Past): Duty[] {
  return (system.sources ?? []).flatMap((source): Duty[] => {
    if (source.kind !== 'generator') return [];
    const own = past.log.filter(({ subject }) => subject === source.id);
    const serviced = own.filter(
      ({ kind, hours }) => kind === 'replaced' || (kind === 'note' && (hours === null || hours === undefined)),
    );
    const last = serviced.at(-1) ?? null;
    const lastDay = last ? dayOf(last.at) : null;
    const byTime = lastDay === null ? past.since : lastDay + 180;
    let hours = 0;
    let byHours = Infinity;
    for (const entry of own) {
      if (last && Date.parse(entry.at) <= Date.parse(last.at)) continue;
      hours += entry.hours ?? 0;
      if (hours < OIL_h) continue;
      byHours = dayOf(entry.at) ?? Infinity;
      break;
    }
    return [
      {
        key: 'genset',
        what: `Service ${partTitle(system, source.id) ?? source.id}: oil, filters, a run under load`,
        subject: source.id,
        every_d: 180,
        last: lastDay,
        due: Math.min(byTime, byHours),
        why:
          byHours < byTime ? 'It has run its 100 h since the last service.' : 'A generator that stands does not start.',
      },
    ];
  });
}

function siteDuties({ site, system }: Model, past: Past): Duty[] {
  const { bank } = system;
  const gas =
    bank !== null && bank !== undefined && (isLithium(bank.chemistry) || bank.place?.space === 'sealed-vented-box');
  const generator = (system.sources ?? []).some(({ kind }) => kind === 'generator');
  if (!site.livingSpace || !(gas || generator)) return [];
  return [
    {
      key: 'alarm',
      what: 'Test the smoke, CO and gas alarms',
      subject: 'site',
      every_d: 30,
      last: latestOf(loggedDays(past, 'tested', 'site', 'alarm')),
      why: 'People sleep here, beside a bank or an engine.',
    },
  ];
}

/** Instruments that readings name, each to be compared with a known good one. */
function meterDuties(past: Past): Duty[] {
  const meters = [...new Set(past.readings.flatMap(({ meter }) => (meter?.trim() ? [meter] : [])))];
  return meters.map((meter): Duty => ({
    key: 'meter',
    what: `Compare the meter "${meter}" with a calibrated one`,
    subject: meter,
    every_d: YEAR,
    last: latestOf(
      past.log
        .filter(({ kind, text }) => kind === 'calibrated' && (text ?? '').toLowerCase().includes(meter.toLowerCase()))
        .flatMap(({ at }) => dayOf(at) ?? []),
    ),
    why: 'Every verdict rests on it.',
  }));
}
