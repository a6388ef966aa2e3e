import { describe, expect, test } from '@jest/globals';
import { UTCDate } from '@date-fns/utc';
import * as dateFns from 'date-fns';
import fc from 'fast-check';
import { orderOf, writtenDay, writtenTime, type DayOrder } from './index.ts';

const someDay = fc
  .date({ min: new Date('1960-01-01'), max: new Date('2090-12-31'), noInvalidDate: true })
  .map((d) => d.toISOString().slice(0, 10));
const FORMS: [string, DayOrder][] = [
  ['yyyy-MM-dd', 'month-first'],
  ['yyyy/M/d', 'day-first'],
  ['d/M/yyyy', 'day-first'],
  ['dd-MM-yyyy', 'day-first'],
  ['dd.MM.yyyy', 'month-first'],
  ['M/d/yyyy', 'month-first'],
  ['MM-dd-yyyy', 'month-first'],
];

describe('days as people write them', () => {
  test.each(FORMS)('%s is read back, against date-fns', (form, order) => {
    fc.assert(
      fc.property(someDay, (day) => {
        const date = new UTCDate(day);
        expect(writtenDay(dateFns.format(date, form), order)).toBe(day);
        expect(writtenTime(dateFns.format(date, `${form} H:mm`), order)).toEqual({ day, minute: 0 });
      }),
    );
  });
  // ECMA-376 part 1, 18.17.4: the examples for the date base of 1900, from memory: 39448 is 1 January 2008.
  test('serial numbers of spreadsheets, whole and with the time', () => {
    expect(writtenDay('39448', 'day-first')).toBe('2008-01-01');
    expect(writtenDay('46127', 'day-first')).toBe('2026-04-15');
    expect(writtenTime('46127.395833333', 'day-first')).toEqual({ day: '2026-04-15', minute: 570 });
    expect(writtenTime('46127.99999', 'day-first')).toEqual({ day: '2026-04-16', minute: 0 });
    expect(writtenTime('46127', 'day-first')).toBeNull();
  });
  test('what is no day stays none', () => {
    for (const cell of ['', '31/4/2026', '13/13/2026', '1/4-2026', '2026-02-30', '99999', '412', 'April', '1/2026'])
      expect([writtenDay(cell, 'day-first'), writtenDay(cell, 'month-first')]).toEqual([null, null]);
    expect(writtenTime('1/4/2026 24:00', 'day-first')).toBeNull();
    expect(writtenTime('1/4/2026', 'day-first')).toBeNull();
  });
  test('two figures of a year are of this century', () => {
    expect(writtenDay('1/4/26', 'day-first')).toBe('2026-04-01');
    expect(writtenDay('1/4/26', 'month-first')).toBe('2026-01-04');
  });
});

describe('the order of the days of a file', () => {
  test('one day past the twelfth tells it; the more win where a cell is wrong', () => {
    expect(orderOf(['1/4/2026', '13/4/2026'])).toEqual({ order: 'day-first', sure: true });
    expect(orderOf(['1/4/2026', '4/13/2026 09:30'])).toEqual({ order: 'month-first', sure: true });
    expect(orderOf(['4/13/2026', '4/14/2026', '15/4/2026'])).toEqual({ order: 'month-first', sure: true });
  });
  test('without one nobody can tell, and with as many of each neither', () => {
    expect(orderOf(['1/4/2026', '4/4/2026'])).toEqual({ order: 'day-first', sure: false });
    expect(orderOf(['13/4/2026', '4/13/2026'])).toEqual({ order: 'day-first', sure: false });
  });
  test('ISO, dots and serial numbers need no order', () => {
    expect(orderOf(['2026-04-01', '01.04.2026', '46127', '', 'nonsense'])).toEqual({ order: null, sure: true });
  });
  test('whoever writes a month of days one way is understood', () => {
    fc.assert(
      fc.property(someDay, fc.constantFrom<DayOrder>('day-first', 'month-first'), (from, order) => {
        const written = Array.from({ length: 31 }, (_, i) =>
          dateFns.format(dateFns.addDays(new UTCDate(from), i), order === 'day-first' ? 'd/M/yyyy' : 'M/d/yyyy'),
        );
        expect(orderOf(written)).toEqual({ order, sure: true });
      }),
    );
  });
});
