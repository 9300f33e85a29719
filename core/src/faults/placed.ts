import type { Reading, SystemFile, Visit } from '../system/schema';
import { CONDITIONS, type Conditions } from '../readings/conditions';
import { isQuantity, nameToday, type Quantity } from '../readings/quantities';
import { conditionsOf } from '../readings/visit';
import type { Read } from './asked';

/** Readings with the conditions under which they were taken: what one lacks comes from the nearest that has it. */

/** Hours before the last reading that count where no visit and no date was named. */
const LAST_H = 12;
const HOUR_MS = 3_600_000;
const momentOf = ({ at }: Pick<Reading, 'at'>) => Date.parse(at ?? '') || 0;

/** The readings that are weighed: of a visit, since a moment, or of the last hours. */
export function chosenReadings(
  { readings }: Pick<SystemFile, 'readings'>,
  { visit, since }: { visit?: string | undefined; since?: string | undefined },
): Reading[] {
  const all = readings ?? [];
  if (visit !== undefined) return all.filter((reading) => reading.visit === visit);
  const last = Math.max(0, ...all.map(momentOf));
  const from = since === undefined ? last - LAST_H * HOUR_MS : Date.parse(since);
  return all.filter((reading) => momentOf(reading) >= from);
}

/** Readings as they are weighed; those of a quantity that nobody knows are left out. */
export function placed(readings: readonly Reading[], visit: Pick<Visit, 'conditions'> | null): Read[] {
  const nearest = <K extends keyof NonNullable<Reading['conditions']>>(of: Reading, name: K) =>
    [...readings]
      .filter(({ conditions }) => conditions?.[name] !== null && conditions?.[name] !== undefined)
      .sort((a, b) => Math.abs(momentOf(a) - momentOf(of)) - Math.abs(momentOf(b) - momentOf(of)))[0]?.conditions?.[
      name
    ];
  const clamp = (of: Reading) =>
    readings
      .filter(({ quantity, value }) => quantity === 'clamp_A' && Math.abs(value) > 0)
      .sort((a, b) => Math.abs(momentOf(a) - momentOf(of)) - Math.abs(momentOf(b) - momentOf(of)))[0]?.value;
  const given = visit?.conditions ?? {};
  return readings.flatMap((reading): Read[] => {
    const { id, subject, quantity: named, value, position, conditions: own, meter_pct } = reading;
    const quantity = nameToday(named);
    if (!isQuantity(quantity) || !Number.isFinite(value)) return [];
    // A clamp's own value is what is read, not what is known beside it.
    const current =
      own?.current_A ?? (quantity === 'clamp_A' || !OF_THE_BANK.has(quantity) ? undefined : clamp(reading));
    const usual = conditionsOf(visit, meter_pct ?? CONDITIONS.meter_pct);
    const at: Conditions = {
      ...usual,
      irradiance_W_m2: own?.irradiance_W_m2 ?? nearest(reading, 'irradiance_W_m2') ?? usual.irradiance_W_m2,
      irradianceBy: own?.irradianceBy ?? nearest(reading, 'irradianceBy') ?? given.irradianceBy ?? 'meter',
      cell_C: own?.cell_C ?? nearest(reading, 'cell_C') ?? usual.cell_C,
      ambient_C: own?.ambient_C ?? nearest(reading, 'ambient_C') ?? usual.ambient_C,
      ...(current === undefined || current === null ? {} : { current_A: current }),
    };
    return [
      {
        id,
        subject,
        quantity,
        position: position ?? undefined,
        value,
        at,
        currentKnown: current !== undefined && current !== null,
        reading,
      },
    ];
  });
}
const OF_THE_BANK: ReadonlySet<Quantity> = new Set<Quantity>(['load_V', 'stringCurrent_A', 'blockLoad_V', 'head_A']);
