/**
 * The page's clock: the book's, whatever this device shows. Every answer of the book tells what its clock shows;
 * the difference is kept on the device, so that it holds without signal and after a reload.
 */
const KEY = 'diurna-clock-ahead';
/** Less than the way of an answer can be: not a difference. */
const SLACK_MS = 2_000;

/** Absent where there is no page, as in unit tests. */
const store = typeof localStorage === 'undefined' ? null : localStorage;

let ahead = Number(store?.getItem(KEY) ?? 0) || 0;

/** The present moment, milliseconds since 1970. */
export const now = (): number => Date.now() + ahead;

/** Goes by what the book's clock showed just now; `told` is an instant. */
export function goBy(told: string): void {
  const difference = Date.parse(told) - Date.now();
  if (Number.isNaN(difference) || Math.abs(difference - ahead) <= SLACK_MS) return;
  ahead = Math.abs(difference) <= SLACK_MS ? 0 : difference;
  store?.setItem(KEY, String(ahead));
}
