import { c20_Ah } from '../bank/bank';
import { familyOf, isLithium } from '../chemistry/chemistry';
import { createLedger } from '../ledger/ledger';
import { CONDITIONS, type Conditions } from '../readings/conditions';
import { expectedTests } from '../readings/expect';
import { isQuantity, nameToday, QUANTITIES, type Quantity } from '../readings/quantities';
import { samePosition, type Position } from '../readings/row';
import type { Kept } from '../readings/sun-at';
import { conditionsOf } from '../readings/visit';
import { codeUnits } from '../rules/finding';
import type { Model } from '../system/model';
import type { Reading, SystemFile, Visit } from '../system/schema';
import { dayOf, msOf } from './days';

/**
 * Readings of one thing over the years, each beside what the model expects under the conditions of that day
 * (docs/service.md): the light, the heat and the state of charge are taken out, and unlike quantities share one scale.
 */

/** One reading beside its expectation. */
export interface Seen {
  day: number;
  ms: number;
  value: number;
  expected: number;
  /** Half of the band on the value's side; null where only a bound is known. */
  half: number | null;
  /** 0: as it should be; 1 or -1: at the edge of its band. */
  z: number;
}

/** All readings of one quantity at one place. */
export interface SeriesOfReadings {
  quantity: Quantity;
  subject: string;
  position?: Position;
  unit: string;
  /** True where only more is worse: a bound, not a band. */
  bounded: boolean;
  seen: Seen[];
}

/** What a row comes to, as far as a series needs it. */
interface Band {
  expected: number;
  low: number | null;
  high: number | null;
  bound: 'most' | 'least' | null;
}

/** A value below this share of its bound is taken as that: nothing reads nothing. */
const LEAST_OF_BOUND = 1 / 1000;
/** How far a capacity may be from its label, as a share. */
const CAPACITY_HALF = { lead: 0.2, lithium: 0.3 } as const;
/** Air where nobody noted it, for a capacity: the temperature that capacities are labelled at, degC. */
const LABELLED_C = 25;

/** Amperes of the sun: without the light they tell nothing. */
const BY_LIGHT: ReadonlySet<Quantity> = new Set<Quantity>(['stringIsc_A', 'stringImp_A', 'pv_A', 'out_A']);
/** What follows the state of charge of the bank. */
const BY_CHARGE: ReadonlySet<Quantity> = new Set<Quantity>(['rest_V', 'blockRest_V', 'density_kg_L']);
/** What follows the current that flowed. */
const BY_CURRENT: ReadonlySet<Quantity> = new Set<Quantity>([
  'load_V',
  'stringCurrent_A',
  'drop_V',
  'jointRise_K',
  'head_A',
]);

/**
 * Every series of a file, by quantity, subject and position.
 * @param until the last day that counts
 * @param from the day, and the moment within it, from which readings of a thing count
 */
export function seriesBeside(
  model: Model,
  { readings, visits }: Pick<SystemFile, 'readings' | 'visits'>,
  until: number,
  from: (quantity: Quantity, subject: string) => number,
): SeriesOfReadings[] {
  const all = (readings ?? []).flatMap((reading) => {
    const named = nameToday(reading.quantity);
    const day = dayOf(reading.at);
    return isQuantity(named) && day !== null && day <= until && Number.isFinite(reading.value)
      ? [{ reading, quantity: named, day, ms: msOf(reading.at) }]
      : [];
  });
  const ofVisit = new Map<string, Reading[]>();
  for (const { reading } of all)
    if (reading.visit) ofVisit.set(reading.visit, [...(ofVisit.get(reading.visit) ?? []), reading]);
  const visitOf = new Map((visits ?? []).map((visit) => [visit.id, visit]));
  const bands = bandsOf(model);
  const series = new Map<string, SeriesOfReadings>();
  const begins = new Map<string, number>();
  const begun = (quantity: Quantity, subject: string): number => {
    const key = `${quantity} ${subject}`;
    const known = begins.get(key) ?? from(quantity, subject);
    begins.set(key, known);
    return known;
  };
  for (const { reading, quantity, day, ms } of all) {
    if (ms < begun(quantity, reading.subject)) continue;
    const visit = reading.visit ? visitOf.get(reading.visit) : undefined;
    const conditions = takenUnder(reading, quantity, ofVisit.get(reading.visit ?? '') ?? [reading], visit);
    if (!conditions) continue;
    const position = placeOf(reading.position);
    const band = bands(reading.subject, quantity, position, conditions);
    if (!band) continue;
    const key = `${quantity} ${reading.subject} ${JSON.stringify(position ?? null)}`;
    const one: SeriesOfReadings = series.get(key) ?? {
      quantity,
      subject: reading.subject,
      ...(position ? { position } : {}),
      unit: QUANTITIES[quantity][0],
      bounded: band.bound !== null,
      seen: [],
    };
    one.seen.push({ day, ms, value: reading.value, ...besides(reading.value, band) });
    series.set(key, one);
  }
  return [...series.values()].sort(
    (a, b) =>
      codeUnits(a.quantity, b.quantity) ||
      codeUnits(a.subject, b.subject) ||
      byPosition(a.position ?? {}, b.position ?? {}),
  );
}

