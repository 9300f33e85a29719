import { useQuery, useQueryClient } from '@tanstack/react-query';
import { isQuiet } from '@true-lantern/core/base';
import type { Alerts, AlertsAnswer } from '@true-lantern/wire';
import { ask } from './api';
import { readPreference, writePreference } from './preferences';
import { createStore } from './store';
import { noteTrouble } from './trouble';

/** Who is told of values out of range: by mail (the server's affair) and by this device while the app runs on it. */

const KEY = ['alerts'];

/** What the person has chosen, and whether this server mails. */
export const alertsQuery = { queryKey: KEY, queryFn: () => ask<AlertsAnswer>('GET', '/alerts') };
/** The same, followed by a screen. */
export const useAlerts = () => useQuery(alertsQuery);

/** Keeps a choice on the server. @throws NoSignal, ApiError */
export function useKeepAlerts(): (alerts: Alerts) => Promise<undefined> {
  const client = useQueryClient();
  return async (alerts) => {
    await ask('PUT', '/alerts', alerts);
    client.setQueryData<AlertsAnswer>(KEY, (known) => known && { ...known, alerts });
    return undefined;
  };
}

/** Whether this device tells: chosen here, and allowed by the browser. */
export const tellsHere = createStore(readPreference('notify') ?? false);

/** Turns it on or off here. @returns false where the browser does not allow it */
export async function tellHere(on: boolean): Promise<boolean> {
  if (on && typeof Notification === 'undefined') return false;
  const allowed = !on || (await Notification.requestPermission()) === 'granted';
  writePreference('notify', on && allowed);
  tellsHere.set(on && allowed);
  return allowed;
}

/** Shows what a site says, unless these are the person's quiet hours. Each is shown once, however often it is told. */
export async function showAlert(siteId: string, sentence: string, alerts: Alerts | undefined): Promise<void> {
  if (!tellsHere.get() || typeof Notification === 'undefined' || Notification.permission !== 'granted') return;
  if (alerts && isQuiet(new Date().getHours(), alerts.quietFrom, alerts.quietTo)) return;
  const options = { body: sentence, tag: `live ${siteId} ${sentence}`, icon: '/icon-192.png', data: { siteId } };
  try {
    // An installed app on a phone shows it by its worker alone; a browser's window can do so by itself.
    const worker = await navigator.serviceWorker?.getRegistration();
    if (worker) await worker.showNotification('True Lantern', options);
    else new Notification('True Lantern', options);
  } catch (error) {
    noteTrouble('A notification could not be shown.', error);
  }
}
