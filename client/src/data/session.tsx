import { useQuery } from '@tanstack/react-query';
import { createContext, useContext, useEffect, useMemo, type PropsWithChildren } from 'react';
import { getSession, NoSignal, signIn, signOut } from './api';
import type { Session } from '@true-lantern/wire';
import { clearBlobs } from './blobs';
import { setOwner } from './outbox';
import { state } from './outbox/store';
import { forgetFetched } from './persistence';
import { readPreference, writePreference } from './preferences';
import { queryClient } from './site';
import { noteTrouble } from './trouble';

interface SessionState {
  session: Session | null;
  error: Error | null;
  retry(): void;
  enter(email: string, password: string): Promise<void>;
  /** Lets in whoever the server has just let in: by a link, as the first owner, with another password. */
  taken(session: Session): Promise<void>;
  leave(): Promise<void>;
  /** The session has ended while work was waiting: back to the sign-in screen, with the work kept. */
  askAgain(): void;
}

const Context = createContext<SessionState | null>(null);
const KEY = ['session'];
const NOBODY: Session = { csrfToken: '', person: null };

/** Who is there. A sign-out that could not be told to the server is told first, or it would let the same person in. */
async function askWho(): Promise<Session> {
  if (!readPreference('leaving')) return getSession();
  try {
    await getSession();
    await signOut();
    writePreference('leaving', false);
    return await getSession();
  } catch (error) {
    if (error instanceof NoSignal) return NOBODY;
    throw error;
  }
}

/** Nothing that was fetched stays, in memory or on the device; what waits to be sent does, for its own person. */
async function forget(): Promise<void> {
  queryClient.removeQueries({ predicate: ({ queryKey }) => queryKey[0] !== KEY[0] });
  const waiting = new Set(state().entries.flatMap((entry) => ('request' in entry ? (entry.request.blob ?? []) : [])));
  await Promise.all([forgetFetched(), clearBlobs(waiting)]).catch((error: unknown) =>
    noteTrouble("The stored data could not be cleared. Clear this page's data in the browser.", error),
  );
}

async function letIn(session: Session): Promise<void> {
  // The session of another may have ended by itself: what was fetched for them is not for this person.
  if (readPreference('person') !== session.person?.id) await forget();
  writePreference('person', session.person?.id ?? '');
  writePreference('leaving', false);
  queryClient.setQueryData(KEY, session);
}

/** Who is signed in, for everything below: see `useSession`. */
export function SessionProvider({ children }: PropsWithChildren) {
  const { data, error, refetch } = useQuery({ queryKey: KEY, queryFn: askWho });
  const value = useMemo<SessionState>(
    () => ({
      session: data ?? null,
      error,
      retry: () => void refetch(),
      enter: async (email, password) => letIn(await signIn(email, password)),
      taken: letIn,
      async leave() {
        writePreference('leaving', true);
        writePreference('person', '');
        queryClient.setQueryData(KEY, { ...NOBODY, ...(data?.demo ? { demo: data.demo } : {}) });
        await forget();
        await refetch();
      },
      askAgain: () => queryClient.setQueryData<Session>(KEY, (session) => session && { ...session, person: null }),
    }),
    [data, error, refetch],
  );
  const userId = data?.person?.id ?? '';
  useEffect(() => setOwner(userId), [userId]);
  return <Context.Provider value={value}>{children}</Context.Provider>;
}

/** @throws Error outside the provider, which is a mistake of ours */
export function useSession(): SessionState {
  const state = useContext(Context);
  if (!state) throw new Error('useSession outside SessionProvider');
  return state;
}

/** Who is signed in, below the gate. */
export function usePerson() {
  const person = useSession().session?.person;
  if (!person) throw new Error('usePerson outside the gate');
  return person;
}
/** Work on AC and on buildings is ticked by whoever has a licence. */
export const useIsLicensed = () => Boolean(usePerson().licence);
/** False for a reader. */
export const useMayWrite = () => usePerson().role !== 'reader';
