import { processClock } from '../server/clock.ts';
import { n2kEngineHours } from '@diurna/demo/engine-gateway';
import type { Health } from '@diurna/contract/system';
import { readFileSync } from 'node:fs';
import { createServer, type Server } from 'node:http';
import { setTimeout as pause } from 'node:timers/promises';
import { Target } from './attack/target.ts';
import { loadLargeBook, SIZE } from './large-book.ts';
import { benchProcesses } from './processes.ts';
import { percentile, processorTicks, row } from './report.ts';
import { beginBook, MEASURER, Visitor } from './visitor.ts';

const EVENTS = 5_000;
const BOXES = 40;
const MESSAGES_A_MINUTE = 10_000;
const POST = 25;
/** Between one look and the next a person thinks (ms). */
const THINKS = { least: 500, more: 1_500 };
const SAMPLE_MS = 5_000;
const WARM_MS = 60_000;

/** A calendar of so many bookings, as a booking desk would send it. */
function deskOf(boats: string[], day: string): Promise<{ server: Server; url: string }> {
  const compact = (at: Date) => at.toISOString().replace(/[-:]|\.\d+/g, '');
  const start = Date.parse(`${day}T08:00:00Z`);
  const events = Array.from({ length: EVENTS }, (_, i) => {
    const out = new Date(start + (Math.floor(i / boats.length) + 1) * 86_400_000);
    return `BEGIN:VEVENT\r\nUID:crowd-${i}\r\nSUMMARY:${boats[i % boats.length]}\r\nDTSTART:${compact(out)}\r\nDTEND:${compact(new Date(out.getTime() + 4 * 3_600_000))}\r\nEND:VEVENT`;
  });
  const text = `BEGIN:VCALENDAR\r\nVERSION:2.0\r\nPRODID:-//x//EN\r\n${events.join('\r\n')}\r\nEND:VCALENDAR\r\n`;
  const server = createServer((_req, res) => {
    res.writeHead(200, { 'content-type': 'text/calendar' }).end(text);
  });
  return new Promise((resolve) => {
    server.listen(0, '127.0.0.1', () => {
      resolve({ server, url: `http://127.0.0.1:${(server.address() as { port: number }).port}/desk.ics` });
    });
  });
}

interface Crowd {
  target: Target;
  admin: Visitor;
  people: Visitor[];
  today: string;
  /** How long each kind of look took (ms). */
  byWhat: Map<string, number[]>;
}

/** What people look at and write through a day, in turn. */
async function person(
  visitor: Visitor,
  n: number,
  crowd: Crowd,
  going: () => boolean,
  times: number[],
  errors: string[],
) {
  const { today } = crowd;
  const { rows: jobs } = await visitor.json<{ rows: { id: number }[] }>('GET', '/jobs?size=20');
  const look = async (method: string, path: string, body?: unknown) => {
    const began = performance.now();
    const reply = await visitor
      .send(method, path, body)
      .catch((error: unknown) => ({ status: 0, text: () => String(error) }));
    const took = performance.now() - began;
    times.push(took);
    const what = `${method} ${path.split(/[?\d]/)[0]}`;
    crowd.byWhat.set(what, [...(crowd.byWhat.get(what) ?? []), took]);
    if (reply.status === 0 || reply.status >= 400)
      errors.push(`${method} ${path}: ${reply.status} ${reply.text().slice(0, 200)}`);
  };
  await pause(Math.random() * (THINKS.least + THINKS.more));
  for (let turn = n; going(); turn++) {
    switch (turn % 8) {
      case 0:
        await look('GET', `/day?day=${today}`);
        break;
      case 1:
        await look('GET', '/service/due?size=50');
        break;
      case 2:
        await look('GET', `/service/outlook?from=${today}&days=42&size=40`);
        break;
      case 3:
        await look('GET', jobs.length > 0 ? `/jobs/${jobs[turn % jobs.length]!.id}` : '/jobs?size=50');
        break;
      case 4:
        await look('GET', '/stores/parts?size=50');
        break;
      case 5:
        await look('GET', '/fleet/boats?size=50');
        break;
      case 6:
        await look('GET', `/usage/hours?size=50&page=${1 + (turn % 3)}`);
        break;
      default:
        await look('POST', '/snags', {
          boatId: 1 + (turn % 10),
          engineId: null,
          text: `Rattles ${turn}`,
          symptom: null,
          photo: null,
        });
    }
    await pause(THINKS.least + Math.random() * THINKS.more);
  }
}

/** Two people plan all the while, on the server. */
async function planner(visitor: Visitor, crowd: Crowd, going: () => boolean, errors: string[]): Promise<number> {
  let plans = 0;
  while (going()) {
    const reply = await visitor.send('POST', '/plan/compute', {
      firstDay: crowd.today,
      days: 14,
      baseId: null,
      seconds: 10,
      fresh: true,
      standing: [],
      pins: [],
    });
    if (reply.status !== 200) errors.push(`plan: ${reply.status} ${reply.text().slice(0, 200)}`);
    else if (reply.text().includes('"broken"')) errors.push('plan: broken');
    else plans++;
    await pause(1_000);
  }
  return plans;
}

