// Where tests put what nobody keeps: a book for each file, a profile for each browser. Thousands of small files are made
// and taken away, which in memory takes no time at all.
// @ts-check
import { chmodSync, existsSync, mkdtempSync, readdirSync, rmSync, statfsSync } from 'node:fs';
import { join } from 'node:path';

const MEMORY = '/dev/shm';
/** Bytes that have to be free, or the disk is taken: small containers give their memory 64 MB here. */
const ENOUGH = 6 * 2 ** 30;

/** Bytes free in memory; none where the system has no such folder. */
function freeInMemory() {
  try {
    const { bavail, bsize } = statfsSync(MEMORY);
    return bavail * bsize;
  } catch {
    return 0;
  }
}

/** Takes away what runs left that were killed outright: those whose process is not there any more. */
function sweep() {
  for (const name of readdirSync(MEMORY)) {
    const pid = Number(/^diurna-tests-(\d+)-/.exec(name)?.[1]);
    if (!pid || existsSync(`/proc/${pid}`)) continue;
    rmSync(join(MEMORY, name), { recursive: true, force: true });
  }
}

/** @returns {{ scratch: string | null, cleanUp: () => void }} a folder in memory, or null where there is no room */
export function scratchInMemory() {
  if (existsSync(MEMORY)) sweep();
  if (freeInMemory() < ENOUGH) return { scratch: null, cleanUp: () => {} };
  const scratch = mkdtempSync(join(MEMORY, `diurna-tests-${process.pid}-`));
  // The database's own user works below it.
  chmodSync(scratch, 0o755);
  const cleanUp = () => {
    rmSync(scratch, { recursive: true, force: true, maxRetries: 3 });
  };
  // Also when the run is broken off.
  for (const signal of /** @type {const} */ (['SIGINT', 'SIGTERM']))
    process.once(signal, () => {
      cleanUp();
      process.exit(1);
    });
  return { scratch, cleanUp };
}
