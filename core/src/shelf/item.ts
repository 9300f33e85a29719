import { type AnyObject, type ObjectSchema } from 'yup';
import {
  amps,
  celsius,
  num,
  oneOf,
  part,
  positive,
  requiredOneOf,
  requiredPositive,
  sizeText,
  text,
} from '../system/fields';
import { FaultError, type Fault } from '../system/faults';
import { faultsBy } from '../system/part-faults';
import type { PartKind } from '../system/parts';
import { LIST_SCHEMAS, PROTECTION_TYPES, SINGLE_SCHEMAS } from '../system/schema';

/** What a firm keeps in its catalogue: parts of a system, and what is bought by the piece or the metre. */
export const SHELF_KINDS = [
  'moduleTypes',
  'controllers',
  'bank',
  'inverters',
  'chargers',
  'converters',
  'sources',
  'loads',
  'distribution',
  'monitor',
  'fuse',
  'cable',
] as const;
export type ShelfKind = (typeof SHELF_KINDS)[number];

export interface ShelfItem {
  kind: ShelfKind;
  /** Maker and model as printed. */
  label: string;
  /** The part's fields as in the system file, without an id; of a battery, one block: no series, parallel or place. */
  body: Record<string, unknown>;
  /** Per piece; of cable, per metre. Null or absent: not known. */
  price?: number | null;
  currency?: string | null;
  note?: string | null;
}
export interface StoredItem extends ShelfItem {
  id: string;
}

const fuseSchema = part({
  type: requiredOneOf(PROTECTION_TYPES.filter((type) => type !== 'none')),
  rating_A: requiredPositive(100_000),
  voltage_V: positive(1500),
  interrupt_A: amps(),
});
const cableSchema = part({
  size: sizeText().required('is missing, expected a size like "6mm2"'),
  material: oneOf(['copper', 'aluminium', 'cca']),
  insulation_C: celsius(),
});
const headSchema = part({
  kind: requiredOneOf([...SHELF_KINDS]),
  price: num(0, 1e7),
  currency: text(),
  note: text(),
});

/** The schema of an item's body: that of the part in the system file. */
export function bodySchema(kind: ShelfKind): ObjectSchema<AnyObject> {
  if (kind === 'fuse') return fuseSchema as unknown as ObjectSchema<AnyObject>;
  if (kind === 'cable') return cableSchema as unknown as ObjectSchema<AnyObject>;
  return ({ ...LIST_SCHEMAS, ...SINGLE_SCHEMAS }[kind] ?? headSchema) as unknown as ObjectSchema<AnyObject>;
}

/** What the catalogue cannot say and the site will: filled in so that the schema may judge the rest. */
const SITE_SAYS: Partial<Record<ShelfKind, Record<string, unknown>>> = {
  bank: { series: 1, parallel: 1 },
  loads: { hours_d: 0 },
};
/** Fields that belong to one site, never to the catalogue. */
const NEVER_KEPT: Partial<Record<ShelfKind, readonly string[]>> = {
  bank: [
    'series',
    'parallel',
    'place',
    'tapping',
    'link',
    'age_y',
    'health_pct',
    'ageSpread_months',
    'mixedChemistry',
    'fusedStrings',
    'salvaged',
  ],
  loads: ['converterId', 'inverterId', 'recordedPeak_W'],
  controllers: ['settings', 'outputGroup'],
  inverters: ['settings'],
  chargers: ['settings', 'onInverterOutput'],
  distribution: ['circuits'],
};

/** A value as an item of the shelf, site-bound fields left out. @throws FaultError with the path of each fault */
export function checkShelfItem(value: unknown): ShelfItem {
  const given = value !== null && typeof value === 'object' && !Array.isArray(value) ? (value as AnyObject) : null;
  if (!given) throw new FaultError([{ path: 'item', message: 'is not an object, expected a part of the shelf' }]);
  const faults: Fault[] = [...faultsOf(headSchema as unknown as ObjectSchema<AnyObject>, given, '')];
  const label = typeof given.label === 'string' ? given.label.trim() : '';
  if (label === '' || label.length > 200)
    faults.push({ path: 'label', message: 'is missing or too long, expected maker and model in up to 200 letters' });
  if (faults.length > 0) throw new FaultError(faults);
  const kind = given.kind as ShelfKind;
  const body = siteless(kind, (given.body ?? {}) as Record<string, unknown>);
  faults.push(...faultsOf(bodySchema(kind), { id: 'x', label, ...SITE_SAYS[kind], ...body }, 'body.'));
  if (faults.length > 0) throw new FaultError(faults);
  const extra = (name: 'price' | 'currency' | 'note') => (given[name] == null ? {} : { [name]: given[name] });
  return { kind, label, body, ...extra('price'), ...extra('currency'), ...extra('note') } as ShelfItem;
}

/** A part's fields without what belongs to its site. */
export function siteless(kind: ShelfKind, body: Record<string, unknown>): Record<string, unknown> {
  const left = new Set(['id', 'label', ...(NEVER_KEPT[kind] ?? [])]);
  return Object.fromEntries(Object.entries(body).filter(([field, value]) => !left.has(field) && value != null));
}

/** True where parts of a system of this kind can be kept on the shelf. */
export const isShelfKind = (kind: PartKind | string): kind is ShelfKind =>
  (SHELF_KINDS as readonly string[]).includes(kind);

const faultsOf = (schema: ObjectSchema<AnyObject>, value: unknown, prefix: string): Fault[] =>
  faultsBy(schema, value).map(({ path, message }) => ({ path: `${prefix}${path}`, message }));
