import type { Fault, PartChange } from '@true-lantern/core/base';
import type {
  Firm,
  Headline,
  HistoryAnswer,
  ImportAnswer,
  ProblemAnswer,
  PushAnswer,
  RecordAnswer,
  Session,
  ShelfAnswer,
  SiteRows,
  SitesAnswer,
} from '@true-lantern/wire';

/** The only file that speaks to the server. */

/** The server's answer when it is not the one hoped for, in its own sentence. */
export class ApiError extends Error {
  constructor(
    readonly status: number,
    message: string,
    readonly faults: Fault[],
    readonly code: string | undefined,
  ) {
    super(message);
    this.name = 'ApiError';
  }
}
/** No answer at all: no signal, or the server is down. */
export class NoSignal extends Error {
  constructor(cause: unknown) {
    super('No answer from the server.', { cause });
    this.name = 'NoSignal';
  }
}

let csrfToken = '';

/** Who is signed in, with the token for writes. @throws NoSignal, ApiError */
export const getSession = () => askIn('GET', '/session');
/** What only works with a signal: people, passwords, sessions. @throws NoSignal, ApiError */
export const ask = <T>(method: 'GET' | 'POST' | 'PUT' | 'DELETE', path: string, body?: unknown) =>
  call<T>(method, path, body);
/** For a query about a site that was made a moment ago: the server may not have it yet, and has it in some seconds. */
export const UNTIL_SENT = { retry: 6, retryDelay: 2000 } as const;
/**
 * As `ask`, for what is made at a site: where the site was made a moment ago it waits until the server has it.
 * @throws NoSignal, ApiError
 */
export async function askOnceSent<T>(method: 'POST', path: string, body: unknown): Promise<T> {
  for (let tried = 0; ; tried++)
    try {
      return await ask<T>(method, path, body);
    } catch (error) {
      if (!(error instanceof ApiError) || error.status !== 404) throw error;
      if (tried === UNTIL_SENT.retry)
        throw new ApiError(404, 'The server does not have this yet, or no longer has it.', [], error.code);
      await new Promise((resolve) => setTimeout(resolve, UNTIL_SENT.retryDelay));
    }
}
/** As `ask`, for what answers with the session: its token changes with it. */
export async function askIn(method: 'GET' | 'POST' | 'PUT', path: string, body?: unknown): Promise<Session> {
  const session = await ask<Session>(method, path, body);
  csrfToken = session.csrfToken;
  return session;
}
/** Signs in with a password. @throws NoSignal, ApiError */
export const signIn = (email: string, password: string) => askIn('POST', '/session', { email, password });
/** Ends the session on the server. @throws NoSignal, ApiError */
export const signOut = () => call('DELETE', '/session');
/** The list of sites. @throws NoSignal, ApiError */
export const getSites = async () => (await call<SitesAnswer>('GET', '/sites')).sites;
/** The sites that were put away. @throws NoSignal, ApiError */
export const getArchived = async () => (await call<SitesAnswer>('GET', '/sites?archived=yes')).sites;
/** The past changes of a site, the latest first. @throws NoSignal, ApiError */
export const getHistory = (id: string, before: string | null) =>
  call<HistoryAnswer>('GET', `/sites/${id}/changes${before ? `?before=${before}` : ''}`);
/** The firm's shelf. @throws NoSignal, ApiError */
export const getShelf = async () => (await call<ShelfAnswer>('GET', '/shelf')).items;
/** The firm: name, address, what stands on its papers. @throws NoSignal, ApiError */
export const getFirm = () => call<Firm>('GET', '/firm');
/** A photo or a spoken note. */
export async function getAttachment(siteId: string, id: string, size: 'small' | 'whole'): Promise<Blob> {
  const response = await reach(`/sites/${siteId}/attachments/${id}?size=${size}`);
  if (!response.ok) throw new ApiError(response.status, 'It is not on the server yet.', [], undefined);
  return response.blob();
}
/** Any write that may be sent twice without harm. */
export const sendRequest = (method: 'PUT' | 'DELETE', path: string, body: unknown) => call(method, path, body);
/** A site with all its rows. @throws NoSignal, ApiError */
export const getSite = (id: string) => call<SiteRows>('GET', `/sites/${id}`);
/** Whether a signed record is kept by the server. @throws NoSignal, ApiError */
export const getRecord = (hash: string) => call<RecordAnswer>('GET', `/records/${hash}`);
/** Sends a whole new site under ids made here; safe to send twice. @throws NoSignal, ApiError */
export const importSite = (id: string, file: unknown, rowIds: string[]) =>
  call<ImportAnswer>('POST', '/sites', { id, file, rowIds });
/** Sends changes of one site; each is safe to send twice. @throws NoSignal, ApiError */
export const pushChanges = (siteId: string, changes: PartChange[]) =>
  call<PushAnswer>('POST', `/sites/${siteId}/changes`, { changes });
/** What this device has worked out of a site, for every other to show at once. */
export const putHeadline = (siteId: string, headline: Headline) => call('PUT', `/sites/${siteId}/headline`, headline);

const reach = (path: string, init?: RequestInit): Promise<Response> =>
  fetch(`/api${path}`, init).catch((error: unknown) => {
    throw new NoSignal(error);
  });

/** @typeParam T what the server answers there, by `wire` */
async function call<T>(method: string, path: string, body?: unknown, again = true): Promise<T> {
  const response = await reach(path, {
    method,
    credentials: 'same-origin',
    headers: {
      ...(body === undefined ? {} : { 'content-type': body instanceof Blob ? body.type : 'application/json' }),
      ...(method === 'GET' ? {} : { 'x-csrf-token': csrfToken }),
    },
    ...(body === undefined ? {} : { body: body instanceof Blob ? body : JSON.stringify(body) }),
  });
  const answer: unknown = response.status === 204 ? undefined : await response.json().catch(() => ({}));
  if (response.ok) return answer as T;
  const problem = (answer ?? {}) as Partial<ProblemAnswer>;
  // The session changed under an open page (signed in elsewhere, server restarted): fetch a token and try once more.
  if (problem.code === 'csrf' && again) {
    await getSession();
    return call<T>(method, path, body, false);
  }
  throw new ApiError(
    response.status,
    problem.title ?? `The server answered ${response.status}.`,
    problem.faults ?? [],
    problem.code,
  );
}
