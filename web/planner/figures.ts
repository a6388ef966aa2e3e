import { elapsedMinutes, pricePlan, type PlanCost, type PlannedVisit, type PlanProblem } from '@diurna/core/planner';

const whole = new Intl.NumberFormat('en-GB', { maximumFractionDigits: 0 });
/** Halves away from zero; no "-0". */
const rounded = (x: number) => (Math.round(Math.abs(x)) === 0 ? 0 : Math.sign(x) * Math.round(Math.abs(x)));
export const wholeMoney = (x: number) => whole.format(rounded(x));
/** "+12", "−3", "0" */
export const moreText = (x: number) => `${rounded(x) < 0 ? '−' : '+'}${whole.format(Math.abs(rounded(x)))}`;

export const costOf = (problem: PlanProblem, visits: readonly PlannedVisit[]): PlanCost =>
  pricePlan(problem, { visits }).cost;

/** Minutes of work of a visit: the break inside it is not. */
export const workOf = ({ elapsed, pause }: PlannedVisit): number => elapsed - (pause ? pause.to - pause.from : 0);

/** Minutes less than if every task had a visit of its own. */
export function savedMinutes(problem: PlanProblem, visits: readonly PlannedVisit[]): number {
  const task = new Map(problem.tasks.map((t) => [t.id, t]));
  const pace = new Map(problem.technicians.map((t) => [t.id, t.pace ?? 1]));
  let saved = 0;
  for (const v of visits) {
    const p = pace.get(v.technician) ?? 1;
    const own = v.tasks.flatMap((id) => task.get(id) ?? []);
    saved += own.reduce((sum, t) => sum + elapsedMinutes(problem, [t], p), 0) - elapsedMinutes(problem, own, p);
  }
  return Math.max(0, saved);
}
