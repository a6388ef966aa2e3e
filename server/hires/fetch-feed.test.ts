import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { openYard, type Yard } from '../test/yard.ts';
import { isOpenAddress } from '../http/fetch-outside.ts';
import { fetchFeed } from './fetch-feed.ts';

// IANA special-purpose address registries (RFC 6890 and its updates): what is not of the open internet.
test.each([
  '127.0.0.1',
  '127.8.8.8',
  '0.0.0.0',
  '10.1.2.3',
  '172.16.0.1',
  '172.31.255.255',
  '192.168.0.10',
  '169.254.169.254',
  '100.64.0.1',
  '224.0.0.1',
  '240.0.0.1',
  '255.255.255.255',
  '::1',
  '::',
  'fe80::1',
  'fc00::1',
  'fd12:3456::1',
  'ff02::1',
  '::ffff:127.0.0.1',
  '::ffff:10.0.0.1',
  '64:ff9b::7f00:1',
  'not an address',
])('%s is no address a calendar is read from', (address) => {
  expect(isOpenAddress(address)).toBe(false);
});
test.each(['1.1.1.1', '172.32.0.1', '192.169.0.1', '2606:4700::1111', '::ffff:1.1.1.1'])('%s is', (address) => {
  expect(isOpenAddress(address)).toBe(true);
});

describe('a calendar at an address', () => {
  let server: Server;
  let port: number;
  let answer: (url: string) => { status: number; headers?: Record<string, string>; text?: string };
  let asked = 0;
  beforeAll(async () => {
    server = createServer((request, reply) => {
      asked++;
      const { status, headers, text } = answer(request.url!);
      reply.writeHead(status, headers).end(text);
    });
    await new Promise<void>((done) => {
      server.listen(0, '127.0.0.1', done);
    });
    ({ port } = server.address() as AddressInfo);
  });
  afterAll(() => {
    server.close();
  });
  const at = (host: string, path = '/a.ics') => `http://${host}:${port}${path}`;
  const CANNOT = 'The calendar cannot be read at this address. Check it with whoever keeps the calendar.';

  test('on this machine or network is not even asked, however it is written', async () => {
    answer = () => ({ status: 200, text: 'BEGIN:VCALENDAR' });
    asked = 0;
    for (const host of ['127.0.0.1', 'localhost', '2130706433', '0x7f.1', '127.1', '[::1]', '[::ffff:127.0.0.1]', '0'])
      await expect(fetchFeed(at(host), [])).rejects.toThrow(CANNOT);
    await expect(fetchFeed('file:///etc/passwd', ['127.0.0.1'])).rejects.toThrow(CANNOT);
    expect(asked).toBe(0);
  });

  test('is read where the setting names the host, or the host with its port', async () => {
    answer = () => ({ status: 200, text: 'BEGIN:VCALENDAR' });
    expect(await fetchFeed(at('127.0.0.1'), ['127.0.0.1'])).toBe('BEGIN:VCALENDAR');
    expect(await fetchFeed(at('127.0.0.1'), [`127.0.0.1:${port}`])).toBe('BEGIN:VCALENDAR');
    await expect(fetchFeed(at('127.0.0.1'), [`127.0.0.1:${port + 1}`, '10.0.0.1'])).rejects.toThrow(CANNOT);
  });

  test('a redirect is judged like the address itself, and there is an end to them', async () => {
    asked = 0;
    answer = (url) =>
      url === '/a.ics'
        ? { status: 302, headers: { location: at('localhost', '/b.ics') } }
        : { status: 200, text: 'within' };
    await expect(fetchFeed(at('127.0.0.1'), ['127.0.0.1'])).rejects.toThrow(CANNOT);
    expect(asked).toBe(1);
    expect(await fetchFeed(at('127.0.0.1'), ['127.0.0.1', 'localhost'])).toBe('within');
    answer = () => ({ status: 302, headers: { location: at('127.0.0.1', '/b.ics') } });
    await expect(fetchFeed(at('127.0.0.1'), ['127.0.0.1'])).rejects.toThrow(CANNOT);
    answer = () => ({ status: 302, headers: { location: 'file:///etc/passwd' } });
    await expect(fetchFeed(at('127.0.0.1'), ['127.0.0.1'])).rejects.toThrow(CANNOT);
  });

  test('whatever answers there, the words are the same: nobody explores a network by them', async () => {
    for (const status of [401, 403, 404, 500, 204]) {
      answer = () => ({ status });
      await expect(fetchFeed(at('127.0.0.1'), ['127.0.0.1'])).rejects.toThrow(CANNOT);
    }
    await expect(fetchFeed('http://127.0.0.1:9/', ['127.0.0.1'])).rejects.toThrow(CANNOT);
    await expect(fetchFeed('http://no-such-name.invalid/', [])).rejects.toThrow(CANNOT);
  });

  test('more than 8 MB is said, and not taken', async () => {
    answer = () => ({ status: 200, text: 'x'.repeat(8_000_001) });
    await expect(fetchFeed(at('127.0.0.1'), ['127.0.0.1'])).rejects.toThrow(/larger than 8 MB/);
  });
});

describe('the address of a feed', () => {
  let yard: Yard;
  beforeAll(async () => {
    yard = await openYard(() => new Date('2026-04-15T10:00:00Z'));
  });
  afterAll(() => yard.close());

  test('is told to who keeps the feeds, not to others, and is not in the audit', async () => {
    const admin = await yard.as('administrator');
    const url = 'https://desk.example/calendar-with-a-secret-key.ics';
    await admin.post('/hires/feeds', { name: 'Desk', url, baseId: yard.baseId, active: false });
    expect(await admin.get('/hires/feeds')).toMatchObject([{ url }]);
    for (const role of ['coordinator', 'technician', 'manager'] as const)
      expect(await (await yard.as(role)).get('/hires/feeds')).toMatchObject([{ name: 'Desk', url: null }]);
    expect(JSON.stringify(await admin.get('/records/audit?size=200'))).not.toContain('secret-key');
  });
});
