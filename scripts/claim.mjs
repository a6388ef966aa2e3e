// Who works on a data folder: one start at a time. A second one would take the first's database away.
// @ts-check
import { readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { Trouble } from './trouble.mjs';

/** @typedef {{ pid: number, born: string | null, where: string }} Claim */

const fileOf = (/** @type {string} */ folder) => join(folder, 'running.json');

/** When a process began, in ticks since the machine did (proc(5), field 22): a number used again is another's. */
function bornOf(/** @type {number} */ pid) {
  try {
    const stat = readFileSync(`/proc/${pid}/stat`, 'utf8');
    return stat.slice(stat.lastIndexOf(')') + 2).split(' ')[19] ?? null;
  } catch {
    return null;
  }
}

function alive(/** @type {Claim} */ { pid, born }) {
  try {
    process.kill(pid, 0);
  } catch (error) {
    // It is there, and another user's.
    if (/** @type {{ code?: string }} */ (error).code !== 'EPERM') return false;
  }
  return born === null || bornOf(pid) === born;
}

/** Who works on the folder now; null = nobody, or somebody who is gone. @param {string} folder @returns {Claim | null} */
export function claimOf(folder) {
  try {
    const claim = JSON.parse(readFileSync(fileOf(folder), 'utf8'));
    return alive(claim) ? claim : null;
  } catch {
    return null;
  }
}

/** @param {string} folder @throws Trouble when somebody else works on it */
export function needUnclaimed(folder) {
  const claim = claimOf(folder);
  if (claim && claim.pid !== process.pid)
    throw new Trouble(
      `The book in ${folder} is open already: process ${claim.pid}, since ${statSync(fileOf(folder)).mtime.toISOString()}, at ${claim.where}. Nothing was stopped or changed. Use that one, end it first (kill ${claim.pid}), or open another book: DIURNA_DATA=FOLDER DIURNA_PORT=4152 npm start`,
    );
}

/**
 * Takes the folder for this process.
 * @param {string} folder @param {string} where the book can be seen @returns {() => void} gives it free again
 * @throws Trouble when somebody else works on it
 */
export function claim(folder, where) {
  const mine = JSON.stringify({ pid: process.pid, born: bornOf(process.pid), where });
  for (;;) {
    needUnclaimed(folder);
    try {
      // Left over from one that is gone.
      rmSync(fileOf(folder), { force: true });
      // Two at the same moment: one of them makes the file.
      writeFileSync(fileOf(folder), mine, { flag: 'wx' });
    } catch (error) {
      if (/** @type {{ code?: string }} */ (error).code === 'EEXIST') continue;
      throw error;
    }
    break;
  }
  return () => {
    if (claimOf(folder)?.pid === process.pid) rmSync(fileOf(folder), { force: true });
  };
}
