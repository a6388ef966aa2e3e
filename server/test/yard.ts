import type { Problem, Role } from '@diurna/contract';
import type { Clock } from '@diurna/core/calendar';
import type { JobCard } from '@diurna/contract/jobs';
import type { SentEntry } from '@diurna/contract/visit';
import { READINGS, type ReadingValue } from '@diurna/core/findings';
import { traitsOf } from '@diurna/core/fleet';
import { keysAsked, type AskedReading, type CardAct, type CardEntry } from '@diurna/core/visit';
import { randomBytes, randomUUID } from 'node:crypto';
import pg from 'pg';
import type { Logger } from 'pino';
import request from 'supertest';
import { createApp } from '../app.ts';
import { processClock } from '../clock.ts';
import { makeDb, makePool } from '../db/index.ts';
import type { MailOptions } from '../messages/index.ts';

const PASSWORD = 'a-long-password';
/** Phones go by the clock of the book that was opened last. */
let phones = processClock();

/** A signed-in person of a test. Replies that are not 2xx throw unless asked for with `refused`. */
export class Client {
  readonly agent: ReturnType<typeof request.agent>;
  token = '';

  constructor(agent: ReturnType<typeof request.agent>) {
    this.agent = agent;
  }

  raw(method: 'get' | 'post' | 'put' | 'delete', path: string, body?: unknown) {
    const sent = this.agent[method](`/api${path}`).set('x-diurna-token', this.token);
    if (typeof body === 'string')
      return sent.set('content-type', body.startsWith('BEGIN:') ? 'text/calendar' : 'text/csv').send(body);
    return body === undefined ? sent : sent.send(body as object);
  }

  async #done<T>(method: 'get' | 'post' | 'put' | 'delete', path: string, body?: unknown): Promise<T> {
    const reply = await this.raw(method, path, body);
    if (reply.status >= 300) throw new Error(`${method} ${path}: ${reply.status} ${reply.text}`);
    return reply.body as T;
  }

  get<T>(path: string) {
    return this.#done<T>('get', path);
  }
  post<T>(path: string, body?: unknown) {
    return this.#done<T>('post', path, body);
  }
  put<T>(path: string, body?: unknown) {
    return this.#done<T>('put', path, body);
  }

  /** The problem a refused request answers with. */
  async refused(method: 'get' | 'post' | 'put' | 'delete', path: string, body?: unknown): Promise<Problem> {
    const reply = await this.raw(method, path, body);
    if (reply.status < 400) throw new Error(`${method} ${path} was not refused: ${reply.text}`);
    if (!String(reply.headers['content-type']).startsWith('application/problem+json'))
      throw new Error(`not a problem: ${reply.text}`);
    return reply.body as Problem;
  }

  async signIn(username: string, password = PASSWORD): Promise<void> {
    const reply = await this.agent.post('/api/session').send({ username, password });
    if (reply.status !== 200) throw new Error(reply.text);
    this.token = (reply.body as { csrfToken: string }).csrfToken;
  }
}

/** An act as a phone sends it. */
export const entryOf = (act: CardAct, more: Partial<SentEntry> = {}): SentEntry => ({
  id: randomUUID(),
  at: phones().getTime(),
  act,
  seen: 1e9,
  ...more,
});

/** Posts, and gives the answer as a problem where it is one. */
export async function rawProblem(
  client: Client,
  path: string,
  body: unknown,
): Promise<{ status: number; body: Problem }> {
  const reply = await client.raw('post', path, body);
  return { status: reply.status, body: reply.body as Problem };
}

export interface EntriesKept {
  kept: CardEntry[];
  refused: { id: string; because: string }[];
  lastSeq: number;
}
/** Writes on a card; what is refused comes back. */
export const write = (client: Client, jobId: number, ...acts: (CardAct | SentEntry)[]) =>
  client.post<EntriesKept>(`/jobs/${jobId}/entries`, { entries: acts.map((a) => ('act' in a ? a : entryOf(a))) });

