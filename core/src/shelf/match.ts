import { flatFields } from '../system/members';
import type { StoredItem } from './item';

/** An item of the shelf that a plate is of: nothing that is known has to be typed twice (docs/plates.md). */

/** Plates and sheets round: figures this near are one. */
const ROUNDED = 0.01;
/** Fewer figures in common say nothing. */
const FEWEST = 2;

/**
 * @param set figures by their path, as a plate gave them
 * @returns the item of that kind in which every figure of the plate that it has is the same, the most in common first;
 * null where none is, or two are alike in that
 */
export function itemOfPlate(
  kind: string,
  set: Readonly<Record<string, unknown>>,
  items: readonly StoredItem[],
): StoredItem | null {
  const found = items
    .filter((item) => item.kind === kind)
    .flatMap((item) => {
      const known = flatFields(item.body);
      const common = Object.keys(set).filter((path) => known[path] !== undefined && known[path] !== null);
      return common.length >= FEWEST && common.every((path) => same(set[path], known[path]))
        ? [{ item, count: common.length }]
        : [];
    })
    .sort((a, b) => b.count - a.count);
  const [first, second] = found;
  return first && first.count > (second?.count ?? 0) ? first.item : null;
}

const same = (a: unknown, b: unknown): boolean =>
  typeof a === 'number' && typeof b === 'number'
    ? Math.abs(a - b) <= ROUNDED * Math.max(Math.abs(a), Math.abs(b))
    : a === b;
