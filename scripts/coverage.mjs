// What the tests of a run covered, by package, against its floor. Browser tests count for nothing here: they run
// the built app. `npm test` prints it.
// @ts-check
import { existsSync, readFileSync } from 'node:fs';
import { join, relative } from 'node:path';

/** Percent of lines; a little below what stands, so that it only goes up. */
const FLOORS = { core: 90, contract: 95, server: 85, demo: 60, web: 30 };

/** @param {string} root @returns {{ text: string, ok: boolean }} */
export function coverage(root) {
  /** @type {Map<string, { covered: number, total: number }>} by file: the best that any run covered */
  const best = new Map();
  for (const project of ['unit', 'page', 'server']) {
    const path = join(root, '.cache/coverage', project, 'coverage-summary.json');
    if (!existsSync(path)) continue;
    for (const [file, { lines }] of Object.entries(JSON.parse(readFileSync(path, 'utf8')))) {
      if (file === 'total') continue;
      const name = relative(root, file);
      const known = best.get(name);
      if (!known || lines.covered > known.covered) best.set(name, lines);
    }
  }
  let ok = true;
  const text = Object.entries(FLOORS).map(([name, floor]) => {
    const files = [...best].filter(([file]) => file.startsWith(`${name}/`)).map(([, lines]) => lines);
    const covered = files.reduce((sum, f) => sum + f.covered, 0);
    const total = files.reduce((sum, f) => sum + f.total, 0);
    const percent = total === 0 ? 0 : (100 * covered) / total;
    if (percent < floor) ok = false;
    return `${name} ${percent.toFixed(1)} % (floor ${floor})`;
  });
  return { text: text.join(', '), ok };
}
