/** What the book said last, kept on this device for when there is no signal. */
export const CARD_CACHE = 'diurna-cards';

/** Starts the service worker, where the page was built with one. */
export function workOffline(): void {
  if (!('serviceWorker' in navigator) || !import.meta.env.PROD) return;
  addEventListener('load', () => {
    navigator.serviceWorker.register('/sw.js').catch(() => {
      // Private windows refuse it; the book then needs signal.
    });
  });
}

/** Nothing of one person is left for the next on a shared phone; what waits to be sent stays. */
export async function forgetKept(): Promise<void> {
  if ('caches' in globalThis) await caches.delete(CARD_CACHE);
}
