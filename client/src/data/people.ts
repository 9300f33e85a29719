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

export const usePeople = (owner: boolean) =>
  useQuery({ queryKey: ['people'], queryFn: () => ask<PeopleAnswer>('GET', '/people'), enabled: owner });
export const useInvitations = (owner: boolean) =>
  useQuery({ queryKey: ['invitations'], queryFn: () => ask<InvitationsAnswer>('GET', '/invitations'), enabled: owner });
export const useAudit = (wanted: boolean) =>
  useQuery({ queryKey: ['audit'], queryFn: () => ask<AuditAnswer>('GET', '/audit'), enabled: wanted });
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

export const inviteSomebody = (role: Role, email: string) =>
  ask<InvitedAnswer>('POST', '/invitations', { role, ...(email ? { email } : {}) });
export const takeBackInvitation = (id: string) => ask<undefined>('DELETE', `/invitations/${id}`);
export const passwordLink = (id: string) => ask<InvitedAnswer>('POST', `/people/${id}/password-link`, {});
export const changeRole = (id: string, role: Role) => ask<undefined>('PUT', `/people/${id}/role`, { role });
export const changeLicence = (id: string, licence: string) =>
  ask<undefined>('PUT', `/people/${id}/licence`, { licence });
export const removePerson = (id: string, forget: boolean) =>
  ask<undefined>('DELETE', `/people/${id}${forget ? '?forget=yes' : ''}`);
export const personData = (id: string) => ask<object>('GET', `/people/${id}/data`);
export const changePassword = (old: string, password: string) => askIn('PUT', '/password', { old, password });
export const endSession = (id: string) => ask<undefined>('DELETE', `/sessions/${id}`);
export const signOutEverywhere = () => ask<undefined>('DELETE', '/sessions');

export const lookAtLink = (token: string) => ask<JoinAnswer>('GET', `/join/${encodeURIComponent(token)}`);
export const join = (token: string, person: object) => askIn('POST', `/join/${encodeURIComponent(token)}`, person);
export const makeFirm = (firm: object) => askIn('POST', '/firm', firm);
