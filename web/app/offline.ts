/** What the book said last, kept on this device for when there is no signal. */
export const CARD_CACHE = 'diurna-cards';

const KEPT =
  /^\/api\/(session|jobs|fleet\/bases|people|settings|day\/ribbon|hires|usage\/hours|snags|visit\/step-pictures|season\/batteries)(\/|$)/;
/** What people on the dock need: who one is, the cards and their pictures, boats out and back, hours wanted, snags. */
export const isKept = (path: string): boolean => KEPT.test(path) && path !== '/api/session/notices';

/** The address of one card. */
export const isCard = (path: string): boolean => /^\/api\/jobs\/\d+$/.test(path);

interface Entered {
  entries: { id: string; seq: number | null }[];
}

/**
 * A card after an answer of the book. One that was on its way while an entry was taken does not know it yet: entries
 * only ever grow, so those that came after it stand. Without, the step at hand jumps back under the thumb, with what is
 * being typed there.
 */
export function withKept<C extends Entered>(known: C, answer: C): C {
  const last = answer.entries.reduce((most, e) => Math.max(most, e.seq ?? 0), 0);
  const later = known.entries.filter((e) => (e.seq ?? 0) > last);
  return later.length === 0 ? answer : { ...answer, entries: [...answer.entries, ...later] };
}

/** A card with entries the book has just taken. */
export function withTaken<C extends Entered>(card: C, taken: C['entries']): C {
  const fresh = taken.filter((entry) => !card.entries.some((e) => e.id === entry.id));
  return fresh.length === 0 ? card : { ...card, entries: [...card.entries, ...fresh] };
}

/** Changes what is kept of an address, where something is; the next time without signal it is read so. */
export async function changeKept<T>(path: string, change: (kept: T) => T): Promise<void> {
  if (!('caches' in globalThis)) return;
  const cache = await caches.open(CARD_CACHE);
  const found = await cache.match(path, { ignoreVary: true });
  if (!found) return;
  const kept = (await found.json()) as T;
  const changed = change(kept);
  if (changed !== kept) await cache.put(path, rewritten(found, changed));
}

/** An answer with another body. */
export function rewritten(answer: Response, body: unknown): Response {
  const headers = new Headers(answer.headers);
  for (const name of ['content-length', 'content-encoding', 'etag']) headers.delete(name);
  return new Response(JSON.stringify(body), { status: answer.status, headers });
}

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