/** A value on the scale of its band. */
function besides(value: number, { expected, low, high, bound }: Band): Pick<Seen, 'z' | 'expected' | 'half'> {
  if (bound !== null) {
    const limit = (bound === 'most' ? high : low) ?? expected;
    const over = Math.log(Math.max(value, limit * LEAST_OF_BOUND) / limit);
    return { z: bound === 'most' ? 1 + over : 1 - over, expected: limit, half: null };
  }
  const half = value >= expected ? (high ?? Number.NaN) - expected : expected - (low ?? Number.NaN);
  return { z: value === expected ? 0 : (value - expected) / half, expected, half };
}

const PLACES = ['string', 'module', 'block', 'cell'] as const;

/** Where there is none it comes first. */
function byPosition(a: Position, b: Position): number {
  for (const name of PLACES) {
    const by = (a[name] ?? -1) - (b[name] ?? -1);
    if (by !== 0) return by;
  }
  return 0;
}

/** A position with its members in one order, and none that is unknown. */
function placeOf(position: Reading['position']): Position | undefined {
  const known = PLACES.flatMap((name) => {
    const index = position?.[name];
    return index === null || index === undefined ? [] : [[name, index] as const];
  });
  return known.length > 0 ? Object.fromEntries(known) : undefined;
}

/** What a row comes to under conditions, each worked out once; null where nothing can be told. */
function bandsOf(model: Model) {
  const known = new Map<string, ReturnType<typeof expectedTests>['tests']>();
  const kept: Kept = new Map();
  return (
    subject: string,
    quantity: Quantity,
    position: Position | undefined,
    conditions: Partial<Conditions>,
  ): Band | null => {
    const { bank } = model.system;
    if (quantity === 'capacity_Ah')
      return bank && subject === bank.id ? capacityBand(model, conditions.ambient_C ?? LABELLED_C) : null;
    // The resistance of one block is no row: the bank's is of all that lies between its posts.
    if (quantity === 'resistance_mohm' && position) return null;
    const key = `${subject} ${quantity} ${JSON.stringify(conditions)}`;
    const rows = known.get(key) ?? expectedTests(model, conditions, (one) => one === quantity, subject, kept).tests;
    known.set(key, rows);
    const test =
      rows.find((row) => samePosition(placeOf(row.position), position)) ??
      rows.find((row) => row.position === undefined);
    if (!test || test.expected === null || test.cannotTell) return null;
    return { expected: test.expected, low: test.low, high: test.high, bound: test.bound ?? null };
  };
}

/** The bank's capacity as labelled, at the temperature of the day. */
function capacityBand(model: Model, ambient_C: number): Band | null {
  const { bank } = model.system;
  if (!bank) return null;
  const labelled = c20_Ah(createLedger(model), { ...bank, health_pct: 100 });
  const expected = labelled * familyOf(bank.chemistry).coldCapacity(ambient_C);
  if (!Number.isFinite(expected)) return null;
  const half = (isLithium(bank.chemistry) ? CAPACITY_HALF.lithium : CAPACITY_HALF.lead) * expected;
  return { expected, low: expected - half, high: expected + half, bound: null };
}

/**
 * Under what a reading was taken: its own, else the nearest of its visit, else the visit's, else the usual. Null where
 * that without which it tells nothing was not noted.
 */
function takenUnder(
  reading: Reading,
  quantity: Quantity,
  ofVisit: readonly Reading[],
  visit: Visit | undefined,
): Partial<Conditions> | null {
  const given = visit?.conditions ?? {};
  const moment = msOf(reading.at);
  const near =
    ofVisit.length < 2
      ? [reading]
      : [reading, ...ofVisit.filter((one) => one !== reading)].sort(
          (a, b) => Math.abs(msOf(a.at) - moment) - Math.abs(msOf(b.at) - moment),
        );
  type Noted = NonNullable<Reading['conditions']>;
  const noted = <K extends keyof Noted>(name: K, of = near): NonNullable<Noted[K]> | undefined => {
    const own = reading.conditions?.[name];
    if (own !== null && own !== undefined) return own;
    return of.find((one) => (one.conditions?.[name] ?? null) !== null)?.conditions?.[name] ?? undefined;
  };
  const irradiance = noted('irradiance_W_m2') ?? given.irradiance_W_m2;
  const soc = near.find((one) => one.quantity === 'head_soc')?.value ?? given.soc;
  const current = noted(
    'current_A',
    near.filter(({ subject }) => subject === reading.subject),
  );
  const unknown = (value: unknown) => value === null || value === undefined;
  if (BY_LIGHT.has(quantity) && unknown(irradiance)) return null;
  if (BY_CHARGE.has(quantity) && unknown(soc)) return null;
  if (BY_CURRENT.has(quantity) && unknown(current)) return null;
  const usual = conditionsOf(visit ?? null, reading.meter_pct ?? CONDITIONS.meter_pct);
  const ambient = noted('ambient_C') ?? given.ambient_C;
  return {
    ...usual,
    irradiance_W_m2: irradiance ?? usual.irradiance_W_m2,
    irradianceBy: noted('irradianceBy') ?? given.irradianceBy ?? 'meter',
    cell_C: noted('cell_C') ?? usual.cell_C,
    ambient_C: ambient ?? (quantity === 'capacity_Ah' ? LABELLED_C : usual.ambient_C),
    soc: soc ?? usual.soc,
    ...(unknown(current) ? {} : { current_A: current }),
  };
}
