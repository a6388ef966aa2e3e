// `npm test`: format, lint, types, unit, server and browser tests; installs what a fresh machine lacks.
// `npm run check` (--quick): without server and browser tests. `npm run test:dates` (--dates): the browser tests at
// every hour that has tripped us; in `npm test` two of these by turns, with the tests of the demo's story.
// `npm run coverage` (--coverage): what unit, component and server tests cover, against a floor a package.
// @ts-check
import { spawn, spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { needPackages } from './cluster.mjs';
import { coverage } from './coverage.mjs';
import { needModules } from './install.mjs';
import { scratchInMemory } from './scratch.mjs';
import { Trouble } from './trouble.mjs';

const root = join(import.meta.dirname, '..');
const quick = process.argv.includes('--quick');
const allDates = process.argv.includes('--dates');
const measured = process.argv.includes('--coverage');
const bin = (/** @type {string} */ path) => join(root, 'node_modules', path);
const PACKAGES = ['core', 'contract', 'server', 'web', 'demo', 'e2e', 'bench'];

/**
 * Instants at which the whole app is tried, with the zone of the machine. The demo's bases are in Madeira.
 * @type {{ name: string, now: string, zone: string, hemisphere?: string }[]}
 */
const DATES = [
  { name: 'a Sunday night', now: '2026-07-12T22:20:00Z', zone: 'UTC' },
  { name: 'a clock change at the base, by a machine elsewhere', now: '2026-03-29T00:56:00Z', zone: 'Asia/Kathmandu' },
  { name: '29 February', now: '2028-02-29T09:10:00Z', zone: 'America/St_Johns' },
  { name: 'over New Year, at a southern base', now: '2026-12-31T23:55:00Z', zone: 'UTC', hemisphere: 'south' },
  { name: 'before dawn, when it is another day at the machine', now: '2026-10-24T03:40:00Z', zone: 'Pacific/Honolulu' },
  { name: 'the end of summer time, in 2029', now: '2029-10-28T00:50:00Z', zone: 'Europe/Berlin' },
];

/**
 * Runs a program; what it prints is shown when it fails.
 * @param {string[]} args @param {Record<string, string>} [env] @returns {Promise<boolean>}
 */
function node(args, env = {}) {
  return new Promise((done) => {
    const child = spawn(process.execPath, args, {
      cwd: root,
      env: { ...process.env, ...env },
      stdio: ['ignore', 'pipe', 'pipe'],
    });
    let said = '';
    child.stdout.on('data', (chunk) => {
      said += String(chunk);
    });
    child.stderr.on('data', (chunk) => {
      said += String(chunk);
    });
    child.once('exit', (status) => {
      if (status !== 0) console.log(said.slice(-20_000));
      done(status === 0);
    });
  });
}

/** @type {Record<string, number>} */
const WORKERS = { server: 4, e2e: 3 };

let passed = 0;
let failed = 0;
const seconds = (/** @type {number} */ began) => `${((performance.now() - began) / 1000).toFixed(1)} s`;

async function step(/** @type {string} */ name, /** @type {() => Promise<boolean>} */ work) {
  const began = performance.now();
  const ok = await work();
  if (ok) passed++;
  else failed++;
  console.log(`${ok ? 'ok  ' : 'FAIL'} ${name} (${seconds(began)})`);
}

/** @param {string} project @param {{ name?: string, args?: string[], env?: Record<string, string> }} [how] */
async function jest(project, { name = project, args = [], env = {} } = {}) {
  const began = performance.now();
  const report = join(root, `.cache/${name.replaceAll(/\W+/g, '-')}.json`);
  mkdirSync(join(root, '.cache'), { recursive: true });
  rmSync(report, { force: true });
  const ok = await node(
    [
      bin('jest/bin/jest.js'),
      '--selectProjects',
      project,
      // Those that wait for a database or a browser leave a core idle now and then.
      `--maxWorkers=${WORKERS[project] ?? 2}`,
      // What takes longer on a machine that is held down has not failed.
      '--testTimeout=300000',
      '--json',
      `--outputFile=${report}`,
      ...args,
    ],
    {
      NODE_OPTIONS: '--experimental-vm-modules --disable-warning=ExperimentalWarning',
      LANGUAGE: 'en_GB',
      // A zone with odd minutes, far from every base: no test may lean on the machine's own clock.
      TZ: 'Pacific/Chatham',
      ...env,
    },
  );
  const counted = existsSync(report)
    ? JSON.parse(readFileSync(report, 'utf8'))
    : { numPassedTests: 0, numFailedTests: 1 };
  passed += counted.numPassedTests;
  failed += counted.numFailedTests;
  // A file that cannot even be loaded has no tests to fail.
  if (!ok && counted.numFailedTests === 0) failed++;
  console.log(
    `${ok ? 'ok  ' : 'FAIL'} ${name} tests: ${counted.numPassedTests} passed, ${counted.numFailedTests} failed (${seconds(began)})`,
  );
}

const covered = (/** @type {string} */ project) => [
  '--coverage',
  '--coverageProvider=v8',
  '--coverageReporters=json-summary',
  `--coverageDirectory=.cache/coverage/${project}`,
];

/** Two of the dates, others at every commit. */
function datesInTurn() {
  const counted = spawnSync('git', ['rev-list', '--count', 'HEAD'], { cwd: root, encoding: 'utf8' });
  const turn = Number(counted.stdout) || 0;
  return [0, 1].map((i) => DATES[(turn * 2 + i) % DATES.length]);
}

/** @param {(typeof DATES)[number]} date @param {string[]} args */
function atDate({ name, now, zone, hemisphere }, args) {
  return jest('e2e', {
    name: `browser, ${name}:`,
    args,
    env: { DIURNA_NOW: now, TZ: zone, DIURNA_E2E_HEMISPHERE: hemisphere ?? 'north' },
  });
}

async function everything() {
  // Said before anything long: whoever has to install something does not wait for it first.
  if (!quick) needPackages('postgres', 'chromium');
  needModules(root);
  const { build } = await import('./build.mjs');
  if (measured) {
    for (const project of ['unit', 'page', 'server']) await jest(project, { args: covered(project) });
    await step('coverage', () => {
      const { text, ok } = coverage(root);
      console.log(`     lines covered: ${text}`);
      return Promise.resolve(ok);
    });
    return;
  }
  if (allDates) {
    await build(root);
    for (const date of DATES) await atDate(date, []);
    return;
  }
  // Two chains, for two cores.
  const still = Promise.all([
    // One reading of the tree for both: the linter's checker is the compiler.
    step('lint and types', () => node([bin('oxlint/bin/oxlint'), '--type-aware', '--type-check'])),
    step('format', () => node([bin('oxfmt/bin/oxfmt'), '--check', '.']))
      .then(() =>
        step('arrows between the packages', () =>
          node([
            bin('dependency-cruiser/bin/dependency-cruise.mjs'),
            '--config',
            '.dependency-cruiser.cjs',
            ...PACKAGES,
          ]),
        ),
      )
      .then(() => step('the house', () => node(['--import', 'tsx', join(root, 'scripts/house.ts')])))
      .then(() => step('style sheets', () => node(['--import', 'tsx', join(root, 'scripts/styles.ts')])))
      .then(() => step('packages and licences', () => node([join(root, 'scripts/packages.mjs')]))),
  ]);
  if (quick) {
    await still;
    await jest('unit');
    await jest('page');
    return;
  }
  await Promise.all([still, jest('unit')]);
  // Server tests wait for their database while those of the page work.
  await Promise.all([jest('page'), jest('server')]);
  await step('every route is called in a test', () => node([join(root, 'scripts/routes-in-tests.mjs')]));
  await step('build', async () => {
    await build(root);
    return true;
  });
  // Side by side, each with databases of its own: while one waits the others go on. Everything is closed by the end; a
  // handle somebody forgot must not keep the run from ending.
  await Promise.all([
    jest('e2e', { name: 'browser', args: ['--forceExit'] }),
    ...datesInTurn().map((date) => atDate(date, ['--testPathPatterns', 'story', '--forceExit'])),
  ]);
}

const { scratch, cleanUp } = scratchInMemory();
if (scratch) process.env.TMPDIR = scratch;
try {
  await everything();
} catch (error) {
  failed++;
  console.error(error instanceof Trouble ? error.message : error);
}
cleanUp();
console.log(`${passed} passed, ${failed} failed`);
process.exit(failed === 0 ? 0 : 1);
