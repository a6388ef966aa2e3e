// `npm run bench`: the measures with their references; `npm run bench -- core`, `visit`, `forecast`, `planner`, `cards`,
// `crowd` or `api` only those.
// `npm run attack` (--attack): the long attacks, each bounded and on this machine alone. `npm run attack -- fuzz 50000`
// sends requests made from the contract; `files 2000` odd files; `chaos 100` kills app, worker and database at random
// moments under writers, and looks whether what was acknowledged is there, once, and nothing is half.
// @ts-check
import { spawn } from 'node:child_process';
import { join } from 'node:path';
import { needPackages } from './cluster.mjs';
import { needModules } from './install.mjs';

const root = join(import.meta.dirname, '..');
const attack = process.argv[2] === '--attack';
needPackages('postgres', ...(attack ? [] : /** @type {const} */ (['chromium'])));
needModules(root);
const { build } = await import('./build.mjs');
await build(root);
const [file, args] = attack ? ['bench/attack.ts', process.argv.slice(3)] : ['bench/run.ts', process.argv.slice(2)];
const child = spawn(process.execPath, ['--import', 'tsx', join(root, file), ...args], { cwd: root, stdio: 'inherit' });
for (const signal of /** @type {const} */ (['SIGINT', 'SIGTERM'])) process.on(signal, () => child.kill(signal));
child.once('exit', (status) => process.exit(status ?? 1));
