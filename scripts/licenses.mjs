// Whether every package that is shipped allows what LICENSE promises: `node scripts/licenses.mjs` lists the
// licences of the production packages and fails at one that is not permissive.
// @ts-check
import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';

const root = join(import.meta.dirname, '..');
/** Permissive, or (MPL-2.0, fonts) free to ship unchanged beside our own. */
const ALLOWED =
  /^(MIT|MIT-0|ISC|BSD-2-Clause|BSD-3-Clause|0BSD|Apache-2\.0|BlueOak-1\.0\.0|OFL-1\.1|CC0-1\.0|Unlicense|Python-2\.0|MPL-2\.0|Zlib|WTFPL)$/;
/** @type {Record<string, { dev?: boolean, optional?: boolean, link?: boolean }>} */
const packages = JSON.parse(readFileSync(join(root, 'package-lock.json'), 'utf8')).packages;
/** @type {Map<string, string[]>} */
const by = new Map();
for (const [path, p] of Object.entries(packages)) {
  const file = join(root, path, 'package.json');
  if (!path.includes('node_modules/') || p.dev || p.link || !existsSync(file)) continue;
  const { name, license, licenses } = JSON.parse(readFileSync(file, 'utf8'));
  const said = typeof license === 'string' ? license : (license?.type ?? licenses?.[0]?.type ?? 'none');
  by.set(said, [...(by.get(said) ?? []), name]);
}
/** "(MIT OR GPL-2.0)" allows as soon as one of them does. @param {string} said */
const allows = (said) =>
  said
    .replaceAll(/[()]/g, '')
    .split(/ OR /)
    .some((one) => one.split(/ AND /).every((x) => ALLOWED.test(x.trim())));
const bad = [...by].filter(([said]) => !allows(said));
for (const [said, names] of [...by].sort((a, b) => b[1].length - a[1].length))
  console.log(`${names.length} ${said}${names.length < 6 ? `: ${names.join(', ')}` : ''}`);
for (const [said, names] of bad) console.error(`not allowed: ${said} (${names.join(', ')})`);
process.exit(bad.length === 0 ? 0 : 1);
