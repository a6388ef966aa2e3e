import { afterAll, beforeEach, describe, expect, test } from '@jest/globals';
import { addDays } from '@diurna/core/calendar';
import { planTaskOf, pricePlan } from '@diurna/core/planner';
import { MONDAY, openPlanYard } from '../test/plan-yard.ts';

/** Which plans are taken, and in which words the others are refused. */
const { yard, coordinator, card, first, knotId, board, engineBoat, visit, body, accept, told, begin } =
  await openPlanYard();
afterAll(() => yard.close());
let tasks: string[] = [];
beforeEach(async () => {
  tasks = await begin();
});

describe('a plan is accepted or refused', () => {
  test('two coordinators at once: one plan is the book’s, the other is told, nothing is half written', async () => {
    const b = await board();
    const replies = await Promise.all(
      [1, 2, 3, 4].map((d) => coordinator.raw('post', '/plan/accept', body(b, [visit(tasks.slice(0, 2), d)]))),
    );
    expect(replies.map((r) => r.status).sort((a, b) => a - b)).toEqual([200, 409, 409, 409]);
    const day = replies.findIndex((r) => r.status === 200) + 1;
    expect((await board()).standing).toMatchObject([{ day }]);
    expect((await told(first)).length).toBe(1);
  });

  test('what is ticked at the moment a plan is accepted stays ticked', async () => {
    await accept([visit(tasks.slice(0, 2), 1)]);
    const b = await board();
    const id = b.standing[0]!.jobId;
    const { engineId, task } = planTaskOf(tasks[0]!);
    const other = await yard.pool.connect();
    try {
      // Somebody's tick has the card, and is not quite written when the plan is sent.
      await other.query('begin');
      await other.query('select 1 from job where id = $1 for update', [id]);
      await other.query("update job_task set state = 'done' where job_id = $1 and engine_id = $2 and task = $3", [
        id,
        engineId,
        task,
      ]);
      // Sent at once, not when it is waited for.
      const sent = coordinator.raw('post', '/plan/accept', body(b, [visit(tasks.slice(0, 2), 2)])).then((r) => r);
      const waits = async () =>
        (
          await yard.pool.query(
            "select 1 from pg_stat_activity where wait_event_type = 'Lock' and datname = current_database()",
          )
        ).rowCount;
      while (!(await waits())) await new Promise((resolve) => setTimeout(resolve, 20));
      await other.query('commit');
      expect((await sent).status).toBe(200);
    } finally {
      other.release();
    }
    const { tasks: after } = await card(id);
    expect(after.find((t) => t.engineId === engineId && t.task === task)!.state).toBe('done');
  });

  test('a plan that breaks a rule is refused in words; the price is the judge’s', async () => {
    const b = await board();
    const sunday = [0, 1, 2, 3, 4, 5, 6].find(
      (d) => new Date(Date.parse(b.firstDay) + d * 86_400_000).getUTCDay() === 0,
    )!;
    const problem = await coordinator.refused('post', '/plan/accept', body(b, [visit(tasks.slice(0, 1), sunday)]));
    expect(problem).toMatchObject({ status: 409, type: 'impossible' });
    expect(problem.detail).toMatch(/^This plan cannot be done as it stands\. Turnstone on Sun \d+ \w+: /);
    await accept([visit(tasks.slice(0, 1), 1)]);
    const { accepted, problem: judged } = await board();
    const { cost, faults } = pricePlan(judged, { visits: accepted!.visits });
    expect(faults).toEqual([]);
    expect(accepted!.cost.total).toBeCloseTo(cost.total, 6);
  });

  test.each([
    [
      'the same day twice',
      () => [visit(tasks.slice(0, 1), 1), visit(tasks.slice(1, 2), 1)],
      'Turnstone has two visits on one day',
    ],
    [
      'the same task twice',
      () => [visit(tasks.slice(0, 1), 1), visit(tasks.slice(0, 1), 2)],
      'a task of Turnstone stands twice',
    ],
    [
      'an engine of another boat',
      () => [visit(tasks.slice(0, 1), 1, undefined, { boat: String(knotId) })],
      'is not on Knot any more',
    ],
    [
      'a person who is not here',
      () => [visit(tasks.slice(0, 1), 1, 999_999)],
      'the person for Turnstone is not in the yard any more',
    ],
    [
      'a word that is no task',
      () => [visit([`${tasks[0]!.split(' ')[0]} polishing`], 1)],
      'is not on Turnstone any more',
    ],
  ])('%s is refused with its place, and the book stays', async (_, visits, text) => {
    await accept([visit(tasks.slice(0, 1), 4)]);
    const b = await board();
    const refused = await coordinator.refused('post', '/plan/accept', body(b, visits()));
    expect(refused.status).toBe(422);
    expect(refused.faults![0]!.path).toMatch(/^visits\.\d$/);
    expect(refused.detail).toContain(text);
    expect((await board()).standing).toMatchObject([{ day: 4 }]);
  });

  test('oil for a two-stroke is refused', async () => {
    const b = await board();
    const engine = engineBoat(knotId)[0]!;
    expect(b.problem.tasks.some((t) => t.id === `${engine} engine-oil`)).toBe(false);
    expect(
      (
        await coordinator.refused(
          'post',
          '/plan/accept',
          body(b, [visit([`${engine} engine-oil`], 1, undefined, { boat: String(knotId) })]),
        )
      ).status,
    ).toBe(422);
  });

  test('the log knows the plan before and what became of the cards', async () => {
    const one = await accept([visit(tasks.slice(0, 1), 1)]);
    const two = await accept([visit(tasks.slice(0, 1), 2)]);
    const { rows } = await (
      await yard.as('administrator')
    ).get<{
      rows: {
        subject: string;
        subjectId: number;
        before: { id: number } | null;
        after: { moved: number; visits: number };
      }[];
    }>('/records/audit?subject=plan&size=10');
    expect(rows[0]).toMatchObject({ subjectId: two.id, before: { id: one.id }, after: { moved: 1, visits: 1 } });
    expect(addDays(MONDAY, 2)).toBe(
      (await coordinator.get<{ rows: { day: string }[] }>('/jobs?status=open')).rows[0]!.day,
    );
  });
});
