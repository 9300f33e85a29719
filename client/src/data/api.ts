import type { Fault, PartChange, PartRow, FieldConflict } from '@true-lantern/core';

/** The only file that speaks to the server. */

export interface Person {
  id: string;
  name: string;
  email: string;
  role: 'owner' | 'technician' | 'reader';
  firm: { id: string; name: string };
}
export interface Session {
  csrfToken: string;
  person: Person | null;
  demo?: { email: string; password: string };
}
export interface SiteSummary {
  id: string;
  name: string;
  updatedAt: string;
}
export interface SiteRows extends SiteSummary {
  parts: PartRow[];
}
export interface PushResult {
  changeId: string;
  partId: string;
  status: 'applied' | 'duplicate' | 'conflict' | 'refused';
  part?: PartRow & { deleted: boolean };
  conflicts: FieldConflict[];
  faults: Fault[];
}

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

export async function getSession(): Promise<Session> {
  const session = (await call('GET', '/session')) as Session;
  csrfToken = session.csrfToken;
  return session;
}
export async function signIn(email: string, password: string): Promise<Session> {
  const session = (await call('POST', '/session', { email, password })) as Session;
  csrfToken = session.csrfToken;
  return session;
}
export const signOut = () => call('DELETE', '/session');
export const getSites = async () => ((await call('GET', '/sites')) as { sites: SiteSummary[] }).sites;
export const getSite = (id: string) => call('GET', `/sites/${id}`) as Promise<SiteRows>;
export const importSite = (id: string, file: unknown, rowIds: string[]) =>
  call('POST', '/sites', { id, file, rowIds }) as Promise<{ id: string; warnings: string[] }>;
export const pushChanges = async (siteId: string, changes: PartChange[]) =>
  ((await call('POST', `/sites/${siteId}/changes`, { changes })) as { results: PushResult[] }).results;

async function call(method: string, path: string, body?: unknown, again = true): Promise<unknown> {
  let response: Response;
  try {
    response = await fetch(`/api${path}`, {
      method,
      credentials: 'same-origin',
      headers: {
        ...(body === undefined ? {} : { 'content-type': 'application/json' }),
        ...(method === 'GET' ? {} : { 'x-csrf-token': csrfToken }),
      },
      ...(body === undefined ? {} : { body: JSON.stringify(body) }),
    });
  } catch (error) {
    throw new NoSignal(error);
  }
  if (response.status === 204) return undefined;
  const answer = (await response.json().catch(() => ({}))) as {
    title?: string;
    faults?: Fault[];
    code?: string;
  };
  if (response.ok) return answer;
  // The session changed under an open page (signed in elsewhere, server restarted): fetch a token and try once more.
  if (answer.code === 'csrf' && again) {
    await getSession();
    return call(method, path, body, false);
  }
  throw new ApiError(
    response.status,
    answer.title ?? `The server answered ${response.status}.`,
    answer.faults ?? [],
    answer.code,
  );
}
