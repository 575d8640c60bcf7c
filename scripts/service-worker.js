// The built files of one version, kept so that the desk opens without a network. Data is in the
// database of the browser and never here; a newer version waits until it is asked for.
const VERSION = 'VERSION';
const FILES = [/* FILES */];
const NAME = `wary-quill-${VERSION}`;
const KNOWN = new Set(FILES);

self.addEventListener('install', (event) => {
  // Straight from the server: what the browser keeps besides may be of another version.
  const asked = FILES.map((path) => new Request(path, { cache: 'reload' }));
  event.waitUntil(caches.open(NAME).then((kept) => kept.addAll(asked)));
});

self.addEventListener('activate', (event) => {
  event.waitUntil(
    caches
      .keys()
      .then((names) =>
        Promise.all(
          names
            .filter((name) => name.startsWith('wary-quill-') && name !== NAME)
            .map((name) => caches.delete(name)),
        ),
      )
      .then(() => self.clients.claim()),
  );
});

self.addEventListener('message', (event) => {
  if (event.data === 'take over') self.skipWaiting();
});

self.addEventListener('fetch', (event) => {
  const { request } = event;
  const { origin, pathname } = new URL(request.url);
  if (request.method !== 'GET' || origin !== self.location.origin) return;
  // Every address inside the application is its one page.
  const path = request.mode === 'navigate' ? '/index.html' : pathname;
  if (!KNOWN.has(path)) return;
  event.respondWith(
    caches
      .open(NAME)
      .then((kept) => kept.match(path))
      .then((found) => found ?? fetch(request)),
  );
});
