/** Part of the service worker: a notification that is pressed opens the site that it is about. */
self.addEventListener('notificationclick', (event) => {
  event.notification.close();
  const { siteId } = event.notification.data ?? {};
  if (!siteId) return;
  const address = `/site/${siteId}/live`;
  event.waitUntil(
    self.clients.matchAll({ type: 'window' }).then(async ([open]) => {
      if (!open) return self.clients.openWindow(address);
      await open.focus();
      return open.navigate(address).catch(() => undefined);
    }),
  );
});
