import { useQuery } from '@tanstack/react-query';
import { useEffect } from 'react';
import type { AlertsAnswer, SiteRows } from '@true-lantern/wire';
import { alertsQuery, showAlert, tellsHere } from './alerts';
import { queryClient } from './site';

/**
 * Changes by others arrive while the app is looked at: the server tells of them (server-sent events). Where it cannot, the app
 * asks now and then. Out of sight it does neither: it asks when it is looked at again.
 */

const PATH = '/api/events';
/** Our own push is answered within this; what it changed is not news. */
const OWN_MS = 400;
/** Without a stream the app asks in this rhythm, and tries for a stream again. */
const ASK_MS = 30_000;
/** A stream that says nothing at first is kept back by something between. */
const SILENT_MS = 8000;

/** A site has moved on; `listed`: it is new on the list, or has left it. */
interface SiteEvent {
  id: string;
  revision: number;
  listed?: boolean;
  /** A value of it went out of range, in a sentence. */
  outside?: string;
}

/** What is known of a site that somebody changed: asked for again, where it is on screen at once. */
function changed({ id, revision, listed }: SiteEvent): void {
  if (listed) void queryClient.invalidateQueries({ queryKey: ['sites'] });
  const known = queryClient.getQueryData<SiteRows>(['site', id]);
  if (known && known.revision >= revision) return;
  void queryClient.invalidateQueries({ queryKey: ['site', id] });
  void queryClient.invalidateQueries({ queryKey: ['history-pages', id] });
  if (!listed) void queryClient.invalidateQueries({ queryKey: ['sites'] });
}

/** After a time without news anything may have changed: what is on screen is asked for. */
function askAll(): void {
  for (const queryKey of [['site'], ['sites']]) void queryClient.invalidateQueries({ queryKey });
}

/**
 * Listens as long as the page is in sight. @returns what ends it
 * @param Source the browser's EventSource
 */
export function keepNews(Source: typeof EventSource = EventSource): () => void {
  let source: EventSource | null = null;
  let silent: ReturnType<typeof setTimeout> | undefined;
  let asking: ReturnType<typeof setTimeout> | undefined;
  const pending = new Map<string, ReturnType<typeof setTimeout>>();
  let before = false;

  const close = () => {
    clearTimeout(silent);
    clearTimeout(asking);
    source?.close();
    source = null;
  };
  /** No stream for now: asked instead, and tried again. */
  const without = () => {
    close();
    asking = setTimeout(() => {
      askAll();
      open();
    }, ASK_MS);
  };
  const open = () => {
    close();
    const mine = new Source(PATH);
    source = mine;
    silent = setTimeout(without, SILENT_MS);
    // Said by the server itself: the connection alone proves nothing, a proxy may keep back what follows.
    mine.addEventListener('ready', () => {
      clearTimeout(silent);
      if (before) askAll();
      before = true;
    });
    mine.addEventListener('site', ({ data }: MessageEvent<string>) => {
      const event = JSON.parse(data) as SiteEvent;
      const { id, outside } = event;
      if (outside) void showAlert(id, outside, queryClient.getQueryData<AlertsAnswer>(alertsQuery.queryKey)?.alerts);
      clearTimeout(pending.get(id));
      pending.set(
        id,
        setTimeout(() => {
          pending.delete(id);
          changed(event);
        }, OWN_MS),
      );
    });
    mine.addEventListener('error', () => {
      // The browser tries again by itself where the connection broke; where it was refused, it does not.
      if (mine.readyState === Source.CLOSED) without();
      else {
        clearTimeout(silent);
        silent = setTimeout(without, SILENT_MS);
      }
    });
  };
  const look = () => {
    // Who wants to be told is told in the background, too.
    if (document.visibilityState === 'visible') open();
    else if (!tellsHere.get()) close();
  };
  document.addEventListener('visibilitychange', look);
  look();
  return () => {
    document.removeEventListener('visibilitychange', look);
    for (const timer of pending.values()) clearTimeout(timer);
    close();
  };
}

/** Keeps the news coming for whoever is signed in. */
export function useNews(person: string | undefined): void {
  // The quiet hours are known before the first of them.
  useQuery({ ...alertsQuery, enabled: Boolean(person) && tellsHere.get() });
  useEffect(() => (person ? keepNews() : undefined), [person]);
}
