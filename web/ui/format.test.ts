import { afterEach, describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import {
  dayLetter,
  fullDay,
  hoursText,
  longDay,
  minorOf,
  moneyFigure,
  moneyText,
  plural,
  quantityText,
  shortDay,
  weekText,
  columnHour,
  priceText,
  clockText,
  daysOfWeek,
  hourText,
  timeText,
  writeAs,
} from './format.ts';

describe('money as it is typed', () => {
  test.each([
    ['12.50', 1250],
    ['12,5', 1250],
    [' 8 ', 800],
    ['0', 0],
    ['0.29', 29],
    ['1999.99', 199_999],
    ['', null],
    ['   ', null],
  ])('%p is %p in minor units', (text, minor) => {
    expect(minorOf(text)).toBe(minor);
  });
  test.each(['12.505', '-3', '1,000.00', '12 EUR', 'x', '1e3'])('%p is no sum, and stays what was typed', (text) => {
    expect(minorOf(text)).toBe(text.replace(',', '.'));
  });
  test('what is shown to edit reads back as the same sum', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 100_000_000 }), (minor) => {
        expect(minorOf(moneyFigure(minor))).toBe(minor);
      }),
    );
  });
  test('and is shown in the book’s currency', () => {
    expect(moneyText(123_456, 'EUR')).toBe('€1,234.56');
    expect(moneyText(null, 'EUR')).toBe('');
  });
});

// Read off a wall calendar: 11 May 2026 is a Monday, in ISO week 20; 1 January 2027 a Friday in week 53 of 2026.
describe('days, whatever the machine’s zone', () => {
  test('in words', () => {
    expect(longDay('2026-05-11')).toBe('Monday 11 May');
    expect(shortDay('2027-01-01')).toBe('Fri 1 Jan');
    expect(fullDay('2026-05-11')).toBe('11 May 2026');
    expect(['2026-05-11', '2026-05-17'].map(dayLetter)).toEqual(['M', 'S']);
    expect(weekText('2026-05-11')).toBe('week 20');
    expect(weekText('2027-01-01')).toBe('week 53');
  });
});

test('hours with one decimal and no separators, since they are typed back', () => {
  expect([hoursText(1234.56), hoursText(400), hoursText(null)]).toEqual(['1234.6', '400.0', '']);
});
test('pieces are counted, fluids measured', () => {
  expect(quantityText(3, 'each')).toBe('3');
  expect(quantityText(2700, 'mL')).toBe('2.7 L');
});
test('one or more', () => {
  expect([plural(1, 'boat'), plural(0, 'boat'), plural(2, 'match', 'matches')]).toEqual([
    '1 boat',
    '0 boats',
    '2 matches',
  ]);
});

describe('as the yard writes', () => {
  afterEach(() => {
    writeAs({ clock: '24', weekStarts: 1, volumes: 'litres' });
  });
  const noon = new Date(2026, 3, 15, 12, 5).getTime();
  test('hours, weeks and volumes as the book comes', () => {
    expect([timeText(545), hourText(noon), daysOfWeek().join('')]).toEqual(['9:05', '12:05', '1234567']);
    expect(clockText(new Date(noon).toISOString())).toBe('15 Apr 2026, 12:05');
    expect(quantityText(500, 'mL')).toBe('500 mL');
  });
  test('and in the other way', () => {
    writeAs({ clock: '12', weekStarts: 7, volumes: 'quarts' });
    expect([timeText(545), hourText(noon), daysOfWeek().join('')]).toEqual([
      '9:05\u00a0am',
      '12:05\u00a0pm',
      '7123456',
    ]);
    expect(clockText(new Date(noon).toISOString())).toBe('15 Apr 2026, 12:05\u00a0pm');
    // EUR 8.20 a litre is 7.76 a quart of 0.946352946 L.
    expect([priceText(820, 'mL', 'EUR'), priceText(820, 'each', 'EUR')]).toEqual(['€7.76 a quart', '€8.20']);
    expect([420, 480, 720, 780].map((m) => columnHour(m, m === 420))).toEqual(['7 am', '8', '12 pm', '1']);
    expect(quantityText(500, 'mL')).toBe('16.9 US fl oz');
    // A week that begins on Sunday the 10th holds the Thursday of ISO week 20.
    expect(weekText('2026-05-10')).toBe('week 20');
  });
});
