// `npm run packages`: what is shipped besides our own. Writes the bill of materials (CycloneDX) to
// `dist/bom.cdx.json`, tells the licences, and fails at one that is not permissive, or at a package of the lock file
// that is missing in the bill.
// @ts-check
import { spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';

const root = join(import.meta.dirname, '..');
/** Permissive, or (MPL-2.0, fonts) free to ship unchanged beside our own. */
const ALLOWED =
  /^(MIT|MIT-0|ISC|BSD-2-Clause|BSD-3-Clause|0BSD|Apache-2\.0|BlueOak-1\.0\.0|OFL-1\.1|CC0-1\.0|Unlicense|Python-2\.0|MPL-2\.0|Zlib|WTFPL)$/;
/** A library of its own that is loaded as it was shipped, and may be put in another's place: as its licence asks. */
const LOADED = /^@img\/sharp-libvips-/;

/** What says its licence in a file of its own and not in its package: read there, for this version. */
const WRITTEN = new Map([['png-js@2.0.0', 'MIT']]);

/**
 * @typedef {{ group?: string, name: string, version: string, components?: Component[],
 *   licenses?: { license?: { id?: string, name?: string }, expression?: string }[] }} Component
 */

/** @param {Component[] | undefined} components @returns {Component[]} */
const flat = (components) => (components ?? []).flatMap((c) => [c, ...flat(c.components)]);
/** @param {Component} c */
const nameOf = (c) => `${c.group ? `${c.group}/` : ''}${c.name}`;
/** @param {Component} c */
const licenceOf = (c) => {
  const first = c.licenses?.[0];
  const said = first?.expression ?? first?.license?.id ?? first?.license?.name;
  return said ?? WRITTEN.get(`${nameOf(c)}@${c.version}`) ?? 'none';
};
/** "(MIT OR GPL-2.0)" allows as soon as one of them does. @param {string} said */
const allows = (said) =>
  said
    .replaceAll(/[()]/g, '')
    .split(/ OR /)
    .some((one) => one.split(/ AND /).every((x) => ALLOWED.test(x.trim())));

/** Writes the bill of what is installed for use, without what only building and testing need. @returns {Component[]} */
function writeBill() {
  const file = join(root, 'dist/bom.cdx.json');
  mkdirSync(join(root, 'dist'), { recursive: true });
  const done = spawnSync(
    process.execPath,
    [
      join(root, 'node_modules/@cyclonedx/cyclonedx-npm/bin/cyclonedx-npm-cli.js'),
      ...['--omit', 'dev', '--output-reproducible', '--validate', '--output-file', file],
    ],
    { cwd: root, encoding: 'utf8' },
  );
  if (done.status !== 0) throw new Error(`the bill of materials could not be made: ${done.stderr.trim()}`);
  return flat(JSON.parse(readFileSync(file, 'utf8')).components);
}

/** Packages of the lock file that are installed for use and stand in no line of the bill. @param {Component[]} bill */
function missingIn(bill) {
  const known = new Set(bill.map((c) => `${nameOf(c)}@${c.version}`));
  /** @type {Record<string, { dev?: boolean, link?: boolean, version: string }>} */
  const packages = JSON.parse(readFileSync(join(root, 'package-lock.json'), 'utf8')).packages;
  return Object.entries(packages)
    .filter(([path, p]) => path.includes('node_modules/') && !p.dev && !p.link && existsSync(join(root, path)))
    .map(([path, p]) => `${path.split('node_modules/').at(-1)}@${p.version}`)
    .filter((name) => !known.has(name));
}

/** @returns {{ text: string, faults: string[] }} the licences, and what is wrong */
export function packages() {
  const bill = writeBill().filter((c) => c.group !== '@diurna');
  /** @type {Map<string, string[]>} */
  const by = new Map();
  for (const c of bill) by.set(licenceOf(c), [...(by.get(licenceOf(c)) ?? []), nameOf(c)]);
  const faults = missingIn(bill).map((name) => `missing in the bill: ${name}`);
  for (const [said, names] of by) {
    const not = allows(said) ? [] : names.filter((name) => !(said.startsWith('LGPL') && LOADED.test(name)));
    if (not.length > 0) faults.push(`not allowed: ${said} (${not.join(', ')})`);
  }
  const text = [...by]
    .sort((a, b) => b[1].length - a[1].length)
    .map(([said, names]) => `${names.length} ${said}${names.length < 6 ? ` (${names.join(', ')})` : ''}`)
    .join('\n');
  return { text: `${bill.length} packages\n${text}`, faults };
}

if (import.meta.url === pathToFileURL(process.argv[1] ?? '').href) {
  const { text, faults } = packages();
  console.log(text);
  for (const fault of faults) console.error(fault);
  process.exit(faults.length === 0 ? 0 : 1);
}
