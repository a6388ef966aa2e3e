import { describe, expect, test } from '@jest/globals';
import { z } from 'zod';
import { feedEdit, hireEdit } from './hires.ts';
import { finishJob } from './jobs.ts';
import { firstRun } from './people.ts';
import { baseEdit } from './fleet.ts';
import { rulesRoutes } from './rules.ts';
import { workCalendarRoutes } from './work-calendar.ts';

const workBody = workCalendarRoutes.editPersonWork.body.pick({ shifts: true });
const addOverrideBody = rulesRoutes.addOverride.body;

/** The faults of a value as a form shows them: where, and the words after the field's name. */
function faults(schema: z.ZodType, value: unknown): Record<string, string> {
  const read = schema.safeParse(value);
  return Object.fromEntries((read.error?.issues ?? []).map((i) => [i.path.join('.'), i.message]));
}

describe('what is wrong with a field, in words that stand after its name', () => {
  test.each([
    [z.string(), undefined, 'is missing'],
    [z.string(), 7, 'has to be words'],
    [z.number(), Number.NaN, 'is missing or no figure'],
    [z.number(), '7', 'has to be a number'],
    [z.boolean(), 'yes', 'has to be yes or no'],
    [z.array(z.string()), {}, 'has to be a list'],
    [z.object({}), null, 'is missing'],
    [z.enum(['north', 'south']), 'west', 'has to be one of: north, south'],
    [z.literal(1), 2, 'has to be 1'],
    [z.int().min(3), 2, 'has to be at least 3'],
    [z.int().max(3), 4, 'can be at most 3'],
    [z.string().max(3), 'four', 'can have at most 3 characters'],
    [z.array(z.int()).min(2), [1], 'has to have at least 2 entries'],
    [z.union([z.string(), z.int()]), {}, 'is none of what can stand here'],
    [z.strictObject({ a: z.int() }), { a: 1, b: 2 }, 'has what is not known here: b'],
  ])('%# %p', (schema, value, words) => {
    expect(faults(schema, value)).toEqual({ '': words });
  });

  test('a shape that says it better itself comes first', () => {
    expect(faults(z.object({ n: z.number('wants a figure') }), { n: 'x' })).toEqual({ n: 'wants a figure' });
  });
});

describe('forms', () => {
  test('an empty first page names every field that wants something', () => {
    const said = faults(firstRun, {
      company: ' ',
      currency: 'eur',
      baseName: '',
      timeZone: 'Mars/Base',
      hemisphere: 'north',
      name: '',
      username: '1x',
      password: 'short',
    });
    expect(said).toEqual({
      company: 'is missing',
      currency: 'is three capital letters, like EUR',
      baseName: 'is missing',
      timeZone: 'is no time zone; write one like Atlantic/Azores',
      name: 'is missing',
      username: 'takes 2 to 40 letters, figures, dots or dashes, a letter first',
      password: 'is too short: twelve characters or more',
    });
  });

  test.each([
    ['9:30', false],
    ['09:30', true],
    ['24:00', false],
    ['23:60', false],
  ])('a hire goes out at %p: %p', (outTime, fits) => {
    const hire = {
      boatId: 1,
      outDay: '2026-04-15',
      outTime,
      backDay: '2026-04-15',
      backTime: '17:00',
      reference: null,
    };
    expect(hireEdit.safeParse(hire).success).toBe(fits);
  });

  test.each([
    ['https://desk.invalid/a.ics', true],
    ['http://desk.invalid/a.ics', true],
    ['file:///etc/passwd', false],
    ['ftp://desk.invalid/a.ics', false],
    ['javascript:alert(1)', false],
    ['desk.invalid', false],
  ])('a calendar is followed at %p: %p', (url, fits) => {
    expect(feedEdit.safeParse({ name: 'Desk', url, baseId: 1, active: true }).success).toBe(fits);
  });

  test('a usual week: no weekday twice, none that ends before it begins, told at its day', () => {
    const day = (weekday: number, fromMinute: number, toMinute: number) => ({
      weekday,
      fromMinute,
      toMinute,
      baseId: null,
    });
    expect(faults(workBody, { shifts: [day(1, 480, 960), day(2, 960, 480)] })).toEqual({
      'shifts.1.toMinute': 'ends before it begins',
    });
    expect(faults(workBody, { shifts: [day(1, 480, 960), day(1, 500, 960)] })).toEqual({
      shifts: 'holds a weekday twice',
    });
    expect(faults(workBody, { shifts: [day(1, 480, 1441)] })).toEqual({ 'shifts.0.toMinute': 'is no time of the day' });
  });

  test('finishing: a task ticked at least, hours as a meter shows them, parts not below 0', () => {
    const body = {
      version: 1,
      tasks: [{ engineId: 1, task: 'grease', done: true }],
      hours: [],
      parts: [],
      remark: null,
    };
    expect(finishJob.parse(body)).toMatchObject({ belowZero: false, tasks: [{ volume: null }] });
    expect(faults(finishJob, { ...body, hours: [{ engineId: 1, count: 3.14 }] })).toEqual({
      'hours.0.count': 'takes one decimal, as the meter shows it',
    });
    expect(faults(finishJob, { ...body, parts: [{ partId: 1, quantity: -1 }] })).toEqual({
      'parts.0.quantity': 'cannot be below 0',
    });
    expect(Object.keys(faults(finishJob, { ...body, tasks: [] }))).toEqual(['tasks']);
  });

  test('a base works within the day', () => {
    const base = { name: 'Mole', timeZone: 'Pacific/Auckland', hemisphere: 'south', dayMinutes: 480, workdays: [1] };
    expect(faults(baseEdit, { ...base, workdays: [0] })).toEqual({ 'workdays.0': 'has to be at least 1' });
    expect(faults(baseEdit, { ...base, opensAt: 1440 })).toEqual({ opensAt: 'can be at most 1439' });
    expect(faults(baseEdit, base)).toEqual({});
  });

  test('a rule of one’s own wants hours, months or both, and a reason', () => {
    const rule = { scope: 'boat', scopeId: 1, task: 'impeller', everyHours: null, everyMonths: null, reason: '' };
    expect(Object.keys(faults(addOverrideBody, rule)).length).toBeGreaterThan(1);
    expect(faults(addOverrideBody, { ...rule, everyHours: 50, reason: 'sandbanks' })).toEqual({});
  });
});
