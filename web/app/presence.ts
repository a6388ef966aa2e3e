/** Somebody is at the page for so long after the last touch or key. */
const STAYS_MS = 2 * 60_000;

let last = performance.now();
const here = () => {
  last = performance.now();
};
if (typeof addEventListener === 'function')
  for (const kind of ['pointerdown', 'keydown', 'wheel'])
    addEventListener(kind, here, { capture: true, passive: true });

/** Whether somebody is at the page: what it asks with nobody there keeps no session open. */
export const isPresent = (): boolean => performance.now() - last < STAYS_MS;
