import { QueryCache, QueryClient, useQueries, useQuery } from '@tanstack/react-query';
import {
  check,
  fromRows,
  modelOf,
  nameOfRow,
  type Finding,
  type Model,
  type PartRow,
  type SystemFile,
} from '@true-lantern/core';
import { useMemo } from 'react';
import { ApiError, getSite, getSites } from './api';
import type { PushResult, Session, SiteRows, SiteSummary } from '@true-lantern/wire';
import { keepQuery, restoring } from './persistence';
import {
  enqueue,
  enqueueRequest,
  rowsOf,
  useMine,
  withPending,
  type Entry,
  type RequestEntry,
  type SiteEntry,
  type Taken,
} from './outbox';

// A hut may be out of reach for weeks: nothing fetched is thrown away while the page is open. (A month in ms would
// overflow the browser's timer and throw it away at once.)

export const queryClient = new QueryClient({
  queryCache: new QueryCache({
    onError(error) {
      // The session has ended: back to the sign-in screen. What is kept on the device stays, the outbox too.
      if (error instanceof ApiError && error.status === 401)
        queryClient.setQueryData<Session>(['session'], (session) => session && { ...session, person: null });
    },
  }),
  defaultOptions: {
    // A window that regains the focus is no reason to fetch every site again; what is opened is asked for when it opens.
    queries: {
      networkMode: 'offlineFirst',
      gcTime: Infinity,
      retry: 1,
      refetchOnWindowFocus: false,
      // Not by the clock, which may be wrong: what is opened is asked for.
      refetchOnMount: 'always',
      persister: restoring,
    },
  },
});

queryClient.getQueryCache().subscribe((event) => {
  if (event.type === 'updated' && event.action.type === 'success' && event.action.manual) keepQuery(event.query);
});

const siteKey = (id: string) => ['site', id] as const;
const siteQuery = (id: string) => ({ queryKey: siteKey(id), queryFn: () => getSite(id) });

/** Lays what the server took into the cache, so that nothing needs to be fetched again. */
export const intoCache: Taken = {
  changes(siteId: string, results: PushResult[]) {
    queryClient.setQueryData<SiteRows>(siteKey(siteId), (site) => {
      if (!site) return site;
      const parts = new Map(site.parts.map((part) => [part.id, part]));
      for (const { part } of results) {
        if (!part) continue;
        const { deleted, ...row } = part;
        if (deleted) parts.delete(row.id);
        else parts.set(row.id, row);
      }
      return { ...site, parts: [...parts.values()] };
    });
  },
  site(id, name, parts) {
    const updatedAt = new Date().toISOString();
    queryClient.setQueryData<SiteRows>(siteKey(id), { id, name, updatedAt, revision: 0, headline: null, parts });
    queryClient.setQueryData<SiteSummary[]>(['sites'], (list) =>
      list && !list.some((site) => site.id === id)
        ? [...list, { id, name, updatedAt, revision: 0, headline: null }]
        : list,
    );
    void queryClient.invalidateQueries({ queryKey: ['sites'] });
  },
  request({ path }) {
    if (path.startsWith('/shelf')) void queryClient.invalidateQueries({ queryKey: ['shelf'] });
    if (path.startsWith('/firm')) void queryClient.invalidateQueries({ queryKey: ['firm'] });
    if (path.endsWith('/archived')) void queryClient.invalidateQueries({ queryKey: ['sites'] });
  },
};

/** One site as this device knows it: rows, file, model and findings, pending changes included. */
export interface OpenSite {
  id: string;
  rows: PartRow[];
  file: SystemFile;
  model: Model;
  findings: Finding[];
}

export function useSite(id: string) {
  const entries = useMine();
  const made = siteMadeHere(entries, id);
  // A site that only this device knows cannot be asked for.
  const query = useQuery({ ...siteQuery(id), enabled: !made });
  const fetched = query.data?.parts;
  const data = useMemo(() => (made ? rowsOf(made) : fetched), [made, fetched]);
  const site = useMemo(() => (data ? openSite(id, withPending(data, id, entries)) : null), [id, data, entries]);
  return { site, error: query.error, refetch: query.refetch };
}

