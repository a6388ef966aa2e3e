// Books for the browser tests: the demo fleet is filled once, each test file works on a copy of its own.
import { chmodSync, mkdtempSync, readFileSync } from 'node:fs';
import { createServer } from 'node:http';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import pg from 'pg';
import { startCluster } from '../scripts/cluster.mjs';
import { fillBook } from '../scripts/demo-book.mjs';

export default async function setup() {
  const root = join(import.meta.dirname, '..');
  const folder = mkdtempSync(join(tmpdir(), 'diurna-e2e-'));
  chmodSync(folder, 0o755);
  const cluster = await startCluster(folder, { fast: true });
  const server = await import(join(root, 'dist/server.js'));
  const { fillDemo, startBookingDesk, startEngineGateway, DEMO_ACCOUNTS, DEMO_ZONE } = await import(
    join(root, 'dist/demo.js')
  );
  const clock = server.processClock();
  const now = clock();
  const options = {
    version: JSON.parse(readFileSync(join(root, 'package.json'), 'utf8')).version,
    migrations: join(root, 'server/db/migrations'),
    webRoot: join(root, 'dist/web'),
    demoAccounts: DEMO_ACCOUNTS,
    secureCookie: false,
    mail: null,
    trustedProxies: [],
    privateFeeds: ['127.0.0.1'],
    hosts: [],
    logLevel: 'error',
    clock,
    // Twenty small books in one process: threads and a queue for each would take the browsers' time. `start.test.ts` and
    // `chaos.test.ts` try the app as it is started.
    threads: false,
    works: false,
  };
  // Its bookings are those of the instant the book was filled, however long the tests before took.
  const desk = await startBookingDesk(0, () => now, server.dayInZone(now, DEMO_ZONE));
  const filled = cluster.url;
  const filling = fillBook({
    databaseUrl: filled,
    now,
    outside: { deskUrl: desk.url },
    hemisphere: process.env.DIURNA_E2E_HEMISPHERE === 'south' ? 'south' : 'north',
    server,
    fillDemo,
    options,
    stops: [],
  });
  // A demo that cannot be filled leaves no database behind that runs on.
  await filling.catch(async (error) => {
    await desk.stop();
    await cluster.stop();
    throw error;
  });
  const admin = new pg.Client({ connectionString: cluster.url.replace(/\/diurna$/, '/postgres') });
  await admin.connect();
  const books = new Map();
  let count = 0;
  /** One at a time: two copies of a template at once are refused. */
  let turn = Promise.resolve();

  async function open({ empty = false, boxes = false, database = null }) {
    const name = database ?? `book_${++count}`;
    if (!database) turn = turn.then(() => admin.query(`create database ${name}${empty ? '' : ' template diurna'}`));
    await turn;
    const databaseUrl = cluster.url.replace(/\/diurna$/, `/${name}`);
    // Whenever its test comes, a book opens at the instant it was filled: five minutes before midnight is not after it.
    let ahead = now.getTime() - clock().getTime();
    const own = () => new Date(clock().getTime() + ahead);
    const running = await server.start({
      ...options,
      clock: own,
      demoAccounts: empty ? [] : DEMO_ACCOUNTS,
      databaseUrl,
      port: 0,
    });
    const address = `http://127.0.0.1:${running.port}`;
    const stops = [running.stop];
    if (boxes) stops.unshift((await startEngineGateway(address, own)).stop);
    const book = { name, address, databaseUrl, now: own().toISOString() };
    const pass = (minutes) => {
      ahead += minutes * 60_000;
    };
    books.set(name, { stops, pass });
    return book;
  }
  async function close({ name }) {
    for (const stop of books.get(name)?.stops ?? []) await stop();
    books.delete(name);
    return {};
  }

  const acts = {
    '/open': open,
    '/close': close,
    '/pass': ({ name, minutes }) => {
      books.get(name).pass(minutes);
      return Promise.resolve({});
    },
  };
  const keeper = createServer((request, reply) => {
    let text = '';
    request.on('data', (chunk) => {
      text += String(chunk);
    });
    request.on('end', () => {
      const asked = JSON.parse(text || '{}');
      acts[request.url](asked).then(
        (answer) => reply.end(JSON.stringify(answer)),
        (error) => reply.writeHead(500).end(String(error)),
      );
    });
  });
  await new Promise((done) => {
    keeper.listen(0, '127.0.0.1', done);
  });
  process.env.DIURNA_E2E_KEEPER = `http://127.0.0.1:${keeper.address().port}`;
  globalThis.__diurnaE2e = async () => {
    for (const name of [...books.keys()]) await close({ name });
    keeper.closeAllConnections();
    keeper.close();
    await desk.stop();
    await admin.end();
    await cluster.stop();
    const { rmSync } = await import('node:fs');
    rmSync(folder, { recursive: true, force: true });
  };
}
