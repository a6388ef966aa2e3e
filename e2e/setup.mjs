// The whole app with the demo fleet on a private port and database, for all browser tests.
import { chmodSync, mkdtempSync, readFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { startCluster } from '../scripts/cluster.mjs';

export default async function setup() {
  const root = join(import.meta.dirname, '..');
  const folder = mkdtempSync(join(tmpdir(), 'diurna-e2e-'));
  chmodSync(folder, 0o755);
  const cluster = await startCluster(folder, { fast: true });
  const server = await import(join(root, 'dist/server.js'));
  const { fillDemo, DEMO_ACCOUNTS } = await import(join(root, 'dist/demo.js'));
  const running = await server.start({
    databaseUrl: cluster.url, port: 0, version: JSON.parse(readFileSync(join(root, 'package.json'), 'utf8')).version,
    migrations: join(root, 'server/db/migrations'), webRoot: join(root, 'dist/web'), demoAccounts: DEMO_ACCOUNTS, secureCookie: false, logLevel: 'error',
  });
  const address = `http://127.0.0.1:${running.port}`;
  await fillDemo(address, new Date());
  process.env.DIURNA_E2E_ADDRESS = address;
  process.env.DIURNA_E2E_DATABASE = cluster.url;
  globalThis.__diurnaE2e = { cluster, running, folder };
}