/** Also one that the server would not take: its survey is here, and can be mended, exported and sent again. */
const siteMadeHere = (entries: readonly Entry[], id: string) =>
  entries.find((entry): entry is SiteEntry => entry.siteId === id && 'file' in entry);

export function openSite(id: string, rows: PartRow[]): OpenSite {
  const file = fromRows(rows);
  const model = modelOf(file);
  return { id, rows, file, model, findings: check(model) };
}

/** The sites of the firm with what each is about; the findings are worked out here, on the device. */
export function useSites() {
  const list = useQuery({ queryKey: ['sites'], queryFn: getSites });
  const entries = useMine();
  const sites = useQueries({ queries: (list.data ?? []).map(({ id }) => siteQuery(id)) });
  const rows = sites.map((query) => query.data);
  const leaving = archivedHere(entries);
  const known = (list.data ?? [])
    .map((summary, i) => ({ summary, i }))
    .filter(({ summary }) => !leaving.has(summary.id))
    .map(({ summary, i }): ListedSite => {
      const parts = rows[i]?.parts;
      return {
        id: summary.id,
        name: summary.name,
        site: parts ? listed(summary.id, parts, entries) : null,
      };
    });
  const made = entries
    .filter((entry): entry is SiteEntry => 'file' in entry)
    .filter(({ siteId }) => !known.some(({ id }) => id === siteId))
    .map((entry): ListedSite => ({
      id: entry.siteId,
      name: entry.file.site.name,
      site: openSite(entry.siteId, withPending(rowsOf(entry), entry.siteId, entries)),
    }));
  return { list, sites: [...known, ...made].sort((a, b) => a.name.localeCompare(b.name)) };
}

/** A site's findings are worked out once for the rows that came: a list of a hundred sites is drawn at every change. */
const opened = new WeakMap<readonly PartRow[], OpenSite>();

function listed(id: string, parts: PartRow[], entries: readonly Entry[]): OpenSite {
  if (entries.some((entry) => entry.siteId === id && 'change' in entry))
    return openSite(id, withPending(parts, id, entries));
  const known = opened.get(parts);
  if (known) return known;
  const made = openSite(id, parts);
  opened.set(parts, made);
  return made;
}

/** Sites put away on this device that the server has not heard of yet. */
const archivedHere = (entries: readonly Entry[]) =>
  new Set(
    entries.flatMap((entry) =>
      'request' in entry && entry.state === 'waiting' && isArchiving(entry.request) ? [entry.siteId] : [],
    ),
  );
const isArchiving = ({ path, body }: RequestEntry['request']) =>
  path.endsWith('/archived') && (body as { archived?: boolean }).archived === true;

/** Puts a site away, or takes it back. */
export function archiveSite(id: string, archived: boolean): void {
  enqueueRequest(id, { key: `archived ${id}`, method: 'PUT', path: `/sites/${id}/archived`, body: { archived } });
}

export interface ListedSite {
  id: string;
  name: string;
  /** Null until its parts have come. */
  site: OpenSite | null;
}

/** A row of a site as it was last fetched, whichever site is open. */
export const keptRow = (siteId: string, rowId: string): PartRow | undefined =>
  queryClient.getQueryData<SiteRows>(siteKey(siteId))?.parts.find(({ id }) => id === rowId);

export const rowOfPart = (site: OpenSite, partId: string) => site.rows.find((row) => nameOfRow(row) === partId);

/** Lets two parts of one kind change places. */
export function movePart(site: OpenSite, row: PartRow, other: PartRow): void {
  const to = (part: PartRow, position: number) => ({
    partId: part.id,
    baseRevision: part.revision,
    set: { '/position': position },
  });
  enqueue(site.id, to(row, other.position), to(other, row.position));
}

/** Sets fields of a part through the outbox. */
export function setFields(site: OpenSite, row: PartRow, set: Record<string, unknown>): void {
  enqueue(site.id, { partId: row.id, baseRevision: row.revision, set });
}
