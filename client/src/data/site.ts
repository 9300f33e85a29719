import { QueryClient, useQueries, useQuery } from '@tanstack/react-query';
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
import { getSite, getSites, type PushResult, type SiteRows } from './api';
import { enqueue, useOutbox, withPending } from './outbox';

export const queryClient = new QueryClient({
  defaultOptions: { queries: { networkMode: 'offlineFirst', staleTime: 30_000, retry: 1 } },
});

const siteKey = (id: string) => ['site', id] as const;
const siteQuery = (id: string) => ({ queryKey: siteKey(id), queryFn: () => getSite(id) });

/** Lays what the server answered to our changes into the cache, so that nothing needs to be fetched again. */
export function takeResults(siteId: string, results: PushResult[]): void {
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
}

/** One site as this device knows it: rows, file, model and findings, pending changes included. */
export interface OpenSite {
  id: string;
  rows: PartRow[];
  file: SystemFile;
  model: Model;
  findings: Finding[];
}

export function useSite(id: string) {
  const query = useQuery(siteQuery(id));
  const { entries } = useOutbox();
  const site = useMemo(
    () => (query.data ? openSite(id, withPending(query.data.parts, id, entries)) : null),
    [id, query.data, entries],
  );
  return { site, error: query.error, refetch: query.refetch };
}

export function openSite(id: string, rows: PartRow[]): OpenSite {
  const file = fromRows(rows);
  const model = modelOf(file);
  return { id, rows, file, model, findings: check(model) };
}

/** The sites of the firm with what each is about; the findings are worked out here, on the device. */
export function useSites() {
  const list = useQuery({ queryKey: ['sites'], queryFn: getSites });
  const { entries } = useOutbox();
  const sites = useQueries({ queries: (list.data ?? []).map(({ id }) => siteQuery(id)) });
  const rows = sites.map((query) => query.data);
  return {
    list,
    sites: (list.data ?? []).map((summary, i) => {
      const loaded = rows[i];
      return { summary, site: loaded ? openSite(summary.id, withPending(loaded.parts, summary.id, entries)) : null };
    }),
  };
}

export const rowById = (site: OpenSite, rowId: string) => site.rows.find((row) => row.id === rowId);
export const rowOfPart = (site: OpenSite, partId: string) => site.rows.find((row) => nameOfRow(row) === partId);

/** Sets fields of a part through the outbox. */
export function setFields(site: OpenSite, row: PartRow, set: Record<string, unknown>): void {
  enqueue(site.id, { partId: row.id, baseRevision: row.revision, set });
}
