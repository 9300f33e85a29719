import type { Change, Charger, Controller, Inverter, Settings, System } from '../system/schema';

/**
 * Everything that charges the bank, in one list: solar controllers, the chargers inside inverters, and chargers. Whoever
 * asks what is set on them, what they bring or how they are held back reads this list and nothing else.
 */
export type ChargingDevice = {
  /** The part's own id. */
  id: string;
  /** What it is called: the label, "Ostrum 3000's charger" for one inside an inverter. */
  name: string;
  /** Where it is recorded, for evidence and for the settings sheet: `cc`, `inv.charger`. */
  path: string;
  /** Its amperes by the plate; null: not read. */
  rating_A: number | null;
  /** Percent, and power factor of its input; null: not read (or it has none). */
  efficiency_pct: number | null;
  powerFactor: number | null;
  profiles: Profiles | null;
  settings: Settings | null;
  /** The change that sets some of its settings; `null` takes one out. */
  set(settings: { [K in keyof Settings]?: Settings[K] | null }): Change;
  /** The change that gives it another rating, and settings with it. */
  rate(rating_A: number, settings?: Settings): Change;
} & (
  | { at: 'controllers'; occasion: 'sun'; part: Controller }
  | { at: 'inverters'; occasion: 'mains'; part: Inverter }
  | { at: 'chargers'; occasion: 'mains' | 'driving'; part: Charger }
);
type Profiles = NonNullable<Controller['profiles']>;

/** In the order of the system file: controllers, inverters, chargers. */
export function chargingDevices({ controllers, inverters, chargers }: System): ChargingDevice[] {
  return [
    ...(controllers ?? []).map((part) => plain('controllers', part, 'sun', part.maxOutput_A, 'maxOutput_A')),
    ...(inverters ?? []).flatMap((part) => (hasCharger(part) ? [inside(part)] : [])),
    ...(chargers ?? []).map((part) =>
      plain('chargers', part, part.kind === 'mains' ? 'mains' : 'driving', part.max_A, 'max_A'),
    ),
  ];
}

/** A charger of 0 A is a plate that says "no charger"; one whose amperes were not read is there all the same. */
export const hasCharger = ({ charger }: Inverter) => Boolean(charger) && charger?.max_A !== 0;

/** The device that a part is, or has inside it; undefined where the part charges nothing. */
export const chargingDeviceOf = (system: System, id: string) => chargingDevices(system).find((one) => one.id === id);

function plain<At extends 'controllers' | 'chargers'>(
  at: At,
  part: Extract<ChargingDevice, { at: At }>['part'],
  occasion: ChargingDevice['occasion'],
  rating_A: number,
  field: string,
): ChargingDevice {
  const { id, label, profiles, settings } = part;
  const change = (value: object): Change => ({ op: 'set', at, id, value });
  return {
    id,
    name: label ?? id,
    path: id,
    rating_A,
    efficiency_pct: part.efficiency_pct ?? null,
    powerFactor: ('powerFactor' in part ? part.powerFactor : null) ?? null,
    profiles: profiles ?? null,
    settings: settings ?? null,
    set: (wanted) => change({ settings: wanted }),
    rate: (amps, wanted) => change({ [field]: amps, ...(wanted ? { settings: wanted } : {}) }),
    at,
    occasion,
    part,
  } as ChargingDevice;
}

function inside(part: Inverter): ChargingDevice {
  const { id, label, charger } = part;
  const change = (value: object): Change => ({ op: 'set', at: 'inverters', id, value: { charger: value } });
  return {
    id,
    name: `${label ?? id}'s charger`,
    path: `${id}.charger`,
    rating_A: charger?.max_A ?? null,
    efficiency_pct: charger?.efficiency_pct ?? null,
    powerFactor: charger?.powerFactor ?? null,
    profiles: charger?.profiles ?? null,
    settings: charger?.settings ?? null,
    set: (wanted) => change({ settings: wanted }),
    rate: (amps, wanted) => change({ max_A: amps, ...(wanted ? { settings: wanted } : {}) }),
    at: 'inverters',
    occasion: 'mains',
    part,
  };
}

/** Absorb voltages that somebody read off a device, V. */
export const absorbsFound_V = (system: System): number[] =>
  chargingDevices(system).flatMap(({ settings }) => settings?.absorb_V ?? []);

/** One set of settings: of what charges, or of an inverter that cuts off. */
export interface SettingSheet {
  id: string;
  name: string;
  /** Where it is recorded: `inv.settings`, `inv.charger.settings`. */
  path: string;
  settings: Settings | null;
  set: ChargingDevice['set'];
  /** What charges has charging volts, an inverter by itself has cut-offs; a controller may have both. */
  charges: ChargingDevice | null;
  cutsOff: boolean;
}

/** All settings that a system has, device by device in the file's order; an inverter's own stand before its charger's. */
export function settingSheets(system: System): SettingSheet[] {
  const devices = chargingDevices(system);
  const sheetOf = (device: ChargingDevice): SettingSheet => ({
    id: device.id,
    name: device.name,
    path: `${device.path}.settings`,
    settings: device.settings,
    set: device.set,
    charges: device,
    cutsOff: device.at === 'controllers',
  });
  return [
    ...devices.filter(({ at }) => at === 'controllers').map(sheetOf),
    ...(system.inverters ?? []).flatMap((part): SettingSheet[] => [
      {
        id: part.id,
        name: part.label ?? part.id,
        path: `${part.id}.settings`,
        settings: part.settings ?? null,
        set: (settings) => ({ op: 'set', at: 'inverters', id: part.id, value: { settings } }),
        charges: null,
        cutsOff: true,
      },
      ...devices.filter((one) => one.part === part).map(sheetOf),
    ]),
    ...devices.filter(({ at }) => at === 'chargers').map(sheetOf),
  ];
}
