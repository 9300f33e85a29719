import { createStore } from './store';

/** Whether a newer version of the app waits on this device to be taken. */
const newer = createStore(false);
/** Whether a newer version waits to be taken. */
export const useNewer = newer.useValue;

let waiting: ServiceWorker | null = null;

/** Lets the browser keep the app itself, so that it opens without a signal. Silent where that cannot be done. */
export function installOffline(): void {
  if (process.env.NODE_ENV !== 'production' || typeof navigator === 'undefined' || !('serviceWorker' in navigator))
    return;
  navigator.serviceWorker
    .register('/sw.js')
    .then((registration) => {
      const offer = () => {
        // Without a controller this is the first version, not a newer one.
        if (!registration.waiting || !navigator.serviceWorker.controller) return;
        waiting = registration.waiting;
        newer.set(true);
      };
      offer();
      registration.addEventListener('updatefound', () =>
        registration.installing?.addEventListener('statechange', offer),
      );
      // A page that stays open for days looks now and then.
      setInterval(() => void registration.update().catch(() => undefined), 3_600_000);
    })
    .catch(() => {
      // Not served securely, or forbidden by the browser: the app works as long as the page is open.
    });
}

/** Lets the newer version take over and loads the page anew. */
export function takeNewer(): void {
  navigator.serviceWorker.addEventListener('controllerchange', () => location.reload(), { once: true });
  waiting?.postMessage({ type: 'SKIP_WAITING' });
  newer.set(false);
}

const RELOADED = 'lantern.reloaded';
/** How long after a reload a chunk that is missing still is the same trouble. */
const AGAIN_MS = 30_000;

/** A part of the program that is gone since a newer version was put on the server. */
export const isGoneChunk = (error: unknown): boolean =>
  /(loading (module|script|chunk)|dynamically imported module|importing a module script|asyncrequire)/i.test(
    `${error instanceof Error ? `${error.name} ${error.message}` : ''}`,
  );

/**
 * Whether loading the page anew would bring anything: with the server there to answer, and nothing on this page that only
 * this page has. Without a signal a reload would be the end of it.
 */
export async function mayReload(unkept: boolean): Promise<boolean> {
  if (unkept) return false;
  try {
    return (await fetch('/index.html', { method: 'HEAD', cache: 'no-store' })).ok;
  } catch {
    return false;
  }
}

/** Loads the page anew at the address that failed (the router has gone elsewhere by now), once: false where that has just been tried. */
export function reloadOnce(address: string, now = Date.now()): boolean {
  try {
    const last = Number(sessionStorage.getItem(RELOADED) ?? 0);
    // A clock that was set back must not forbid it for ever.
    if (last <= now && now - last < AGAIN_MS) return false;
    sessionStorage.setItem(RELOADED, String(now));
  } catch {
    // Without a memory it cannot be told whether it is the second time: a person decides.
    return false;
  }
  location.replace(address);
  return true;
}
