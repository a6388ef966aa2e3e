import { describe, expect, test } from '@jest/globals';
import { UTCDate } from '@date-fns/utc';
import * as dateFns from 'date-fns';
import fc from 'fast-check';
import { addDays } from '../calendar/index.ts';
import {
  dueDays,
  dueState,
  nearestLimit,
  ruleText,
  TASK_KINDS,
  taskApplies,
  TASKS,
  usualProgramme,
  whenText,
  whyDue,
  worstFirst,
  type Due,
  type LastDone,
  type ServiceRule,
  type UseAhead,
} from './index.ts';

const oil: ServiceRule = { task: 'engine-oil', everyHours: 100, everyMonths: 12 };
const impeller: ServiceRule = { task: 'impeller', everyHours: null, everyMonths: 24 };
const done = (day: string, hours: number | null): LastDone => ({ day, hours, from: 'service' });
/** Runs so many hours a day, without any doubt about it. */
const steady = (perDay: number): UseAhead => ({
  crossing: (day, hours) => {
    const on = day + Math.ceil(hours / perDay);
    return { early: on, likely: on, late: on };
  },
  hours: (day, to) => ({ mean: (to - day - 1) * perDay, variance: 0 }),
});
const use = (lifeHours: number | null, ahead: UseAhead | null = null, lastReadDay: string | null = null) => ({
  lifeHours,
  lastReadDay,
  ahead,
});

describe('100 h or 12 months, whichever comes first (common practice, no source)', () => {
  test('by hours', () => {
    const due = dueState(oil, done('2026-03-01', 300), use(406), '2026-04-15');
    expect(due).toMatchObject({ state: 'over', by: 'hours', hoursLeft: -6, limitHours: 400 });
    expect(nearestLimit(due)).toBe('6 h over');
  });
  test('by months, though it barely ran', () => {
    const due = dueState(oil, done('2025-04-01', 300), use(312), '2026-04-15');
    expect(due).toMatchObject({ state: 'over', by: 'months', daysLeft: -14, limitDay: '2026-04-01', hoursLeft: 88 });
    expect(nearestLimit(due)).toBe('14 days over');
  });
  test('exactly at a limit it is due, not over', () => {
    expect(dueState(oil, done('2026-01-01', 300), use(400), '2026-02-01')).toMatchObject({
      state: 'due',
      hoursLeft: 0,
    });
    expect(dueState(oil, done('2025-04-15', 300), use(310), '2026-04-15')).toMatchObject({ state: 'due', daysLeft: 0 });
    expect(nearestLimit(dueState(oil, done('2025-04-15', 300), use(310), '2026-04-15'))).toBe('due today');
  });
  test('the nearer limit in time decides at the present rate', () => {
    // 40 h left at 4 h a week are ten weeks; the calendar allows three.
    const due = dueState(oil, done('2025-05-06', 300), use(360, steady(4 / 7), '2026-04-15'), '2026-04-15');
    expect(due).toMatchObject({ by: 'months', daysLeft: 21, state: 'soon', hoursOn: { likely: '2026-06-24' } });
    expect(dueDays(due)).toEqual({ early: '2026-05-06', likely: '2026-05-06', late: '2026-05-06' });
  });
  test('24 months regardless of use, for an engine that ran twice', () => {
    expect(dueState(impeller, done('2024-05-01', 100), use(103), '2026-04-15')).toMatchObject({
      state: 'soon',
      by: 'months',
      limitDay: '2026-05-01',
    });
    expect(dueState(impeller, done('2024-04-01', 100), use(100), '2026-04-15').state).toBe('over');
  });
  test('an engine that never ran still meets its calendar limit, from the day it was new', () => {
    const due = dueState(oil, { day: '2025-04-01', hours: 0, from: 'new' }, use(0), '2026-04-15');
    expect(due).toMatchObject({ state: 'over', by: 'months' });
  });
  test('a leap-day service falls due on 28 February', () => {
    expect(dueState(oil, done('2028-02-29', 0), use(0), '2028-03-01').limitDay).toBe('2029-02-28');
  });
});

