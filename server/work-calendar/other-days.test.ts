import { afterAll, describe, expect, test } from '@jest/globals';
import { MONDAY, openWork } from '../test/work.ts';

const { yard, coordinator, south, technician, page, person, setWork, board, on, clear } = await openWork();
afterAll(() => yard.close());

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
