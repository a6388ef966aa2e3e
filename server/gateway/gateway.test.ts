import { afterAll, beforeAll, beforeEach, describe, expect, test } from '@jest/globals';
import type { Gateway } from '@diurna/contract/gateway';
import fc from 'fast-check';
import { createRequire } from 'node:module';
import { FLEET_CSV, openYard, type Client, type Yard } from '../test/yard.ts';
import { decodeN2k, decodeSignalK } from './decode.ts';

// A general-purpose encoder of NMEA 2000 (canboatjs) writes what ours has to understand.
const { pgnToActisenseSerialFormat } = createRequire(import.meta.url)('@canboat/canboatjs') as {
  pgnToActisenseSerialFormat: (pgn: object) => string;
};

interface Outcome {
  taken: number;
  repeated: number;
  late: number;
  refused: number;
  other: number;
  refusals: { message: number; why: string }[];
}
interface Reading {
  day: string;
  count: number;
  lifeHours: number;
  source: string;
  doubt: string | null;
  reason: string | null;
}

let yard: Yard;
let admin: Client;
let ilse: Client;
let now = new Date('2026-04-15T10:00:00Z');
let boatId = 0;
let ports: Record<string, number> = {};
let key = '';
let boat = '';
let made = 0;
beforeAll(async () => {
  yard = await openYard(() => now);
  admin = await yard.as('administrator');
  ilse = await yard.as('coordinator');
});
afterAll(async () => {
  await yard.close();
});
// Readings are never erased, so each test has a boat of its own.
beforeEach(async () => {
  now = new Date('2026-04-15T10:00:00Z');
  boat = `Tern ${++made}`;
  await ilse.post(
    '/exchange/fleet',
    FLEET_CSV.split('\n').slice(0, 3).join('\n').replaceAll('Turnstone', boat).replaceAll('C60-', `N${made}-`),
  );
  const { rows } = await ilse.get<{
    rows: { id: number; name: string; engines: { id: number; position: string }[] }[];
  }>(`/fleet/boats?q=${boat}&size=200`);
  const found = rows.find((b) => b.name === boat)!;
  boatId = found.id;
  ports = Object.fromEntries(found.engines.map((e) => [e.position, e.id]));
  await yard.pool.query('update gateway set active = false');
  key = (await admin.post<{ key: string }>('/gateways', { name: `${boat} box`, boatId, active: true })).key;
});

const box = async () => (await ilse.get<Gateway[]>('/gateways')).find((g) => g.boatId === boatId)!;
const post = (messages: object[], with_ = key) =>
  yard.visitor().agent.post('/api/gateway/messages').set('authorization', `Bearer ${with_}`).send({ messages });
const send = async (...messages: object[]) => {
  const reply = await post(messages);
  if (reply.status !== 200) throw new Error(reply.text);
  return reply.body as Outcome;
};
const readings = async (position = 'port') =>
  (await ilse.get<{ rows: Reading[] }>(`/usage/engines/${ports[position]}/readings`)).rows;
const n2k = (instance: number, hours: number, at = now) => ({
  n2k: pgnToActisenseSerialFormat({
    pgn: 127489,
    src: 1,
    dst: 255,
    prio: 2,
    fields: { instance, totalEngineHours: Math.round(hours * 3600) },
  }).replace(/^[^,]*/, at.toISOString()),
});
const signalk = (name: string, hours: unknown, at: Date | null = now) => ({
  signalk: {
    context: 'vessels.self',
    updates: [
      {
        ...(at && { timestamp: at.toISOString() }),
        values: [
          { path: `propulsion.${name}.runTime`, value: typeof hours === 'number' ? hours * 3600 : hours },
          { path: 'propulsion.port.revolutions', value: 20 },
        ],
      },
    ],
  },
});
const minutes = (n: number) => new Date(now.getTime() + n * 60_000);

