import type { ShelfItem, StoredItem } from '@true-lantern/core';
import type { Database } from './database';

/** Every query of this file takes the firm: a row of another firm does not exist. */

/** The firm's shelf, without what was taken off. */
export async function shelfOf({ models }: Database, firmId: string): Promise<StoredItem[]> {
  const rows = await models.Shelf.findAll({ where: { firmId, deletedAt: null }, order: [['id', 'ASC']] });
  return rows.map(({ id, item }) => ({ id, ...item }));
}

/** What somebody is not to see does not leave the server. */
export const withoutPrices = (items: readonly StoredItem[]): StoredItem[] =>
  items.map(({ price: _, currency: __, ...item }) => item);

/**
 * Puts an item on the shelf, new or in the place of the one with that id; false where the id is another firm's.
 * @param keepPrice the price that stands stays
 */
export async function putItem(
  { models }: Database,
  firmId: string,
  id: string,
  given: ShelfItem,
  keepPrice = false,
): Promise<boolean> {
  const known = await models.Shelf.findByPk(id);
  if (known && known.firmId !== firmId) return false;
  const { price, currency } = known?.item ?? {};
  const item = keepPrice ? { ...given, price: price ?? null, currency: currency ?? null } : given;
  if (known) await known.update({ item, deletedAt: null });
  else await models.Shelf.create({ id, firmId, item });
  return true;
}

/** Takes an item off the firm's shelf; what was fitted from it stays. */
export const takeItemOff = ({ models }: Database, firmId: string, id: string) =>
  models.Shelf.update({ deletedAt: new Date() }, { where: { id, firmId } });
