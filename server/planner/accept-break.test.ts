import { afterAll, beforeEach, describe, expect, test } from '@jest/globals';
import { pricePlan } from '@diurna/core/planner';
import { openPlanYard } from '../test/plan-yard.ts';

/** The break of a base in the plans that are accepted there. */
const { yard, coordinator, boatId, board, engineBoat, visit, body, begin } = await openPlanYard();
afterAll(() => yard.close());
let tasks: string[] = [];
beforeEach(async () => {
  tasks = await begin();
});

describe('the break of the base', () => {
  // Half an hour between half past eleven and two, as a new base has it. Common practice, no source.
  const long = async () => {
    const b = await board();
    const own = b.problem.technicians.find((t) => t.id === String(yard.people.technician))!;
    return { b, rest: own.break?.[1] };
  };

  test('is in the plan problem: of a shift of eight hours seven and a half are left, and who asks for more is told so', async () => {
    const { b, rest } = await long();
    expect(b.problem.version).toBe(2);
    expect(rest).toEqual({ from: 690, to: 840, minutes: 30 });
    // All work there is on Turnstone is more than a day.
    const all = b.problem.tasks.filter((t) => engineBoat(boatId).includes(t.engine)).map((t) => t.id);
    const { detail } = await coordinator.refused(
      'post',
      '/plan/accept',
      body(b, [visit(all, 1, yard.people.technician, { start: 600 })]),
    );
    expect(detail).toBe(
      'This plan cannot be done as it stands. Turnstone on Tue 12 May: the longest gap within the hours of technician is 7 h 30. Plan again, then accept.',
    );
  });

  test('a visit with the break inside is taken as it is, and is that much longer', async () => {
    const { b } = await long();
    const pause = { from: 690, to: 720 };
    await coordinator.post(
      '/plan/accept',
      body(b, [visit(tasks.slice(0, 2), 1, yard.people.technician, { start: 660, pause })]),
    );
    const { accepted } = await board();
    expect(accepted!.visits[0]).toMatchObject({ start: 660, pause });
    // The judge agrees with what is kept.
    expect(pricePlan(b.problem, { visits: accepted!.visits }).faults).toEqual([]);
  });

  test('a base without one has none', async () => {
    const administrator = await yard.as('administrator');
    const bases = await administrator.get<{ id: number; version: number }[]>('/fleet/bases');
    const {
      today: _,
      id,
      ...base
    } = bases.find((x) => x.id === yard.baseId)! as Record<string, unknown> & { id: number };
    await administrator.put(`/fleet/bases/${id}`, { ...base, breakMinutes: 0 });
    expect((await long()).rest).toBeUndefined();
    const { detail } = await administrator.refused('put', `/fleet/bases/${id}`, {
      ...base,
      version: (base.version as number) + 1,
      breakMinutes: 200,
      breakFrom: 700,
      breakTo: 800,
    });
    expect(detail).toContain('The break does not fit between these two times');
  });
});
