import { useQuery } from '@tanstack/react-query';
import type { Schools } from '@true-lantern/core/base';
import { ask, getFirm } from './api';
import type { Firm } from '@true-lantern/wire';
import { enqueueRequest, useMine } from './outbox';

const PATH = '/firm/schools';

/** The firm as this device knows it. */
export function useFirm() {
  const query = useQuery({ queryKey: ['firm'], queryFn: getFirm });
  const waiting = useMine().find(
    (entry) => 'request' in entry && entry.state === 'waiting' && entry.request.path === PATH,
  );
  const schools =
    waiting && 'request' in waiting ? (waiting.request.body as { schools: Schools }).schools : query.data?.schools;
  const firm: Firm | null = query.data ? { ...query.data, schools: schools ?? {} } : null;
  return { firm, query };
}

/** What new sites begin with. */
export const setFirmSchools = (schools: Schools) =>
  enqueueRequest('', { key: 'firm schools', method: 'PUT', path: PATH, body: { schools } });

/** What the firm's papers show: an owner's act, with a signal. @throws NoSignal, ApiError */
export const setSheet = (sheet: object) => ask<undefined>('PUT', '/firm/sheet', sheet);
/** Puts a picture on the firm's papers. @throws NoSignal, ApiError */
export const setLogo = (picture: Blob) => ask<undefined>('PUT', '/firm/logo', picture);
/** Takes the picture off the firm's papers. @throws NoSignal, ApiError */
export const removeLogo = () => ask<undefined>('DELETE', '/firm/logo');
