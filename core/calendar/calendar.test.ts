import { describe, expect, test } from '@jest/globals';
import { tz } from '@date-fns/tz';
import { UTCDate } from '@date-fns/utc';
import * as dateFns from 'date-fns';
import fc from 'fast-check';
import {
  addDays,
  addMonths,
  clockFrom,
  clockInZone,
  dayInZone,
  daysBetween,
  instantInZone,
  isDay,
  isoWeek,
  isTimeZone,
  minuteOfField,
  timeFieldOf,
  timeOfDay,
  weekday,
} from './index.ts';

const anyDay = fc
  .date({ min: new Date('1990-01-01'), max: new Date('2060-12-31'), noInvalidDate: true })
  .map((d) => d.toISOString().slice(0, 10));
const text = (d: Date) => d.toISOString().slice(0, 10);

describe('days, against date-fns', () => {
  test('adding months keeps the day of the month or takes the last one', () => {
    fc.assert(
      fc.property(anyDay, fc.integer({ min: -60, max: 60 }), (day, n) => {
        expect(addMonths(day, n)).toBe(text(dateFns.addMonths(new UTCDate(day), n)));
      }),
    );
  });

  test('adding days, days between, weekday and ISO week agree', () => {
    fc.assert(
      fc.property(anyDay, fc.integer({ min: -4000, max: 4000 }), (day, n) => {
        const later = addDays(day, n);
        expect(later).toBe(text(dateFns.addDays(new UTCDate(day), n)));
        expect(daysBetween(day, later)).toBe(n);
        expect(weekday(day)).toBe(dateFns.getISODay(new UTCDate(day)));
        expect(isoWeek(day)).toEqual({
          year: dateFns.getISOWeekYear(new UTCDate(day)),
          week: dateFns.getISOWeek(new UTCDate(day)),
        });
      }),
    );
  });

  test('29 February: a year later it is the 28th, four years later the 29th', () => {
    expect(addMonths('2028-02-29', 12)).toBe('2029-02-28');
    expect(addMonths('2028-02-29', 48)).toBe('2032-02-29');
    expect(addMonths('2027-01-31', 1)).toBe('2027-02-28');
  });

  test('ISO 8601: 2027-01-01 lies in week 53 of 2026', () => {
    expect(isoWeek('2027-01-01')).toEqual({ year: 2026, week: 53 });
    expect(isoWeek('2026-12-28')).toEqual({ year: 2026, week: 53 });
    expect(isoWeek('2027-01-04')).toEqual({ year: 2027, week: 1 });
  });

  test.each(['2027-02-29', '2026-13-01', '2026-00-10', '2026-4-1', '26-04-01', '2026-04-31', '', 'yesterday'])(
    '%p is no day',
    (bad) => {
      expect(isDay(bad)).toBe(false);
    },
  );
  test('2028-02-29 is a day', () => {
    expect(isDay('2028-02-29')).toBe(true);
  });
});

describe('zones', () => {
  test('the day at the base, not of the machine: around midnight and new year', () => {
    const instant = new Date('2026-12-31T23:30:00Z');
    expect(dayInZone(instant, 'Atlantic/Azores')).toBe('2026-12-31');
    expect(dayInZone(instant, 'Europe/Athens')).toBe('2027-01-01');
    expect(dayInZone(instant, 'Pacific/Auckland')).toBe('2027-01-01');
    expect(clockInZone(instant, 'Pacific/Auckland')).toBe('12:30');
  });

  test('instants of wall clocks agree with @date-fns/tz outside of clock changes', () => {
    fc.assert(
      fc.property(
        anyDay,
        fc.integer({ min: 240, max: 1439 }),
        fc.constantFrom('Europe/Lisbon', 'America/New_York', 'Australia/Adelaide', 'Pacific/Chatham', 'UTC'),
        (day, minutes, zone) => {
          const at = instantInZone(day, minutes, zone);
          const reference = new Date(
            dateFns
              .parse(
                `${day} ${String(Math.floor(minutes / 60)).padStart(2, '0')}:${String(minutes % 60).padStart(2, '0')}`,
                'yyyy-MM-dd HH:mm',
                new Date(0),
                { in: tz(zone) },
              )
              .getTime(),
          );
          expect(at.toISOString()).toBe(reference.toISOString());
        },
      ),
    );
  });

  test('a day of a clock change still begins and ends where it should', () => {
    // EU rule: clocks go forward at 01:00 UTC on the last Sunday of March, back on the last Sunday of October.
    expect(instantInZone('2027-03-28', 0, 'Europe/Berlin').toISOString()).toBe('2027-03-27T23:00:00.000Z');
    expect(instantInZone('2027-03-29', 0, 'Europe/Berlin').toISOString()).toBe('2027-03-28T22:00:00.000Z');
    expect(instantInZone('2027-10-31', 0, 'Europe/Berlin').toISOString()).toBe('2027-10-30T22:00:00.000Z');
    // 02:30 comes twice: the first pass is still summer time.
    expect(instantInZone('2027-10-31', 150, 'Europe/Berlin').toISOString()).toBe('2027-10-31T00:30:00.000Z');
  });

  test('names of zones', () => {
    expect(isTimeZone('Atlantic/Azores')).toBe(true);
    expect(isTimeZone('Bay/Larkspur')).toBe(false);
  });
});

