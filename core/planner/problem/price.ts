import { breakOn, freePause, pausesOf } from './pauses.ts';
import {
  PROVEN,
  type Plan,
  type PlanBreak,
  type PlanCost,
  type PlanEngine,
  type PlannedVisit,
  type PlanProblem,
  type PlanTask,
} from './problem.ts';

/** Times and quantities that differ by less are the same. */
const EPS = 1e-6;

/**
 * Minutes from start to end of a visit by somebody of this pace: hands are shared, each access is opened
 * once, unattended minutes run beside the work of other tasks, and an engine runs its minutes at anybody's pace.
 *
 * @returns max(pace x hands, the longest chain of set-up, access, work and wait of one task)
 */
export function elapsedMinutes(problem: PlanProblem, tasks: readonly PlanTask[], pace: number): number {
  const engines = new Map(problem.engines.map((e) => [e.id, e]));
  return elapsedWith(engines, problem.visit.setupMinutes, tasks, pace);
}

function elapsedWith(
  engines: ReadonlyMap<string, PlanEngine>,
  setup: number,
  tasks: readonly PlanTask[],
  pace: number,
): number {
  const opened = new Set<string>();
  let hands = setup;
  let running = 0;
  let longest = 0;
  for (const t of tasks) {
    const engine = engines.get(t.engine);
    let own = 0;
    let ownRun = t.running ?? 0;
    running += ownRun;
    for (const name of new Set(t.access)) {
      const minutes = engine?.access[name] ?? 0;
      const run = engine?.running?.[name] ?? 0;
      own += minutes;
      ownRun += run;
      const key = JSON.stringify([t.engine, name]);
      if (opened.has(key)) continue;
      hands += minutes;
      running += run;
      opened.add(key);
    }
    hands += t.handsOn;
    longest = Math.max(longest, pace * (setup + own - ownRun + t.handsOn) + ownRun + t.wait);
  }
  return Math.max(pace * (hands - running) + running, longest);
}

/** Minutes of the break that lie inside a visit, which then takes that much longer; what is wrong with them is said. */
function pauseInside(v: PlannedVisit, work: number, rest: PlanBreak | null, say: (text: string) => void): number {
  if (!v.pause) return 0;
  const { from, to } = v.pause;
  if (!rest) say('there is no break that day');
  else if (to - from < rest.minutes - EPS || from < rest.from - EPS || to > rest.to + EPS)
    say(`the pause from ${from} to ${to} is not the break`);
  if (from < v.start - EPS || from > v.start + work + EPS) say('its pause lies outside of it');
  return to - from;
}

/**
 * What a plan costs and every rule it breaks, straight from the problem: written apart from the search, to
 * judge it. Faults are sentences; with none the plan is feasible.
 */
