// `npm run screenshots`: the pictures of docs/screenshots, made anew from the demo data.
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
// The instant of the tests, so that a picture changes when its view does.
process.env.DIURNA_NOW ||= '2026-04-15T10:00:00Z';
const done = spawnSync(process.execPath, ['--import', 'tsx', join(root, 'e2e/screenshots.ts')], {
  cwd: root,
  stdio: 'inherit',
});
process.exit(done.status ?? 1);
