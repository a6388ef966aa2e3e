// What `npm run plan` and `npm run order` have in common: the command is built, and reads the book where it is asked to.
// @ts-check
import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { needModules } from './install.mjs';

const root = join(import.meta.dirname, '..');

/** Plans a problem from a file, or the book's. Nothing but the plan goes to standard output. @param {'plan' | 'order'} command */
export async function runProblem(command) {
  const began = performance.now();
  needModules(root);
  const { buildPlan } = await import('./build.mjs');
  await buildPlan(root);
  process.env.DIURNA_PLAN_SETUP_MS = String(performance.now() - began);
  /** @type {(() => Promise<void>) | null} */
  let stop = null;
  let databaseUrl = process.env.DATABASE_URL;
  if (process.argv.includes('--book') && !databaseUrl) {
    // The private database: the one that runs, or started for as long as this takes.
    const { dataFolder, startCluster } = await import('./cluster.mjs');
    const data = dataFolder(root).folder;
    const running = join(data, 'postgres/postmaster.pid');
    if (existsSync(running))
      databaseUrl = `postgres://diurna:${encodeURIComponent(readFileSync(join(data, 'database-password'), 'utf8').trim())}@127.0.0.1:${readFileSync(running, 'utf8').split('\n')[3]}/diurna`;
    else {
      const cluster = await startCluster(data);
      databaseUrl = cluster.url;
      stop = cluster.stop;
    }
  }
  if (databaseUrl) process.env.DATABASE_URL = databaseUrl;
  await import(join(root, `dist/plan/${command}.js`));
  await stop?.();
}
