import { settingSheets } from '../bank/charging';
import { isLithium } from '../chemistry/chemistry';
import { partTitle } from '../conductors/names';
import { createLedger } from '../ledger/ledger';
import { coldString_V, modulesOf } from '../pv/strings';
import type { Model } from '../system/model';
import { dayOf } from './days';
import { bankDuties } from './duties-bank';
import type { Duty } from './duty';
import { latestOf, loggedDays, readDays, type Past } from './past';

/** What a system needs regularly, by what it is made of: the table of intervals (docs/service.md). */

/** Days of a year, for what is done once in it. */
const YEAR = 365;
/** Strings from here on are dangerous to touch in the cold, V. */
const TOUCH_V = 60;
const FLAT_deg = 10;
const OIL_h = 100;
/** New joints settle: they are seen to again so many days after the signature. */
const SETTLED_D = 30;
/** So many runs read on one day are a round of all joints. */
const ROUND_RUNS = 3;

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
          ? 'Copper and lugs settle; a loose joint heats. Isolate, prove dead, use the maker\u2019s torque.'
          : 'New connections settle in their first weeks. Isolate, prove dead, use the maker\u2019s torque.',
    },
  ];
}

function arrayDuties(model: Model, past: Past): Duty[] {
  const { system } = model;
  const io = createLedger(model);
  return (system.arrays ?? []).flatMap((array): Duty[] => {
    const name = partTitle(system, array.id) ?? array.id;
    const flat = typeof array.tilt_deg === 'number' && array.tilt_deg < FLAT_deg;
    // Most strings of an array are alike.
    const unlike = new Map(array.strings.map((string) => [string.join(), string]));
    const cold_V = Math.max(...[...unlike.values()].map((string) => coldString_V(io, modulesOf(system, string))));
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
              what: `Switch ${name(id)} off and on`,
              subject: id,
              every_d: YEAR,
              last: latestOf(loggedDays(past, 'tested', id, 'isolator')),
              why: 'Contacts that are never moved seize. Do it without load.',
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
          byHours < byTime
            ? 'It has run its 100 h since the last service.'
            : 'A generator that sits unused may not start.',
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
    why: 'Every verdict depends on it.',
  }));
}
