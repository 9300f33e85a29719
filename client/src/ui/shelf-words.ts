import { figure, inLine, KINDS, type ShelfItem, type ShelfKind, type Write } from '@true-lantern/core';
import { KIND_WORDS } from '../data/fields';
import { METRIC, type Units } from '../data/units';
import { written } from './units';

/** What the kinds of the shelf are called; most are called as on the Line. */
export const shelfKindWord = (kind: ShelfKind): string =>
  kind === 'bank'
    ? 'Battery'
    : kind === 'fuse'
      ? 'Fuse or breaker'
      : kind === 'cable'
        ? 'Cable by the metre'
        : (KIND_WORDS[kind] ?? kind);

/** The figures by which a part is told from its neighbours, in a line: those of its kind, of one piece. */
export function shelfFact({ kind, body }: ShelfItem, units: Units = METRIC): string {
  const write = written(units);
  const b = body as Record<string, number & string>;
  if (kind === 'fuse') return inLine(b.type, write.amount(b.rating_A, 'A'), write.amount(b.voltage_V, 'V'));
  if (kind === 'cable') return inLine(b.size && write.size(b.size), b.material);
  const { shelf, fact } = KINDS[kind];
  // What the site will say stands at one piece, which needs no words.
  return (fact as (part: object, among: object, how: Write) => string)({ ...shelf.onSite, ...body }, {}, write).replace(
    /^1 \u00d7 /,
    '',
  );
}

/** "129 GBP"; null where no price is known. */
export const priceText = ({ price, currency }: ShelfItem) =>
  price === null || price === undefined ? null : `${figure(price, 6)} ${currency ?? ''}`.trim();
