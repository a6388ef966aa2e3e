import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { addDays } from '../calendar/index.ts';
import {
  hoursPerWeek,
  lifeHours,
  offsetForNewMeter,
  questionEntry,
  questionReading,
  type LifeReading,
} from './index.ts';

/** Weekly readings that rise by the same hours. */
const weekly = (count: number, rise: number, from = 100): LifeReading[] =>
  Array.from({ length: count }, (_, i) => ({
    day: addDays('2026-03-01', i * 7),
    hours: Math.round((from + i * rise) * 10) / 10,
  }));

describe('questioning a reading', () => {
  const habit = weekly(6, 8);
  const last = habit.at(-1)!;

  test('a usual week is taken without a word', () => {
    expect(questionReading(habit, { day: addDays(last.day, 7), hours: last.hours + 9 })).toBeNull();
  });
  test('lower than the last is questioned', () => {
    const q = questionReading(habit, { day: addDays(last.day, 7), hours: last.hours - 0.1 });
    expect(q?.doubt).toBe('lower');
    expect(q?.text).toContain('0.1 h below the last reading of 140 h');
  });
  test('the same figure again is no doubt: the engine stood still', () => {
    expect(questionReading(habit, { day: addDays(last.day, 7), hours: last.hours })).toBeNull();
  });
  test('more than 24 h a day is questioned; exactly 24 h a day is not, without a habit', () => {
    const one = [{ day: '2026-04-01', hours: 100 }];
    expect(questionReading(one, { day: '2026-04-02', hours: 148 })).toBeNull();
    expect(questionReading(one, { day: '2026-04-02', hours: 148.1 })?.doubt).toBe('faster than the clock');
  });
  test('69 h in a week on an engine that makes 8 is off its habit', () => {
    const q = questionReading(habit, { day: addDays(last.day, 7), hours: last.hours + 69 });
    expect(q?.doubt).toBe('off habit');
    expect(q?.text).toContain('+69 h in 7 days');
  });
  test('a reading put in behind the last must not be above the next one', () => {
    expect(questionReading(habit.slice(0, 3), { day: '2026-03-17', hours: 500 }, habit[3])?.doubt).toBe('lower');
  });
  test('the first reading is never questioned', () => {
    expect(questionReading([], { day: '2026-04-01', hours: 4321 })).toBeNull();
  });

  test('whatever the habit: less than before and over 24 h a day are always questioned', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 20 }),
        fc.double({ min: 0, max: 60, noNaN: true }),
        fc.integer({ min: 0, max: 60 }),
        fc.double({ min: 0.1, max: 900, noNaN: true }),
        (count, rise, days, jump) => {
          const readings = weekly(count, rise);
          const end = readings.at(-1)!;
          const step = Math.round(jump * 10) / 10;
          expect(questionReading(readings, { day: addDays(end.day, days), hours: end.hours - step })?.doubt).toBe(
            'lower',
          );
          expect(
            questionReading(readings, { day: addDays(end.day, days), hours: end.hours + 24 * (days + 1) + step })
              ?.doubt,
          ).toBe('faster than the clock');
        },
      ),
    );
  });
});

describe('life hours', () => {
  test('a new meter goes on where the old one stopped', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: 90_000 }),
        fc.integer({ min: 0, max: 90_000 }),
        fc.integer({ min: 0, max: 5_000 }),
        (old, start, run) => {
          const before = lifeHours(0, old / 10);
          const offset = offsetForNewMeter(before, start / 10);
          expect(lifeHours(offset, start / 10)).toBeCloseTo(before, 6);
          expect(lifeHours(offset, (start + run) / 10)).toBeCloseTo(before + run / 10, 6);
        },
      ),
    );
  });
  test('a computer that was swapped for a used one may count backwards from the life', () => {
    expect(offsetForNewMeter(412.6, 900)).toBe(-487.4);
    expect(lifeHours(-487.4, 903.5)).toBe(416.1);
  });
});

describe('hours a week', () => {
  test('over the last eight weeks only', () => {
    expect(hoursPerWeek([...weekly(5, 8)], '2026-03-29')).toBe(8);
    expect(hoursPerWeek(weekly(3, 8), '2027-01-01')).toBeNull();
  });
  test('one reading, or two on neighbouring days, say nothing', () => {
    expect(hoursPerWeek([{ day: '2026-03-28', hours: 1 }], '2026-03-29')).toBeNull();
    expect(
      hoursPerWeek(
        [
          { day: '2026-03-28', hours: 1 },
          { day: '2026-03-29', hours: 9 },
        ],
        '2026-03-29',
      ),
    ).toBeNull();
  });
});

describe('hours of a service written down afterwards', () => {
  const known: LifeReading[] = [
    { day: '2026-03-01', hours: 60 },
    { day: '2026-04-01', hours: 80 },
  ];
  test('9,999 h on an engine of 80 h is no meter’s figure', () => {
    expect(questionEntry(known, { day: '2026-04-10', hours: 9999 })?.doubt).toBe('faster than the clock');
    // Nine days, the first and the last counted: 240 h are the most a clock allows.
    expect(questionEntry(known, { day: '2026-04-10', hours: 320 })).toBeNull();
    expect(questionEntry(known, { day: '2026-04-10', hours: 320.1 })?.doubt).toBe('faster than the clock');
  });
  test('hours do not run backwards, before or after', () => {
    expect(questionEntry(known, { day: '2026-03-10', hours: 81.1 })?.text).toContain('above the later reading of 80 h');
    expect(questionEntry(known, { day: '2026-03-10', hours: 58.9 })?.text).toContain('below the last reading of 60 h');
    expect(questionEntry(known, { day: '2026-03-10', hours: 70 })).toBeNull();
    // Whole hours are written down where a meter shows tenths.
    expect(questionEntry(known, { day: '2026-02-10', hours: 61 })).toBeNull();
    expect(questionEntry(known, { day: '2026-02-10', hours: 61.1 })).not.toBeNull();
    expect(questionEntry([], { day: '2026-02-10', hours: 4000 })).toBeNull();
  });
});
