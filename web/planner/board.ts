import {
  Board,
  planChanges,
  type PickedUp,
  type PlannedVisit,
  type PlanProblem,
  type PlanWords,
} from '@diurna/core/planner';

/** What the page asks about a plan; every question brings the plan it is about. */
export function boardApi() {
  let problem: PlanProblem | null = null;
  let words: PlanWords | undefined;
  const need = (): PlanProblem => {
    if (!problem) throw new Error('the board is not set');
    return problem;
  };

  return {
    set(of: PlanProblem, called: PlanWords): void {
      problem = of;
      words = called;
    },
    /** A plan as it can really stand, with its cost and what is left out. */
    stand(visits: PlannedVisit[]) {
      const b = new Board(need(), visits);
      return { visits: b.visits(), cost: b.cost(), unplanned: b.unplanned(), refused: b.refused };
    },
    offers: (visits: PlannedVisit[], picked: PickedUp) => new Board(need(), visits).offers(picked),
    move(visits: PlannedVisit[], picked: PickedUp, day: number, technician: string) {
      const b = new Board(need(), visits);
      return b.move(picked, day, technician) ? b.visits() : null;
    },
    leave(visits: PlannedVisit[], picked: PickedUp) {
      const b = new Board(need(), visits);
      return b.leave(picked) ? b.visits() : null;
    },
    why: (visits: PlannedVisit[], boat: string, day: number) => new Board(need(), visits).why(boat, day),
    whyLeft: (visits: PlannedVisit[], tasks: string[]) => new Board(need(), visits).whyLeft(tasks, words),
    changes: (before: PlannedVisit[], after: PlannedVisit[]) => planChanges(before, after),
  };
}
export type BoardApi = ReturnType<typeof boardApi>;
