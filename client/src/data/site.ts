import { type Query, QueryCache, QueryClient, useQueries, useQuery } from '@tanstack/react-query';
import {
  applyFields,
  check,
  fromRows,
  modelInState,
  modelOf,
  nameOfRow,
  RULE_BOOK,
  worstGist,
  worstState,
  type Finding,
  type Gist,
  type Model,
  type PartRow,
  type SystemFile,
} from '@true-lantern/core/base';
import { useMemo } from 'react';
import { ApiError, getSite, getSites, putHeadline } from './api';
import type { Headline, PushResult, Session, SiteRows, SiteSummary } from '@true-lantern/wire';
import { useChosenState } from './states';
import { keepQuery, keptData, restoring } from './persistence';
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

/** What was fetched, for the whole page. */
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
  if (event.type === 'updated' && event.action.type === 'success' && event.action.manual)
    keepQuery(event.query as Query);
});

const siteKey = (id: string) => ['site', id] as const;
/** A site, by its id: kept on the device, asked for when it is opened. */
export const siteQuery = (id: string) => ({ queryKey: siteKey(id), queryFn: () => siteAsItIs(id) });

/**
 * A site as the server has it. What was asked for before a change of this phone was taken, and answered after it, is
 * older than what is shown already: it is asked for once more, or a figure that was just saved would turn back. Once
 * only, for a server that was restored from a backup has the lower revision for good.
 */
async function siteAsItIs(id: string): Promise<SiteRows> {
  const site = await getSite(id);
  const shown = queryClient.getQueryData<SiteRows>(siteKey(id))?.revision ?? 0;
  return site.revision < shown ? getSite(id) : site;
}

