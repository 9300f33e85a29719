import {
  checkShelfItem,
  faultAt as fault,
  FaultError,
  itemsOfTable,
  shelfTable,
  type ShelfItem,
  type StoredItem,
} from '@true-lantern/core';
import Papa from 'papaparse';
import { chooseTextFile, saveTextFile } from '../data/files';
import { putOnShelf } from '../data/shelf';

const MOST_BYTES = 5e6;
const MOST_ITEMS = 2000;

/** The shelf as a table. */
export const exportCsv = (items: readonly ShelfItem[]) =>
  saveTextFile('shelf.csv', `${Papa.unparse(shelfTable(items), { newline: '\n' })}\n`, 'text/csv');

/** The shelf as JSON. */
export const exportJson = (items: readonly StoredItem[]) =>
  saveTextFile(
    'shelf.json',
    `${JSON.stringify({ format: 'true-lantern-shelf', version: 1, items: items.map(({ id: _, ...item }) => item) }, null, 2)}\n`,
  );

/** Text of a CSV or JSON file as items. @throws FaultError by line; nothing is taken by halves */
export function readShelfFile(text: string): ShelfItem[] {
  if (text.length > MOST_BYTES) throw fault('file', 'is larger than 5 MB, expected a shelf');
  const items = /^\s*[{[]/.test(text) ? ofJson(text) : ofCsv(text);
  if (items.length === 0) throw fault('file', 'holds no items, expected at least one');
  if (items.length > MOST_ITEMS) throw fault('file', `holds ${items.length} items, expected ${MOST_ITEMS} at most`);
  return items;
}

function ofCsv(text: string): ShelfItem[] {
  const { data, errors, meta } = Papa.parse<string[]>(text.replace(/^\uFEFF/, ''), { skipEmptyLines: 'greedy' });
  const quote = errors.find(({ type }) => type === 'Quotes');
  if (quote) throw fault(`line ${(quote.row ?? 0) + 1}`, 'has a quotation mark that is not closed, expected pairs');
  return itemsOfTable(data, meta.delimiter === ';');
}

function ofJson(text: string): ShelfItem[] {
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch {
    throw fault('file', 'is not JSON, expected a shelf exported here');
  }
  const items = Array.isArray(value) ? (value as unknown[]) : (value as { items?: unknown }).items;
  if (!Array.isArray(items)) throw fault('items', 'is missing, expected a list of parts');
  return items.map((item, i) => {
    try {
      return checkShelfItem(item);
    } catch (error) {
      if (!(error instanceof FaultError)) throw error;
      throw new FaultError(error.faults.map(({ path, message }) => ({ path: `items[${i}].${path}`, message })));
    }
  });
}

/** Asks for a file and takes all of it: what has the same kind and name as an item takes its place. @throws FaultError */
export async function importShelf(present: readonly StoredItem[]): Promise<{ taken: number; replaced: number } | null> {
  const chosen = await chooseTextFile('.csv,.json,text/csv,application/json', MOST_BYTES);
  if (!chosen) return null;
  const items = readShelfFile(chosen.text);
  let replaced = 0;
  for (const item of items) {
    const same = present.find(({ kind, label }) => kind === item.kind && label === item.label);
    if (same) replaced += 1;
    putOnShelf(item, same?.id);
  }
  return { taken: items.length, replaced };
}
