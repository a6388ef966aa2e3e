// `npm run bench`: the measures with their references; `npm run bench -- core`, `visit`, `forecast`, `planner`, `cards`,
// `crowd` or `api` only those.
// @ts-check
import { spawnSync } from 'node:child_process';
import { join } from 'node:path';
import { needModules } from './install.mjs';

const root = join(import.meta.dirname, '..');
const { needPackages } = await import('./cluster.mjs');
needPackages('postgres', 'chromium');
needModules(root);
const { build } = await import('./build.mjs');
await build(root);
const done = spawnSync(process.execPath, ['--import', 'tsx', join(root, 'bench/run.ts'), ...process.argv.slice(2)], {
  cwd: root,
  stdio: 'inherit',
});
process.exit(done.status ?? 1);
