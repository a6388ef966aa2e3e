// Installs the npm packages when they are missing or the lock file has changed. Uses nothing but Node.
// @ts-check
import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { Trouble } from './trouble.mjs';

/** @param {string} root */
export function needModules(root) {
  const [major = 0, minor = 0] = process.versions.node.split('.').map(Number);
  if (major < 20 || (major === 20 && minor < 19))
    throw new Trouble(`Diurna needs Node.js 20.19 or newer; this is ${process.versions.node}.`);
  const stamp = join(root, 'node_modules/.diurna-lock');
  const hash = createHash('sha256')
    .update(readFileSync(join(root, 'package-lock.json')))
    .digest('hex');
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === hash) return;
  console.error('Installing the npm packages (once, a minute or two) ...');
  const done = spawnSync('npm', ['ci', '--ignore-scripts', '--no-audit', '--no-fund', '--loglevel=error'], {
    cwd: root,
    stdio: ['ignore', 2, 2],
  });
  if (done.status !== 0)
    throw new Trouble('The npm packages could not be installed. Is this machine connected? Run "npm ci" to see more.');
  writeFileSync(stamp, hash);
}
