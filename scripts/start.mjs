// `npm start`: from a fresh clone to the open book.
// @ts-check
import { existsSync, readFileSync } from 'node:fs';
import { createServer } from 'node:net';
import { join } from 'node:path';
import { claim, needUnclaimed } from './claim.mjs';
import { dataFolder, makeFolder, needPackages, startCluster } from './cluster.mjs';
import { needModules } from './install.mjs';
import { readMail } from './mail.mjs';
import { Trouble } from './trouble.mjs';
import { readProcesses, watchOver } from './watch-over.mjs';

const root = join(import.meta.dirname, '..');
const version = JSON.parse(readFileSync(join(root, 'package.json'), 'utf8')).version;
/** @type {(() => Promise<void>)[]} */
const stops = [];
let stopping = false;

async function stopAll(/** @type {number} */ status) {
  if (stopping) return;
  stopping = true;
  for (const stop of stops.reverse())
    await stop().catch((error) => {
      console.error(String(error));
    });
  process.exit(status);
}

/** Settings that are lists: by commas or spaces. @param {string | undefined} text */
const listOf = (text) => (text ?? '').split(/[\s,]+/).filter(Boolean);

function readPort() {
  const text = process.env.DIURNA_PORT ?? '4150';
  const port = Number(text);
  if (!Number.isInteger(port) || port < 0 || port > 65_535)
    throw new Trouble(`DIURNA_PORT is "${text}", which is no port. Use a number like 4150.`);
  return port;
}

/** @param {unknown} error @param {number} port @param {any} [server] */
function sentence(error, port, server) {
  if (error instanceof Trouble || (server && error instanceof server.NewerDatabase))
    return /** @type {Error} */ (error).message;
  const { code, message } = /** @type {{ code?: string, message?: string }} */ (error);
  const cause = /** @type {{ cause?: { code?: string, message?: string } }} */ (error).cause;
  const codes = [code, cause?.code];
  if (codes.includes('EADDRINUSE'))
    return `Port ${port} is taken by another program. Stop that, or choose another: DIURNA_PORT=4151 npm start`;
  if (codes.includes('EACCES'))
    return `Port ${port} may not be opened by this user. Choose one above 1024: DIURNA_PORT=4150 npm start`;
  if (codes.includes('ENOSPC') || codes.includes('53100'))
    return 'The disk is full. Make room and start again; what was in the book is unharmed.';
  if (
    codes.some((c) => c === 'ECONNREFUSED' || c === 'ENOTFOUND' || c === 'ETIMEDOUT' || c === 'EHOSTUNREACH') ||
    message?.includes('timeout')
  ) {
    return 'The database does not answer. Check DATABASE_URL and that PostgreSQL runs there.';
  }
  if (codes.includes('28P01') || codes.includes('28000'))
    return 'The database refuses the name or password in DATABASE_URL.';
  if (codes.includes('3D000')) return 'The database named in DATABASE_URL does not exist. Make it first: createdb NAME';
  if (codes.includes('42501'))
    return 'The database user in DATABASE_URL may not make tables there. Give it the right to CREATE.';
  return `Diurna could not start: ${cause?.message ?? message}`;
}

/** @param {number} port @throws Trouble when Diurna itself has it, with where; EADDRINUSE when another program has */
async function needFree(port) {
  if (port === 0) return;
  const taken = await new Promise((done) => {
    const probe = createServer();
    probe.once('error', done);
    probe.listen(port, '127.0.0.1', () => {
      probe.close(() => {
        done(null);
      });
    });
  });
  if (taken === null) return;
  const reply = await fetch(`http://127.0.0.1:${port}/api/health`, { signal: AbortSignal.timeout(2000) }).catch(
    () => null,
  );
  if (reply?.headers.has('x-diurna-now'))
    throw new Trouble(
      `Diurna runs at http://127.0.0.1:${port} already. Nothing was stopped or changed. Use that one, end it first, or choose another port: DIURNA_PORT=${port + 2} npm start`,
    );
  throw taken;
}

process.on('SIGINT', () => void stopAll(0));
process.on('SIGTERM', () => void stopAll(0));

