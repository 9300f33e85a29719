import { chargingDevices } from '../bank/charging';
import { CHEMISTRY, isLithium } from '../chemistry/chemistry';
import { partTitle } from '../conductors/names';
import type { Model } from '../system/model';
import type { Bank, Settings } from '../system/schema';
import type { Duty } from './duty';
import { latestOf, loggedDays, readDays, type Past } from './past';

/** What banks need regularly (docs/service.md): water, acid, rest, resistance, capacity. */

const YEAR = 365;
const HOT_C = 35;
const OLD_Y = 2;

/** Whether any device pushes the bank over its absorption voltage on purpose; not recorded: whether it does so by a plan. */
const equalises = (settings: Settings | null): boolean =>
  (settings?.equalise_V ?? null) === null ? (settings?.equaliseEvery_d ?? 0) > 0 : (settings?.equalise_V ?? 0) > 0;

/** Duties of the bank and of the batteries beside it. */
export function bankDuties({ system }: Model, past: Past): Duty[] {
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
        last: latestOf(readDays(past, ['rest_V'], id)),
        why: 'Lead that stays partly charged sulphates; the resting voltage shows it early.',
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
          : 'Plates that run dry are lost. Goggles and gloves; fill after charging.',
    },
    {
      key: 'density',
      what: 'Read the specific gravity of every cell',
      subject: bank.id,
      every_d: 90,
      last: latestOf(readDays(past, ['density_kg_L'], bank.id)),
      why: 'One weak cell takes the others with it.',
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
