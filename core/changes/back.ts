import { dayNumber, type Day } from '../calendar/index.ts';
import { plainVisit, planTaskId, type PlannedVisit } from '../planner/index.ts';
import type { CardChange } from './change.ts';

/**
 * The visits of a plan with the cards of a decision where they stood before it, to be looked at, priced and accepted as
 * a plan of their own. Cards that cannot go back, and days outside of the plan, are left as they are.
 *
 * @param standing visits with the card each stands for
 */
export function visitsBack(
  standing: readonly (PlannedVisit & { jobId: number })[],
  cards: readonly (CardChange & { jobId: number; against: string | null })[],
  plan: { firstDay: Day; days: number },
): PlannedVisit[] {
  const first = dayNumber(plan.firstDay);
  const going = cards.filter((c) => {
    const day = dayNumber((c.before?.open ? c.before : c.after).day) - first;
    return c.against === null && day >= 0 && day < plan.days;
  });
  const back = new Set(going.map((c) => c.jobId));
  const stays = standing.filter((v) => !back.has(v.jobId)).map(plainVisit);
  const placed = new Set(stays.flatMap((v) => v.tasks));
  return [
    ...stays,
    ...going.flatMap(({ boatId, before }): PlannedVisit[] => {
      if (!before?.open) return [];
      const tasks = before.tasks
        .filter((t) => t.state !== 'done')
        .map((t) => planTaskId(t.engineId, t.task))
        .filter((t) => !placed.has(t));
      if (tasks.length === 0) return [];
      return [
        {
          boat: String(boatId),
          day: dayNumber(before.day) - first,
          technician: String(before.technicianId),
          start: before.startMinute ?? 0,
          elapsed: 0,
          tasks,
        },
      ];
    }),
  ];
}
