import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import type { WorkingPerson } from '@diurna/contract/work-calendar';
import type { BoardReply } from '@diurna/contract/planner';
import { addDays, weekday } from '@diurna/core/calendar';
import { FLEET_CSV, openYard, PARTS_CSV, type Client, type Yard } from '../test/yard.ts';

/** A Monday, six in the morning at the base. */
const MONDAY = '2026-06-15';
let yard: Yard;
let coordinator: Client;
let south = 0;
let technician = 0;
beforeAll(async () => {
  yard = await openYard(() => new Date('2026-06-15T09:00:00Z'));
  const administrator = await yard.as('administrator');
  coordinator = await yard.as('coordinator');
  await administrator.post('/exchange/fleet', FLEET_CSV);
  await administrator.post('/exchange/parts', PARTS_CSV);
  south = (
    await administrator.post<{ id: number }>('/fleet/bases', {
      name: 'South Quay',
      timeZone: 'America/Halifax',
      hemisphere: 'north',
      dayMinutes: 480,
      workdays: [1, 2, 3, 4, 5],
      liftSlots: 1,
    })
  ).id;
  technician = yard.people.technician;
});
afterAll(() => yard.close());

interface WorkPage {
  people: WorkingPerson[];
  closed: { id: number; baseId: number; day: string; name: string }[];
  liftOut: { id: number; firstDay: string; lastDay: string; slots: number; reason: string }[];
  settings: {
    lateWeightPercent: number;
    moveCostMinor: number;
    rateMinor: number;
    hireDayMinor: number;
    version: number;
  };
}
const page = (from = MONDAY) => coordinator.get<WorkPage>(`/people/work?from=${from}`);
const person = async (id = technician) => (await page()).people.find((p) => p.id === id)!;
const usual = { skills: [], pace: 1, rateMinor: null, overtimeMinutes: 0, overtimePercent: 150, shifts: [] };
const setWork = async (more: object) =>
  coordinator.put(`/people/${technician}/work`, { ...usual, version: (await person()).version, ...more });
const board = (query = '') => coordinator.get<BoardReply>(`/plan?days=14${query}`);
const on = (b: BoardReply) => b.problem.technicians.find((t) => t.id === String(technician))!;
const clear = async () => {
  for (const p of (await page()).people)
    for (const x of p.exceptions) await coordinator.raw('delete', `/people/exceptions/${x.id}`);
  const { closed, liftOut } = await page();
  for (const c of closed) await coordinator.raw('delete', `/fleet/closed-days/${c.id}`);
  for (const l of liftOut) await coordinator.raw('delete', `/fleet/lift-out/${l.id}`);
  await setWork(usual);
};

test('what somebody earns and how fast they are is told to those who plan with it; a technician sees their own pace', async () => {
  const seen = async (role: 'coordinator' | 'manager') => {
    const page = await (await yard.as(role)).get<WorkPage>(`/people/work?from=${MONDAY}`);
    const { pace, rateMinor, overtimePercent } = page.people.find((p) => p.id === technician)!;
    return [pace, rateMinor, overtimePercent];
  };
  await yard.pool.query('update person set rate_minor = 5200 where id = $1', [technician]);
  expect(await seen('coordinator')).toEqual([1, 5200, 150]);
  expect(await seen('manager')).toEqual([null, null, null]);
  const minutesOf = async (role: 'coordinator' | 'technician' | 'dock') =>
    (await (await yard.as(role)).get<{ people: { personId: number }[] }>('/visit/minutes')).people.map(
      (p) => p.personId,
    );
  expect((await minutesOf('coordinator')).length).toBeGreaterThan(1);
  expect(await minutesOf('technician')).toEqual([technician]);
  expect(await minutesOf('dock')).toEqual([]);
  await yard.pool.query('update person set rate_minor = null where id = $1', [technician]);
});

