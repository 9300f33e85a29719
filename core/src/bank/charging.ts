import type { Ledger } from '../ledger/ledger';
import { chargesElsewhere, mainsSources, oncePer } from '../system/model';
import type { Change, Charger, Controller, Inverter, Occasion, Settings, Source, System } from '../system/schema';
import { partTitle } from '../conductors/names';

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

/** What charges this bank, in the order of the system file: controllers, inverters, chargers. */
export const chargingDevices = oncePer((system: System): ChargingDevice[] =>
  everyCharger(system).filter((device) => device.at !== 'chargers' || !chargesElsewhere(system, device.part)),
);

/** As `chargingDevices`, and the chargers of other batteries: what hangs on the mains hangs there whatever it charges. */
export const everyCharger = oncePer((system: System): ChargingDevice[] => {
  const { controllers, inverters, chargers } = system;
  return [
    ...(controllers ?? []).map((part): ChargingDevice => {
      const change = (value: object): Change => ({ op: 'set', at: 'controllers', id: part.id, value });
      return { ...readOff(system, part, part, 'maxOutput_A', change), at: 'controllers', occasion: 'sun', part };
    }),
    ...(inverters ?? []).flatMap((part): ChargingDevice[] => {
      const { id, charger } = part;
      if (!charger || !hasCharger(part)) return [];
      const change = (value: object): Change => ({ op: 'set', at: 'inverters', id, value: { charger: value } });
      const read = readOff(system, part, charger, 'max_A', change);
      const inside = { name: `${read.name}'s charger`, path: `${id}.charger` };
      return [{ ...read, ...inside, at: 'inverters', occasion: 'mains', part }];
    }),
    ...(chargers ?? []).map((part): ChargingDevice => {
      const change = (value: object): Change => ({ op: 'set', at: 'chargers', id: part.id, value });
      const occasion = part.kind === 'mains' ? 'mains' : 'driving';
      return { ...readOff(system, part, part, 'max_A', change), at: 'chargers', occasion, part };
    }),
  ];
});

/** Amperes that a charger brings: by its plate, or by its setting where that is lower. A plate that was not read is missing. */
export function charger_A(io: Ledger, { path, rating_A, settings }: ChargingDevice): number {
  const set = io.see(`${path}.settings.maxCharge_A`, settings?.maxCharge_A);
  return Math.min(io.need(`${path}.max_A`, rating_A), set ?? Infinity);
}

/** When a source runs where nobody said so. */
export const sourceOccasion = ({ kind, occasion }: Pick<Source, 'kind' | 'occasion'>): Occasion =>
  occasion ?? (kind === 'alternator' ? 'driving' : kind === 'inlet' ? 'plugged' : 'generator');

/**
 * When a device charges: with its own source, else a dc-dc or alternator charger on the way, a mains or inverter charger
 * with each inlet and generator in turn. The sun runs with each: none is named for it. Two of them never run together.
 */
export function occasionsOf(system: System, device: ChargingDevice): Occasion[] {
  if (device.occasion === 'sun') return [];
  const source = device.at === 'chargers' ? sourceOfCharger(system, device.part) : undefined;
  if (source) return [sourceOccasion(source)];
  if (device.occasion === 'driving') return ['driving'];
  const mains = mainsSources(system).map(sourceOccasion);
  return mains.length > 0 ? [...new Set(mains)] : ['plugged'];
}

/** The source that a charger names; one that lives on the alternator and names none is on the first there is. */
export function sourceOfCharger(system: System, { kind, sourceId }: Charger): Source | undefined {
  if (sourceId) return (system.sources ?? []).find(({ id }) => id === sourceId);
  return kind === 'mains' ? undefined : (system.sources ?? []).find((source) => source.kind === 'alternator');
}

/** A charger of 0 A is a plate that says "no charger"; one whose amperes were not read is there all the same. */
export const hasCharger = ({ charger }: Inverter) => Boolean(charger) && charger?.max_A !== 0;

/** The device that a part is, or has inside it; undefined where the part charges nothing. */
export const chargingDeviceOf = (system: System, id: string) => chargingDevices(system).find((one) => one.id === id);

/** What the plate of a device says, be it a part of its own or inside one; `change` writes onto that plate. */
function readOff<Rating extends string>(
  system: System,
  { id }: { id: string },
  plate: { [K in Rating]?: number | null | undefined } & {
    efficiency_pct?: number | null | undefined;
    powerFactor?: number | null | undefined;
    profiles?: Profiles | null | undefined;
    settings?: Settings | null | undefined;
  },
  rating: Rating,
  change: (value: object) => Change,
) {
  return {
    id,
    name: partTitle(system, id) ?? id,
    path: id,
    rating_A: plate[rating] ?? null,
    efficiency_pct: plate.efficiency_pct ?? null,
    powerFactor: plate.powerFactor ?? null,
    profiles: plate.profiles ?? null,
    settings: plate.settings ?? null,
    set: (settings: Parameters<ChargingDevice['set']>[0]) => change({ settings }),
    rate: (amps: number, settings?: Settings) => change({ [rating]: amps, ...(settings ? { settings } : {}) }),
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
        name: partTitle(system, part.id) ?? part.id,
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
