import { chargingDevices, sourceOfCharger, type ChargingDevice } from '../bank/charging';
import { CHEMISTRY } from '../chemistry/chemistry';
import type { Ledger } from '../ledger/ledger';
import { windowOf } from '../power/day-strip';
import type { Bank, Source, System } from '../system/schema';

/** What beside the sun charges the bank in the year: a generator through its chargers, an engine. */

/** The generator of the year: rated W, at which charge it starts and stops (0 to 1), and through what it gives. */
export interface PlannedGenerator {
  rated_W: number;
  start: number;
  stop: number;
  /** Hours of the day in which it may not run. */
  quiet: Uint8Array;
  autoStart: boolean;
  /** Hours of the day in which somebody runs it whatever the charge; absent: none. */
  daily?: Uint8Array;
  chargers: PlannedCharger[];
}

/** What a charger on the mains gives at most, W at the bank, and its share of what it takes. */
interface PlannedCharger {
  most_W: number;
  efficiency: number;
}

/** The mains of a house: what passes at most, W, its hours a day, and through what it charges. */
export interface PlannedInlet {
  most_W: number;
  hours: number;
  winterHours: number;
  chargers: PlannedCharger[];
}

/** A charger that an engine drives. */
export interface PlannedAlternator {
  /** W at the bank while it runs. */
  watts: number;
  hours: number;
  winterHours: number;
}

const GENERATOR_AT = { lead: [0.3, 0.8], lithium: [0.2, 0.9] } as const;

const QUIET = { from_h: 22, to_h: 7 } as const;

/** The one that the year reckons with. */
export const firstGenerator = ({ sources }: System): Source | undefined =>
  (sources ?? []).find(({ kind }) => kind === 'generator');

/** A by its plate, or by its setting where that is lower. */
const given_A = ({ rating_A, settings }: ChargingDevice) => Math.min(rating_A ?? 0, settings?.maxCharge_A ?? Infinity);

/** What a generator charges by, in the order in which it gives: mains chargers in the file's order, then inverters'. */
export function chargersOf(system: System, { id }: Source): ChargingDevice[] {
  const mains = chargingDevices(system).filter(({ occasion }) => occasion === 'mains');
  return [
    ...mains.filter(
      ({ at, part }) => at === 'chargers' && (!part.sourceId || part.sourceId === id) && !part.onInverterOutput,
    ),
    ...mains.filter(({ at }) => at === 'inverters'),
  ];
}

/** The generator with its chargers at this bank; null without one, or without a charger that it could feed. */
export function plannedGenerator(io: Ledger, system: System, bank: Bank, absorb_V: number): PlannedGenerator | null {
  const source = firstGenerator(system);
  if (!source) return null;
  const chargers = chargersOf(system, source);
  if (chargers.length === 0) return null;
  const [start, stop] = GENERATOR_AT[CHEMISTRY[bank.chemistry].family];
  const quiet = new Uint8Array(24);
  // Where nobody said otherwise nobody wants to hear it at night; two equal hours are none.
  const from_h = source.quiet?.from_h ?? QUIET.from_h;
  const to_h = source.quiet?.to_h ?? QUIET.to_h;
  // It runs whole hours: one that is quiet in part is quiet.
  if (from_h !== to_h) windowOf({ from_h, to_h }).shares.forEach((share, h) => (quiet[h] = share > 0 ? 1 : 0));
  return {
    rated_W: source.power_W ?? 0,
    start: source.startBelow_soc ?? start,
    stop,
    quiet,
    autoStart: source.autoStart ?? false,
    chargers: chargers.map((device) => plannedCharger(io, device, absorb_V)),
  };
}

const plannedCharger = (io: Ledger, device: ChargingDevice, absorb_V: number): PlannedCharger => ({
  most_W: given_A(device) * absorb_V,
  efficiency: io.or(`${device.path}.efficiency_pct`, device.efficiency_pct, 88) / 100,
});

/**
 * The mains at a house, where somebody noted for how many hours: without them they are never assumed. What no one knows the
 * amperes of carries nothing, and is named.
 */
export function plannedInlet(io: Ledger, system: System, absorb_V: number): PlannedInlet | null {
  const source = (system.sources ?? []).find(
    ({ kind, hours_d }) => kind === 'inlet' && hours_d !== null && hours_d !== undefined,
  );
  if (!source) return null;
  const hours = source.hours_d ?? 0;
  return {
    most_W: io.or(`${source.id}.inlet_A`, source.inlet_A, 0) * io.or(`${source.id}.ac_V`, source.ac_V, 230),
    hours,
    winterHours: source.winterHours_d ?? hours,
    chargers: chargersOf(system, source).map((device) => plannedCharger(io, device, absorb_V)),
  };
}

/** Each alternator with what its chargers give at the bank's float. */
export function alternatorsOf(system: System, float_V: number): PlannedAlternator[] {
  const driven = chargingDevices(system).flatMap((device) =>
    device.occasion === 'driving' ? [{ device, source: sourceOfCharger(system, device.part) }] : [],
  );
  return (system.sources ?? []).flatMap((alternator): PlannedAlternator[] =>
    alternator.kind === 'alternator'
      ? [
          {
            hours: alternator.hours_d ?? 0,
            winterHours: alternator.winterHours_d ?? alternator.hours_d ?? 0,
            watts: driven.reduce(
              (sum, { device, source }) => sum + (source === alternator ? given_A(device) * float_V : 0),
              0,
            ),
          },
        ]
      : [],
  );
}