describe('the usual week', () => {
  test('without one of their own, people work the days of their base', async () => {
    const t = on(await board());
    expect(t.shift.map((s, d) => [weekday(addDays(MONDAY, d)), s !== null])).toEqual(
      Array.from({ length: 14 }, (_, d) => {
        const w = weekday(addDays(MONDAY, d));
        return [w, w < 6];
      }),
    );
  });

  test('their own days and hours hold instead, also on a Saturday; overtime only where they work', async () => {
    await setWork({
      overtimeMinutes: 45,
      overtimePercent: 175,
      rateMinor: 5250,
      pace: 1.2,
      shifts: [
        { weekday: 1, fromMinute: 420, toMinute: 900, baseId: null },
        { weekday: 6, fromMinute: 480, toMinute: 720, baseId: null },
      ],
    });
    const t = on(await board());
    expect(t).toMatchObject({ ratePerHour: 52.5, overtimeFactor: 1.75, pace: 1.2 });
    expect(t.shift.slice(0, 7)).toEqual([{ from: 420, to: 900 }, null, null, null, null, { from: 480, to: 720 }, null]);
    t.shift.forEach((s, d) => {
      expect(t.overtime[d]).toBe(s ? 45 : 0);
    });
    await clear();
  });

  test('a weekday at another base: the person works there on it, and is on the board of both', async () => {
    await setWork({
      shifts: [
        { weekday: 1, fromMinute: 480, toMinute: 1020, baseId: null },
        { weekday: 2, fromMinute: 480, toMinute: 1020, baseId: south },
      ],
    });
    expect([on(await board()).base].flat().slice(0, 2)).toEqual([String(yard.baseId), String(south)]);
    expect((await board(`&baseId=${south}`)).problem.technicians.map((t) => t.id)).toContain(String(technician));
    await clear();
    expect((await board(`&baseId=${south}`)).problem.technicians.map((t) => t.id)).not.toContain(String(technician));
  });

  test.each([
    [
      'a shift that ends before it begins',
      { shifts: [{ weekday: 1, fromMinute: 900, toMinute: 480, baseId: null }] },
      'shifts.0.toMinute',
      'ends before it begins',
    ],
    [
      'a weekday twice',
      { shifts: [1, 1].map((weekday) => ({ weekday, fromMinute: 480, toMinute: 900, baseId: null })) },
      'shifts',
      'holds a weekday twice',
    ],
    [
      'an hour that is none',
      { shifts: [{ weekday: 1, fromMinute: 480, toMinute: 1500, baseId: null }] },
      'shifts.0.toMinute',
      'is no time of the day',
    ],
    ['a pace of zero', { pace: 0 }, 'pace', 'is between 0.3 and 5'],
    ['overtime that pays less', { overtimePercent: 80 }, 'overtimePercent', 'is at least 100'],
    ['a skill nobody knows', { skills: ['juggling'] }, 'skills.0', ''],
  ])('%s is refused at its place, and the week stays', async (_, more, path, text) => {
    const before = await person();
    const refused = await coordinator.refused('put', `/people/${technician}/work`, {
      ...usual,
      version: before.version,
      ...more,
    });
    expect(refused).toMatchObject({ status: 422, faults: [{ path }] });
    expect(refused.faults![0]!.text).toContain(text);
    expect(await person()).toEqual(before);
  });

  test('a base that is not in the book is refused with a sentence', async () => {
    const { version } = await person();
    const refused = await coordinator.refused('put', `/people/${technician}/work`, {
      ...usual,
      version,
      shifts: [{ weekday: 1, fromMinute: 480, toMinute: 900, baseId: 999999 }],
    });
    expect(refused).toMatchObject({ status: 422 });
    expect(refused.detail).toMatch(/no longer in the book/);
  });

  test('two people at once: the second is told and the first one’s figures stay', async () => {
    const { version } = await person();
    await coordinator.put(`/people/${technician}/work`, { ...usual, pace: 1.1, version });
    expect(await coordinator.refused('put', `/people/${technician}/pace`, { pace: 2, version })).toMatchObject({
      status: 409,
    });
    expect(
      await coordinator.refused('put', `/people/${technician}/pace`, { pace: 9, version: version + 1 }),
    ).toMatchObject({ status: 422 });
    expect(
      await coordinator.refused('put', `/people/${technician}/work`, { ...usual, pace: 2, version }),
    ).toMatchObject({ status: 409 });
    expect((await person()).pace).toBe(1.1);
    // As it was learned from cards: nothing else of the person's week changes.
    const { shifts } = await person();
    await coordinator.put(`/people/${technician}/pace`, { pace: 1.3, version: version + 1 });
    expect(await person()).toMatchObject({ pace: 1.3, shifts });
    await clear();
  });

  test('who may: a technician sees neither rates nor changes them', async () => {
    const own = await yard.as('technician');
    expect((await own.raw('get', `/people/work?from=${MONDAY}`)).status).toBe(403);
    expect((await own.raw('put', `/people/${technician}/work`, { ...usual, version: 1 })).status).toBe(403);
    expect((await own.raw('put', `/people/${technician}/pace`, { pace: 0.5, version: 1 })).status).toBe(403);
    expect(
      (
        await (
          await yard.as('manager')
        ).raw('post', `/people/${technician}/exceptions`, {
          kind: 'away',
          firstDay: MONDAY,
          lastDay: MONDAY,
          reason: null,
        })
      ).status,
    ).toBe(403);
  });
});