/** Boxes send at the asked rate. */
async function boxes(crowd: Crowd, going: () => boolean, errors: string[]): Promise<number> {
  const { rows } = await crowd.admin.json<{ rows: { id: number; engines: { position: string }[] }[] }>(
    'GET',
    '/fleet/boats?size=200',
  );
  const heard = await crowd.admin.json<{ boatId: number }[]>('GET', '/gateways');
  const taken = new Set(heard.map((g) => g.boatId));
  const boats = rows
    .filter((b) => b.engines.some((e) => e.position === 'single' || e.position === 'port') && !taken.has(b.id))
    .slice(0, BOXES);
  const keys = [];
  for (const boat of boats)
    keys.push(
      (
        await crowd.admin.json<{ key: string }>('POST', '/gateways', {
          name: `Crowd ${boat.id}`,
          boatId: boat.id,
          active: true,
        })
      ).key,
    );
  const every = (POST * 60_000) / MESSAGES_A_MINUTE;
  const clock = processClock();
  const began = performance.now();
  let sent = 0;
  let last: Promise<unknown> = Promise.resolve();
  for (let i = 0; going(); i++) {
    const at = clock().getTime();
    const messages = Array.from({ length: POST }, (_, m) => ({
      n2k: n2kEngineHours(new Date(at - (POST - m) * 40), 0, 36_000_000 + Math.floor(at / 1000) + m),
    }));
    last = fetch(`${crowd.target.address}/api/gateway/messages`, {
      method: 'POST',
      headers: { 'content-type': 'application/json', authorization: `Bearer ${keys[i % keys.length]!}` },
      body: JSON.stringify({ messages }),
    }).then(
      async (reply) => {
        await reply.text();
        if (reply.ok) sent += POST;
        else errors.push(`box: ${reply.status}`);
      },
      (error: unknown) => {
        errors.push(`box: ${String(error)}`);
      },
    );
    await pause(Math.max(0, began + (i + 1) * every - performance.now()));
  }
  await last;
  return sent;
}