describe('times of the day', () => {
  test.each([
    [0, '0:00', '00:00'],
    [485, '8:05', '08:05'],
    [810, '13:30', '13:30'],
    [1439, '23:59', '23:59'],
    // Past midnight it is the next day's hour.
    [1440, '0:00', '00:00'],
    [1505, '1:05', '01:05'],
    // Never rounded up: somebody would come a minute late.
    [810.9, '13:30', '13:30'],
  ])('%p min after midnight is %p, in a field %p', (minute, told, field) => {
    expect(timeOfDay(minute)).toBe(told);
    expect(timeFieldOf(minute)).toBe(field);
  });

  // ISO 8601 against the twelve-hour clock of NIST's "Times of Day FAQs" (from memory): 12 am is midnight, 12 pm noon.
  test.each([
    [0, '12:00 am'],
    [59, '12:59 am'],
    [60, '1:00 am'],
    [719, '11:59 am'],
    [720, '12:00 pm'],
    [780, '1:00 pm'],
    [1439, '11:59 pm'],
    [1440, '12:00 am'],
  ])('by the clock of twelve hours %p is %p', (minute, told) => {
    // Never parted at the end of a line.
    expect(timeOfDay(minute, '12')).toBe(told.replace(' ', '\u00a0'));
  });
  test('and any minute is what a general-purpose library writes', () => {
    const us = new Intl.DateTimeFormat('en-US', { hour: 'numeric', minute: '2-digit', hour12: true, timeZone: 'UTC' });
    for (let m = 0; m < 1440; m++) {
      const theirs = us
        .format(m * 60_000)
        .replace(/\s/, '\u00a0')
        .toLowerCase();
      expect(timeOfDay(m, '12')).toBe(theirs);
    }
  });

  test('what stands in a field, told or typed, comes back as it went in', () => {
    for (let m = 0; m < 1440; m++) {
      expect(minuteOfField(timeFieldOf(m))).toBe(m);
      expect(minuteOfField(timeOfDay(m))).toBe(m);
    }
  });

  test.each(['', '8', '24:00', '12:60', '12:5', '-1:00', '1:00 pm', '１２:００'])('%p is no time', (text) => {
    expect(minuteOfField(text)).toBeNull();
  });
});

describe('the clock of a book', () => {
  test('runs on from its instant at the pace of the machine; processes given the same show the same', () => {
    let machine = 1_000_000;
    const start = '2026-04-15T10:00:00Z';
    const first = clockFrom(start, () => machine);
    machine += 2_500;
    expect(first().toISOString()).toBe('2026-04-15T10:00:02.500Z');
    // Opened later, under load: what the first writes as due now is due for it too.
    const late = clockFrom(start, () => machine, 1_000_000);
    expect(late()).toEqual(first());
    expect(clockFrom(undefined, () => machine, 5)().getTime()).toBe(machine);
    expect(() => clockFrom('yesterday', () => machine)).toThrow('which is no instant. Write it like');
  });
});
