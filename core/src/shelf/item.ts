import { isObject } from '../parts/objects';
import type { AnyObject, ObjectSchema } from 'yup';
import { PROTECTION_TYPES } from '../parts/common';
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
} from '../parts/fields';
import { fieldsOf, type Field } from '../parts/field-list';
import { isPartKind, KIND_ORDER, KINDS, type PartKind } from '../parts/kinds';
import { FIELDS, keptOnShelf } from '../parts/lists';
import { asked, first } from '../parts/words';
import { boundFaults } from '../system/bounds';
import { FaultError, type Fault } from '../system/faults';
import { flatFields, setMember } from '../system/members';
import { faultsBy } from '../system/part-faults';

/** What a firm keeps in its catalogue: parts of a system, and what is bought by the piece or the metre. */
export const GOODS = {
  fuse: part({
    type: first('Kind', requiredOneOf(PROTECTION_TYPES.filter((type) => type !== 'none'))),
    rating_A: first('Rating', requiredPositive(100_000)),
    voltage_V: asked('DC voltage', positive(1500)),
    interrupt_A: asked('Breaking capacity', amps()),
  }),
  cable: part({
    size: first('Size', sizeText().required('is missing, expected a size like "6mm2"'), {
      hint: '16 mm2, or 2/0 AWG',
    }),
    material: asked('Material', oneOf(['copper', 'aluminium', 'cca'])),
    insulation_C: asked('Insulation', celsius()),
  }),
};
type GoodsKind = keyof typeof GOODS;
export type ShelfKind = { [K in PartKind]: (typeof KINDS)[K]['shelf'] extends null ? never : K }[PartKind] | GoodsKind;
const isGoods = (kind: string): kind is GoodsKind => Object.hasOwn(GOODS, kind);
/** True where parts of a system of this kind, or goods, can be kept on the shelf. */
export const isShelfKind = (kind: string): kind is ShelfKind =>
  isGoods(kind) || (isPartKind(kind) && KINDS[kind].shelf !== null);
/** Kinds of things that a shelf holds. */
export const SHELF_KINDS = [...KIND_ORDER, ...Object.keys(GOODS)].filter(isShelfKind);

/** A thing on a firm's shelf: its plate, and what it costs. */
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
/** A thing on the shelf as it is kept. */
export interface StoredItem extends ShelfItem {
  id: string;
}

const headSchema = part({
  kind: requiredOneOf([...SHELF_KINDS]),
  price: num(0, 1e7),
  currency: text(),
  note: text(),
});

/** The schema of an item's body: that of the part in the system file. */
export const bodySchema = (kind: ShelfKind): ObjectSchema<AnyObject> =>
  isGoods(kind) ? GOODS[kind] : KINDS[kind].schema;

/** Fields of an item, in the order in which they are asked for: those of the part that are its own. */
export const shelfFields = (kind: ShelfKind): readonly Field[] =>
  isGoods(kind)
    ? fieldsOf(GOODS[kind]).fields
    : FIELDS[kind].filter(({ path, required }) => keptOnShelf(kind, path) && !(required && path in onSite(kind)));

/** What the catalogue cannot say and the site will: filled in so that the schema may judge the rest. */
const onSite = (kind: ShelfKind): Record<string, unknown> => (isGoods(kind) ? {} : (KINDS[kind].shelf?.onSite ?? {}));

/** A value as an item of the shelf, site-bound fields left out. @throws FaultError with the path of each fault */
export function checkShelfItem(value: unknown): ShelfItem {
  if (!isObject(value))
    throw new FaultError([{ path: 'item', message: 'is not an object, expected a part of the shelf' }]);
  const given: AnyObject = value;
  const unkeepable = boundFaults(given, 'item');
  if (unkeepable.length > 0) throw new FaultError(unkeepable);
  const faults: Fault[] = faultsBy(headSchema, given);
  const label = typeof given.label === 'string' ? given.label.trim() : '';
  if (label === '' || label.length > 200)
    faults.push({ path: 'label', message: 'is missing or too long, expected maker and model in up to 200 letters' });
  if (faults.length > 0) throw new FaultError(faults);
  const kind = given.kind as ShelfKind;
  const body = siteless(kind, (given.body ?? {}) as Record<string, unknown>);
  const judged = faultsBy(bodySchema(kind), { id: 'x', label, ...onSite(kind), ...body });
  if (judged.length > 0) throw new FaultError(judged.map(({ path, message }) => ({ path: `body.${path}`, message })));
  const extra = (name: 'price' | 'currency' | 'note') => (given[name] == null ? {} : { [name]: given[name] as never });
  return { kind, label, body, ...extra('price'), ...extra('currency'), ...extra('note') };
}

/** A part's fields without what belongs to its site. What the format does not know is kept as it is. */
export function siteless(kind: ShelfKind, body: Record<string, unknown>): Record<string, unknown> {
  const keeps = (path: string) =>
    isGoods(kind) || path === '' ? path !== 'id' && path !== 'label' : keptOnShelf(kind, path);
  const kept: Record<string, unknown> = {};
  for (const [path, value] of Object.entries(flatFields(body)))
    if (value !== null && value !== undefined && keeps(path)) setMember(kept, path, value);
  return kept;
}