/** A needed reading as it should be; what was read already stays. */
function fineReading(card: JobCard, { key, kind }: AskedReading, engineId: number | null): CardAct[] {
  if (!READINGS[kind].needed || card.entries.some((e) => e.act.kind === 'read' && e.act.key === key)) return [];
  const fine = READINGS[kind].options?.find((o) => o.tone === 'fine');
  if (fine) return [{ kind: 'read', key, value: { choice: fine.key } }];
  const screws = traitsOf(card.engines.find((e) => e.id === engineId)!).gearScrews ?? 2;
  const figures: Partial<Record<typeof kind, ReadingValue>> = {
    'gaskets out': { value: screws, unit: 'pieces' },
    compression: { value: 900, unit: 'kPa' },
    'leak loss': { value: 5, unit: '%' },
    'battery volts': { value: 12.7, unit: 'V' },
  };
  return [{ kind: 'read', key, value: figures[kind] ?? { value: 80, unit: '%' } }];
}

/** What a step asks to be seen, all as it should be. */
export function asItShould(card: JobCard, { step }: JobCard['steps'][number]): CardAct[] {
  const cylinders = card.engines.find((e) => e.id === step.engineId)?.cylinders ?? 1;
  return keysAsked(step, cylinders).flatMap((asked) => fineReading(card, asked, step.engineId));
}

/** Ticks these steps of a card in working order, each with what it asks to be seen: all as it should be. */
async function workOn(client: Client, jobId: number, of: (step: JobCard['steps'][number]['step']) => boolean) {
  const card = await client.get<JobCard>(`/jobs/${jobId}`);
  return write(
    client,
    jobId,
    ...card.steps
      .filter((t) => of(t.step))
      .flatMap((t): CardAct[] => [...asItShould(card, t), { kind: 'tick', step: t.step.id, done: true }]),
  );
}

/** Confirms every gate of a card. */
export const confirmGates = (client: Client, jobId: number) => workOn(client, jobId, (s) => s.gate !== null);
/** Works through a card, step by step. */
export const workThrough = (client: Client, jobId: number) => workOn(client, jobId, () => true);

/** A book of its own for one test file: database, app and people of every role. */
export async function openYard(
  clock: Clock = processClock(),
  {
    logger,
    privateFeeds,
    mail,
    ...pooled
  }: Parameters<typeof makePool>[1] & { logger?: Logger; privateFeeds?: string[]; mail?: MailOptions } = {},
) {
  phones = clock;
  // Not on the template itself: whoever is connected to it keeps others from copying it.
  const admin = new pg.Client(
    Object.assign(new URL(process.env.DIURNA_TEST_DATABASE!), { pathname: '/postgres' }).toString(),
  );
  await admin.connect();
  const name = `test_${randomBytes(6).toString('hex')}`;
  // Two files at once cannot copy the template; the lock makes them take turns.
  await admin.query('select pg_advisory_lock(1)');
  try {
    await admin.query(`create database ${name} template diurna`);
  } finally {
    await admin.query('select pg_advisory_unlock(1)');
  }
  const url = new URL(process.env.DIURNA_TEST_DATABASE!);
  url.pathname = `/${name}`;
  // A machine that gives its processor to others takes seconds to connect: tests of that set bounds of their own.
  const pool = makePool(url.toString(), { connectionTimeoutMillis: 60_000, ...pooled });
  pool.on('error', () => undefined);
  const db = makeDb(pool);
  const { app, api, fleet, queue, stop } = await createApp({
    pool,
    db,
    version: 'test',
    checkReplies: true,
    clock,
    ...(logger && { logger }),
    ...(privateFeeds && { privateFeeds }),
    ...(mail && { mail }),
  });
  const visitor = () => new Client(request.agent(app));

  const first = visitor();
  const begun = await first.agent
    .post('/api/first-run')
    .send({
      company: 'Test Boats',
      currency: 'EUR',
      baseName: 'North Quay',
      timeZone: 'America/Halifax',
      hemisphere: 'north',
      name: 'Ada',
      username: 'administrator',
      password: PASSWORD,
    });
  if (begun.status !== 200) throw new Error(begun.text);
  first.token = (begun.body as { csrfToken: string }).csrfToken;
  const [base] = await first.get<{ id: number }[]>('/fleet/bases');
  const people: Partial<Record<Role, number>> = {};
  for (const role of ['coordinator', 'technician', 'stores', 'dock', 'manager'] as const) {
    people[role] = (
      await first.post<{ id: number }>('/people', {
        name: role,
        username: role,
        role,
        baseId: base!.id,
        active: true,
        password: PASSWORD,
      })
    ).id;
  }
  const as = async (role: Role) => {
    if (role === 'administrator') return first;
    const client = visitor();
    await client.signIn(role);
    return client;
  };
  return {
    app,
    api,
    pool,
    db,
    fleet,
    queue,
    visitor,
    as,
    baseId: base!.id,
    people: people as Record<Role, number>,
    databaseUrl: url.toString(),
    async close() {
      await queue.stop();
      stop();
      await pool.end();
      await admin.query(`drop database ${name} with (force)`);
      await admin.end();
    },
  };
}

