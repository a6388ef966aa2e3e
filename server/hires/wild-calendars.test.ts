import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import type { CalendarResult } from '@diurna/contract/hires';
import { openYard, type Client, type Yard } from '../test/yard.ts';
import { readCalendarApart } from './calendar-apart.ts';

/** Calendars nobody should send: they are read apart from the loop that answers people, and spoil what they must. */
let yard: Yard;
let ilse: Client;
beforeAll(async () => {
  yard = await openYard(() => new Date('2026-04-15T10:00:00Z'));
  ilse = await yard.as('coordinator');
  await ilse.post('/fleet/boats', { name: 'Plover', baseId: yard.baseId, berth: null });
});
afterAll(() => yard.close());

const calendar = (...events: string[]) =>
  ['BEGIN:VCALENDAR', 'VERSION:2.0', 'PRODID:-//x//y//EN', ...events, 'END:VCALENDAR', ''].join('\r\n');
const event = (uid: string, ...lines: string[]) =>
  ['BEGIN:VEVENT', `UID:${uid}`, 'SUMMARY:Plover, whale watching', ...lines, 'END:VEVENT'].join('\r\n');
const good = event('good', 'DTSTART:20260501T080000', 'DTEND:20260501T160000');
const FROM = new Date('2026-04-01T00:00:00Z');
const TO = new Date('2027-04-01T00:00:00Z');
const read = (text: string, seconds = 2) => readCalendarApart(text, 'Atlantic/Madeira', FROM, TO, seconds);
const preview = (text: string) => ilse.post<CalendarResult>(`/hires/calendar/preview?baseId=${yard.baseId}`, text);

describe('a repeating event that comes to no end', () => {
  // The thirtieth of February: ical.js looks for it for ever.
  const never = event(
    'never',
    'DTSTART:20260101T080000',
    'DTEND:20260101T160000',
    'RRULE:FREQ=DAILY;BYMONTH=2;BYMONTHDAY=30',
  );

  test('is ended, named, and leaves the loop free for everybody else meanwhile', async () => {
    const ended: string[] = [];
    const wild = read(calendar(good, never))
      .then(
        () => null,
        (error: unknown) => (error as Error).message,
      )
      .finally(() => ended.push('wild'));
    // People are answered while it is looked at.
    expect((await ilse.get<{ total: number }>('/hires?from=2026-04-15')).total).toBe(0);
    ended.push('answered');
    expect(await wild).toMatch(/^“Plover, whale watching” repeats in a way that comes to no end within 2 seconds\./);
    // Before, the loop stood still for as long as it took.
    expect(ended).toEqual(['answered', 'wild']);
  });

  test('one a second since 1970 is told at the event, the others are read', async () => {
    const often = event('often', 'DTSTART:19700101T000000Z', 'DTEND:19700101T000001Z', 'RRULE:FREQ=SECONDLY');
    const { counts, events } = await preview(calendar(often, good));
    expect(counts).toMatchObject({ add: 1, faulty: 1 });
    expect(events[0]).toMatchObject({ uid: 'often', fault: expect.stringContaining('repeats more than 50,000 times') });
  });
});

describe('a date that is none spoils its own event only', () => {
  const ODD: Record<string, string[]> = {
    'a month thirteen': ['DTSTART:20261301T080000', 'DTEND:20261301T160000'],
    'the thirty-second': ['DTSTART:20260532T080000', 'DTEND:20260532T160000'],
    words: ['DTSTART:tomorrow', 'DTEND:later'],
    'half a date': ['DTSTART:2026', 'DTEND:2026'],
    nothing: ['DTSTART:', 'DTEND:'],
    'no end to read': ['DTSTART:20260502T080000', 'DURATION:soon'],
    'a rule that is none': ['DTSTART:20260502T080000', 'DTEND:20260502T160000', 'RRULE:FREQ=SOMETIMES'],
    'an interval of nothing': ['DTSTART:20260502T080000', 'DTEND:20260502T160000', 'RRULE:FREQ=DAILY;INTERVAL=0'],
    'a day left out that is none': ['DTSTART:20260502T080000', 'DTEND:20260502T160000', 'RRULE:FREQ=DAILY', 'EXDATE:x'],
    'a year far off': ['DTSTART:99990101T080000', 'DTEND:99990101T160000'],
    'a year before all': ['DTSTART:00000101T080000', 'DTEND:00000101T160000'],
    'a zone that is none': ['DTSTART;TZID=Mars/Base:20260502T080000', 'DTEND;TZID=Mars/Base:20260502T160000'],
    'made on no day': ['DTSTART:20260502T080000', 'DTEND:20260502T160000', 'CREATED:never'],
    'a recurrence of nothing': ['DTSTART:20260502T080000', 'DTEND:20260502T160000', 'RECURRENCE-ID:never'],
  };
  let result: CalendarResult;
  beforeAll(async () => {
    // All in one calendar, good ones before, between and behind.
    const all = Object.entries(ODD).flatMap(([what, lines], i) => [
      event(what, ...lines),
      event(`good ${i}`, `DTSTART:202605${String(i + 10)}T080000`, `DTEND:202605${String(i + 10)}T160000`),
    ]);
    result = await preview(calendar(good, ...all));
  });

  test('every good one among them is read', () => {
    const added = result.events.filter((e) => e.does === 'add').map((e) => e.uid);
    expect(added).toEqual(expect.arrayContaining(['good', ...Object.keys(ODD).map((_, i) => `good ${i}`)]));
  });

  test.each(Object.keys(ODD))('%s: told at the event, or read as far as it can be', (what) => {
    const own = result.events.filter((e) => e.uid === what);
    // What lies outside of the days looked at is left out without a word.
    for (const e of own) expect(e.does === 'faulty' ? e.fault : e.out).toEqual(expect.stringMatching(/\S/));
    expect(own.length > 0 || what.startsWith('a year')).toBe(true);
  });

  test('text that is no calendar at all is refused in words, whatever it is', async () => {
    for (const text of [
      'BEGIN:VCALENDAR',
      'BEGIN:VCALENDAR\r\nBEGIN:VEVENT\r\nEND:VCALENDAR\r\n',
      'BEGIN:VCALENDAR\r\n:::\r\nEND:VCALENDAR',
      'BEGIN:VCALENDAR\r\nX;=\r\nEND:VCALENDAR',
      `BEGIN:VCALENDAR\r\n${'BEGIN:VEVENT\r\n'.repeat(2000)}`,
      `BEGIN:VCALENDAR\r\nSUMMARY:${'\\'.repeat(5000)}\r\nEND:VCALENDAR`,
    ]) {
      const reply = await ilse.raw('post', `/hires/calendar/preview?baseId=${yard.baseId}`, text);
      expect([200, 422]).toContain(reply.status);
    }
  });
});
