import { Draft } from './draft.ts';
import { modelOf } from '../problem/model.ts';
import type { PlannedVisit, PlanProblem } from '../problem/problem.ts';
import { isVisit, standAt } from './stand.ts';

/**
 * The rule people use by hand: what falls due first comes first, into the gap nearest its day that somebody
 * can take; a visit of the boat on that day is joined where it can be. Due = the day on which doing it costs
 * least. Kept as the reference the planner is measured against. Common practice, no source.
 */
export function planByHand(problem: PlanProblem): PlannedVisit[] {
  const model = modelOf(problem);
  const draft = new Draft(model);
  const dueOf = model.tasks.map((t) => {
    let best = 0;
    t.cost.forEach((c, d) => {
      if (c < t.cost[best]!) best = d;
    });
    return best;
  });
  const order = [...model.tasks.keys()].sort((a, b) => dueOf[a]! - dueOf[b]! || a - b);
  for (const i of order) {
    const t = model.tasks[i]!;
    const due = dueOf[i]!;
    // What falls due after the plan's last day waits for the next plan.
    if (due === model.days - 1 && t.skip < t.cost[due]!) continue;
    const days = model.boats[t.boat]!.days.slice().sort((a, b) => Math.abs(a - due) - Math.abs(b - due) || a - b);
    for (const day of days) {
      const standing = draft.visits[t.boat]!.find((v) => v.day === day);
      const crew = standing ? [standing.tech] : model.crew[model.boats[t.boat]!.base]![day]!;
      let placed = false;
      for (const tech of crew) {
        if (standing) draft.remove(standing);
        const found = standAt(draft, t.boat, day, tech, standing ? [...standing.tasks, i] : [i]);
        if (isVisit(found)) {
          draft.add(found);
          placed = true;
          break;
        }
        if (standing) draft.add(standing);
      }
      if (placed) break;
    }
  }
  return draft.planned();
}
