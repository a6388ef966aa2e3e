import type { PlanProblem } from '../problem/problem.ts';

/** Something that might be otherwise. Days count from the plan's first. */
export type WhatIf =
  | { kind: 'technician'; base: string }
  | { kind: 'lift out'; base: string; day: number; days: number }
  | { kind: 'late delivery'; part: string; days: number }
  | { kind: 'cancelled hire'; boat: string; days: number[]; from: number; to: number }
  | { kind: 'boat added'; like: string };

const EXTRA = 'what if';

/** The problem as it would be. The given one stays as it is. */
export function whatIf(problem: PlanProblem, change: WhatIf): PlanProblem {
  switch (change.kind) {
    case 'technician': {
      // Like the best paid one of that base who can do most, on their days.
      const here = problem.technicians.filter((t) =>
        typeof t.base === 'string' ? t.base === change.base : t.base.includes(change.base),
      );
      const all = here.length > 0 ? here : problem.technicians;
      const model = [...all].sort((a, b) => b.skills.length - a.skills.length || b.ratePerHour - a.ratePerHour)[0];
      const skills = [...new Set(problem.technicians.flatMap((t) => t.skills))];
      const week = { from: 480, to: 960 };
      const more = model
        ? {
            ...model,
            id: EXTRA,
            base: change.base,
            skills,
            pace: 1,
            shift: model.shift.map((s, d) => s ?? (typeof model.base === 'string' ? null : (all[0]!.shift[d] ?? null))),
          }
        : {
            id: EXTRA,
            base: change.base,
            skills,
            shift: Array.from({ length: problem.days }, (_, d) => (d % 7 < 5 ? week : null)),
            overtime: new Array<number>(problem.days).fill(0),
            ratePerHour: 45,
            overtimeFactor: 1.5,
            pace: 1,
          };
      return { ...problem, technicians: [...problem.technicians, more] };
    }
    case 'lift out':
      return {
        ...problem,
        bases: problem.bases.map((b) =>
          b.id === change.base
            ? { ...b, liftSlots: b.liftSlots.map((n, d) => (d >= change.day && d < change.day + change.days ? 0 : n)) }
            : b,
        ),
      };
    case 'late delivery':
      return {
        ...problem,
        parts: problem.parts.map((p) => {
          if (p.id !== change.part) return p;
          // What is on the shelf stays there; only what is still to come is late.
          const supply = p.supply.map((n, d) => (d === 0 ? n : 0));
          p.supply.forEach((n, d) => {
            if (d > 0 && d + change.days < problem.days) supply[d + change.days]! += n;
          });
          return { ...p, supply };
        }),
      };
    case 'cancelled hire':
      return {
        ...problem,
        boats: problem.boats.map((b) =>
          b.id === change.boat
            ? {
                ...b,
                free: b.free.map((list, d) =>
                  change.days.includes(d) ? [{ from: change.from, to: change.to, idleCost: 0 }] : list,
                ),
              }
            : b,
        ),
      };
    case 'boat added': {
      const boat = problem.boats.find((b) => b.id === change.like);
      if (!boat) return problem;
      const id = (text: string) => `${EXTRA} ${text}`;
      const engines = problem.engines.filter((e) => e.boat === change.like);
      const own = new Set(engines.map((e) => e.id));
      return {
        ...problem,
        boats: [...problem.boats, { ...boat, id: id(boat.id) }],
        engines: [...problem.engines, ...engines.map((e) => ({ ...e, id: id(e.id), boat: id(boat.id) }))],
        tasks: [
          ...problem.tasks,
          ...problem.tasks.filter((t) => own.has(t.engine)).map((t) => ({ ...t, id: id(t.id), engine: id(t.engine) })),
        ],
      };
    }
  }
}