const memoryOf = (ids: number[]): number =>
  ids.reduce(
    (sum, id) => sum + Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${id}/status`, 'utf8'))![1]) / 1024,
    0,
  );

async function measure(crowd: Crowd, minutes: number, what: string): Promise<void> {
  const { target, admin } = crowd;
  let on = true;
  const going = () => on;
  const times: number[] = [];
  const errors: string[] = [];
  const { rows: boats } = await admin.json<{ rows: { name: string }[] }>('GET', '/fleet/boats?size=200');
  const desk = await deskOf(
    boats.map((b) => b.name),
    crowd.today,
  );
  const database = await target.database();
  const ticks = processorTicks();
  const { id: feedId } = await admin.json<{ id: number }>('POST', '/hires/feeds', {
    name: 'Crowd desk',
    url: desk.url,
    baseId: 1,
    active: true,
  });
  const began = performance.now();
  const curve: number[] = [];
  const loops: number[] = [];
  const sampling = (async () => {
    while (going()) {
      await pause(SAMPLE_MS);
      curve.push(memoryOf(target.appIds()));
      const reply = await fetch(`${target.address}/api/health`);
      const { loop } = (await reply.json()) as Health;
      // Of the minutes after the first: that one tells of the start.
      if (performance.now() - began > WARM_MS) loops.push(loop.p99);
      // Whoever tries for minutes what people do in an hour is not to be slowed down by limits an hour.
      await database.query(`delete from sign_in_throttle where key like 'quota-%'`);
    }
  })();
  let reads = 0;
  const feed = (async () => {
    while (going()) {
      const { failed, outcome } = await admin.json<{ failed: boolean; outcome: string }>(
        'POST',
        `/hires/feeds/${feedId}/read`,
      );
      if (failed) errors.push(`feed: ${outcome}`);
      reads++;
      await pause(5_000);
    }
  })();
  const planning = Promise.all([0, 1].map(() => planner(admin, crowd, going, errors)));
  const boxing = boxes(crowd, going, errors);
  const everybody = Promise.all(crowd.people.map((p, n) => person(p, n, crowd, going, times, errors)));
  await pause(minutes * 60_000 + WARM_MS);
  on = false;
  const [plans, sent] = await Promise.all([planning, boxing, everybody, feed, sampling]);
  await database.end();
  desk.server.closeAllConnections();
  desk.server.close();
  const after = processorTicks();
  console.log(
    `         p95 by what was asked: ${[...crowd.byWhat].map(([what, took]) => `${what} ${percentile(took, 0.95).toFixed(0)}`).join(', ')} ms`,
  );
  const [p95, p99, loop] = [percentile(times, 0.95), percentile(times, 0.99), percentile(loops, 0.99)];
  const median = percentile(times, 0.5);
  const against = `${(p95 / median).toFixed(1)} x the median (${median.toFixed(0)} ms); ${times.length} requests in ${minutes} min, ${plans.reduce((a, b) => a + b, 0)} plans, ${reads} times ${EVENTS} events, ${sent} boat messages; ${(((after.stolen - ticks.stolen) / (after.all - ticks.all)) * 100).toFixed(0)} % of the processor taken by neighbours`;
  row(
    `${what}: errors`,
    `${errors.length}`,
    '0',
    errors.length === 0,
    [...new Set(errors)].slice(0, 3).join('; ') || 'every answer',
  );
  row(`${what}: answers, p95`, `${p95.toFixed(0)} ms`, 'under 200 ms', p95 < 200, against);
  row(
    `${what}: answers, p99`,
    `${p99.toFixed(0)} ms`,
    'under 500 ms',
    p99 < 500,
    `${(p99 / p95).toFixed(1)} x the p95`,
  );
  row(
    `${what}: event loop late, p99`,
    `${loop.toFixed(0)} ms`,
    'under 50 ms',
    loop < 50,
    `worst of the minutes told by /api/health; half of them ${percentile(loops, 0.5).toFixed(0)} ms`,
  );
  const points = Array.from(
    { length: Math.min(12, curve.length) },
    (_, i) => curve[Math.floor((i * curve.length) / Math.min(12, curve.length))]!,
  );
  // Collected now and then, memory goes up and down: thirds of the run are compared, not moments.
  const third = (n: number) =>
    percentile(curve.slice(Math.floor((curve.length * n) / 3), Math.floor((curve.length * (n + 1)) / 3)), 0.5);
  const drift = third(2) / third(1);
  row(
    `${what}: memory, last third of the run against the middle one`,
    `${drift.toFixed(2)} x`,
    'flat (< 1.3)',
    drift < 1.3,
    `MB over the run: ${points.map((m) => m.toFixed(0)).join(' ')}`,
  );
}

async function demoCrowd(minutes: number): Promise<void> {
  const target = await Target.open(['--processes', '1'], { env: { DIURNA_PRIVATE_FEEDS: '127.0.0.1' } });
  try {
    const roles = ['coordinator', 'technician', 'coordinator', 'coordinator'];
    const people: Visitor[] = [];
    for (let i = 0; i < 40; i++) people.push(await target.enter(roles[i % roles.length]!));
    const today = processClock()().toISOString().slice(0, 10);
    await measure(
      { target, admin: await target.enter('administrator'), people, today, byWhat: new Map() },
      minutes,
      'demo, 40 people',
    );
  } finally {
    await target.close();
  }
}

/** A large book in a folder of its own, and how long it takes from nothing to its first answer. */
export async function openLarge(args: string[]): Promise<{ target: Target; coldSeconds: number; today: string }> {
  const env = { DIURNA_PRIVATE_FEEDS: '127.0.0.1' };
  let target = await Target.open(['--processes', '1'], { demo: false, env });
  await beginBook(target.address);
  const today = processClock()().toISOString().slice(0, 10);
  const client = await target.database();
  await loadLargeBook(client, today);
  await client.query('vacuum analyze');
  await client.query('checkpoint');
  await client.end();
  await target.close(true);
  const began = performance.now();
  target = await Target.open(args, { demo: false, env, folder: target.folder });
  const admin = await new Visitor(target.address).enter('POST', '/session', MEASURER);
  await admin.json('GET', `/day?day=${today}`);
  return { target, coldSeconds: (performance.now() - began) / 1000, today };
}

async function largeCrowd(minutes: number): Promise<void> {
  const { target, coldSeconds, today } = await openLarge(['--processes', '1']);
  try {
    row(
      `cold start of ${SIZE.engines} engines to the first day`,
      `${coldSeconds.toFixed(1)} s`,
      'under 10 s',
      coldSeconds < 10,
      'from npm start without installing or building; its PostgreSQL starts with it',
    );
    const people: Visitor[] = [];
    const enter = () => new Visitor(target.address).enter('POST', '/session', MEASURER);
    for (let i = 0; i < 20; i++) people.push(await enter());
    await measure(
      { target, admin: await enter(), people, today, byWhat: new Map() },
      minutes,
      `${SIZE.engines} engines, 20 people`,
    );
  } finally {
    await target.close();
  }
}

const PARTS = { processes: benchProcesses, demo: demoCrowd, large: largeCrowd };

/** What a second process brings, 40 people on the demo, 20 on the large book; or one of these. */
export async function benchCrowd(minutes: number, only?: string): Promise<void> {
  for (const [name, measured] of Object.entries(PARTS))
    if (only === undefined || only === name) await measured(minutes);
}