export function pricePlan(
  problem: PlanProblem,
  plan: { visits: readonly PlannedVisit[] },
): { cost: PlanCost; faults: string[] } {
  const faults: string[] = [];
  const byId = <T extends { id: string }>(list: readonly T[]) => new Map(list.map((x) => [x.id, x]));
  const [tasks, boats, engines, technicians, bases] = [
    byId(problem.tasks),
    byId(problem.boats),
    byId(problem.engines),
    byId(problem.technicians),
    byId(problem.bases),
  ];
  const cost = { total: 0, day: 0, skip: 0, labour: 0, overtime: 0, idle: 0 };
  const done = new Map<string, PlannedVisit>();
  const boatDays = new Set<string>();
  const techDays = new Map<string, PlannedVisit[]>();
  const lifts = new Map<string, number>();
  const used = new Map<string, number[]>();

  for (const v of plan.visits) {
    const name = `${v.boat} on day ${v.day}`;
    const boat = boats.get(v.boat);
    const tech = technicians.get(v.technician);
    if (!boat || !tech || !Number.isInteger(v.day) || v.day < 0 || v.day >= problem.days) {
      faults.push(`${name}: no such boat, technician or day`);
      continue;
    }
    if (v.tasks.length === 0) faults.push(`${name}: no tasks`);
    if (boatDays.has(`${v.day} ${v.boat}`)) faults.push(`${name}: two visits`);
    boatDays.add(`${v.day} ${v.boat}`);
    const own: PlanTask[] = [];
    for (const id of v.tasks) {
      const task = tasks.get(id);
      if (!task) {
        faults.push(`${name}: no task ${id}`);
        continue;
      }
      own.push(task);
      if (done.has(id)) faults.push(`${id} stands twice`);
      done.set(id, v);
      if (engines.get(task.engine)?.boat !== v.boat) faults.push(`${id} is not on ${v.boat}`);
      const price = task.dayCost[v.day];
      if (price == null) faults.push(`${id} is not allowed on day ${v.day}`);
      else cost.day += price;
      for (const skill of task.skills)
        if (!tech.skills.includes(skill)) faults.push(`${v.technician} lacks ${skill} for ${id}`);
      for (const [part, quantity] of Object.entries(task.parts)) {
        let days = used.get(part);
        if (!days) used.set(part, (days = new Array<number>(problem.days).fill(0)));
        days[v.day]! += quantity;
      }
    }
    const elapsed = elapsedWith(engines, problem.visit.setupMinutes, own, tech.pace ?? 1);
    const rest = breakOn(tech, v.day);
    const span = elapsed + pauseInside(v, elapsed, rest, (text) => faults.push(`${name}: ${text}`));
    if (Math.abs(span - v.elapsed) > 1e-3) faults.push(`${name}: says ${v.elapsed} minutes, takes ${span}`);
    cost.labour += (elapsed / 60) * tech.ratePerHour;
    const at = typeof tech.base === 'string' ? tech.base : tech.base[v.day];
    if (at !== boat.base) faults.push(`${v.technician} is not at ${boat.base} on day ${v.day}`);
    const end = v.start + span;
    const window = (boat.free[v.day] ?? []).find((w) => w.from <= v.start + EPS && end <= w.to + EPS);
    if (window) cost.idle += window.idleCost;
    else faults.push(`${name}: ${v.start} to ${end} lies in no free window`);
    const shift = tech.shift[v.day];
    if (!shift) faults.push(`${v.technician} has no shift on day ${v.day}`);
    else if (v.start < shift.from - EPS || end > shift.to + (tech.overtime[v.day] ?? 0) + EPS)
      faults.push(`${name}: outside the hours of ${v.technician}`);
    const key = `${v.day} ${v.technician}`;
    techDays.set(key, [...(techDays.get(key) ?? []), { ...v, elapsed: span }]);
    if (own.some((t) => t.needsLift)) lifts.set(`${v.day} ${boat.base}`, (lifts.get(`${v.day} ${boat.base}`) ?? 0) + 1);
  }
  for (const visits of techDays.values()) {
    visits.sort((a, b) => a.start - b.start);
    const { day, technician } = visits[0]!;
    visits.forEach((v, i) => {
      if (i > 0 && v.start < visits[i - 1]!.start + visits[i - 1]!.elapsed - EPS)
        faults.push(`${technician} is in two places on day ${day}`);
    });
    const tech = technicians.get(technician)!;
    const rest = breakOn(tech, day);
    const inside = visits.filter((v) => v.pause).length;
    if (inside > 1) faults.push(`${technician} pauses twice on day ${day}`);
    if (rest && inside === 0 && !freePause(rest, visits)) faults.push(`${technician} has no pause on day ${day}`);
    const last = Math.max(...visits.map((v) => v.start + v.elapsed));
    cost.overtime +=
      (Math.max(0, last - (tech.shift[day]?.to ?? last)) / 60) * tech.ratePerHour * (tech.overtimeFactor - 1);
  }
  for (const [key, n] of lifts) {
    const [day, base] = [Number(key.split(' ', 1)[0]), key.slice(key.indexOf(' ') + 1)];
    if (n > (bases.get(base)?.liftSlots[day] ?? 0)) faults.push(`${n} lifts at ${base} on day ${day}`);
  }
  for (const part of problem.parts) {
    let left = 0;
    for (let d = 0; d < problem.days; d++) {
      left += (part.supply[d] ?? 0) - (used.get(part.id)?.[d] ?? 0);
      if (left < -EPS) {
        faults.push(`${part.id} runs short on day ${d}`);
        break;
      }
    }
  }
  for (const pin of problem.pinned) {
    for (const id of pin.tasks) {
      const v = done.get(id);
      if (v?.boat !== pin.boat || v.day !== pin.day || v.technician !== pin.technician)
        faults.push(`${id} is not where it is pinned`);
    }
  }
  for (const t of problem.tasks) if (!done.has(t.id)) cost.skip += t.skipCost;
  cost.total = cost.day + cost.skip + cost.labour + cost.overtime + cost.idle;
  return { cost, faults };
}

/** A plan as it is exchanged; the price is worked out here, apart from the search. */
export function asPlan(
  problem: PlanProblem,
  visits: PlannedVisit[],
  unplanned: Plan['unplanned'],
  bound: number | null,
): Plan {
  const { cost } = pricePlan(problem, { visits });
  return {
    format: 'diurna-plan',
    version: problem.version,
    visits,
    ...(problem.version > 1 && { pauses: pausesOf(problem, visits) }),
    unplanned,
    cost,
    bound,
    proven: bound !== null && cost.total - bound <= PROVEN * Math.max(1e-9, cost.total),
  };
}