describe('days that are otherwise', () => {
  test('away: no shift on these days and nobody on the board who is away all the time', async () => {
    const { id } = await coordinator.post<{ id: number }>(`/people/${technician}/exceptions`, {
      kind: 'away',
      firstDay: '2026-06-16',
      lastDay: '2026-06-18',
      reason: 'ill',
    });
    expect(
      on(await board())
        .shift.slice(0, 5)
        .map((s) => s !== null),
    ).toEqual([true, false, false, false, true]);
    expect((await person()).exceptions).toMatchObject([
      { id, kind: 'away', firstDay: '2026-06-16', lastDay: '2026-06-18', reason: 'ill' },
    ]);
    await clear();
    expect(
      on(await board())
        .shift.slice(0, 5)
        .every((s) => s !== null),
    ).toBe(true);
  });

  test('at other hours: those and no others, on a Sunday too', async () => {
    await coordinator.post(`/people/${technician}/exceptions`, {
      kind: 'hours',
      fromMinute: 360,
      toMinute: 600,
      firstDay: '2026-06-20',
      lastDay: '2026-06-21',
      reason: null,
    });
    const { shift } = on(await board());
    expect(shift.slice(5, 8)).toEqual([{ from: 360, to: 600 }, { from: 360, to: 600 }, shift[0]]);
    await clear();
  });

  test('at another base: the hours stay, the boats there come within reach', async () => {
    await coordinator.post(`/people/${technician}/exceptions`, {
      kind: 'base',
      baseId: south,
      firstDay: '2026-06-17',
      lastDay: '2026-06-17',
      reason: null,
    });
    const t = on(await board());
    expect([t.base].flat().slice(1, 4)).toEqual([String(yard.baseId), String(south), String(yard.baseId)]);
    expect(t.shift[2]).toEqual(t.shift[1]);
    await clear();
  });

  test.each([
    [
      'the last day before the first',
      { kind: 'away', firstDay: '2026-06-18', lastDay: '2026-06-16', reason: null },
      'lastDay',
    ],
    [
      'hours the wrong way round',
      { kind: 'hours', fromMinute: 900, toMinute: 600, firstDay: MONDAY, lastDay: MONDAY, reason: null },
      'toMinute',
    ],
    ['no base', { kind: 'base', firstDay: MONDAY, lastDay: MONDAY, reason: null }, 'baseId'],
    [
      'a day that does not exist',
      { kind: 'away', firstDay: '2026-06-31', lastDay: '2026-06-31', reason: null },
      'firstDay',
    ],
  ])('%s is refused at its place', async (_, body, path) => {
    const refused = await coordinator.refused('post', `/people/${technician}/exceptions`, body);
    expect(refused.status).toBe(422);
    expect(refused.faults!.map((f) => f.path)).toContain(path);
    expect((await person()).exceptions).toEqual([]);
  });

  test('of nobody, and taken back twice: not found', async () => {
    expect(
      await coordinator.refused('post', '/people/999999/exceptions', {
        kind: 'away',
        firstDay: MONDAY,
        lastDay: MONDAY,
        reason: null,
      }),
    ).toMatchObject({ status: 404 });
    const { id } = await coordinator.post<{ id: number }>(`/people/${technician}/exceptions`, {
      kind: 'away',
      firstDay: MONDAY,
      lastDay: MONDAY,
      reason: null,
    });
    await coordinator.raw('delete', `/people/exceptions/${id}`);
    expect(await coordinator.refused('delete', `/people/exceptions/${id}`)).toMatchObject({ status: 404 });
  });

  test('a day without work is one base’s; the other works on', async () => {
    await coordinator.post(`/fleet/bases/${yard.baseId}/closed-days`, { day: '2026-06-17', name: 'Harbour fair' });
    await setWork({
      shifts: [3, 4].map((weekday) => ({
        weekday,
        fromMinute: 480,
        toMinute: 1020,
        baseId: weekday === 4 ? south : null,
      })),
    });
    await coordinator.post(`/fleet/bases/${yard.baseId}/closed-days`, { day: '2026-06-18', name: 'Day after' });
    expect(
      on(await board())
        .shift.slice(2, 4)
        .map((s) => s !== null),
    ).toEqual([false, true]);
    const again = await coordinator.refused('post', `/fleet/bases/${yard.baseId}/closed-days`, {
      day: '2026-06-17',
      name: 'Again',
    });
    expect(again).toMatchObject({ status: 422, faults: [{ path: 'day' }] });
    await clear();
  });

  test('the lift: fewer places on its days, the least of two entries holds', async () => {
    const usually = (await board()).problem.bases.find((b) => b.id === String(yard.baseId))!.liftSlots[0]!;
    expect(usually).toBeGreaterThan(1);
    await coordinator.post(`/fleet/bases/${yard.baseId}/lift-out`, {
      firstDay: '2026-06-16',
      lastDay: '2026-06-18',
      slots: 1,
      reason: 'one sling',
    });
    await coordinator.post(`/fleet/bases/${yard.baseId}/lift-out`, {
      firstDay: '2026-06-17',
      lastDay: '2026-06-17',
      slots: 0,
      reason: 'inspected',
    });
    expect((await board()).problem.bases.find((b) => b.id === String(yard.baseId))!.liftSlots.slice(0, 5)).toEqual([
      usually,
      1,
      0,
      1,
      usually,
    ]);
    expect((await page()).liftOut.map((l) => l.reason)).toEqual(['one sling', 'inspected']);
    expect(
      await coordinator.refused('post', `/fleet/bases/${yard.baseId}/lift-out`, {
        firstDay: '2026-06-18',
        lastDay: '2026-06-16',
        slots: 0,
        reason: 'x',
      }),
    ).toMatchObject({ status: 422, faults: [{ path: 'lastDay' }] });
    await clear();
  });

  test('what is over is not shown any more', async () => {
    await coordinator.post(`/people/${technician}/exceptions`, {
      kind: 'away',
      firstDay: '2026-06-15',
      lastDay: '2026-06-16',
      reason: null,
    });
    expect((await page('2026-06-16')).people.find((p) => p.id === technician)!.exceptions).toHaveLength(1);
    expect((await page('2026-06-17')).people.find((p) => p.id === technician)!.exceptions).toEqual([]);
    await clear();
  });
});

