// Shows what is pushed to this browser while no page of Olivine is open in it; a press opens what it tells of.
self.addEventListener('push', (event) => {
  const said = event.data ? event.data.json() : {};
  const shown = {
    tag: said.tag,
    renotify: Boolean(said.tag),
    data: { url: said.url },
    // What is critical stays until somebody has seen it.
    requireInteraction: said.severity === 'critical',
  };
  event.waitUntil(self.registration.showNotification(said.title || 'Olivine', shown));
});

self.addEventListener('notificationclick', (event) => {
  event.notification.close();
  const url = (event.notification.data && event.notification.data.url) || '/';
  event.waitUntil(
    self.clients.matchAll({ type: 'window' }).then((pages) => {
      const open = pages.find((page) => page.url === url);
      return open ? open.focus() : self.clients.openWindow(url);
    }),
  );
});
