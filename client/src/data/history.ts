import { useInfiniteQuery } from '@tanstack/react-query';
import { DELETED, type PastEntry } from '@true-lantern/core';
import { useMemo } from 'react';
import { getHistory } from './api';
import { enqueue, type NewChange, useMine, type ChangeEntry, type Entry } from './outbox';

/** Who set what, when: what the server has, and above it what this device has not sent yet. */
export function useHistory(siteId: string) {
  const query = useInfiniteQuery({
    // Not the key of the version before, which kept one list.
    queryKey: ['history-pages', siteId],
    queryFn: ({ pageParam }) => getHistory(siteId, pageParam),
    initialPageParam: null as string | null,
    getNextPageParam: ({ changes, more }) => (more ? changes.at(-1)?.changeId : undefined),
    refetchOnMount: 'always',
  });
  const waiting = useMine()
    .filter((entry): entry is ChangeEntry => 'change' in entry && entry.siteId === siteId)
    .reverse();
  const past = useMemo(() => query.data?.pages.flatMap(({ changes }) => changes) ?? [], [query.data]);
  return { query, waiting, past };
}

/** The change that takes an earlier one back: what stood before it, against the revision it made. */
export function undoOf({ partId, revision, before, fields }: PastEntry): NewChange {
  const set = { ...before };
  // A part that this change made did not exist before it.
  if (revision === 1 && Object.values(before).every((value) => value === null))
    return { partId, baseRevision: revision, set: { [DELETED]: true } };
  for (const field of Object.keys(fields)) set[field] ??= field === DELETED ? false : null;
  return { partId, baseRevision: revision, set };
}

/** Takes a past change back by a new one, through the outbox. */
export const undoChange = (siteId: string, entry: PastEntry) => enqueue(siteId, undoOf(entry));

/** How it stands with an entry that the server has not taken. */
export const stateWord = (entry: Entry) =>
  ({ waiting: 'waiting to be sent', refused: 'refused', conflict: 'in conflict' })[entry.state];