describe('engine time from a box', () => {
  test('NMEA 2000 as canboatjs encodes it: instance 0 is port, 1 starboard, each with its source', async () => {
    expect(await send(n2k(0, 230.9), n2k(1, 137.84))).toMatchObject({ taken: 2, refused: 0 });
    expect(await readings()).toMatchObject([{ day: '2026-04-15', count: 230.9, source: 'gateway', doubt: null }]);
    expect((await readings('starboard'))[0]!.count).toBe(137.8);
  });
  test('Signal K deltas by the name of the engine; other paths and other PGNs pass by', async () => {
    const rapid = { n2k: `${now.toISOString()},2,127488,5,255,8,00,ff,ff,ff,ff,ff,ff,ff` };
    expect(
      await send(signalk('port', 230.9), rapid, {
        signalk: { updates: [{ values: [{ path: 'navigation.speedOverGround', value: 3 }] }] },
      }),
    ).toMatchObject({ taken: 1, other: 2, refused: 0 });
    expect((await readings())[0]!.count).toBe(230.9);
  });
  test('names that every object has are no engines', () => {
    const delta = (name: string) => ({
      signalk: { updates: [{ values: [{ path: `propulsion.${name}.runTime`, value: 3600 }] }] },
    });
    for (const name of ['constructor', '__proto__', 'toString'])
      expect(decodeSignalK(delta(name).signalk)).toMatchObject({ times: [{ positions: [] }] });
  });

  test('sent again, late and out of order: nothing lost, nothing doubled', async () => {
    const all = [0, 15, 30, 45, 60].map((m) => n2k(0, 230 + m / 60, minutes(m - 60)));
    expect(await send(all[2]!, all[0]!, all[4]!, all[3]!)).toMatchObject({ taken: 2, late: 2 });
    expect(await send(...all)).toMatchObject({ taken: 0, repeated: 1, late: 4 });
    expect((await readings()).map((r) => r.count)).toEqual([231]);
    expect(await box()).toMatchObject({
      tally: { taken: 2, repeated: 1, late: 6, refused: 0 },
      engines: [{ engineName: `${boat} port`, hours: 231 }],
    });
  });
  test('two posts of one box at the same time do not double', async () => {
    const messages = Array.from({ length: 60 }, (_, i) => n2k(0, 230 + i / 60, minutes(i - 60)));
    const outcomes = (await Promise.all([post(messages), post(messages), post(messages)])).map(
      (r) => r.body as Outcome,
    );
    expect(outcomes.reduce((sum, o) => sum + o.taken, 0)).toBe(60);
    expect(outcomes.reduce((sum, o) => sum + o.taken + o.repeated + o.late, 0)).toBe(180);
    expect(await readings()).toHaveLength(1);
  });
  test('a reading at half an hour run, not at every message; and at the first word of a day', async () => {
    await send(n2k(0, 230));
    for (let m = 1; m <= 50; m++) {
      now = new Date(now.getTime() + 60_000);
      await send(n2k(0, 230 + m / 60));
    }
    expect((await readings()).map((r) => r.count)).toEqual([230.5, 230]);
    now = new Date('2026-04-16T08:00:00Z');
    await send(n2k(0, 230 + 50 / 60));
    expect((await readings()).map((r) => `${r.day} ${r.count}`)).toEqual([
      '2026-04-16 230.8',
      '2026-04-15 230.5',
      '2026-04-15 230',
    ]);
  });
  test('a wrong clock is set right by ours and said; the day is the one at the base', async () => {
    now = new Date('2026-04-15T02:00:00Z');
    expect(await send(n2k(0, 230, new Date('2031-01-01T00:00:00Z')))).toMatchObject({ taken: 1 });
    expect((await readings())[0]!.day).toBe('2026-04-14');
    expect(await box()).toMatchObject({ clockOff: true });
    expect(await send(signalk('starboard', 100, null))).toMatchObject({ taken: 1 });
  });
  test('a reset is refused until the meter is changed; then hours go on', async () => {
    await send(n2k(0, 230.9));
    now = minutes(60);
    expect((await send(n2k(0, 0.2))).refusals[0]!.why).toContain('went down from 230.9 to 0.2 h');
    await ilse.post(`/fleet/engines/${ports.port}/meters`, {
      kind: 'computer',
      day: '2026-04-15',
      oldCount: 231,
      newCount: 0,
      reason: 'new engine computer',
    });
    now = minutes(60);
    expect(await send(n2k(0, 0.7))).toMatchObject({ taken: 1, refused: 0 });
    expect((await readings())[0]).toMatchObject({ count: 0.7, lifeHours: 231.7 });
  });
  test('garbage is refused, listed with why, and never reaches the readings', async () => {
    const outcome = await send(
      { n2k: 'hello' },
      { n2k: '2026-04-15T10:00:00.000Z,2,127489,5,255,26,01' },
      n2k(5, 100),
      signalk('port', 'many'),
      signalk('bow thruster', 5),
      { signalk: 'x' },
      signalk('port', -3),
      signalk('port', 200_000),
    );
    expect(outcome).toMatchObject({ taken: 0, refused: 8 });
    expect(await readings()).toEqual([]);
    const listed = await ilse.get<{ text: string; why: string }[]>(`/gateways/${(await box()).id}/refusals`);
    expect(listed.map((r) => r.why)).toEqual(
      expect.arrayContaining([
        expect.stringContaining('no NMEA 2000 line'),
        expect.stringContaining('stands for no engine of this boat'),
        expect.stringContaining('no Signal K delta'),
        expect.stringContaining('no engine time'),
      ]),
    );
  });
  test('below what a person typed it is refused; a tenth of rounding is not', async () => {
    await ilse.post('/usage/readings', { readings: [{ engineId: ports.port, count: 231 }] });
    expect(await send(n2k(0, 230.93))).toMatchObject({ taken: 1, refused: 0 });
    expect(await readings()).toHaveLength(1);
    await ilse.post('/usage/readings', { readings: [{ engineId: ports.starboard, count: 300 }] });
    expect((await send(n2k(1, 200))).refusals[0]!.why).toContain('100 h below the last reading');
  });
  test('only the last refusals are kept', async () => {
    for (let i = 0; i < 3; i++) await send(...Array.from({ length: 90 }, () => ({ n2k: 'x' })));
    const { rows } = await yard.pool.query<{ n: number }>(
      'select count(*)::int as n from gateway_refusal r join gateway g on g.id = r.gateway_id where g.active',
    );
    expect(rows[0]!.n).toBe(200);
  });
});

