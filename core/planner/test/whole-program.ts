import type { Mip, MipAnswer, PlanProblem, SolveMip } from '../index.ts';

/**
 * The plan problem as one mixed integer program, straight from its statement and apart from the planner:
 * a binary for task x technician x day x window, one for the visit, opened access and elapsed minutes
 * continuous, the clock order relaxed to interval capacities. Its optimum is never above the cheapest plan's
 * cost, and nearly always equal to it.
 */
export function referenceMip(problem: PlanProblem): Mip {
  const mip: Mip = { cost: [], lower: [], upper: [], whole: [], rows: [] };
  const column = (cost: number, upper: number, whole: boolean) => {
    mip.lower.push(0);
    mip.upper.push(upper);
    mip.whole.push(whole);
    return mip.cost.push(cost) - 1;
  };
  const row = (terms: [number, number][], lower: number, upper: number) =>
    mip.rows.push({ lower, upper, columns: terms.map((t) => t[0]), values: terms.map((t) => t[1]) });
  const gather = <K>(map: Map<K, [number, number][]>, key: K, term: [number, number]) => {
    const list = map.get(key);
    if (list) list.push(term);
    else map.set(key, [term]);
  };
  const engineOf = new Map(problem.engines.map((e) => [e.id, e]));
  const oncePerTask = new Map<string, [number, number][]>();
  const oncePerBoatDay = new Map<string, [number, number][]>();
  const lifts = new Map<string, [number, number][]>();
  const uses = new Map<string, [number, number][]>();
  const ofTechDay = new Map<string, { release: number; deadline: number; elapsed: number }[]>();
  for (const t of problem.tasks) oncePerTask.set(t.id, [[column(t.skipCost, 1, false), 1]]);
  for (const boat of problem.boats) {
    const tasks = problem.tasks.filter((t) => engineOf.get(t.engine)!.boat === boat.id);
    for (let day = 0; day < problem.days; day++) {
      problem.technicians.forEach((tech, k) => {
        const shift = tech.shift[day];
        const at = typeof tech.base === 'string' ? tech.base : tech.base[day];
        if (!shift || at !== boat.base) return;
        const pace = tech.pace ?? 1;
        const hard = shift.to + tech.overtime[day]!;
        for (const w of boat.free[day]!) {
          const release = Math.max(w.from, shift.from);
          const deadline = Math.min(w.to, hard);
          const able = tasks.filter((t) => t.dayCost[day] !== null && t.skills.every((s) => tech.skills.includes(s)));
          const room = deadline - release;
          if (room <= 0 || able.length === 0) continue;
          const visit = column(w.idleCost, 1, true);
          const elapsed = column(tech.ratePerHour / 60, room, false);
          gather(oncePerBoatDay, `${boat.id} ${day}`, [visit, 1]);
          row(
            [
              [elapsed, 1],
              [visit, -room],
            ],
            -Infinity,
            0,
          );
          const opened = new Map<string, number>();
          const hands: [number, number][] = [
            [elapsed, 1],
            [visit, -pace * problem.visit.setupMinutes],
          ];
          let lift: number | null = null;
          for (const t of able) {
            const x = column(t.dayCost[day]!, 1, true);
            gather(oncePerTask, t.id, [x, 1]);
            row(
              [
                [x, 1],
                [visit, -1],
              ],
              -Infinity,
              0,
            );
            hands.push([x, -pace * t.handsOn]);
            let access = 0;
            for (const name of new Set(t.access)) {
              const minutes = engineOf.get(t.engine)!.access[name]!;
              access += minutes;
              const key = JSON.stringify([t.engine, name]);
              if (!opened.has(key)) {
                const open = column(0, 1, false);
                opened.set(key, open);
                hands.push([open, -pace * minutes]);
              }
              row(
                [
                  [x, 1],
                  [opened.get(key)!, -1],
                ],
                -Infinity,
                0,
              );
            }
            row(
              [
                [elapsed, 1],
                [x, -(pace * (problem.visit.setupMinutes + access + t.handsOn) + t.wait)],
              ],
              0,
              Infinity,
            );
            if (t.needsLift) {
              if (lift === null) {
                lift = column(0, 1, false);
                gather(lifts, `${boat.base} ${day}`, [lift, 1]);
              }
              row(
                [
                  [x, 1],
                  [lift, -1],
                ],
                -Infinity,
                0,
              );
            }
            for (const [part, quantity] of Object.entries(t.parts))
              for (let d = day; d < problem.days; d++) gather(uses, `${part} ${d}`, [x, quantity]);
            const pin = problem.pinned.find((p) => p.tasks.includes(t.id));
            if (pin && (pin.day !== day || pin.technician !== tech.id)) mip.upper[x] = 0;
          }
          row(hands, 0, Infinity);
          const key = `${k} ${day}`;
          ofTechDay.set(key, [...(ofTechDay.get(key) ?? []), { release, deadline, elapsed }]);
        }
      });
    }
  }
  for (const t of problem.tasks) {
    const terms = oncePerTask.get(t.id)!;
    row(terms, 1, 1);
    if (problem.pinned.some((p) => p.tasks.includes(t.id))) mip.upper[terms[0]![0]] = 0;
  }
  for (const terms of oncePerBoatDay.values()) row(terms, -Infinity, 1);
  for (const [key, terms] of lifts) {
    const cut = key.lastIndexOf(' ');
    row(
      terms,
      -Infinity,
      problem.bases.find((b) => b.id === key.slice(0, cut))!.liftSlots[Number(key.slice(cut + 1))]!,
    );
  }
  for (const part of problem.parts) {
    let supply = 0;
    for (let d = 0; d < problem.days; d++) {
      supply += part.supply[d]!;
      const terms = uses.get(`${part.id} ${d}`);
      if (terms) row(terms, -Infinity, supply);
    }
  }
  for (const [key, visits] of ofTechDay) {
    const [k, day] = key.split(' ').map(Number) as [number, number];
    const tech = problem.technicians[k]!;
    const overtime = column((tech.ratePerHour / 60) * (tech.overtimeFactor - 1), tech.overtime[day]!, false);
    const end = tech.shift[day]!.to;
    const ends = [...new Set(visits.map((v) => v.deadline)), end];
    for (const from of new Set(visits.map((v) => v.release))) {
      for (const to of new Set(ends)) {
        const inside = visits.filter((v) => v.release >= from && (to === end ? true : v.deadline <= to));
        if (inside.length > 0 && to > from)
          row(
            [
              ...inside.map((v): [number, number] => [v.elapsed, 1]),
              ...(to === end ? [[overtime, -1] as [number, number]] : []),
            ],
            -Infinity,
            to - from,
          );
      }
    }
  }
  return mip;
}

/** The exact solver on the whole problem at once. */
export const solveReference = (problem: PlanProblem, solve: SolveMip, seconds: number, gap = 1e-4): MipAnswer =>
  solve(referenceMip(problem), { seconds, gap });
