import { useQuery } from '@tanstack/react-query';
import {
  siteless,
  type Body,
  type PartRow,
  type ShelfItem,
  type ShelfKind,
  type StoredItem,
} from '@true-lantern/core/base';
import { useMemo } from 'react';
import { getShelf } from './api';
import { newId } from './ids';
import { enqueueRequest, useMine, type Entry } from './outbox';
import { readPreference, writePreference } from './preferences';

/** The firm's own catalogue as this device knows it, with what is still waiting to be sent laid over it. */
export function useShelf() {
  const query = useQuery({ queryKey: ['shelf'], queryFn: getShelf });
  const entries = useMine();
  const items = useMemo(() => withWaiting(query.data ?? [], entries), [query.data, entries]);
  return { items, query };
}

const PATH = '/shelf/';

/** The shelf of the server with what is still waiting to be sent laid over it. */
export function withWaiting(items: readonly StoredItem[], entries: readonly Entry[]): StoredItem[] {
  const known = new Map(items.map((item) => [item.id, item]));
  for (const entry of entries) {
    if (!('request' in entry) || entry.state !== 'waiting' || !entry.request.path.startsWith(PATH)) continue;
    const id = entry.request.path.slice(PATH.length);
    if (entry.request.method === 'DELETE') known.delete(id);
    else known.set(id, { id, ...(entry.request.body as ShelfItem) });
  }
  return [...known.values()];
}

/** Puts an item on the shelf, new or in the place of the one with that id. */
export function putOnShelf(item: ShelfItem, id = newId()): string {
  const { kind, label, body, price, currency, note } = item;
  enqueueRequest('', {
    key: `shelf ${id}`,
    method: 'PUT',
    path: `${PATH}${id}`,
    body: { kind, label, body, price: price ?? null, currency: currency ?? null, note: note ?? null },
  });
  return id;
}

/** Takes an item off the firm's shelf, through the outbox. */
export const takeOffShelf = (id: string) =>
  enqueueRequest('', { key: `shelf ${id}`, method: 'DELETE', path: `${PATH}${id}` });

/** A recorded part as an item of the shelf. */
export const itemOfPart = (row: PartRow): ShelfItem => ({
  kind: row.kind as ShelfKind,
  label: String(row.body.label ?? row.body.id),
  body: siteless(row.kind as ShelfKind, row.body),
});

/** What a part is recorded with when it was taken from the shelf. */
export const bodyOfItem = ({ body, label }: ShelfItem): Body => ({ ...structuredClone(body), label });

const MOST_RECENT = 12;

/** Ids of what was last taken from the shelf on this device, newest first. */
export const recentIds = (): string[] => readPreference('recent') ?? [];
/** Remembers an item as the last used of this device. */
export const noteRecent = (id: string) =>
  writePreference('recent', [id, ...recentIds().filter((other) => other !== id)].slice(0, MOST_RECENT));
