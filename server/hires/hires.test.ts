import { afterAll, beforeAll, beforeEach, describe, expect, test } from '@jest/globals';
import type { CalendarResult, Hire, HireFeed } from '@diurna/contract/hires';
import { ICalCalendarMethod, ICalEventRepeatingFreq, default as ical } from 'ical-generator';
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { makeLogger } from '../http/log.ts';
import { FLEET_CSV, openYard, type Client, type Yard } from '../test/yard.ts';
import { readFeed, takeFeedsDue } from './index.ts';

let yard: Yard;
let ilse: Client;
let now = new Date('2026-04-15T10:00:00Z');
let boats: Record<string, number> = {};
beforeAll(async () => {
  yard = await openYard(() => now, { privateFeeds: ['127.0.0.1'] });
  ilse = await yard.as('coordinator');
  await ilse.post('/exchange/fleet', FLEET_CSV);
  boats = Object.fromEntries(
    (await ilse.get<{ rows: { id: number; name: string }[] }>('/fleet/boats')).rows.map((b) => [b.name, b.id]),
  );
});
afterAll(async () => {
  await yard.close();
});
beforeEach(async () => {
  now = new Date('2026-04-15T10:00:00Z');
  await yard.pool.query('delete from hire; delete from hire_feed');
});

const hires = async (from = '2026-04-01', days = 200, more = '') =>
  (await ilse.get<{ rows: Hire[] }>(`/hires?from=${from}&days=${days}${more}`)).rows;
const edit = (more: object = {}) => ({
  boatId: boats.Turnstone,
  outDay: '2026-04-20',
  outTime: '09:00',
  backDay: '2026-04-20',
  backTime: '17:30',
  reference: 'B-1',
  ...more,
});
const calendar = (...lines: string[]) =>
  ['BEGIN:VCALENDAR', 'VERSION:2.0', 'PRODID:-//Test//EN', ...lines, 'END:VCALENDAR'].join('\r\n');
const event = (...lines: string[]) => ['BEGIN:VEVENT', 'DTSTAMP:20260401T000000Z', ...lines, 'END:VEVENT'].join('\r\n');
const read = (text: string) => ilse.post<CalendarResult>(`/hires/calendar?baseId=${yard.baseId}`, text);

describe('hires by hand', () => {
  test('are kept in the time of the base, and listed for days they touch', async () => {
    await ilse.post('/hires', edit({ backDay: '2026-04-22' }));
    const [h] = await hires('2026-04-21', 1);
    // Halifax is three hours behind UTC in April.
    expect(h).toMatchObject({
      boatName: 'Turnstone',
      out: '2026-04-20T12:00:00.000Z',
      outTime: '09:00',
      backDay: '2026-04-22',
      backTime: '17:30',
      fromFeed: false,
    });
    expect(await hires('2026-04-23', 10)).toEqual([]);
  });
  test('two at the same time are said, not refused', async () => {
    await ilse.post('/hires', edit());
    expect(await ilse.post('/hires', edit({ outTime: '12:00', reference: 'B-2' }))).toMatchObject({
      overlaps: ['2026-04-20 09:00 to 2026-04-20 17:30 (B-1)'],
    });
  });
  test('back before out, a year too long and an old version are refused in words', async () => {
    expect((await ilse.refused('post', '/hires', edit({ backTime: '08:00' }))).detail).toContain(
      'back before it is out',
    );
    expect((await ilse.refused('post', '/hires', edit({ backDay: '2027-07-20' }))).detail).toContain('400 days');
    const { id } = await ilse.post<{ id: number }>('/hires', edit());
    await ilse.put(`/hires/${id}`, edit({ version: 1, backTime: '18:00' }));
    expect((await ilse.refused('put', `/hires/${id}`, edit({ version: 1 }))).status).toBe(409);
  });
  test('called off and taken back', async () => {
    const { id } = await ilse.post<{ id: number }>('/hires', edit());
    await ilse.post(`/hires/${id}/cancel`, { version: 1, cancelled: true });
    expect(await hires()).toEqual([]);
    expect(await hires('2026-04-01', 60, '&cancelled=yes')).toMatchObject([{ cancelled: true }]);
    await ilse.post(`/hires/${id}/cancel`, { version: 2, cancelled: false });
    expect(await hires()).toHaveLength(1);
  });
  test('over a change of clocks the wall times stay', async () => {
    await ilse.post('/hires', edit({ outDay: '2026-10-31', backDay: '2026-11-02', backTime: '09:00' }));
    const [h] = await hires('2026-10-30');
    expect((Date.parse(h!.back) - Date.parse(h!.out)) / 3_600_000).toBe(49);
  });
});

