import { processClock } from '../server/clock.ts';
import { spawn } from 'node:child_process';
import { chmodSync, mkdtempSync, rmSync } from 'node:fs';
import { availableParallelism, tmpdir } from 'node:os';
import { join } from 'node:path';
import pg from 'pg';
import { Browser } from '../e2e/browser.ts';
import { startCluster } from '../scripts/cluster.mjs';
import { benchCards } from './cards.ts';
import { benchCore } from './core.ts';
import { benchCrowd } from './crowd.ts';
import { benchFeasible } from './feasible.ts';
import { benchGateway } from './gateway.ts';
import { benchDemoForecast, benchFleetForecast, benchForecast } from './forecast.ts';
import { loadLargeBook, SIZE } from './large-book.ts';
import { benchOrdering } from './ordering.ts';
import { benchSeason, benchSeasonLists } from './season.ts';
import { benchShelves, benchStores, fillStores } from './stores.ts';
import { benchPlanner } from './planner.ts';
import { percentile, processorTicks, row } from './report.ts';
import { benchSafety } from './safety.ts';
import { benchVisit } from './visit.ts';
import { beginBook, MEASURER, together, Visitor } from './visitor.ts';
import { benchYard, hireTechnicians, YARD } from './yard.ts';

const USERS = 20;
const root = join(import.meta.dirname, '..');

