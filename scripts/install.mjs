// Installs the npm packages when they are missing or the lock file has changed. Uses nothing but Node.
// @ts-check
import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { Trouble } from './trouble.mjs';

const WAIT_MS = 500;

/** @param {string} path @returns {Record<string, { version?: string, optional?: boolean, link?: boolean }>} */
const packagesOf = (path) => JSON.parse(readFileSync(path, 'utf8')).packages ?? {};

/** Whether what lies in node_modules is what the lock file says, whoever put it there. @param {string} root */
function installed(root) {
  const theirs = join(root, 'node_modules/.package-lock.json');
  if (!existsSync(theirs)) return false;
  const have = packagesOf(theirs);
  return Object.entries(packagesOf(join(root, 'package-lock.json'))).every(
    ([name, p]) => !name.startsWith('node_modules/') || p.optional || p.link || have[name]?.version === p.version,
  );
}

/** @param {number} pid */
function alive(pid) {
  try {
    process.kill(pid, 0);
    return true;
  } catch (error) {
    return /** @type {{ code?: string }} */ (error).code === 'EPERM';
  }
}

/** Runs `work` while no other process of this project installs. @param {string} root @param {() => void} work */
function alone(root, work) {
  const lock = join(root, '.cache/installing');
  mkdirSync(join(root, '.cache'), { recursive: true });
  let told = false;
  for (;;) {
    try {
      writeFileSync(lock, String(process.pid), { flag: 'wx' });
      break;
    } catch (error) {
      if (/** @type {{ code?: string }} */ (error).code !== 'EEXIST') throw error;
      const pid = Number(existsSync(lock) ? readFileSync(lock, 'utf8') : '0');
      // Its process was killed.
      if (pid > 0 && !alive(pid)) rmSync(lock, { force: true });
      else {
        if (!told) console.error('Another start installs the npm packages; waiting for it ...');
        told = true;
        Atomics.wait(new Int32Array(new SharedArrayBuffer(4)), 0, 0, WAIT_MS);
      }
    }
  }
  try {
    work();
  } finally {
    rmSync(lock, { force: true });
  }
}

/** @param {string} root */
export function needModules(root) {
  const [major = 0, minor = 0] = process.versions.node.split('.').map(Number);
  if (major < 20 || (major === 20 && minor < 19))
    throw new Trouble(`Diurna needs Node.js 20.19 or newer; this is ${process.versions.node}.`);
  const stamp = join(root, 'node_modules/.diurna-lock');
  const hash = createHash('sha256')
    .update(readFileSync(join(root, 'package-lock.json')))
    .digest('hex');
  const known = () => existsSync(stamp) && readFileSync(stamp, 'utf8') === hash;
  if (known()) return;
  alone(root, () => {
    if (known()) return;
    if (!installed(root)) {
      console.error('Installing the npm packages (once, a minute or two) ...');
      const done = spawnSync('npm', ['ci', '--ignore-scripts', '--no-audit', '--no-fund', '--loglevel=error'], {
        cwd: root,
        stdio: ['ignore', 2, 2],
      });
      if (done.status !== 0)
        throw new Trouble(
          'The npm packages could not be installed. Is this machine connected? Run "npm ci" to see more.',
        );
    }
    writeFileSync(stamp, hash);
  });
}
