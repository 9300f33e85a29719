import { partById, type PartKind } from '../system/parts';
import type { Reading, System } from '../system/schema';
import { isQuantity, nameToday, QUANTITIES, type Quantity } from './quantities';

/** What can be read at each kind of part (docs/work-orders-and-readings.md), the likeliest first. */
const READ_AT: Partial<Record<PartKind, readonly Quantity[]>> = {
  arrays: ['stringVoc_V', 'stringIsc_A', 'stringImp_A', 'arrayVmp_V', 'plusFrame_V', 'minusFrame_V', 'insulation_Mohm'],
  controllers: ['out_A', 'pv_V', 'pv_A', 'out_V'],
  bank: [
    'rest_V',
    'load_V',
    'absorb_V',
    'blockRest_V',
    'blockLoad_V',
    'stringCurrent_A',
    'resistance_mohm',
    'density_kg_L',
    'capacity_Ah',
    'temp_C',
  ],
  otherBanks: ['rest_V', 'load_V'],
  runs: ['drop_V', 'joint_mohm', 'jointRise_K'],
  inverters: ['idle_A', 'dc_V', 'minDc_V', 'ac_V', 'ac_Hz', 'cutoff_V', 'neutralEarth_ohm'],
  chargers: ['out_A', 'out_V'],
  monitor: ['head_A', 'clamp_A', 'zero_A', 'head_soc'],
  loads: ['running_W', 'start_A'],
};
const READ_AT_SITE: readonly Quantity[] = ['parasitic_A', 'frameEarth_ohm'];

/** Quantities of a part; of the site itself where `subject` is "site"; none where nothing is read there. */
export function readAt(system: System, subject: string): readonly Quantity[] {
  if (subject === 'site') return READ_AT_SITE;
  const placed = partById(system, subject);
  return (placed && READ_AT[placed.kind]) ?? [];
}

/** Which string, module, block and cell a quantity may be of. */
export const positionsOf = (quantity: string): readonly (keyof NonNullable<Reading['position']>)[] =>
  POSITIONS[quantity as Quantity] ?? [];
const POSITIONS: Partial<Record<Quantity, readonly (keyof NonNullable<Reading['position']>)[]>> = {
  stringVoc_V: ['string'],
  stringIsc_A: ['string'],
  stringImp_A: ['string'],
  stringCurrent_A: ['string'],
  blockRest_V: ['string', 'block'],
  blockLoad_V: ['string', 'block'],
  density_kg_L: ['string', 'block', 'cell'],
};

/** What a reading is worth nothing without, by what it is of: the light, the rest, the current that flowed. */
export function conditionsAsked(quantity: Quantity): readonly ConditionName[] {
  if (BY_LIGHT.has(quantity)) return ['irradiance_W_m2', 'cell_C'];
  if (BY_REST.has(quantity)) return ['rested_h', 'cell_C'];
  return BY_CURRENT.has(quantity) ? ['current_A', 'cell_C'] : [];
}
export type ConditionName = 'irradiance_W_m2' | 'cell_C' | 'rested_h' | 'current_A';
const BY_LIGHT: ReadonlySet<Quantity> = new Set<Quantity>([
  'stringVoc_V',
  'stringIsc_A',
  'stringImp_A',
  'arrayVmp_V',
  'pv_V',
  'pv_A',
  'out_A',
]);
const BY_REST: ReadonlySet<Quantity> = new Set<Quantity>(['rest_V', 'blockRest_V', 'density_kg_L']);
const BY_CURRENT: ReadonlySet<Quantity> = new Set<Quantity>([
  'load_V',
  'blockLoad_V',
  'stringCurrent_A',
  'drop_V',
  'joint_mohm',
  'jointRise_K',
  'dc_V',
]);

/** What no instrument on a site of this kind shows: a slipped point, the wrong terminals. By unit. */
const PHYSICAL: Readonly<Record<string, readonly [low: number, high: number]>> = {
  V: [-1500, 1500],
  A: [-10_000, 10_000],
  Ah: [0, 100_000],
  W: [0, 1e6],
  K: [-50, 300],
  degC: [-60, 120],
  mohm: [0, 100_000],
  ohm: [0, 1e6],
  Mohm: [0, 100_000],
  Hz: [0, 1000],
  'kg/L': [0.9, 1.5],
  '': [0, 1],
};

/** Why a value cannot be a reading of this quantity; null where it can. */
export function readingFault(quantity: Quantity, value: number): string | null {
  const [unit] = QUANTITIES[quantity];
  const [low, high] = PHYSICAL[unit] ?? [-Infinity, Infinity];
  if (value >= low && value <= high) return null;
  return `${value} ${unit} cannot be right, expected ${low} to ${high} ${unit}`.replace(/ +/g, ' ').trim();
}

/** One row of what was read at a part: a quantity at a position, all its readings, the latest last. */
export interface Series {
  quantity: Quantity;
  position: NonNullable<Reading['position']> | null;
  readings: Reading[];
}

/** Readings by quantity and position, in the order in which a quantity was first read. */
export function seriesOf(readings: readonly Reading[]): Series[] {
  const rows = new Map<string, Series>();
  for (const reading of [...readings].sort((a, b) => (a.at ?? '').localeCompare(b.at ?? ''))) {
    const quantity = nameToday(reading.quantity);
    if (!isQuantity(quantity)) continue;
    const position = reading.position ?? null;
    const key = `${quantity} ${JSON.stringify(position)}`;
    const row = rows.get(key);
    if (row) row.readings.push(reading);
    else rows.set(key, { quantity, position, readings: [reading] });
  }
  return [...rows.values()];
}

const DAY_MS = 86_400_000;

/**
 * What was read last at each part, by its id. Of what was read within a day of that the likeliest question of its kind: a
 * bank's resting voltage, not the hundredth cell's density.
 */
export function lastReadings(system: System, readings: readonly Reading[]): Map<string, Named> {
  const last = new Map<string, Named>();
  for (const subject of new Set(readings.map((reading) => reading.subject))) {
    const named = seriesOf(readings.filter((reading) => reading.subject === subject)).flatMap((row) =>
      row.readings.map((reading): Named => ({ ...reading, quantity: row.quantity })),
    );
    const asked = readAt(system, subject);
    const rank = ({ quantity }: Named) => (asked.includes(quantity) ? asked.indexOf(quantity) : asked.length);
    const latest = Math.max(...named.map(momentOf));
    const [likeliest] = named
      .filter((reading) => latest - momentOf(reading) <= DAY_MS)
      .sort((a, b) => rank(a) - rank(b) || (b.at ?? '').localeCompare(a.at ?? ''));
    if (likeliest) last.set(subject, likeliest);
  }
  return last;
}
/** A reading by the name that its quantity has today. */
type Named = Reading & { quantity: Quantity };
const momentOf = ({ at }: Reading) => Date.parse(at ?? '') || 0;

/** "string 2, block 1": counted from 1, as people count. */
export const positionWords = (position: Reading['position']): string =>
  Object.entries(position ?? {})
    .flatMap(([name, index]) => (typeof index === 'number' ? [`${name} ${index + 1}`] : []))
    .join(', ');
