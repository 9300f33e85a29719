import { useQuery } from '@tanstack/react-query';
import { createContext, useContext, useEffect, useMemo, type PropsWithChildren } from 'react';
import { getSession, signIn, signOut } from './api';
import type { Session } from '@true-lantern/wire';
import { setOwner } from './outbox';
import { queryClient } from './site';

interface SessionState {
  session: Session | null;
  error: Error | null;
  retry(): void;
  enter(email: string, password: string): Promise<void>;
  leave(): Promise<void>;
  /** The session has ended while work was waiting: back to the sign-in screen, with the work kept. */
  askAgain(): void;
}

const Context = createContext<SessionState | null>(null);
const KEY = ['session'];

export function SessionProvider({ children }: PropsWithChildren) {
  const { data, error, refetch } = useQuery({ queryKey: KEY, queryFn: getSession });
  const value = useMemo<SessionState>(
    () => ({
      session: data ?? null,
      error,
      retry: () => void refetch(),
      async enter(email, password) {
        queryClient.setQueryData(KEY, await signIn(email, password));
      },
      async leave() {
        await signOut();
        // Another firm's person may be next on this device: nothing of this one stays in memory.
        queryClient.removeQueries({ predicate: ({ queryKey }) => queryKey[0] !== KEY[0] });
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
export const useMayWrite = () => usePerson().role !== 'reader';
