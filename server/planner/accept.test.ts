import { afterAll, beforeEach, describe, expect, test } from '@jest/globals';
import { planTaskOf } from '@diurna/core/planner';
import type { BoardReply } from '@diurna/contract/planner';
import { openPlanYard } from '../test/plan-yard.ts';
import { write } from '../test/yard.ts';

/** What becomes of cards when a plan is accepted. */
/** What people are told it comes from. */
const BY = 'coordinator, the plan of 14 days from Mon 11 May: ';
const { yard, coordinator, first, second, secondId, board, visit, body, accept, told, card, seen, begin } =
  await openPlanYard();
afterAll(() => yard.close());
let tasks: string[] = [];
beforeEach(async () => {
  tasks = await begin();
});

describe('accepting a plan', () => {
  test('a visit that only changes its hour or its pin keeps its card, and nobody is told', async () => {
    await accept([visit(tasks.slice(0, 2), 1)]);
    const [was] = (await board()).standing;
    await seen(first);
    expect(
      await accept([visit(tasks.slice(0, 2), 1, yard.people.technician, { start: 600.7, pinned: true })]),
    ).toMatchObject({ added: 0, moved: 0, calledOff: 0, kept: 1 });
    expect(await card(was!.jobId)).toMatchObject({ startMinute: 600, pinned: true, version: was!.version + 1 });
    expect(await told(first)).toEqual([]);
  });

  test('given to somebody else: the one is told it goes, the other what comes', async () => {
    await accept([visit(tasks.slice(0, 1), 1)]);
    await seen(first);
    const [was] = (await board()).standing;
    expect(await accept([visit(tasks.slice(0, 1), 2, secondId)])).toMatchObject({ added: 0, moved: 1, calledOff: 0 });
    expect(await told(first)).toEqual([`${BY}Turnstone on Tue 12 May goes to Second.`]);
    expect(await told(second)).toEqual([expect.stringContaining(`${BY}Turnstone on Wed 13 May: `)]);
    expect(await card(was!.jobId)).toMatchObject({ technicianId: secondId, day: '2026-05-13' });
  });

  test('another day for the same person; more on the same day', async () => {
    await accept([visit(tasks.slice(0, 1), 1)]);
    await seen(first);
    await accept([visit(tasks.slice(0, 1), 3)]);
    expect(await told(first)).toEqual([`${BY}Turnstone moves from Tue 12 May to Thu 14 May.`]);
    await seen(first);
    await accept([visit(tasks.slice(0, 2), 3)]);
    expect(await told(first)).toEqual([expect.stringMatching(/: Turnstone on Thu 14 May is now: .+, .+\.$/)]);
  });

  test('two cards made one: the larger keeps its number, the other is called off', async () => {
    await accept([visit(tasks.slice(0, 2), 1), visit(tasks.slice(2, 3), 4)]);
    const [large, small] = (await board()).standing;
    expect(large!.tasks).toHaveLength(2);
    expect(await accept([visit(tasks.slice(0, 3), 4)])).toMatchObject({ added: 0, moved: 1, calledOff: 1 });
    const next = await board();
    expect(next.standing).toMatchObject([{ jobId: large!.jobId, day: 4 }]);
    expect([...next.standing[0]!.tasks].sort()).toEqual([...tasks.slice(0, 3)].sort());
    expect(await card(small!.jobId)).toMatchObject({ status: 'cancelled', remark: 'Left out of the plan.' });
  });

  test('one card made two: the larger part keeps its number, the rest is a new card', async () => {
    await accept([visit(tasks.slice(0, 3), 1)]);
    const [was] = (await board()).standing;
    expect(await accept([visit(tasks.slice(0, 2), 1), visit(tasks.slice(2, 3), 2)])).toMatchObject({
      added: 1,
      moved: 1,
      calledOff: 0,
    });
    expect((await board()).standing.map((s) => [s.jobId === was!.jobId, s.day, s.tasks.length])).toEqual([
      [true, 1, 2],
      [false, 2, 1],
    ]);
  });

  test('an oil filter is planned as part of its oil change: with its minutes and parts, and on its card', async () => {
    const b = await board();
    const oil = b.problem.tasks.find((t) => tasks.includes(t.id) && t.kind === 'engine-oil')!;
    expect(b.problem.tasks.some((t) => t.engine === oil.engine && t.kind === 'oil-filter')).toBe(false);
    // 25 minutes of the oil and 10 of the filter, as a practised technician takes (common practice, no source).
    expect(oil.handsOn).toBe(35);
    const filter = oil.id.replace('engine-oil', 'oil-filter');
    await accept([visit([oil.id], 1)]);
    const [standing] = (await board()).standing;
    expect(standing!.tasks).toEqual([oil.id]);
    expect((await card(standing!.jobId)).tasks.map((t) => t.task).sort()).toEqual(['engine-oil', 'oil-filter']);
    // Accepted as it stands, nothing changes.
    expect(await accept([visit([oil.id], 1)])).toMatchObject({ added: 0, moved: 0, calledOff: 0, kept: 1 });
    const alone = await coordinator.refused('post', '/plan/accept', body(await board(), [visit([filter], 2)]));
    expect(alone.detail).toContain('never done without engine oil');
  });
  test('a card whose oil is ticked and whose filter is not keeps no plan from being accepted', async () => {
    const b = await board();
    const oil = b.problem.tasks.find((t) => tasks.includes(t.id) && t.kind === 'engine-oil')!;
    await accept([visit([oil.id], 1)]);
    const [was] = (await board()).standing;
    await write(first, was!.jobId, { kind: 'task', ...planTaskOf(oil.id), done: true });
    const now = await board();
    const filter = oil.id.replace('engine-oil', 'oil-filter');
    expect(now.standing.map((s) => s.tasks)).toEqual([[filter]]);
    await accept([visit([filter], 1)]);
    expect((await card(was!.jobId)).tasks.map((t) => [t.task, t.state]).sort()).toEqual([
      ['engine-oil', 'done'],
      ['oil-filter', 'open'],
    ]);
  });
  test('tasks swapped between two cards', async () => {
    await accept([visit(tasks.slice(0, 2), 1), visit(tasks.slice(2, 4), 2)]);
    expect(await accept([visit([tasks[0]!, tasks[2]!], 1), visit([tasks[1]!, tasks[3]!], 2)])).toMatchObject({
      added: 0,
      moved: 2,
      calledOff: 0,
    });
    expect((await board()).standing.map((s) => [...s.tasks].sort())).toEqual([
      [tasks[0]!, tasks[2]!].sort(),
      [tasks[1]!, tasks[3]!].sort(),
    ]);
  });

  test('what is ticked stays on its card, though the plan moves the rest; a begun card is not called off', async () => {
    await accept([visit(tasks.slice(0, 2), 0)]);
    const [was] = (await board()).standing;
    await write(first, was!.jobId, { kind: 'task', ...planTaskOf(tasks[0]!), done: true });
    const now = await board();
    // The oil brought its filter, which is work of its own once the oil is ticked.
    const filter = tasks[0]!.replace('engine-oil', 'oil-filter');
    expect(now.standing).toMatchObject([{ jobId: was!.jobId, started: true, tasks: [filter, tasks[1]] }]);
    await accept([visit([filter, tasks[1]!, tasks[2]!], 0)]);
    const states = (await card(was!.jobId)).tasks.map((t) => [`${t.engineId} ${t.task}`, t.state]);
    expect(Object.fromEntries(states)).toEqual({
      [tasks[0]!]: 'done',
      [filter]: 'open',
      [tasks[1]!]: 'open',
      [tasks[2]!]: 'open',
    });
    expect(await accept([])).toMatchObject({ calledOff: 0 });
    expect(await card(was!.jobId)).toMatchObject({ status: 'open' });
  });

  test('a card of a day gone by becomes the visit that has its work', async () => {
    await accept([visit(tasks.slice(0, 2), 1)]);
    const [was] = (await board()).standing;
    await yard.pool.query("update job set day = '2026-05-08' where id = $1", [was!.jobId]);
    await accept([visit(tasks.slice(0, 2), 3)]);
    expect(await card(was!.jobId)).toMatchObject({ status: 'open', day: '2026-05-14' });
    expect((await board()).standing).toHaveLength(1);
  });

  test('cards after the plan’s days, and of days gone by without a visit, stay as they are', async () => {
    await accept([visit(tasks.slice(0, 1), 1), visit(tasks.slice(1, 2), 10)]);
    const [near, far] = (await board()).standing;
    const week = await coordinator.get<BoardReply>('/plan?days=7');
    // What stands on a card later is not planned in the shorter plan.
    expect(week.problem.tasks.map((t) => t.id)).not.toContain(tasks[1]);
    expect(await coordinator.post('/plan/accept', body(week, []))).toMatchObject({ calledOff: 1 });
    expect(await card(near!.jobId)).toMatchObject({ status: 'cancelled' });
    expect(await card(far!.jobId)).toMatchObject({ status: 'open', day: '2026-05-21' });
  });

  test('only one base planned: cards of the others stay', async () => {
    const administrator = await yard.as('administrator');
    const south = (
      await administrator.post<{ id: number }>('/fleet/bases', {
        name: 'South Quay',
        timeZone: 'America/Halifax',
        hemisphere: 'north',
        dayMinutes: 480,
        workdays: [1, 2, 3, 4, 5],
      })
    ).id;
    await accept([visit(tasks.slice(0, 1), 1)]);
    const there = await board(`&baseId=${south}`);
    expect(there.standing).toEqual([]);
    expect(await coordinator.post('/plan/accept', body(there, [], { baseId: south }))).toMatchObject({ calledOff: 0 });
    expect((await board()).standing).toHaveLength(1);
  });
});

describe('what people are told', () => {
  test('is each one’s own; put away only as far as it was read', async () => {
    await accept([visit(tasks.slice(0, 1), 1)]);
    await accept([visit(tasks.slice(0, 1), 2)]);
    const all = await first.get<{ id: number; text: string }[]>('/session/notices');
    expect(all).toHaveLength(2);
    // Somebody else’s “seen” puts nothing of hers away.
    await second.post('/session/notices/read', { upTo: all[1]!.id });
    await first.post('/session/notices/read', { upTo: all[0]!.id });
    expect((await first.get<{ id: number }[]>('/session/notices')).map((n) => n.id)).toEqual([all[1]!.id]);
  });
});
