import type { ShelfItem } from './item';

/**
 * Items that have every word of what was typed somewhere in their name, kind or figures ("ostrum 60", "lfp 280"),
 * those whose name begins with it first.
 */
export function searchShelf<T extends ShelfItem>(items: readonly T[], typed: string): T[] {
  const words = typed.toLowerCase().split(/\s+/).filter(Boolean);
  const begins = (item: T) => (words[0] && item.label.toLowerCase().startsWith(words[0]) ? 0 : 1);
  return items
    .filter((item) => {
      const text = haystack(item);
      return words.every((word) => text.includes(word));
    })
    .sort((a, b) => begins(a) - begins(b) || a.label.localeCompare(b.label, 'en', { numeric: true }));
}

const haystack = ({ kind, label, body, note }: ShelfItem) =>
  [kind, label, note ?? '', ...Object.values(body).filter((value) => typeof value !== 'object')]
    .join(' ')
    .toLowerCase();
