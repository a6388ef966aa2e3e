import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import pg from 'pg';
import { makeLogger } from '../http/log.ts';
import { openYard, type Client, type Yard } from '../test/yard.ts';
import { databaseTrouble } from './away.ts';
import { transaction } from './index.ts';
import { answered } from '../test/until.ts';

/** A database that goes away, is locked or full: the app stays, says when to try again, and is back by itself. */
let yard: Yard;
let ilse: Client;
/** Beside the book's own connections. */
let beside: pg.Client;
beforeAll(async () => {
  yard = await openYard(undefined, { max: 3, lockMs: 250, statementMs: 5000, connectionTimeoutMillis: 4000 });
  ilse = await yard.as('coordinator');
  beside = new pg.Client({ connectionString: yard.databaseUrl });
  await beside.connect();
});
afterAll(async () => {
  await beside.end();
  await yard.close();
});

const boats = () => ilse.raw('get', '/fleet/boats');
const endAll = () =>
  beside.query(
    `select pg_terminate_backend(pid) from pg_stat_activity where datname = current_database() and pid <>
      pg_backend_pid()`,
  );
const refused = (status: number, said: RegExp) => ({
  status,
  headers: expect.objectContaining({ 'retry-after': '2', 'content-type': expect.stringContaining('problem+json') }),
  body: expect.objectContaining({ status, detail: expect.stringMatching(said) }),
});

describe('the app stays', () => {
  test('every connection ended, as by a restart: the next request is answered', async () => {
    expect((await boats()).status).toBe(200);
    await endAll();
    // What is told at once may still be told on a lost connection; a moment later all is well.
    await answered(
      async () => (await boats()).status === 200 || null,
      () => 'it never answered again',
    );
  });

  test('ended in the middle of a write: nothing of it stands, the person is told, the process lives', async () => {
    const before = (await ilse.get<{ total: number }>('/fleet/boats')).total;
    const cut = transaction(yard.db, async (tx) => {
      await tx.execute(`insert into boat (name, base_id) values ('Half', ${yard.baseId})`);
      await endAll();
      await tx.execute('select 1');
    }).then(
      () => null,
      (error: unknown) => databaseTrouble(error),
    );
    expect(await cut).toBe('away');
    expect((await ilse.get<{ total: number }>('/fleet/boats')).total).toBe(before);
  });

  test('a locked table: nobody waits longer than a moment', async () => {
    await beside.query('begin');
    await beside.query('lock table boat in access exclusive mode');
    expect(await boats()).toMatchObject(refused(503, /Too much is under way/));
    await beside.query('rollback');
    expect((await boats()).status).toBe(200);
  });

  test('a statement without end is ended', async () => {
    const slow = yard.pool.query('select pg_sleep(60)').catch((error: unknown) => databaseTrouble(error));
    expect(await slow).toBe('busy');
  });

  test('a full pool: told in a moment, well again when one is free', async () => {
    const held = await Promise.all([1, 2, 3].map(() => yard.pool.connect()));
    expect(await boats()).toMatchObject(refused(503, /Too much is under way/));
    for (const c of held) c.release();
    expect((await boats()).status).toBe(200);
  });
});

describe('what an error means', () => {
  test.each([
    [{ code: 'ECONNREFUSED' }, 'away'],
    [{ code: '57P01' }, 'away'],
    [{ code: '57P03' }, 'away'],
    [new Error('Connection terminated unexpectedly'), 'away'],
    [new Error('Failed query', { cause: Object.assign(new Error('x'), { code: 'ECONNRESET' }) }), 'away'],
    [{ code: '53300' }, 'busy'],
    [{ code: '55P03' }, 'busy'],
    [{ code: '57014' }, 'busy'],
    [new Error('timeout exceeded when trying to connect'), 'busy'],
    [{ code: '23505' }, null],
    [{ code: '22P02' }, null],
    [new Error('Connection to the past'), null],
    ['ECONNREFUSED', null],
    [null, null],
  ])('%p: %p', (error, means) => {
    expect(databaseTrouble(error)).toBe(means);
  });
});

test('no log at any level holds what somebody typed, nor what the database says of it', async () => {
  const lines: string[] = [];
  const logger = makeLogger('trace', { write: (line: string) => void lines.push(line) });
  const talking = await openYard(undefined, { logger, lockMs: 200, connectionTimeoutMillis: 4000 });
  try {
    const admin = await talking.as('administrator');
    const secret = 'Kingfisher-4711';
    const person = {
      name: secret,
      username: 'kingfisher',
      role: 'dock',
      baseId: null,
      active: true,
      password: `${secret}-pass`,
    };
    await admin.raw('post', '/people', person);
    await admin.raw('post', '/people', person);
    await admin.raw('post', '/session', { username: 'kingfisher', password: `${secret}-wrong` });
    await admin.raw('get', `/search?q=${secret}`);
    await admin.raw('post', '/fleet/boats', { name: secret, baseId: 9999, berth: secret });
    await admin.agent
      .post('/api/people')
      .set('x-diurna-token', admin.token)
      .set('content-type', 'application/json')
      .send(`{"name":"${secret}`);
    // An outage: statements fail with all their values at hand.
    const lock = new pg.Client({ connectionString: talking.databaseUrl });
    await lock.connect();
    await lock.query('begin');
    await lock.query('lock table person, boat, audit in access exclusive mode');
    await admin.raw('get', `/search?q=${secret}`);
    await admin.raw('post', '/people', { ...person, username: 'other' });
    await lock.end();
    logger.error(
      { err: Object.assign(new Error(`Failed query: params ${secret}`), { query: 'x', params: [secret] }) },
      'x',
    );
    const text = lines.join('\n');
    expect(text).toContain('"status":503');
    expect(text).toMatch(/55P03/);
    expect(text).not.toContain(secret);
    expect(text).not.toContain(admin.token);
  } finally {
    await talking.close();
  }
});
