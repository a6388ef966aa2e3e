// `npm test`: lint, types, unit, server and browser tests; installs what a fresh machine lacks.
// `npm run check` (--quick): lint, types and unit tests only.
// @ts-check
import { spawn } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { needModules } from './install.mjs';
import { Trouble } from './trouble.mjs';

const root = join(import.meta.dirname, '..');
const quick = process.argv.includes('--quick');
const bin = (/** @type {string} */ path) => join(root, 'node_modules', path);

/**
 * Runs a program; what it prints is shown when it fails, or at once for tests.
 * @param {string[]} args @param {{ show?: boolean, env?: Record<string, string> }} [how] @returns {Promise<boolean>}
 */
function node(args, how = {}) {
  return new Promise((done) => {
    const child = spawn(process.execPath, args, {
      cwd: root,
      env: { ...process.env, ...how.env },
      stdio: ['ignore', how.show ? 'inherit' : 'pipe', how.show ? 'inherit' : 'pipe'],
    });
    let said = '';
    child.stdout?.on('data', (chunk) => {
      said += String(chunk);
    });
    child.stderr?.on('data', (chunk) => {
      said += String(chunk);
    });
    child.once('exit', (status) => {
      if (status !== 0 && !how.show) console.log(said.slice(-20_000));
      done(status === 0);
    });
  });
}

let passed = 0;
let failed = 0;

async function step(/** @type {string} */ name, /** @type {() => Promise<boolean>} */ work) {
  const began = performance.now();
  const ok = await work();
  if (ok) passed++;
  else failed++;
  console.log(`${ok ? 'ok  ' : 'FAIL'} ${name} (${((performance.now() - began) / 1000).toFixed(1)} s)`);
}

async function jest(/** @type {string} */ project, /** @type {string[]} */ more = []) {
  const report = join(root, `.cache/${project}.json`);
  mkdirSync(join(root, '.cache'), { recursive: true });
  rmSync(report, { force: true });
  const ok = await node(
    [
      bin('jest/bin/jest.js'),
      '--selectProjects',
      project,
      '--testTimeout=120000',
      '--json',
      `--outputFile=${report}`,
      ...more,
    ],
    {
      show: false, // A zone with odd minutes, far from every base: no test may lean on the machine's own clock.
      env: {
        NODE_OPTIONS: '--experimental-vm-modules --disable-warning=ExperimentalWarning',
        LANGUAGE: 'en_GB',
        ...(project !== 'e2e' && { TZ: 'Pacific/Chatham' }),
      },
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
    `${ok ? 'ok  ' : 'FAIL'} ${project} tests: ${counted.numPassedTests} passed, ${counted.numFailedTests} failed`,
  );
}

try {
  needModules(root);
  const packages = ['core', 'contract', 'server', 'web', 'demo', 'e2e', 'bench'];
  await step('types', async () =>
    (await Promise.all(packages.map((p) => node([bin('typescript7/bin/tsc'), '-p', p])))).every(Boolean),
  );
  await step('arrows between the packages', () =>
    node([bin('dependency-cruiser/bin/dependency-cruise.mjs'), '--config', '.dependency-cruiser.cjs', ...packages]),
  );
  // Long and alone on its core: the tests run beside it.
  const lint = step('lint', () => node([bin('eslint/bin/eslint.js'), '.']));
  await jest('unit');
  if (!quick) {
    const { needChromium, needPostgres } = await import('./cluster.mjs');
    needPostgres();
    needChromium();
    await jest('server');
    const { build } = await import('./build.mjs');
    await step('build', async () => {
      await build(root);
      return true;
    });
    await jest('e2e', ['--runInBand']);
  }
  await lint;
} catch (error) {
  failed++;
  console.error(error instanceof Trouble ? error.message : error);
}
console.log(`${passed} passed, ${failed} failed`);
process.exit(failed === 0 ? 0 : 1);
