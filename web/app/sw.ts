import { ExpirationPlugin } from 'workbox-expiration';
import {
  cleanupOutdatedCaches,
  createHandlerBoundToURL,
  precacheAndRoute,
  type PrecacheEntry,
} from 'workbox-precaching';
import { NavigationRoute, registerRoute } from 'workbox-routing';
import { NetworkFirst } from 'workbox-strategies';
import type { WorkboxPlugin } from 'workbox-core';
import { CLOCK_HEADER } from '@diurna/contract/route';
import { CARD_CACHE, isCard, isKept, rewritten, withKept } from './offline.ts';

/** The part of a service worker's scope used here; its types and the page's cannot be in one program. */
interface Scope {
  skipWaiting: () => Promise<void>;
  clients: { claim: () => Promise<void> };
  addEventListener: (
    kind: 'install' | 'activate',
    act: (event: { waitUntil: (until: Promise<unknown>) => void }) => void,
  ) => void;
}
declare const MANIFEST: PrecacheEntry[];
const scope = self as unknown as Scope;

scope.addEventListener('install', (event) => {
  event.waitUntil(scope.skipWaiting());
});
scope.addEventListener('activate', (event) => {
  event.waitUntil(scope.clients.claim());
});

// The app itself, so that a page opens without signal. Heavy parts for the desk stay on the server.
precacheAndRoute(MANIFEST);
cleanupOutdatedCaches();
registerRoute(new NavigationRoute(createHandlerBoundToURL('/index.html'), { denylist: [/^\/api\//] }));

// Its own types are looser than ours about what may be left out.
const kept: unknown = new ExpirationPlugin({ maxEntries: 300, maxAgeSeconds: 14 * 86_400, purgeOnQuotaError: true });
// What the book's clock showed then would set the page's wrong later.
const withoutClock: WorkboxPlugin = {
  cacheWillUpdate: ({ response }) => {
    if (!response.ok) return Promise.resolve(null);
    const headers = new Headers(response.headers);
    headers.delete(CLOCK_HEADER);
    return Promise.resolve(new Response(response.body, { status: response.status, headers }));
  },
};
// An answer that was on its way while an entry was taken would lay an older card down than is kept.
const neverOlder: WorkboxPlugin = {
  cacheWillUpdate: async ({ request, response }) => {
    if (!isCard(new URL(request.url).pathname)) return response;
    const found = await caches.match(request, { cacheName: CARD_CACHE, ignoreVary: true });
    if (!found) return response;
    const answer: unknown = await response.clone().json();
    const card = withKept((await found.json()) as Card, answer as Card);
    return card === answer ? response : rewritten(response, card);
  },
};
type Card = Parameters<typeof withKept>[0];
registerRoute(
  // Fresh where there is signal.
  ({ url, request }) => request.method === 'GET' && isKept(url.pathname),
  new NetworkFirst({
    cacheName: CARD_CACHE,
    networkTimeoutSeconds: 6,
    plugins: [kept as WorkboxPlugin, withoutClock, neverOlder],
  }),
);