describe('calendar files (RFC 5545)', () => {
  test('the standard’s example (3.8.5.3): every other week on three days, across the change of clocks', async () => {
    now = new Date('1997-09-01T10:00:00Z');
    const text = calendar(
      event(
        'UID:rfc',
        'DTSTART;TZID=America/New_York:19970901T090000',
        'DTEND;TZID=America/New_York:19970901T170000',
        'RRULE:FREQ=WEEKLY;INTERVAL=2;UNTIL=19971224T000000Z;WKST=SU;BYDAY=MO,WE,FR',
        'SUMMARY:Turnstone, harbour school',
      ),
    );
    expect((await read(text)).counts).toMatchObject({ add: 25, faulty: 0 });
    const found = await hires('1997-09-01', 150);
    expect(found.map((h) => h.outDay.slice(5))).toEqual([
      '09-01',
      '09-03',
      '09-05',
      '09-15',
      '09-17',
      '09-19',
      '09-29',
      '10-01',
      '10-03',
      '10-13',
      '10-15',
      '10-17',
      '10-27',
      '10-29',
      '10-31',
      '11-10',
      '11-12',
      '11-14',
      '11-24',
      '11-26',
      '11-28',
      '12-08',
      '12-10',
      '12-12',
      '12-22',
    ]);
    // 9:00 in New York is 13:00 UTC in summer and 14:00 in winter.
    expect([found[0]!.out, found.at(-1)!.out]).toEqual(['1997-09-01T13:00:00.000Z', '1997-12-22T14:00:00.000Z']);
  });

  test('read twice, nothing is doubled; changed, moved and cancelled events follow', async () => {
    const make = (hour: string, status = 'CONFIRMED', ...more: string[]) =>
      calendar(
        event(
          'UID:a',
          `DTSTART:20260420T${hour}0000Z`,
          'DTEND:20260420T200000Z',
          'SUMMARY:Knot',
          `STATUS:${status}`,
          ...more,
        ),
      );
    expect((await read(make('12'))).counts).toMatchObject({ add: 1, same: 0 });
    expect((await read(make('12'))).counts).toMatchObject({ add: 0, same: 1 });
    expect((await read(make('13'))).counts).toMatchObject({ change: 1 });
    expect(await hires()).toMatchObject([
      { boatName: 'Knot', out: '2026-04-20T13:00:00.000Z', source: 'calendar file' },
    ]);
    expect((await read(make('13', 'CANCELLED'))).counts).toMatchObject({ cancel: 1 });
    expect(await hires()).toEqual([]);
  });

  test('one of a repeating event is moved, one is left out', async () => {
    const weekly = event(
      'UID:w',
      'DTSTART;TZID=America/Halifax:20260418T090000',
      'DTEND;TZID=America/Halifax:20260418T150000',
      'RRULE:FREQ=WEEKLY;COUNT=4',
      'EXDATE;TZID=America/Halifax:20260502T090000',
      'LOCATION:Turnstone',
    );
    const moved = event(
      'UID:w',
      'RECURRENCE-ID;TZID=America/Halifax:20260425T090000',
      'DTSTART;TZID=America/Halifax:20260426T100000',
      'DTEND;TZID=America/Halifax:20260426T150000',
      'LOCATION:Turnstone',
    );
    expect((await read(calendar(weekly))).counts.add).toBe(3);
    expect((await read(calendar(weekly, moved))).counts).toMatchObject({ add: 0, change: 1, same: 2 });
    expect((await hires()).map((h) => `${h.outDay} ${h.outTime}`)).toEqual([
      '2026-04-18 09:00',
      '2026-04-26 10:00',
      '2026-05-09 09:00',
    ]);
  });

  test('whole days are hires of the working day, the last not among them; bare times are the base’s', async () => {
    await read(
      calendar(
        event('UID:d', 'DTSTART;VALUE=DATE:20260420', 'DTEND;VALUE=DATE:20260423', 'SUMMARY:Hire of Turnstone'),
        event('UID:f', 'DTSTART:20260424T100000', 'DURATION:PT3H', 'SUMMARY:Turnstone'),
      ),
    );
    expect((await hires()).map((h) => `${h.outDay} ${h.outTime} ${h.backDay} ${h.backTime}`)).toEqual([
      '2026-04-20 08:00 2026-04-22 18:00',
      '2026-04-24 10:00 2026-04-24 13:00',
    ]);
  });

  test('a zone the file describes itself', async () => {
    const zone = [
      'BEGIN:VTIMEZONE',
      'TZID:Harbour time',
      'BEGIN:STANDARD',
      'DTSTART:19700101T000000',
      'TZOFFSETFROM:-0330',
      'TZOFFSETTO:-0330',
      'END:STANDARD',
      'END:VTIMEZONE',
    ].join('\r\n');
    await read(
      calendar(
        zone,
        event(
          'UID:z',
          'DTSTART;TZID=Harbour time:20260420T090000',
          'DTEND;TZID=Harbour time:20260420T120000',
          'RESOURCES:Turnstone',
        ),
      ),
    );
    expect((await hires())[0]!.out).toBe('2026-04-20T12:30:00.000Z');
  });

  test('events without a boat, an end or a UID are shown as faulty and left out; the rest is read', async () => {
    const text = calendar(
      event('UID:1', 'DTSTART:20260420T090000Z', 'DTEND:20260420T120000Z', 'SUMMARY:Office party'),
      event('UID:2', 'DTSTART:20260420T090000Z', 'DTEND:20260420T080000Z', 'SUMMARY:Knot'),
      event('DTSTART:20260420T090000Z', 'DTEND:20260420T120000Z', 'SUMMARY:Knot'),
      event('UID:4', 'DTSTART:20260421T090000Z', 'DTEND:20260421T120000Z', 'SUMMARY:KNOT (skipper wanted)'),
    );
    const look = await ilse.post<CalendarResult>(`/hires/calendar/preview?baseId=${yard.baseId}`, text);
    expect(look).toMatchObject({ counts: { add: 1, faulty: 3 }, written: false });
    expect(look.events.slice(0, 3).map((e) => e.fault)).toEqual(
      expect.arrayContaining([
        expect.stringContaining('names no boat'),
        expect.stringContaining('no end after'),
        expect.stringContaining('no UID'),
      ]),
    );
    expect(await hires()).toEqual([]);
    expect((await read(text)).counts.add).toBe(1);
  });

  test('what is no calendar is refused in a sentence and leaves the book as it was', async () => {
    for (const text of ['BEGIN:VCARD\r\nEND:VCARD', 'BEGIN:VCALENDAR', 'BEGIN:VCALENDAR\r\n\u0000', 'BEGIN:\uFFFD']) {
      expect(await ilse.refused('post', `/hires/calendar?baseId=${yard.baseId}`, text)).toMatchObject({
        status: 422,
        detail: expect.stringContaining('no iCalendar file'),
      });
    }
    expect(await hires()).toEqual([]);
  });

  test('a file made by a calendar library (ical-generator) reads as it was meant', async () => {
    const made = ical({ name: 'Bookings', method: ICalCalendarMethod.PUBLISH });
    made.createEvent({
      id: 'g1',
      start: new Date('2026-05-01T13:00:00Z'),
      end: new Date('2026-05-01T18:00:00Z'),
      summary: 'Turnstone',
      created: new Date('2026-04-10T08:00:00Z'),
    });
    made.createEvent({
      id: 'g2',
      start: new Date('2026-05-02T13:00:00Z'),
      end: new Date('2026-05-02T18:00:00Z'),
      summary: 'Knot',
      repeating: { freq: ICalEventRepeatingFreq.DAILY, count: 5 },
    });
    expect((await read(made.toString())).counts).toMatchObject({ add: 6, faulty: 0 });
    expect((await hires())[0]).toMatchObject({
      out: '2026-05-01T13:00:00.000Z',
      back: '2026-05-01T18:00:00.000Z',
      madeAt: '2026-04-10T08:00:00.000Z',
    });
  });

  test('an endless repetition stops at the days looked ahead', async () => {
    const { counts } = await read(
      calendar(
        event('UID:e', 'DTSTART:20200101T090000Z', 'DTEND:20200101T120000Z', 'RRULE:FREQ=DAILY', 'SUMMARY:Knot'),
      ),
    );
    expect(counts.add).toBeGreaterThan(1100);
    expect(counts.add).toBeLessThan(1145);
  });
});

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
        await yard.as('administrator')
      ).post<{ id: number }>('/hires/feeds', { name: 'Desk', url, baseId: yard.baseId, active: true })
    ).id;
  const feed = async () => (await ilse.get<HireFeed[]>('/hires/feeds'))[0]!;
  const knot = (uid: string, day: string) =>
    event(`UID:${uid}`, `DTSTART:${day}T120000Z`, `DTEND:${day}T180000Z`, 'SUMMARY:Knot');

  test('is read again without doubling; what it no longer has is called off, what is over stays', async () => {
    const id = await follow();
    status = 200;
    text = calendar(knot('old', '20260410'), knot('a', '20260420'), knot('b', '20260421'));
    expect(await ilse.post(`/hires/feeds/${id}/read`)).toMatchObject({ failed: false, outcome: 'Read: 3 new.' });
    expect(await ilse.post(`/hires/feeds/${id}/read`)).toMatchObject({ outcome: 'Read: 3 as before.' });
    text = calendar(knot('b', '20260422'));
    expect(await ilse.post(`/hires/feeds/${id}/read`)).toMatchObject({ outcome: 'Read: 1 changed, 1 called off.' });
    expect((await hires()).map((h) => h.outDay)).toEqual(['2026-04-10', '2026-04-22']);
    expect(await feed()).toMatchObject({ hires: 1, failed: false });
    const [first] = await hires();
    expect(
      (await ilse.refused('post', `/hires/${first!.id}/cancel`, { version: first!.version, cancelled: true })).detail,
    ).toContain('kept by a calendar feed');
  });

  test('what goes wrong is a sentence, and the hires stay', async () => {
    const id = await follow();
    status = 200;
    text = calendar(knot('a', '20260420'));
    await ilse.post(`/hires/feeds/${id}/read`);
    status = 403;
    expect(await ilse.post(`/hires/feeds/${id}/read`)).toMatchObject({
      failed: true,
      outcome: expect.stringContaining('cannot be read at this address'),
    });
    status = 200;
    text = '<html>please sign in</html>';
    expect(await ilse.post(`/hires/feeds/${id}/read`)).toMatchObject({
      failed: true,
      outcome: expect.stringContaining('no iCalendar file'),
    });
    expect(await hires()).toHaveLength(1);
    expect(await feed()).toMatchObject({ failed: true });
  });

  test('is read by itself every quarter of an hour, by one of several processes', async () => {
    await follow();
    status = 200;
    text = calendar(knot('a', '20260420'));
    // Whoever takes one reads it: what another has taken is not taken again.
    const readDue = async (at: Date) => {
      const due = await takeFeedsDue(yard.db, at);
      for (const { id } of due) await readFeed(yard.db, id, at, { personId: null, requestId: null }, OPTIONS);
      return due.length;
    };
    expect((await Promise.all([readDue(now), readDue(now)])).sort()).toEqual([0, 1]);
    expect(await hires()).toHaveLength(1);
    text = calendar(knot('a', '20260420'), knot('b', '20260421'));
    expect(await readDue(new Date(now.getTime() + 14 * 60_000))).toBe(0);
    expect(await hires()).toHaveLength(1);
    expect(await readDue(new Date(now.getTime() + 16 * 60_000))).toBe(1);
    expect(await hires()).toHaveLength(2);
  });

  test('only an administrator names an address, and only a web one', async () => {
    expect(
      (await ilse.refused('post', '/hires/feeds', { name: 'X', url, baseId: yard.baseId, active: true })).status,
    ).toBe(403);
    expect(
      (
        await (
          await yard.as('administrator')
        ).refused('post', '/hires/feeds', { name: 'X', url: 'file:///etc/passwd', baseId: yard.baseId, active: true })
      ).detail,
    ).toContain('no web address');
  });
});

