// `npm run plan`: plans a problem from a file. Nothing but the plan goes to standard output.
// @ts-check
import { spawn } from 'node:child_process';
import { join } from 'node:path';
import { needModules } from './install.mjs';

const began = Date.now();
const root = join(import.meta.dirname, '..');
needModules(root);
const { buildPlan } = await import('./build.mjs');
await buildPlan(root);
const child = spawn(process.execPath, [join(root, 'dist/plan/plan.js'), ...process.argv.slice(2)], { stdio: 'inherit', env: { ...process.env, DIURNA_PLAN_BEGAN: String(began) } });
for (const signal of /** @type {const} */ (['SIGINT', 'SIGTERM'])) process.on(signal, () => child.kill(signal));
child.once('exit', (status) => { process.exitCode = status ?? 1; });
