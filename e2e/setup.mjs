// The whole app with the demo fleet on a private port and database, for all browser tests.
import { chmodSync, mkdtempSync, readFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import pg from 'pg';
import { startCluster } from '../scripts/cluster.mjs';

export default async function setup() {
  const root = join(import.meta.dirname, '..');
  const folder = mkdtempSync(join(tmpdir(), 'diurna-e2e-'));
  chmodSync(folder, 0o755);
  const cluster = await startCluster(folder, { fast: true });
  const server = await import(join(root, 'dist/server.js'));
  const { fillDemo, startBookingDesk, startEngineGateway, DEMO_ACCOUNTS } = await import(join(root, 'dist/demo.js'));
  const version = JSON.parse(readFileSync(join(root, 'package.json'), 'utf8')).version;
  const serve = (databaseUrl, demoAccounts) =>
    server.start({
      databaseUrl,
      port: 0,
      version,
      migrations: join(root, 'server/db/migrations'),
      webRoot: join(root, 'dist/web'),
      demoAccounts,
      secureCookie: false,
      logLevel: 'error',
    });
  const running = await serve(cluster.url, DEMO_ACCOUNTS);
  // A second, empty book for the first-run page.
  const client = new pg.Client({ connectionString: cluster.url });
  await client.connect();
  await client.query('create database empty_book');
  // A third, filled likewise, whose work is planned from end to end: the cards of the others stay as they are.
  await client.query('create database plan_book');
  await client.end();
  const empty = await serve(cluster.url.replace(/\/diurna$/, '/empty_book'), []);
  const plan = await serve(cluster.url.replace(/\/diurna$/, '/plan_book'), DEMO_ACCOUNTS);
  process.env.DIURNA_E2E_PLAN = `http://127.0.0.1:${plan.port}`;
  await fillDemo(process.env.DIURNA_E2E_PLAN, new Date());
  process.env.DIURNA_E2E_EMPTY = `http://127.0.0.1:${empty.port}`;
  const address = `http://127.0.0.1:${running.port}`;
  const desk = await startBookingDesk(0);
  await fillDemo(address, new Date(), desk.url);
  const boxes = await startEngineGateway(address);
  process.env.DIURNA_E2E_ADDRESS = address;
  process.env.DIURNA_E2E_DATABASE = cluster.url;
  globalThis.__diurnaE2e = { cluster, running, empty, plan, desk, boxes, folder };
}
