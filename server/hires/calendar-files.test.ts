import { afterAll, beforeAll, beforeEach, describe, expect, test } from '@jest/globals';
import type { CalendarResult } from '@diurna/contract/hires';
import { ICalCalendarMethod, ICalEventRepeatingFreq, default as ical } from 'ical-generator';
import { calendar, event, openHires } from '../test/hires.ts';

let book: Awaited<ReturnType<typeof openHires>>;
beforeAll(async () => {
  book = await openHires();
});
afterAll(() => book.yard.close());
beforeEach(() => book.clear());

describe('calendar files (RFC 5545)', () => {
  test('the standard’s example (3.8.5.3): every other week on three days, across the change of clocks', async () => {
    book.setNow('1997-09-01T10:00:00Z');
    const text = calendar(
      event(
        'UID:rfc',
        'DTSTART;TZID=America/New_York:19970901T090000',
        'DTEND;TZID=America/New_York:19970901T170000',
        'RRULE:FREQ=WEEKLY;INTERVAL=2;UNTIL=19971224T000000Z;WKST=SU;BYDAY=MO,WE,FR',
        'SUMMARY:Turnstone, harbour school',
      ),
    );
    expect((await book.read(text)).counts).toMatchObject({ add: 25, faulty: 0 });
    const found = await book.hires('1997-09-01', 150);
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
    expect((await book.read(make('12'))).counts).toMatchObject({ add: 1, same: 0 });
    expect((await book.read(make('12'))).counts).toMatchObject({ add: 0, same: 1 });
    expect((await book.read(make('13'))).counts).toMatchObject({ change: 1 });
    expect(await book.hires()).toMatchObject([
      { boatName: 'Knot', out: '2026-04-20T13:00:00.000Z', source: 'calendar file' },
    ]);
    expect((await book.read(make('13', 'CANCELLED'))).counts).toMatchObject({ cancel: 1 });
    expect(await book.hires()).toEqual([]);
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
    expect((await book.read(calendar(weekly))).counts.add).toBe(3);
    expect((await book.read(calendar(weekly, moved))).counts).toMatchObject({ add: 0, change: 1, same: 2 });
    expect((await book.hires()).map((h) => `${h.outDay} ${h.outTime}`)).toEqual([
      '2026-04-18 09:00',
      '2026-04-26 10:00',
      '2026-05-09 09:00',
    ]);
  });

  test('whole days are hires of the working day, the last not among them; bare times are the base’s', async () => {
    await book.read(
      calendar(
        event('UID:d', 'DTSTART;VALUE=DATE:20260420', 'DTEND;VALUE=DATE:20260423', 'SUMMARY:Hire of Turnstone'),
        event('UID:f', 'DTSTART:20260424T100000', 'DURATION:PT3H', 'SUMMARY:Turnstone'),
      ),
    );
    expect((await book.hires()).map((h) => `${h.outDay} ${h.outTime} ${h.backDay} ${h.backTime}`)).toEqual([
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
    await book.read(
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
    expect((await book.hires())[0]!.out).toBe('2026-04-20T12:30:00.000Z');
  });

  test('events without a boat, an end or a UID are shown as faulty and left out; the rest is read', async () => {
    const text = calendar(
      event('UID:1', 'DTSTART:20260420T090000Z', 'DTEND:20260420T120000Z', 'SUMMARY:Office party'),
      event('UID:2', 'DTSTART:20260420T090000Z', 'DTEND:20260420T080000Z', 'SUMMARY:Knot'),
      event('DTSTART:20260420T090000Z', 'DTEND:20260420T120000Z', 'SUMMARY:Knot'),
      event('UID:4', 'DTSTART:20260421T090000Z', 'DTEND:20260421T120000Z', 'SUMMARY:KNOT (skipper wanted)'),
    );
    const look = await book.ilse.post<CalendarResult>(`/hires/calendar/preview?baseId=${book.yard.baseId}`, text);
    expect(look).toMatchObject({ counts: { add: 1, faulty: 3 }, written: false });
    expect(look.events.slice(0, 3).map((e) => e.fault)).toEqual(
      expect.arrayContaining([
        expect.stringContaining('names no boat'),
        expect.stringContaining('no end after'),
        expect.stringContaining('no UID'),
      ]),
    );
    expect(await book.hires()).toEqual([]);
    expect((await book.read(text)).counts.add).toBe(1);
  });

  test('what is no calendar is refused in a sentence and leaves the book as it was', async () => {
    for (const text of ['BEGIN:VCARD\r\nEND:VCARD', 'BEGIN:VCALENDAR', 'BEGIN:VCALENDAR\r\n\u0000', 'BEGIN:\uFFFD']) {
      expect(await book.ilse.refused('post', `/hires/calendar?baseId=${book.yard.baseId}`, text)).toMatchObject({
        status: 422,
        detail: expect.stringContaining('no iCalendar file'),
      });
    }
    expect(await book.hires()).toEqual([]);
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
    expect((await book.read(made.toString())).counts).toMatchObject({ add: 6, faulty: 0 });
    expect((await book.hires())[0]).toMatchObject({
      out: '2026-05-01T13:00:00.000Z',
      back: '2026-05-01T18:00:00.000Z',
      madeAt: '2026-04-10T08:00:00.000Z',
    });
  });

  test('an endless repetition stops at the days looked ahead', async () => {
    const { counts } = await book.read(
      calendar(
        event('UID:e', 'DTSTART:20200101T090000Z', 'DTEND:20200101T120000Z', 'RRULE:FREQ=DAILY', 'SUMMARY:Knot'),
      ),
    );
    expect(counts.add).toBeGreaterThan(1100);
    expect(counts.add).toBeLessThan(1145);
  });
});
