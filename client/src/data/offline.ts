/** Lets the browser keep the app itself, so that it opens without a signal. Silent where that cannot be done. */
export function installOffline(): void {
  if (process.env.NODE_ENV !== 'production' || typeof navigator === 'undefined' || !('serviceWorker' in navigator))
    return;
  navigator.serviceWorker.register('/sw.js').catch(() => {
    // Not served securely, or forbidden by the browser: the app works as long as the page is open.
  });
}