/** Lays what the server took into the cache, so that nothing needs to be fetched again. */
export const intoCache: Taken = {
  changes(siteId: string, results: PushResult[], revision: number) {
    queryClient.setQueryData<SiteRows>(siteKey(siteId), (site) => {
      if (!site) return site;
      const parts = new Map(site.parts.map((part) => [part.id, part]));
      for (const { part } of results) {
        if (!part) continue;
        const { deleted, ...row } = part;
        if (deleted) parts.delete(row.id);
        else parts.set(row.id, row);
      }
      return { ...site, revision, parts: [...parts.values()] };
    });
    const site = queryClient.getQueryData<SiteRows>(siteKey(siteId));
    if (site) void tellHeadline(site).catch(() => undefined);
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
  /** Everything on. */
  model: Model;
  /** The state that is looked at; null: everything on. */
  stateId: string | null;
  /** What is judged: the system in that state. */
  judged: Model;
  findings: Finding[];
  /** Those of everything on: what a proposal is weighed against. */
  readonly allOn: Finding[];
}

/** A site with what waits in the outbox laid over it, checked; null until it is here. */
export function useSite(id: string) {
  const entries = useMine();
  const made = siteMadeHere(entries, id);
  // A site that only this device knows cannot be asked for.
  const query = useQuery({ ...siteQuery(id), enabled: !made });
  const fetched = query.data?.parts;
  const data = useMemo(() => (made ? rowsOf(made) : fetched), [made, fetched]);
  const stateId = useChosenState(id);
  const site = useMemo(
    () => (data ? openSite(id, withPending(data, id, entries), stateId === undefined ? WORST : stateId) : null),
    [id, data, entries, stateId],
  );
  return { site, error: query.error, refetch: query.refetch };
}

/** Also one that the server would not take: its survey is here, and can be mended, exported and sent again. */
const siteMadeHere = (entries: readonly Entry[], id: string) =>
  entries.find((entry): entry is SiteEntry => entry.siteId === id && 'file' in entry);

/** In place of a state's id: the one in which the system is worst. No id is empty. */
const WORST = '';

/** A site from its rows: the file, the model, its findings, in the state that is chosen (null: everything on). */
export function openSite(id: string, rows: PartRow[], choice: string | null = null): OpenSite {
  const file = fromRows(rows);
  const model = modelOf(file);
  const worst = choice === WORST ? worstState(model) : null;
  // A state that somebody has removed meanwhile is none.
  const stateId = worst?.id ?? (model.system.states?.some((state) => state.id === choice) ? choice : null);
  const judged = worst?.judged ?? (stateId === null ? model : modelInState(model, stateId));
  const findings = worst?.findings ?? check(judged);
  let allOn: Finding[] | null = stateId === null ? findings : null;
  return {
    id,
    rows,
    file,
    model,
    stateId,
    judged,
    findings,
    // Asked on the screens of Plan alone: not worked out at every key that is typed in a state.
    get allOn() {
      return (allOn ??= check(model));
    },
  };
}

/** The sites of the firm with what each is about: as a device has said it of what stands, or worked out here. */
export function useSites() {
  const list = useQuery({ queryKey: ['sites'], queryFn: getSites });
  const entries = useMine();
  // Only what waits here changes what a site is about before the server has heard of it.
  const waiting = new Set(entries.flatMap((entry) => ('change' in entry ? [entry.siteId] : [])));
  const changed = (list.data ?? []).filter(({ id }) => waiting.has(id));
  const rows = useQueries({ queries: changed.map(({ id }) => siteQuery(id)) });
  const leaving = archivedHere(entries);
  const rowsOfSite = new Map(changed.map(({ id }, i) => [id, rows[i]?.data?.parts]));
  const known = (list.data ?? [])
    .filter(({ id }) => !leaving.has(id))
    .map((summary): ListedSite => {
      const parts = rowsOfSite.get(summary.id);
      const gist = parts ? gistNow(summary.id, parts, entries) : current(summary);
      return { id: summary.id, name: summary.name, gist };
    });
  const listed = new Set(known.map(({ id }) => id));
  const made = entries
    .filter((entry): entry is SiteEntry => 'file' in entry)
    .filter(({ siteId }) => !listed.has(siteId))
    .map((entry): ListedSite => ({
      id: entry.siteId,
      name: entry.file.site.name,
      gist: gistNow(entry.siteId, entry, entries),
    }));
  return { list, sites: [...known, ...made].sort((a, b) => a.name.localeCompare(b.name)) };
}

/** What was worked out last of a site, and of what: the list is drawn often, and a check is no part of drawing. */
const gists = new Map<string, { from: PartRow[] | SiteEntry; own: readonly Entry[]; gist: Gist }>();

function gistNow(id: string, from: PartRow[] | SiteEntry, entries: readonly Entry[]): Gist {
  const own = entries.filter(({ siteId }) => siteId === id);
  const last = gists.get(id);
  if (last?.from === from && last.own.length === own.length && last.own.every((entry, i) => entry === own[i]))
    return last.gist;
  const { model, findings } = openSite(id, withPending(Array.isArray(from) ? from : rowsOf(from), id, own));
  const gist = worstGist(model, findings);
  gists.set(id, { from, own, gist });
  return gist;
}

/** A headline counts where it is of what stands, by the rule book of today. */
const current = ({ headline, revision }: Pick<SiteSummary, 'headline' | 'revision'>): Gist | null =>
  headline && headline.revision === revision && headline.rules === RULE_BOOK ? (headline as Gist) : null;

const AT_ONCE = 4;
/** So many headlines are laid into the list together: a list of a thousand is not drawn anew for each. */
const LAID_TOGETHER = 25;

/**
 * Goes through the list quietly: what this device does not have as it stands is fetched, so that it opens without a
 * signal; what nobody has worked out yet is worked out and told, so that no other device needs to.
 */
export async function catchUp(list: readonly SiteSummary[], gone: () => boolean): Promise<void> {
  const left = [...list];
  const fresh = new Map<string, Headline>();
  const worker = async () => {
    for (let summary = left.shift(); summary && !gone(); summary = left.shift()) {
      const { id, revision } = summary;
      const kept = queryClient.getQueryData<SiteRows>(siteKey(id)) ?? (await keptData<SiteRows>(siteKey(id)));
      const known = kept?.revision === revision;
      if (known && current(summary)) continue;
      const site = known ? kept : await queryClient.fetchQuery({ ...siteQuery(id), staleTime: 0 });
      if (current({ headline: summary.headline, revision: site.revision })) continue;
      const headline = headlineOf(site);
      fresh.set(id, headline);
      if (fresh.size >= LAID_TOGETHER) layHeadlines(fresh);
      await tell(id, headline);
    }
  };
  // Without a signal the rest waits for the next time the list is opened.
  await Promise.all(Array.from({ length: AT_ONCE }, worker)).catch(() => undefined);
  layHeadlines(fresh);
}

function layHeadlines(fresh: Map<string, Headline>): void {
  if (fresh.size === 0) return;
  const taken = new Map(fresh);
  fresh.clear();
  queryClient.setQueryData<SiteSummary[]>(['sites'], (list) =>
    list?.map((site) => {
      const headline = taken.get(site.id);
      return headline ? { ...site, revision: headline.revision, headline } : site;
    }),
  );
}

function headlineOf({ id, parts, revision }: SiteRows): Headline {
  const { model, findings } = openSite(id, parts);
  return { ...worstGist(model, findings), revision, rules: RULE_BOOK };
}

async function tellHeadline(site: SiteRows): Promise<void> {
  const headline = headlineOf(site);
  layHeadlines(new Map([[site.id, headline]]));
  await tell(site.id, headline);
}

/** Tells the server what was worked out; a reader's device keeps it to itself, for readers write nothing. */
async function tell(id: string, headline: Headline): Promise<void> {
  if (queryClient.getQueryData<Session>(['session'])?.person?.role === 'reader') return;
  await putHeadline(id, headline);
}

/** Archived sites on this device that the server has not heard of yet. */
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

/** A line of the list, with what this device knows beyond the server's. */
export interface ListedSite {
  id: string;
  name: string;
  /** Null until it has been worked out. */
  gist: Gist | null;
}

/** Looks a row of any of these sites up, as this device knows them, whichever site is open. */
export function useRows(siteIds: readonly string[]): (siteId: string, rowId: string) => PartRow | undefined {
  const entries = useMine();
  const ids = [...new Set(siteIds)].filter((id) => id !== '');
  const fetched = useQueries({
    queries: ids.map((id) => ({ ...siteQuery(id), enabled: !siteMadeHere(entries, id) })),
  });
  const rows = new Map(
    ids.map((id, i) => {
      const made = siteMadeHere(entries, id);
      return [id, made ? rowsOf(made) : (fetched[i]?.data?.parts ?? [])];
    }),
  );
  return (siteId, rowId) => rows.get(siteId)?.find(({ id }) => id === rowId);
}

/** The row of a part by its id in the file. */
export const rowOfPart = (site: OpenSite, partId: string) =>
  // What left has its name still, and is no part.
  site.rows.find((row) => row.kind !== 'gone' && nameOfRow(row) === partId);

/** Lets two parts of one kind change places. */
export function movePart(site: OpenSite, row: PartRow, other: PartRow): void {
  const to = (part: PartRow, position: number) => ({
    partId: part.id,
    baseRevision: part.revision,
    set: { '/position': position },
  });
  enqueue(site.id, to(row, other.position), to(other, row.position));
}

/** The site as it would be with these fields of a part: looked at, not set. */
export const siteWith = (site: OpenSite, row: PartRow, set: Record<string, unknown>): OpenSite =>
  openSite(
    site.id,
    site.rows.map((one) => (one.id === row.id ? applyFields({ ...one, deleted: false }, set) : one)),
    site.stateId,
  );

/** Sets fields of a part through the outbox. */
export function setFields(site: OpenSite, row: PartRow, set: Record<string, unknown>): void {
  enqueue(site.id, { partId: row.id, baseRevision: row.revision, set });
}
