// Which routes of the contract no test calls: found by method and path in the tests' own words.
// `node scripts/routes-in-tests.mjs` lists them; it fails when there is one.
// @ts-check
import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';

const root = join(import.meta.dirname, '..');
/** @param {string} path @returns {string[]} */
const below = (path) =>
  readdirSync(join(root, path), { withFileTypes: true }).flatMap((e) =>
    e.name === 'node_modules' ? [] : e.isDirectory() ? below(`${path}/${e.name}`) : [`${path}/${e.name}`],
  );
const tests = ['server', 'e2e', 'contract', 'web']
  .flatMap(below)
  .filter((f) => /\.test\.tsx?$|\/test\/|^e2e\//.test(f))
  .map((f) => readFileSync(join(root, f), 'utf8'))
  .join('\n');
const contract = below('contract')
  .filter((f) => f.endsWith('.ts') && !f.includes('test'))
  .map((f) => readFileSync(join(root, f), 'utf8'))
  .join('\n');

/** Called by the address another route gave: its path stands in no test. */
const BY_ADDRESS = new Map([['personCalendar', 'giveCalendarKey']]);

const lost = [];
for (const [, name, method, path] of contract.matchAll(
  / {2}(\w+): route\(\{\s*method: '(\w+)',\s*path: '\/api([^']+)'/g,
)) {
  const words = path
    .replaceAll(/[.*+?^${}()|[\]\\/]/g, '\\$&')
    .replaceAll(/:\w+/g, '(?:\\$\\{[^}]*(?:\\{[^}]*\\}[^}]*)*\\}|[^\\s\'"`?/]+)');
  const called = [
    // ilse.post('/jobs', client.get<Row[]>(`/jobs/${id}`)
    `\\.${method}(?:<[\\s\\S]{0,240}?>)?\\(\\s*['"\`](?:\\$\\{address\\})?(?:/api)?${words}['"\`?]`,
    // refused('post', '/jobs'), call<T>('POST', '/jobs')
    `['"]${method}['"],\\s*['"\`](?:\\$\\{address\\})?(?:/api)?${words}['"\`?]`,
    // fetch(`${address}/api/live`)
    ...(method === 'get' ? [`(?:fetch|get|ask)\\(\\s*['"\`](?:\\$\\{address\\})?(?:/api)?${words}['"\`?]`] : []),
    // fetch(`${address}/api/plan/compute`, { method: 'POST'
    `\\(\\s*['"\`](?:\\$\\{address\\})?(?:/api)?${words}['"\`],\\s*\\{\\s*method: '${method.toUpperCase()}'`,
  ];
  const giver = BY_ADDRESS.get(name ?? '');
  if (giver && tests.includes('/session/calendar-key')) continue;
  if (!called.some((c) => new RegExp(c, 'i').test(tests))) lost.push(`${name} ${method} ${path}`);
}
console.log(lost.length === 0 ? 'every route is called in a test' : `routes no test calls:\n${lost.join('\n')}`);
process.exit(lost.length === 0 ? 0 : 1);
