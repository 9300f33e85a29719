import { generateSW } from 'workbox-build';

/** Writes the service worker: all of the app is kept on the device; only /api is ever asked for afresh. */
export async function precache(webRoot) {
  const { warnings } = await generateSW({
    globDirectory: webRoot,
    globPatterns: ['**/*.{html,js,css,ttf,png,webmanifest,ico}'],
    // The reader of photos is seven megabytes that most never need: kept once it was asked for.
    globIgnores: ['reader/**', 'map/**', 'told.js'],
    runtimeCaching: [
      { urlPattern: /\/reader\//, handler: 'CacheFirst', options: { cacheName: 'reader' } },
      { urlPattern: /\/map\//, handler: 'CacheFirst', options: { cacheName: 'map' } },
    ],
    swDest: `${webRoot}/sw.js`,
    // What happens when a notification is pressed.
    importScripts: ['/told.js'],
    inlineWorkboxRuntime: true,
    sourcemap: false,
    mode: 'production',
    navigateFallback: '/index.html',
    // A customer's page is the server's own: on a phone that has the app, too.
    navigateFallbackDenylist: [/^\/api\//, /^\/[ho]\//, /\/[^/]+\.[a-z0-9]+$/i],
    maximumFileSizeToCacheInBytes: 8 * 1024 * 1024,
    // A new version waits until the old one's pages are closed: chunks of two versions never meet on one page.
    skipWaiting: false,
    clientsClaim: false,
    cleanupOutdatedCaches: true,
    dontCacheBustURLsMatching: /\/_expo\/static\//,
  });
  if (warnings.length > 0) throw new Error(`service worker: ${warnings.join('; ')}`);
}
