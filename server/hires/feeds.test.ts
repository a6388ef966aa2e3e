import { afterAll, beforeAll, beforeEach, describe, expect, test } from '@jest/globals';
import type { HireFeed } from '@diurna/contract/hires';
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { makeLogger } from '../http/log.ts';
import { readFeed, takeFeedsDue } from './index.ts';
import { THEN, calendar, event, openHires } from '../test/hires.ts';

let book: Awaited<ReturnType<typeof openHires>>;
beforeAll(async () => {
  book = await openHires();
});
afterAll(() => book.yard.close());
beforeEach(() => book.clear());
const now = new Date(THEN);

describe('feeds', () => {
  const OPTIONS = { privateFeeds: ['127.0.0.1'], logger: makeLogger('silent') };
  let desk: Server;
  let text = '';
  let status = 200;
  let url = '';
  beforeAll(async () => {
    desk = createServer((_, reply) => {
      reply.writeHead(status, { 'content-type': 'text/calendar' }).end(text);
    });
    await new Promise<void>((done) => {
      desk.listen(0, '127.0.0.1', done);
    });
    url = `http://127.0.0.1:${(desk.address() as AddressInfo).port}/hires.ics`;
  });
  afterAll(() => {
    desk.close();
  });
  const follow = async () =>
    (
      await (
        await book.yard.as('administrator')
      ).post<{ id: number }>('/hires/feeds', { name: 'Desk', url, baseId: book.yard.baseId, active: true })
    ).id;
  const feed = async () => (await book.ilse.get<HireFeed[]>('/hires/feeds'))[0]!;
  const knot = (uid: string, day: string) =>
    event(`UID:${uid}`, `DTSTART:${day}T120000Z`, `DTEND:${day}T180000Z`, 'SUMMARY:Knot');

  test('is read again without doubling; what it no longer has is called off, what is over stays', async () => {
    const id = await follow();
    status = 200;
    text = calendar(knot('old', '20260410'), knot('a', '20260420'), knot('b', '20260421'));
    expect(await book.ilse.post(`/hires/feeds/${id}/read`)).toMatchObject({ failed: false, outcome: 'Read: 3 new.' });
    expect(await book.ilse.post(`/hires/feeds/${id}/read`)).toMatchObject({ outcome: 'Read: 3 as before.' });
    text = calendar(knot('b', '20260422'));
    expect(await book.ilse.post(`/hires/feeds/${id}/read`)).toMatchObject({
      outcome: 'Read: 1 changed, 1 called off.',
    });
    expect((await book.hires()).map((h) => h.outDay)).toEqual(['2026-04-10', '2026-04-22']);
    expect(await feed()).toMatchObject({ hires: 1, failed: false });
    const [first] = await book.hires();
    expect(
      (await book.ilse.refused('post', `/hires/${first!.id}/cancel`, { version: first!.version, cancelled: true }))
        .detail,
    ).toContain('kept by a calendar feed');
  });

  test('what goes wrong is a sentence, and the hires stay', async () => {
    const id = await follow();
    status = 200;
    text = calendar(knot('a', '20260420'));
    await book.ilse.post(`/hires/feeds/${id}/read`);
    status = 403;
    expect(await book.ilse.post(`/hires/feeds/${id}/read`)).toMatchObject({
      failed: true,
      outcome: expect.stringContaining('cannot be read at this address'),
    });
    status = 200;
    text = '<html>please sign in</html>';
    expect(await book.ilse.post(`/hires/feeds/${id}/read`)).toMatchObject({
      failed: true,
      outcome: expect.stringContaining('no iCalendar file'),
    });
    expect(await book.hires()).toHaveLength(1);
    expect(await feed()).toMatchObject({ failed: true });
  });

  test('is read by itself every quarter of an hour, by one of several processes', async () => {
    await follow();
    status = 200;
    text = calendar(knot('a', '20260420'));
    // Whoever takes one reads it: what another has taken is not taken again.
    const readDue = async (at: Date) => {
      const due = await takeFeedsDue(book.yard.db, at);
      for (const { id } of due) await readFeed(book.yard.db, id, at, { personId: null, requestId: null }, OPTIONS);
      return due.length;
    };
    expect((await Promise.all([readDue(now), readDue(now)])).sort()).toEqual([0, 1]);
    expect(await book.hires()).toHaveLength(1);
    text = calendar(knot('a', '20260420'), knot('b', '20260421'));
    expect(await readDue(new Date(now.getTime() + 14 * 60_000))).toBe(0);
    expect(await book.hires()).toHaveLength(1);
    expect(await readDue(new Date(now.getTime() + 16 * 60_000))).toBe(1);
    expect(await book.hires()).toHaveLength(2);
  });

  test('only an administrator names an address, and only a web one', async () => {
    expect(
      (await book.ilse.refused('post', '/hires/feeds', { name: 'X', url, baseId: book.yard.baseId, active: true }))
        .status,
    ).toBe(403);
    expect(
      (
        await (
          await book.yard.as('administrator')
        ).refused('post', '/hires/feeds', {
          name: 'X',
          url: 'file:///etc/passwd',
          baseId: book.yard.baseId,
          active: true,
        })
      ).detail,
    ).toContain('no web address');
  });
});

test('a followed calendar is renamed and set aside; an older version, and a coordinator, are refused', async () => {
  const admin = await book.yard.as('administrator');
  const ilse = await book.yard.as('coordinator');
  const feed = { name: 'Desk', url: 'http://127.0.0.1:9/desk.ics', baseId: book.yard.baseId, active: true };
  const { id, version } = await admin.post<{ id: number; version: number }>('/hires/feeds', feed);
  const edited = { ...feed, name: 'Front desk', active: false, version };
  await admin.put(`/hires/feeds/${id}`, edited);
  const read = async () => (await ilse.get<HireFeed[]>('/hires/feeds')).find((f) => f.id === id);
  expect(await read()).toMatchObject({ name: 'Front desk', active: false });
  expect((await admin.refused('put', `/hires/feeds/${id}`, edited)).status).toBe(409);
  expect((await ilse.raw('put', `/hires/feeds/${id}`, edited)).status).toBe(403);
  expect((await admin.refused('put', `/hires/feeds/${id}`, { ...edited, url: 'desk' })).detail).toContain(
    'web address',
  );
});

test('the same address is followed once, also when two name it at the same moment', async () => {
  const admin = await book.yard.as('administrator');
  const feed = (name: string) => ({
    name,
    url: 'https://desk.example/one.ics',
    baseId: book.yard.baseId,
    active: false,
  });
  const both = await Promise.all([
    admin.raw('post', '/hires/feeds', feed('One')),
    admin.raw('post', '/hires/feeds', feed('Two')),
  ]);
  expect(both.map((r) => r.status).sort()).toEqual([200, 409]);
  const refused = both.find((r) => r.status === 409)!;
  expect((refused.body as { detail: string }).detail).toMatch(/follows this address already, as "(One|Two)"/);
});
