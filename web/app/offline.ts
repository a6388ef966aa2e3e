/** What the book said last, kept on this device for when there is no signal. */
export const CARD_CACHE = 'diurna-cards';

const KEPT = /^\/api\/(session|jobs|fleet\/bases|people|settings|day\/ribbon)(\/|$)/;
/** What a technician on the dock needs: who one is, the cards, pictures on them. */
export const isKept = (path: string): boolean => KEPT.test(path) && path !== '/api/session/notices';

/** Starts the service worker, where the page was built with one. */
export function workOffline(): void {
  if (!('serviceWorker' in navigator) || !import.meta.env.PROD) return;
  if (navigator.serviceWorker.controller === null)
    navigator.serviceWorker.addEventListener('controllerchange', keepWhatIsOpen, { once: true });
  addEventListener('load', () => {
    navigator.serviceWorker.register('/sw.js').catch(() => {
      // Private windows refuse it; the book then needs signal.
    });
  });
}

/**
 * The first time, the page was there before the worker: what it has read already is read once more, through the worker,
 * so that it is kept too.
 */
function keepWhatIsOpen(): void {
  const read = performance
    .getEntriesByType('resource')
    .map((e) => new URL(e.name))
    .filter((url) => url.origin === location.origin && isKept(url.pathname));
  for (const url of new Set(read.map((u) => u.href))) void fetch(url).catch(() => undefined);
}

/** Nothing of one person is left for the next on a shared phone; what waits to be sent stays. */
export async function forgetKept(): Promise<void> {
  if ('caches' in globalThis) await caches.delete(CARD_CACHE);
}
