import { afterAll, describe, expect, test } from '@jest/globals';
import { addDays, weekday } from '@diurna/core/calendar';
import { MONDAY, usual, openWork, type WorkPage } from '../test/work.ts';

const { yard, coordinator, south, technician, page, person, setWork, board, on, clear } = await openWork();
afterAll(() => yard.close());

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