describe('when, and how sure', () => {
  const unsure: UseAhead = {
    crossing: (day) => ({ early: day + 20, likely: day + 40, late: null }),
    hours: () => null,
  };
  test('each of the three days is the earlier of the two limits', () => {
    const due = dueState(oil, done('2025-05-20', 300), use(360, unsure, '2026-04-10'), '2026-04-15');
    expect(due.hoursOn).toEqual({ early: '2026-04-30', likely: '2026-05-20', late: null });
    expect(dueDays(due)).toEqual({ early: '2026-04-30', likely: '2026-05-20', late: '2026-05-20' });
  });
  test('what one case in ten reaches within two weeks is soon, what is likely within one is due', () => {
    expect(
      dueState({ ...oil, everyMonths: null }, done('2026-03-20', 300), use(320, unsure, '2026-04-08'), '2026-04-15')
        .state,
    ).toBe('soon');
    expect(
      dueState({ ...oil, everyMonths: null }, done('2026-03-20', 300), use(320, unsure, '2026-03-10'), '2026-04-15')
        .state,
    ).toBe('due');
    expect(
      dueState({ ...oil, everyMonths: null }, done('2026-03-20', 300), use(320, unsure, '2026-04-14'), '2026-04-15')
        .state,
    ).toBe('fine');
  });
  test('an engine without a meter is counted by its hires since the last time, and says so', () => {
    const due = dueState(oil, done('2026-03-01', null), use(null, steady(2)), '2026-04-15');
    expect(due).toMatchObject({
      estimated: true,
      hoursLeft: 12,
      hoursUnchecked: false,
      hoursOn: { likely: '2026-04-20' },
      state: 'due',
      by: 'hours',
    });
    expect(whyDue(due, oil, null, (d) => `[${d}]`).join(' ')).toContain(
      'no meter; by its hires about 88 h since, so about 12 h left, on [2026-04-20]',
    );
  });
  test('the sentence says what is not within a year', () => {
    expect(whenText({ early: null, likely: null, late: null }, String)).toBe('more than a year ahead');
    expect(whenText({ early: '2026-05-01', likely: null, late: null }, String)).toBe('not before 2026-05-01');
    expect(whenText({ early: '2026-05-01', likely: '2026-06-01', late: '2026-06-20' }, String)).toBe(
      'likely 2026-06-01, between 2026-05-01 and 2026-06-20',
    );
  });
});

describe('what is not known', () => {
  test('no history is unknown, never fine', () => {
    const due = dueState(oil, null, use(50), '2026-04-15');
    expect(due.state).toBe('unknown');
    expect(nearestLimit(due)).toBe('no history');
    expect(whyDue(due, oil, 50, String).join(' ')).toContain('unknown, not as fine');
  });
  test('without a meter the calendar is checked and it says so', () => {
    const due = dueState(oil, done('2026-03-01', null), use(null), '2026-04-15');
    expect(due).toMatchObject({ state: 'fine', by: 'months', hoursUnchecked: true, hoursLeft: null });
    expect(whyDue(due, oil, null, String).join(' ')).toContain('only the calendar is checked');
  });
  test('a rule by hours alone, without a meter, is unknown', () => {
    const due = dueState(
      { task: 'oil-filter', everyHours: 100, everyMonths: null },
      done('2026-03-01', null),
      use(null),
      '2026-04-15',
    );
    expect(due.state).toBe('unknown');
    expect(nearestLimit(due)).toBe('hours wanted');
  });
});

const anyRule = fc
  .record({
    task: fc.constantFrom(...TASK_KINDS),
    everyHours: fc.option(fc.integer({ min: 10, max: 500 }), { nil: null }),
    everyMonths: fc.option(fc.integer({ min: 1, max: 60 }), { nil: null }),
  })
  .filter((r) => r.everyHours !== null || r.everyMonths !== null);
const severity = (d: Due) => ['fine', 'soon', 'due', 'over'].indexOf(d.state);

