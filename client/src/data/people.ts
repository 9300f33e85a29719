import { useQuery, useQueryClient } from '@tanstack/react-query';
import type {
  AuditAnswer,
  InvitationsAnswer,
  InvitedAnswer,
  JoinAnswer,
  PeopleAnswer,
  Role,
  SessionsAnswer,
} from '@true-lantern/wire';
import { ask, askIn } from './api';

/** People, passwords and sessions: nothing of it waits in the outbox, since a door that opens later is no door. */

/** The people of the firm; asked for by owners only. */
export const usePeople = (owner: boolean) =>
  useQuery({ queryKey: ['people'], queryFn: () => ask<PeopleAnswer>('GET', '/people'), enabled: owner });
/** The invitations that are still good; asked for by owners only. */
export const useInvitations = (owner: boolean) =>
  useQuery({ queryKey: ['invitations'], queryFn: () => ask<InvitationsAnswer>('GET', '/invitations'), enabled: owner });
/** What was done to the people and the door of the firm. */
export const useAudit = (wanted: boolean) =>
  useQuery({ queryKey: ['audit'], queryFn: () => ask<AuditAnswer>('GET', '/audit'), enabled: wanted });
/** Where one is signed in. */
export const useSessions = () =>
  useQuery({ queryKey: ['sessions'], queryFn: () => ask<SessionsAnswer>('GET', '/sessions') });

/** What was changed is asked for again. */
export function useAskAgain(): () => void {
  const client = useQueryClient();
  return () => {
    for (const key of ['people', 'invitations', 'audit', 'sessions', 'firm'])
      void client.invalidateQueries({ queryKey: [key] });
  };
}

/** Makes a link for somebody new; mailed where there is an address and the server can. @throws NoSignal, ApiError */
export const inviteSomebody = (role: Role, email: string) =>
  ask<InvitedAnswer>('POST', '/invitations', { role, ...(email ? { email } : {}) });
/** Ends an invitation. @throws NoSignal, ApiError */
export const takeBackInvitation = (id: string) => ask<undefined>('DELETE', `/invitations/${id}`);
/** A link by which a person sets another password. @throws NoSignal, ApiError */
export const passwordLink = (id: string) => ask<InvitedAnswer>('POST', `/people/${id}/password-link`, {});
/** What a person may do from now on. @throws NoSignal, ApiError */
export const changeRole = (id: string, role: Role) => ask<undefined>('PUT', `/people/${id}/role`, { role });
/** The licence that a person holds; empty: none. @throws NoSignal, ApiError */
export const changeLicence = (id: string, licence: string) =>
  ask<undefined>('PUT', `/people/${id}/licence`, { licence });
/** Lets a person go; with `forget` their name leaves the history too. @throws NoSignal, ApiError */
export const removePerson = (id: string, forget: boolean) =>
  ask<undefined>('DELETE', `/people/${id}${forget ? '?forget=yes' : ''}`);
/** Everything that the server has of a person. @throws NoSignal, ApiError */
export const personData = (id: string) => ask<object>('GET', `/people/${id}/data`);
/** Another password; every other session ends. @throws NoSignal, ApiError */
export const changePassword = (old: string, password: string) => askIn('PUT', '/password', { old, password });
/** Signs out one other device. @throws NoSignal, ApiError */
export const endSession = (id: string) => ask<undefined>('DELETE', `/sessions/${id}`);
/** Signs out every device, this one too. @throws NoSignal, ApiError */
export const signOutEverywhere = () => ask<undefined>('DELETE', '/sessions');

/** What a link is for, before it is used. @throws NoSignal, ApiError */
export const lookAtLink = (token: string) => ask<JoinAnswer>('GET', `/join/${encodeURIComponent(token)}`);
/** Uses a link: a new person, or another password. @throws NoSignal, ApiError */
export const join = (token: string, person: object) => askIn('POST', `/join/${encodeURIComponent(token)}`, person);
/** Makes a firm and its first owner. @throws NoSignal, ApiError */
export const makeFirm = (firm: object) => askIn('POST', '/firm', firm);