const [port, processes] = (() => {
  try {
    return [readPort(), readProcesses()];
  } catch (error) {
    console.error(sentence(error, 0));
    process.exit(1);
  }
})();
/** @type {any} */
let server;
try {
  // Said before anything long: whoever has to install something does not wait for it first.
  if (!process.env.DATABASE_URL) needPackages('postgres');
  if (processes.serving === 0 && !process.env.DATABASE_URL)
    throw new Trouble('Workers alone need DATABASE_URL: the database of the book they work for.');
  const own = process.env.DATABASE_URL ? null : dataFolder(root);
  const mail = readMail();
  if (own) needUnclaimed(own.folder);
  if (processes.serving > 0) await needFree(port);
  needModules(root);
  const { build } = await import('./build.mjs');
  await build(root);
  let databaseUrl = process.env.DATABASE_URL;
  if (!databaseUrl) {
    const { folder, elsewhere } = dataFolder(root);
    if (elsewhere && !existsSync(folder))
      console.log(`The database's user cannot enter ${root}: the private database goes to ${folder}.`);
    makeFolder(folder);
    const free = claim(folder, `http://127.0.0.1:${port}`);
    stops.push(() => {
      free();
      return Promise.resolve();
    });
    const starting = startCluster(folder);
    // Also when it is stopped while it starts: a database of its own is never left running.
    stops.push(async () => (await starting.catch(() => null))?.stop());
    databaseUrl = (await starting).url;
  }
  server = await import(join(root, 'dist/server.js'));
  const clock = server.processClock();
  // A book that has a clock of its own goes on where it stands, in every process.
  const sameClock = () => (process.env.DIURNA_NOW ? server.sameClock(clock) : {});
  const demo = process.env.DIURNA_DEMO !== '0';
  const { fillDemo, startBookingDesk, startEngineGateway, startMailbox, startSupplierDesk, DEMO_ACCOUNTS, DEMO_ZONE } =
    await import(join(root, 'dist/demo.js'));
  const options = {
    version,
    migrations: join(root, 'server/db/migrations'),
    webRoot: join(root, 'dist/web'),
    demoAccounts: demo ? DEMO_ACCOUNTS : [],
    secureCookie: process.env.DIURNA_SECURE_COOKIE === '1',
    trustedProxies: listOf(process.env.DIURNA_TRUSTED_PROXIES),
    privateFeeds: listOf(process.env.DIURNA_PRIVATE_FEEDS),
    hosts: listOf(process.env.DIURNA_HOSTS),
    mail,
    logLevel: process.env.DIURNA_LOG ?? 'warn',
  };
  const book = await server.readBook(databaseUrl, options.migrations);
  if (book.openPasswords > 0 && !(demo && book.demo))
    console.log(
      `${book.openPasswords} people have passwords of the demo, and this book is not run as the demo: they cannot sign in. An administrator can give them others; when nobody is left who can, make one: npm run administrator`,
    );
  if (demo && processes.serving > 0) {
    const now = book.begun ?? clock();
    // A stand-in for a service elsewhere; without it the book only says that the desk does not answer.
    const desk = await startBookingDesk(port === 0 ? 0 : port + 1, clock, server.dayInZone(now, DEMO_ZONE)).catch(
      () => null,
    );
    if (desk) {
      stops.push(desk.stop);
      // The stand-in is on this machine, where no other calendar is read.
      options.privateFeeds.push(new URL(desk.url).host);
    }
    const supplies = await startSupplierDesk(port === 0 ? 0 : port + 3).catch(() => null);
    if (supplies) {
      stops.push(supplies.stop);
      options.privateFeeds.push(new URL(supplies.url).host);
    }
    if (!mail) {
      const box = await startMailbox(port === 0 ? 0 : port + 2, join(dataFolder(root).folder, 'mailbox')).catch(
        () => null,
      );
      if (box) {
        stops.push(box.stop);
        options.mail = { server: box.url, from: 'book@diurna.example', address: process.env.DIURNA_ADDRESS ?? null };
      }
    }
    if (book.empty) {
      console.log('The book is empty: filling it with the demo fleet ...');
      const { fillBook } = await import('./demo-book.mjs');
      const outside = { deskUrl: desk?.url, supplierUrl: supplies?.url };
      await fillBook({ databaseUrl, now, outside, server, fillDemo, options, stops });
    }
  }
  if (stopping) throw new Trouble('Stopped before the book was open; nothing was written.');
  const running = await watchOver({ ...options, databaseUrl, port }, sameClock, processes, {
    sentence: (error) => sentence(error, port),
    giveUp: () => void stopAll(1),
  });
  stops.push(running.stop);
  // One after the other, so that there is always one that answers.
  process.on('SIGHUP', () => {
    console.log('The processes of the app are renewed, one after the other.');
    running.renew().then(
      () => {
        console.log('All processes are new.');
      },
      (error) => {
        console.error(`The old processes stay: ${sentence(error, port)}`);
      },
    );
  });
  const address = `http://127.0.0.1:${running.port}`;
  if (demo && processes.serving > 0) {
    // Boxes on two boats, as long as the demo's administrator has the demo's password.
    const boxes = await startEngineGateway(address, clock).catch(() => null);
    if (boxes) stops.push(boxes.stop);
  }
  const { serving, workers } = processes;
  const many = (/** @type {number} */ n, /** @type {string} */ one) => `${n} ${one}${n === 1 ? '' : 's'}`;
  if (serving === 0) console.log(`${many(workers ?? 0, 'worker')} of Diurna at work`);
  else
    console.log(
      `Diurna is ready at ${address}${serving > 1 ? `, in ${serving} processes` : ''}${workers ? `, with ${many(workers, 'worker')}` : ''}`,
    );
} catch (error) {
  // A stop in the middle breaks what is under way: that is no trouble.
  if (!stopping) {
    console.error(sentence(error, port, server));
    if (process.env.DIURNA_LOG === 'debug') console.error(error);
  }
  await stopAll(1);
}