describe('properties', () => {
  test('more hours or later days never make it better', () => {
    fc.assert(
      fc.property(
        anyRule,
        fc.integer({ min: 0, max: 900 }),
        fc.integer({ min: 0, max: 300 }),
        fc.integer({ min: 0, max: 1500 }),
        fc.integer({ min: 0, max: 200 }),
        (rule, ran, more, days, later) => {
          const last = done('2024-02-29', 100);
          const before = dueState(rule, last, use(100 + ran), addDays('2024-02-29', days));
          const after = dueState(rule, last, use(100 + ran + more), addDays('2024-02-29', days + later));
          expect(severity(after)).toBeGreaterThanOrEqual(severity(before));
          expect(after.share!).toBeGreaterThanOrEqual(before.share!);
        },
      ),
    );
  });
  test('the earlier of two limits wins: both together are as bad as the worse of each alone', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 10, max: 500 }),
        fc.integer({ min: 1, max: 60 }),
        fc.integer({ min: 0, max: 700 }),
        fc.integer({ min: 0, max: 2000 }),
        (everyHours, everyMonths, ran, days) => {
          const today = addDays('2024-02-29', days);
          const of = (rule: Partial<ServiceRule>) =>
            dueState(
              { ...oil, everyHours: null, everyMonths: null, ...rule },
              done('2024-02-29', 50),
              use(50 + ran),
              today,
            );
          expect(severity(of({ everyHours, everyMonths }))).toBe(
            Math.max(severity(of({ everyHours })), severity(of({ everyMonths }))),
          );
        },
      ),
    );
  });
  test('calendar limits agree with date-fns', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 6000 }), fc.integer({ min: 1, max: 60 }), (offset, everyMonths) => {
        const day = addDays('2020-01-01', offset);
        const due = dueState({ ...impeller, everyMonths }, done(day, null), use(null), addDays(day, 1));
        expect(due.limitDay).toBe(dateFns.addMonths(new UTCDate(day), everyMonths).toISOString().slice(0, 10));
      }),
    );
  });
  test('worst first: over before due before soon before unknown before fine, then by share', () => {
    const at = (hours: number) => dueState(oil, done('2026-04-01', 0), use(hours), '2026-04-15');
    const list = [at(10), dueState(oil, null, use(0), '2026-04-15'), at(130), at(85), at(97), at(106)];
    expect([...list].sort(worstFirst).map((d) => d.state)).toEqual(['over', 'over', 'due', 'soon', 'unknown', 'fine']);
    expect([...list].sort(worstFirst)[0]!.hoursLeft).toBe(-30);
  });
});

describe('tasks', () => {
  test('two-strokes have no engine oil and no oil filter', () => {
    expect(TASK_KINDS.filter((t) => !taskApplies(t, 2))).toEqual([
      'engine-oil',
      'oil-filter',
      'oil-level',
      'oil-trace',
      'oil-pressure',
    ]);
    expect(usualProgramme({ powerHp: 50, stroke: 2, cylinders: 3 }).map((r) => r.task)).toEqual([
      'fuel-filter',
      'separator',
      'gear-lube',
      'spark-plugs',
      'impeller',
      'thermostat',
      'anodes',
      'grease',
      'prop-shaft',
      'compression',
      'look-over',
      'battery-check',
    ]);
  });
  test('every kind has a caution', () => {
    for (const kind of TASK_KINDS) expect(TASKS[kind].caution.length).toBeGreaterThan(20);
  });
  test('the rule in words', () => {
    expect(ruleText(oil)).toBe('100 h or 12 months');
    expect(ruleText(impeller)).toBe('24 months');
  });
  test('why says the rule, the last time and both limits', () => {
    const why = whyDue(
      dueState(oil, done('2025-05-06', 300), use(360, steady(4 / 7), '2026-04-15'), '2026-04-15'),
      oil,
      360,
      (d) => `[${d}]`,
    );
    expect(why).toEqual([
      'Engine oil: every 100 h or 12 months, whichever comes first.',
      'Last done [2025-05-06] at 300 h.',
      'By hours: limit 400 h, now 360 h, 40 h left, on [2026-06-24].',
      'By calendar: limit [2026-05-06], 21 days left.',
    ]);
  });
});