describe('hires as a file', () => {
  const csv = [
    'boat,out,back,booked_on,reference',
    'Turnstone,2026-04-20 09:00,2026-04-20 17:00,2026-04-01,B-7',
    'Knot,2026-04-21 09:00,2026-04-23 17:00,,',
  ].join('\n');
  test('goes in, comes out the same, and in again without change', async () => {
    expect(await ilse.post('/exchange/hires', csv)).toMatchObject({ counts: { add: 2 } });
    expect(await ilse.post('/exchange/hires', csv)).toMatchObject({ counts: { same: 2 } });
    expect((await ilse.raw('get', '/exchange/hires')).text.trim().split('\r\n').sort()).toEqual(csv.split('\n').sort());
    expect(await ilse.post('/exchange/hires', csv.replace('17:00,2026-04-01', '18:00,2026-04-01'))).toMatchObject({
      counts: { change: 1, same: 1 },
    });
  });
  test('each faulty cell is told', async () => {
    const bad = [
      'boat,out,back',
      'Nobody,2026-04-20 09:00,2026-04-20 17:00',
      'Knot,20.4.2026,2026-04-20 17:00',
      'Knot,2026-04-20 09:00,2026-04-20 08:00',
      'Knot,2026-04-20 25:00,2026-04-21 08:00',
    ].join('\n');
    const look = await ilse.post<{ counts: object; rows: { faults: { column: string }[] }[] }>(
      '/exchange/hires/preview',
      bad,
    );
    expect(look.counts).toMatchObject({ faulty: 4 });
    expect(look.rows.map((r) => r.faults[0]!.column)).toEqual(['boat', 'out', 'back', 'out']);
  });
});