describe('the key of a box', () => {
  test('without it, with a wrong one, of a box not listened to, or renewed: refused', async () => {
    expect((await post([n2k(0, 1)], 'x'.repeat(32))).status).toBe(401);
    expect(
      (
        await yard
          .visitor()
          .agent.post('/api/gateway/messages')
          .send({ messages: [n2k(0, 1)] })
      ).status,
    ).toBe(401);
    const { id } = await box();
    const renewed = await admin.post<{ key: string; version: number }>(`/gateways/${id}/key`, { version: 1 });
    expect((await post([n2k(0, 1)])).status).toBe(401);
    expect((await post([n2k(0, 1)], renewed.key)).status).toBe(200);
    await admin.put(`/gateways/${id}`, { name: `${boat} box`, boatId, active: false, version: renewed.version });
    expect((await post([n2k(0, 1)], renewed.key)).status).toBe(401);
  });
  test('is shown once: the book keeps its hash, the audit nothing of it', async () => {
    const { rows } = await yard.pool.query<{ all: string }>(
      "select string_agg(g::text, ' ') || (select string_agg(a::text, ' ') from audit a) as all from gateway g",
    );
    expect(rows[0]!.all).not.toContain(key);
  });
  test('only administrators add one', async () => {
    expect((await ilse.refused('post', '/gateways', { name: 'X', boatId, active: true })).status).toBe(403);
  });

  test('two have two names: the second is told at the field', async () => {
    const admin = await yard.as('administrator');
    await admin.post('/gateways', { name: 'Twice', boatId, active: false });
    expect(await admin.refused('post', '/gateways', { name: 'Twice', boatId, active: false })).toMatchObject({
      status: 409,
      faults: [{ path: 'name', text: 'Another box has this name. Choose a different one.' }],
    });
  });
});

test('one message as a general-purpose encoder writes it, whatever is in it, is read as what went in', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: 0, max: 2 }),
      // The field holds seconds in 32 bits; the highest say "not sent".
      fc.integer({ min: 0, max: 0xff_ff_ff_f0 }),
      fc.option(fc.integer({ min: 0, max: 500 })),
      (instance, seconds, temperature) => {
        const line = pgnToActisenseSerialFormat({
          pgn: 127_489,
          prio: 2,
          src: 5,
          dst: 255,
          timestamp: '2026-04-15T10:00:00.000Z',
          fields: {
            Instance: instance,
            'Total Engine hours': seconds,
            ...(temperature !== null && { Temperature: temperature }),
          },
        });
        expect(decodeN2k(line)).toMatchObject({ times: [{ name: `instance ${instance}`, seconds }] });
      },
    ),
    { numRuns: 200 },
  );
});