/** The server as a person starts it, in a process of its own. */
async function startServer(databaseUrl: string): Promise<{ address: string; stop: () => Promise<void> }> {
  const child = spawn(process.execPath, [join(root, 'scripts/start.mjs')], {
    env: { ...process.env, DATABASE_URL: databaseUrl, DIURNA_PORT: '0', DIURNA_DEMO: '0', DIURNA_LOG: 'error' },
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  const address = await new Promise<string>((resolve, reject) => {
    let said = '';
    child.stdout.on('data', (chunk) => {
      said += String(chunk);
      const found = /ready at (\S+)/.exec(said);
      if (found) resolve(found[1]!);
    });
    child.once('exit', () => {
      reject(new Error(`the server did not start: ${said}`));
    });
  });
  return {
    address,
    stop: () =>
      new Promise((resolve) => {
        if (child.exitCode !== null || child.signalCode !== null) resolve();
        child.once('exit', () => {
          resolve();
        });
        child.kill('SIGINT');
      }),
  };
}

async function benchApi(users: Visitor[], today: string): Promise<void> {
  const health = await together(users, 20, (u) => u.send('GET', '/health'));
  const reference = percentile(health, 0.95);
  const against = (p95: number) =>
    `${(p95 / reference).toFixed(1)} x the health route at the same load (${reference.toFixed(0)} ms)`;
  const began = performance.now();
  await users[0]!.send('GET', '/service/due');
  console.log(`         first look after the start: ${(performance.now() - began).toFixed(0)} ms`);
  const due = percentile(await together(users, 20, (u) => u.send('GET', '/service/due?size=50')), 0.95);
  row(
    `due list, first page, worst first, ${USERS} at once, p95`,
    `${due.toFixed(0)} ms`,
    'under 150 ms',
    due < 150,
    against(due),
  );
  const outlook = percentile(
    await together(users, 6, (u) => u.send('GET', `/service/outlook?from=${today}&days=42`)),
    0.95,
  );
  row(
    `Due room, all engines over six weeks, ${USERS} at once, p95`,
    `${outlook.toFixed(0)} ms`,
    'under 400 ms',
    outlook < 400,
    against(outlook),
  );
  const alone = percentile(
    await together(users.slice(0, 1), 9, (u) => u.send('GET', `/service/outlook?from=${today}&days=42`)),
    0.5,
  );
  console.log(`         one user alone, median ${alone.toFixed(0)} ms`);
  const changes = [
    { school: 'counting', answer: 'ladder' },
    { school: 'impeller', answer: '300 h' },
    { school: 'plugs', answer: 'yearly' },
  ];
  const looks: number[] = [];
  for (const change of changes)
    looks.push(...(await together(users.slice(0, 1), 2, (u) => u.send('POST', '/rules/preview', change))));
  const look = Math.max(...looks);
  row(
    'a change of rules worked out on the whole fleet, slowest',
    `${look.toFixed(0)} ms`,
    'under 5000 ms',
    look < 5000,
    `${(look / alone).toFixed(0)} x the chart of the same fleet for one user (${alone.toFixed(0)} ms)`,
  );
  const day = percentile(await together(users, 10, (u) => u.send('GET', `/day?day=${today}`)), 0.95);
  row(
    `the day with what is to be decided, ${USERS} at once, p95`,
    `${day.toFixed(0)} ms`,
    'under 150 ms',
    day < 150,
    against(day),
  );
  // Worked out anew after each write: what the first who asks waits for.
  const anew: number[] = [];
  for (let i = 0; i < 6; i++) {
    await users[0]!.send('POST', '/snags', {
      boatId: 1 + i,
      engineId: null,
      text: `Snag ${i}`,
      symptom: null,
      photo: null,
    });
    anew.push(...(await together(users.slice(0, 1), 1, (u) => u.send('GET', `/day?day=${today}`))));
  }
  const first = percentile(anew, 0.5);
  row(
    'the day right after a write, one user, median',
    `${first.toFixed(0)} ms`,
    'under 500 ms',
    first < 500,
    `${(first / day).toFixed(1)} x the same with nothing written before, ${USERS} at once`,
  );
  const words = ['Boat 00', 'G-1005', 'turn', 'Corvane', '9', 'admin'];
  const found = percentile(
    await together(users, 20, (u, n, r) =>
      u.send('GET', `/search?q=${encodeURIComponent(words[(n + r) % words.length]!)}`),
    ),
    0.95,
  );
  row(`search, ${USERS} at once, p95`, `${found.toFixed(0)} ms`, 'under 100 ms', found < 100, against(found));
  const sheets = await Promise.all(
    users.map(
      async (u, n) =>
        (
          await u.json<{ rows: { engineId: number; lastCount: number }[] }>(
            'GET',
            `/usage/hours?size=100&page=${n + 1}`,
          )
        ).rows,
    ),
  );
  const typed = await together(users, 6, (u, n, round) =>
    u.send('POST', '/usage/readings', {
      day: today,
      readings: sheets[n]!.map((r) => ({
        engineId: r.engineId,
        count: Math.round((r.lastCount + 0.1 * (round + 1)) * 10) / 10,
      })),
    }),
  );
  const hours = percentile(typed, 0.95);
  row(
    `100 readings typed, ${USERS} at once, p95`,
    `${hours.toFixed(0)} ms`,
    'under 300 ms',
    hours < 300,
    against(hours),
  );
  // What one write costs the next reader: the list is worked out again for what was touched only.
  const after: number[] = [];
  for (let i = 0; i < 10; i++) {
    await users[0]!.send('POST', '/usage/readings', {
      day: today,
      readings: [
        { engineId: sheets[0]![0]!.engineId, count: Math.round((sheets[0]![0]!.lastCount + 0.7 + i * 0.1) * 10) / 10 },
      ],
    });
    after.push(...(await together(users.slice(0, 1), 1, (u) => u.send('GET', '/service/due?size=50'))));
  }
  const one = percentile(after, 0.5);
  const quiet = percentile(await together(users.slice(0, 1), 10, (u) => u.send('GET', '/service/due?size=50')), 0.5);
  row(
    'due list right after one reading, one user, median',
    `${one.toFixed(0)} ms`,
    'only what it touches',
    one < 5 * quiet + 10,
    `${(one / quiet).toFixed(1)} x the same list with nothing written before (${quiet.toFixed(1)} ms); all engines from nothing take over a second`,
  );
}

async function benchFirstView(address: string, user: Visitor): Promise<void> {
  const browser = await Browser.open(address);
  try {
    await browser.go('/mark.svg');
    await browser.driver.manage().addCookie({ ...user.cookie, path: '/' });
    const ready = async (path: string, there: string) => {
      const times: number[] = [];
      for (let i = 0; i < 5; i++) {
        await browser.driver.sendDevToolsCommand('Network.setCacheDisabled', { cacheDisabled: true });
        await browser.go(path);
        times.push(
          await browser.driver.executeAsyncScript<number>(`
          const done = arguments[0]; const look = () => document.querySelector(${JSON.stringify(there)}) ? done(performance.now()) : requestAnimationFrame(look); look();`),
        );
      }
      return percentile(times, 0.5);
    };
    await browser.driver.sendDevToolsCommand('Network.enable', {});
    // As somebody who never opened it before: nothing from the device's own store.
    await browser.driver.sendDevToolsCommand('Network.setBypassServiceWorker', { bypass: true });
    const bare = await ready('/api/health', 'body');
    const view = await ready('/due', '.chart-line button');
    row(
      'first view ready in the browser, warm server',
      `${view.toFixed(0)} ms`,
      'under 1500 ms',
      view < 1500,
      `${(view / bare).toFixed(1)} x a page of one line (${bare.toFixed(0)} ms); browser cache off`,
    );
    await browser.go('/due');
    await browser.see('//*[@role="grid"]//button');
    const scripts = await browser.driver.executeScript<number[]>(
      "return performance.getEntriesByType('resource').filter((e) => e.name.endsWith('.js')).map((e) => e.encodedBodySize)",
    );
    const kilobytes = scripts.reduce((a, b) => a + b, 0) / 1000;
    row(
      'JavaScript needed for the first view, compressed',
      `${kilobytes.toFixed(0)} kB`,
      'under 300 kB',
      kilobytes < 300,
      `${scripts.length} files`,
    );
  } finally {
    await browser.close();
  }
}

/** A book of so many engines, loaded into a cluster of its own, with twenty people signed in. */
async function onBook(
  size: typeof SIZE,
  prepare: (client: pg.Client) => Promise<void>,
  measure: (server: { address: string }, users: Visitor[], today: string, client: pg.Client) => Promise<void>,
): Promise<void> {
  const folder = mkdtempSync(join(tmpdir(), 'diurna-bench-'));
  chmodSync(folder, 0o755);
  // As a person's own cluster: with all its safety on.
  const cluster = await startCluster(folder);
  let server: Awaited<ReturnType<typeof startServer>> | null = null;
  try {
    server = await startServer(cluster.url);
    await beginBook(server.address);
    await server.stop();
    const client = new pg.Client({ connectionString: cluster.url });
    await client.connect();
    const today = processClock()().toISOString().slice(0, 10);
    const began = performance.now();
    await loadLargeBook(client, today, size);
    await prepare(client);
    const { rows } = await client.query<{ e: string; b: string; r: string; s: string; h: string }>(
      `select (select count(*) from engine) e, (select count(*) from boat) b, (select count(*) from reading) r,
        (select count(*) from service_entry) s, (select count(*) from hire) h`,
    );
    console.log(
      `book of ${rows[0]!.e} engines on ${rows[0]!.b} boats, ${rows[0]!.r} readings, ${rows[0]!.s} service entries, ${rows[0]!.h} hires (asked ${size.engines}, ${size.boats}, ${size.readings}, ${size.entries}), loaded in ${((performance.now() - began) / 1000).toFixed(0)} s`,
    );
    await client.query('vacuum analyze');
    // Else the load's own writing back to disk runs on under the measures.
    await client.query('checkpoint');
    server = await startServer(cluster.url);
    const users: Visitor[] = [];
    for (let i = 0; i < USERS; i++) users.push(await new Visitor(server.address).enter('POST', '/session', MEASURER));
    await measure(server, users, today, client);
    await client.end();
  } finally {
    // Also where a measure failed: the database waits for whoever is connected.
    await server?.stop();
    await cluster.stop();
    rmSync(folder, { recursive: true, force: true });
  }
}

const only = process.argv[2];
console.log(`${availableParallelism()} cores, Node.js ${process.versions.node}`);
if (only === undefined || only === 'core') benchCore();
if (only === undefined || only === 'visit') benchVisit();
if (only === undefined || only === 'feasible') benchFeasible();
if (only === undefined || only === 'safety') benchSafety();
if (only === undefined || only === 'forecast') {
  benchFleetForecast();
  benchForecast();
  benchDemoForecast();
}
if (only === undefined || only === 'planner') await benchPlanner();
if (only === undefined || only === 'ordering') await benchOrdering();
if (only === undefined || only === 'season') benchSeason();
if (only === undefined || only === 'season' || only === 'season-lists')
  await onBook(
    SIZE,
    () => Promise.resolve(),
    (_, users, today) => benchSeasonLists(users, today),
  );
if (only === undefined || only === 'stores') {
  benchShelves();
  await onBook(YARD, fillStores, (_, users) => benchStores(users));
}
// Ten minutes each, as asked; `npm run bench -- crowd 1` for a short look.
if (only === undefined || only === 'crowd') await benchCrowd(Number(process.argv[3] ?? 10), process.argv[4]);
if (only === undefined || only === 'yard')
  await onBook(YARD, hireTechnicians, (_, users, today) => benchYard(users, today));
if (only === undefined || only === 'api' || only === 'cards')
  await onBook(
    SIZE,
    () => Promise.resolve(),
    async (server, users, today, client) => {
      const before = processorTicks();
      if (only !== 'cards') await benchApi(users, today);
      await benchCards(server.address, users, today);
      const after = processorTicks();
      console.log(
        `         ${(((after.stolen - before.stolen) / (after.all - before.all)) * 100).toFixed(0)} % of the processor was taken by neighbours of this machine meanwhile`,
      );
      if (only === 'cards') return;
      await benchGateway(server.address, users[0]!, users.slice(1), client);
      await benchFirstView(server.address, users[0]!);
    },
  );