describe('what hires do to due dates', () => {
  interface Row {
    position: string;
    due: {
      task: string;
      estimated: boolean;
      hoursLeft: number | null;
      hoursOn: { early: string | null; likely: string | null } | null;
    };
  }
  const oil = async (position: string) =>
    (await ilse.get<{ rows: Row[] }>(`/service/due?boatId=${boats.Knot}&size=100`)).rows.find(
      (r) => r.position === position && r.due.task === 'gear-lube',
    )!.due;
  test('an engine without a meter is counted by them, and a booking made now shows at once', async () => {
    const kicker = (
      await ilse.get<{ rows: { engineId: number; position: string }[] }>(`/service/due?boatId=${boats.Knot}&size=100`)
    ).rows.find((r) => r.position === 'kicker')!.engineId;
    await ilse.post('/service/entries', {
      engineId: kicker,
      task: 'gear-lube',
      doneOn: '2026-02-01',
      hours: null,
      doneBy: 'Ada',
      remark: null,
    });
    expect(await oil('kicker')).toMatchObject({ estimated: false, hoursLeft: null });
    const rows = Array.from({ length: 60 }, (_, i) =>
      new Date(Date.UTC(2026, 1, 1 + i)).toISOString().slice(0, 10),
    ).map((d) => `Knot,${d} 10:00,${d} 14:00,${d}`);
    await ilse.post('/exchange/hires', ['boat,out,back,booked_on', ...rows].join('\n'));
    const before = await oil('kicker');
    // 60 days of 4 h on hire at a tenth, the usual share of a kicker: about 24 h.
    expect(before.estimated).toBe(true);
    expect(before.hoursLeft).toBeGreaterThan(70);
    expect(before.hoursLeft).toBeLessThan(82);
    await ilse.post('/hires', edit({ boatId: boats.Knot, outDay: '2026-04-16', backDay: '2026-04-19' }));
    const after = await oil('kicker');
    expect((after.hoursOn!.likely ?? '9') <= (before.hoursOn!.likely ?? '9')).toBe(true);
    expect(after.hoursOn!.early! <= before.hoursOn!.early!).toBe(true);
  });
});
