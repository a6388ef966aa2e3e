/** How long a test waits for what has to come: it costs nothing where it comes soon, and machines are shared. */
const PATIENCE_MS = 90_000;

/** Asks again and again until there is an answer. @throws `trouble` when none ever comes */
export async function answered<T>(ask: () => Promise<T | null> | T | null, trouble: () => string): Promise<T> {
  const began = performance.now();
  for (;;) {
    const answer = await ask();
    if (answer !== null) return answer;
    if (performance.now() - began > PATIENCE_MS) throw new Error(trouble());
    await new Promise((r) => setTimeout(r, 20));
  }
}
