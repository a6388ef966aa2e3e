import type { PlannedVisit } from '../problem/problem.ts';

/** Two people changed the same boat's visits in different ways. */
export interface PlanConflict {
  boat: string;
  mine: PlannedVisit[];
  theirs: PlannedVisit[];
}

const sameVisits = (a: readonly PlannedVisit[], b: readonly PlannedVisit[]) => {
  const text = (list: readonly PlannedVisit[]) =>
    JSON.stringify(list.map((v) => [v.day, v.technician, [...v.tasks].sort()]).sort());
  return text(a) === text(b);
};

/**
 * Puts together what two people made of the same plan, boat by boat: what only one of them changed is taken
 * from that one. Where both changed a boat differently, it stands as they left it and is told as a conflict.
 * Start times are not compared: they follow from the day.
 */
export function mergePlans(
  before: readonly PlannedVisit[],
  mine: readonly PlannedVisit[],
  theirs: readonly PlannedVisit[],
): { visits: PlannedVisit[]; conflicts: PlanConflict[] } {
  const boats = new Set([...before, ...mine, ...theirs].map((v) => v.boat));
  const visits: PlannedVisit[] = [];
  const conflicts: PlanConflict[] = [];
  for (const boat of boats) {
    const of = (list: readonly PlannedVisit[]) => list.filter((v) => v.boat === boat);
    const [b, m, t] = [of(before), of(mine), of(theirs)];
    if (sameVisits(b, m) || sameVisits(m, t)) visits.push(...t);
    else if (sameVisits(b, t)) visits.push(...m);
    else {
      conflicts.push({ boat, mine: m, theirs: t });
      visits.push(...t);
    }
  }
  return { visits, conflicts };
}