export type Yard = Awaited<ReturnType<typeof openYard>>;

/** Reads FLEET_CSV in; its boat with two engines, Turnstone. */
export async function fleetWithTwins(client: Client): Promise<{ boatId: number; port: number; starboard: number }> {
  await client.post('/exchange/fleet', FLEET_CSV);
  const boat = (
    await client.get<{ rows: { id: number; engines: { id: number; position: string }[] }[] }>('/fleet/boats?q=Turn')
  ).rows[0]!;
  const at = (position: string) => boat.engines.find((e) => e.position === position)!.id;
  return { boatId: boat.id, port: at('port'), starboard: at('starboard') };
}

/** A book with Turnstone and her twins in it, a coordinator and a technician signed in. */
export async function openTwinYard(clock?: Clock, more: Parameters<typeof openYard>[1] = {}) {
  const yard = await openYard(clock, more);
  const [ilse, ines] = [await yard.as('coordinator'), await yard.as('technician')];
  return { yard, ilse, ines, ...(await fleetWithTwins(ilse)) };
}

export const FLEET_CSV = [
  'base,boat,berth,position,maker,model,power_hp,stroke,cylinders,sump_volume,sump_unit,gear_volume,gear_unit,serial,in_service_on,bought_new,meter',
  'North Quay,Turnstone,14,port,Corvane,60,60,4,4,2.7,L,0.64,L,C60-40116,2024-03-01,yes,computer',
  'North Quay,Turnstone,14,starboard,Corvane,60,60,4,4,2.7,L,0.64,L,C60-40117,2024-03-01,yes,computer',
  'North Quay,Knot,2,single,Teal,50,50,2,3,,,0.41,L,T50-1,,no,dash',
  'North Quay,Knot,2,kicker,Lumen,6,6,4,1,0.52,L,0.17,L,LU6-7,2025-05-01,yes,none',
].join('\n');

/** A second base, in another zone: its id. */
export const southSlip = async (client: Client): Promise<number> =>
  (
    await client.post<{ id: number }>('/fleet/bases', {
      ...{ name: 'South Slip', timeZone: 'Atlantic/Azores', hemisphere: 'north', dayMinutes: 480, workdays: [1, 2, 3] },
    })
  ).id;

export const PARTS_CSV = [
  'part,name,kind,unit,price,base,count,shelf,model,task,quantity,serial_from,serial_to',
  'OIL,Engine oil,oil,mL,8.20,North Quay,9000,B2,Corvane 60,engine-oil,,,',
  'F1,Filter early,oil filter,each,9.80,North Quay,1,,Corvane 60,oil-filter,1,,C60-40116',
  'F2,Filter late,oil filter,each,10.60,North Quay,2,,Corvane 60,oil-filter,1,C60-40117,',
  'LUBE,Gear lube,gear lube,mL,12,North Quay,1000,,Corvane 60,gear-lube,,,',
].join('\n');
