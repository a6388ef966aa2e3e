/** Pages a label may open. */
const PLACES = [/^\/stores\/parts\/\d+$/, /^\/fleet\/boats\/\d+$/, /^\/fleet\/engines\/\d+$/, /^\/jobs\/\d+$/];

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
  return PLACES.some((p) => p.test(url.pathname)) ? url.pathname : null;
}
