/** Pages a label may open. */
const PLACES = [/^\/stores\/parts\/\d+$/, /^\/fleet\/boats\/\d+$/, /^\/fleet\/engines\/\d+$/, /^\/jobs\/\d+$/];

/** The sheet on which a shelf is counted: what the label of a shelf opens. */
export const shelfPath = (baseId: number, shelf: string): string =>
  `/stores/count?base=${baseId}&shelf=${encodeURIComponent(shelf)}`;

/** What a label of this kind of thing says: the address of its page. */
export const labelText = (origin: string, path: string): string => `${origin}${path}`;

/**
 * The page a scanned text opens: that of a label, under whatever name the book was served when it was printed. Null for
 * anything else; nothing outside the book is ever opened.
 */
export function placeOf(text: string): string | null {
  let url: URL;
  try {
    url = new URL(text.trim());
  } catch {
    return null;
  }
  if (url.protocol !== 'http:' && url.protocol !== 'https:') return null;
  if (url.pathname === '/stores/count') {
    const base = url.searchParams.get('base') ?? '';
    const shelf = url.searchParams.get('shelf') ?? '';
    return /^\d+$/.test(base) && shelf.length <= 60 ? shelfPath(Number(base), shelf) : null;
  }
  return PLACES.some((p) => p.test(url.pathname)) ? url.pathname : null;
}
