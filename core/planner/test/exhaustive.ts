import { elapsedMinutes, pricePlan, type PlannedVisit, type PlanProblem } from '../index.ts';

interface Place {
  day: number;
  tech: number;
  window: number;
}

/**
 * The cheapest plan of a tiny problem by trying everything: each task nowhere or at every day, person and
 * window, each day in every order, judged by the evaluator alone. Infinity = no plan keeps the pins.
 */
export function cheapestOfAll(problem: PlanProblem): number {
  const engine = new Map(problem.engines.map((e) => [e.id, e.boat]));
  const places = problem.tasks.map((t): (Place | null)[] => {
    const boat = problem.boats.find((b) => b.id === engine.get(t.engine))!;
    const own: (Place | null)[] = [null];
    for (let day = 0; day < problem.days; day++)
      problem.technicians.forEach((_, tech) =>
        boat.free[day]!.forEach((__, window) => own.push({ day, tech, window })),
      );
    return own;
  });
  let best = Infinity;
  const chosen: (Place | null)[] = [];
  const tryFrom = (i: number) => {
    if (i === problem.tasks.length) {
      best = Math.min(best, priceOf(problem, chosen, engine));
      return;
    }
    for (const place of places[i]!) {
      chosen[i] = place;
      tryFrom(i + 1);
    }
  };
  tryFrom(0);
  return best;
}

function priceOf(problem: PlanProblem, chosen: readonly (Place | null)[], engine: ReadonlyMap<string, string>): number {
  const visits = new Map<string, { place: Place; boat: string; tasks: string[] }>();
  for (const [i, place] of chosen.entries()) {
    if (!place) continue;
    const boat = engine.get(problem.tasks[i]!.engine)!;
    const key = `${boat} ${place.day}`;
    const visit = visits.get(key);
    if (!visit) visits.set(key, { place, boat, tasks: [problem.tasks[i]!.id] });
    else if (visit.place.tech !== place.tech || visit.place.window !== place.window) return Infinity;
    else visit.tasks.push(problem.tasks[i]!.id);
  }
  const byDay = new Map<string, { release: number; visit: PlannedVisit }[]>();
  for (const { place, boat, tasks } of visits.values()) {
    const tech = problem.technicians[place.tech]!;
    const shift = tech.shift[place.day];
    if (!shift) return Infinity;
    const elapsed = elapsedMinutes(
      problem,
      tasks.map((id) => problem.tasks.find((t) => t.id === id)!),
      tech.pace ?? 1,
    );
    const release = Math.max(
      shift.from,
      problem.boats.find((b) => b.id === boat)!.free[place.day]![place.window]!.from,
    );
    const key = `${place.tech} ${place.day}`;
    byDay.set(key, [
      ...(byDay.get(key) ?? []),
      { release, visit: { boat, day: place.day, technician: tech.id, start: 0, elapsed, tasks } },
    ]);
  }
  // Every order of every day: the evaluator says which stand, the last end which is cheapest.
  let plans: PlannedVisit[][] = [[]];
  for (const list of byDay.values()) {
    const { technician, day } = list[0]!.visit;
    const rest = problem.technicians.find((t) => t.id === technician)!.break?.[day] ?? null;
    // Without a pause, with one before each of the visits, and with one inside each.
    const pauses = rest ? list.flatMap((_, k) => [{ before: k }, { inside: k }]) : [];
    const orders = permutations(list).flatMap((order) =>
      [{}, ...pauses].map(({ before, inside }: { before?: number; inside?: number }) => {
        let at = 0;
        return order.map(({ release, visit }, k) => {
          if (k === before) at = Math.max(at, rest!.from) + rest!.minutes;
          const start = Math.max(at, release);
          if (k !== inside) {
            at = start + visit.elapsed;
            return { ...visit, start };
          }
          const elapsed = visit.elapsed + rest!.minutes;
          const from = Math.max(start, rest!.from);
          at = start + elapsed;
          return { ...visit, start, elapsed, pause: { from, to: from + rest!.minutes } };
        });
      }),
    );
    plans = plans.flatMap((p) => orders.map((o) => [...p, ...o]));
  }
  let best = Infinity;
  for (const plan of plans) {
    const { cost, faults } = pricePlan(problem, { visits: plan });
    if (faults.length === 0) best = Math.min(best, cost.total);
  }
  return best;
}

function permutations<T>(list: readonly T[]): T[][] {
  if (list.length <= 1) return [[...list]];
  return list.flatMap((item, i) =>
    permutations([...list.slice(0, i), ...list.slice(i + 1)]).map((rest) => [item, ...rest]),
  );
}
