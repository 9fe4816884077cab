/// <reference lib="webworker" />
import {
  ExpirationPlugin,
  NetworkFirst,
  Serwist,
  type PrecacheEntry,
  type RouteMatchCallback,
  type SerwistPlugin,
} from 'serwist';

declare const self: ServiceWorkerGlobalScope & {
  /** Every file of this version, with its revision: written in when it is built. */
  __SW_MANIFEST: PrecacheEntry[];
};

/** The page that stands for every song: what is on it follows the address in the browser. */
const SONG_PAGE = '/song/-/shape';
const LIBRARY = '/api/library';

/**
 * A worker is told what to load by what stands behind the # of its address. Browsers leave that out where
 * the answer comes from a cache, so it is written into the script.
 */
const underTheAddressAskedFor: SerwistPlugin = {
  async cachedResponseWillBeUsed({ cachedResponse, request, event }) {
    const { url, destination } = (event as FetchEvent).request ?? request;
    if (!cachedResponse || destination !== 'worker') return cachedResponse;
    const script = await cachedResponse.text();
    const { headers } = cachedResponse;
    return new Response(script.replaceAll('location.href', JSON.stringify(url)), { headers });
  },
};

const isPage: RouteMatchCallback = ({ request }) => request.mode === 'navigate';

/**
 * Keeps this version of the workbench whole in the browser: a page and what it loads later are always of
 * one version, with a server and without. The next version waits until it is asked for.
 */
const serwist = new Serwist({
  precacheEntries: self.__SW_MANIFEST,
  precacheOptions: {
    cleanupOutdatedCaches: true,
    ignoreURLParametersMatching: [/^(?!_rsc)/],
    plugins: [underTheAddressAskedFor],
  },
  skipWaiting: false,
  // Also the page that is open at the first visit works without a network from then on.
  clientsClaim: true,
  runtimeCaching: [
    {
      // The grooves of the server's folders can change: what is kept is for when it does not answer.
      matcher: ({ url }) => url.pathname.startsWith(LIBRARY),
      handler: new NetworkFirst({
        cacheName: 'library',
        networkTimeoutSeconds: 5,
        plugins: [new ExpirationPlugin({ maxEntries: 2000 })],
      }),
    },
  ],
});

serwist.registerCapture(
  (asked) => isPage(asked) && asked.sameOrigin && asked.url.pathname.startsWith('/song/'),
  serwist.createHandlerBoundToUrl(SONG_PAGE),
);

self.addEventListener('install', (event) => {
  const listed = caches.open('library').then((cache) => cache.add(LIBRARY));
  // The shipped library is precached itself; without the list only its rows are missing until later.
  event.waitUntil(listed.catch(() => undefined));
});

serwist.addEventListeners();