describe('what plans are weighed by', () => {
  test('the usual rate goes to all who have none of their own; a day’s hire to all boats without', async () => {
    const { settings } = await page();
    await coordinator.put('/plan/settings', {
      lateWeightPercent: 40,
      moveCostMinor: 1250,
      rateMinor: 6100,
      hireDayMinor: 30_000,
      version: settings.version,
    });
    const b = await board();
    expect(on(b).ratePerHour).toBe(61);
    expect(b.moveCost).toBe(12.5);
    expect(await coordinator.refused('put', '/plan/settings', { ...settings, rateMinor: 1 })).toMatchObject({
      status: 409,
    });
    expect(
      await coordinator.refused('put', '/plan/settings', {
        lateWeightPercent: -1,
        moveCostMinor: 0,
        rateMinor: 0,
        hireDayMinor: 0,
        version: settings.version + 1,
      }),
    ).toMatchObject({ status: 422, faults: [{ path: 'lateWeightPercent' }] });
  });

  test('waiting costs more of the chance when it weighs more', async () => {
    const dayCosts = async (lateWeightPercent: number) => {
      const {
        settings: { version },
      } = await page();
      await coordinator.put('/plan/settings', {
        lateWeightPercent,
        moveCostMinor: 0,
        rateMinor: 6000,
        hireDayMinor: 20_000,
        version,
      });
      return (await board()).problem.tasks.map((t) => t.dayCost[13] ?? 0).reduce((a, x) => a + x, 0);
    };
    const [nothing, some, much] = [await dayCosts(0), await dayCosts(50), await dayCosts(200)];
    expect(some).toBeGreaterThan(nothing);
    expect(much).toBeGreaterThan(some);
  });
});
