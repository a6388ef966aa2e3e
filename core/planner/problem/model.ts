import { breakOn } from './pauses.ts';
import type { PlanBreak, PlanProblem } from './problem.ts';

/**
 * The problem as the search reads it: numbers for names, minutes for hours. Indices are those of the problem's lists.
 */
export interface Model {
  problem: PlanProblem;
  days: number;
  setup: number;
  techs: Tech[];
  boats: BoatModel[];
  tasks: TaskModel[];
  /** Supply of each part up to and with each day: [part x days]. */
  supply: Float64Array;
  /** Lift slots: [base x days]. */
  lifts: Int32Array;
  /** Technicians at each base on each day with a shift: [base][day]. */
  crew: number[][][];
}

export interface Tech {
  /** Base by day, -1 = at none or off. */
  base: Int32Array;
  from: Float64Array;
  to: Float64Array;
  /** End of shift and overtime. */
  hard: Float64Array;
  /** The break of each day; null = none. */
  rest: (PlanBreak | null)[];
  perMinute: number;
  /** What a minute of overtime costs besides. */
  extra: number;
  pace: number;
}

export interface Window {
  from: number;
  to: number;
  idle: number;
}

export interface BoatModel {
  base: number;
  tasks: number[];
  free: Window[][];
  /** Days on which it has a window at all. */
  days: number[];
  /** Task index -> where it is pinned. */
  pins: Pin[];
}

export interface Pin {
  day: number;
  tech: number;
  tasks: number[];
}

export interface TaskModel {
  boat: number;
  hands: number;
  /** Of them, minutes the engine runs. */
  running: number;
  wait: number;
  /** Indices of the accesses it needs, counted over the boat, and their minutes. */
  access: number[];
  accessMinutes: number;
  /** Of them, minutes the engine runs. */
  runningMinutes: number;
  needsLift: boolean;
  /** Infinity = not allowed; of a pinned task on other days too. */
  cost: Float64Array;
  /** Infinity for a pinned task. */
  skip: number;
  parts: { part: number; quantity: number }[];
  /** By technician: has every skill. */
  can: Uint8Array;
}

/** Minutes of each access of each boat, by the index tasks know them by. */
export type AccessMinutes = number[][];

/** A problem laid out, with what each access takes and how much of that the engine runs. */
export type FullModel = Model & { accessMinutes: AccessMinutes; runningMinutes: AccessMinutes };

/** Lays a checked problem out for the search. */
export function modelOf(problem: PlanProblem): FullModel {
  const { days } = problem;
  const index = (list: { id: string }[]) => new Map(list.map((x, i) => [x.id, i]));
  const [bases, techIds, boatIds, partIds, taskIds] = [
    index(problem.bases),
    index(problem.technicians),
    index(problem.boats),
    index(problem.parts),
    index(problem.tasks),
  ];
  const techs = problem.technicians.map((t): Tech => {
    const tech: Tech = {
      base: new Int32Array(days).fill(-1),
      from: new Float64Array(days),
      to: new Float64Array(days),
      hard: new Float64Array(days),
      rest: Array.from({ length: days }, (_, d) => breakOn(t, d)),
      perMinute: t.ratePerHour / 60,
      extra: (t.ratePerHour / 60) * (t.overtimeFactor - 1),
      pace: t.pace ?? 1,
    };
    for (let d = 0; d < days; d++) {
      const shift = t.shift[d];
      const at = typeof t.base === 'string' ? t.base : (t.base[d] ?? null);
      if (!shift || at === null) continue;
      tech.base[d] = bases.get(at)!;
      tech.from[d] = shift.from;
      tech.to[d] = shift.to;
      tech.hard[d] = shift.to + t.overtime[d]!;
    }
    return tech;
  });
  const boats = problem.boats.map((b): BoatModel => {
    const free = b.free.map((list) => list.map((w) => ({ from: w.from, to: w.to, idle: w.idleCost })));
    return {
      base: bases.get(b.base)!,
      tasks: [],
      free,
      days: [...free.keys()].filter((d) => free[d]!.length > 0),
      pins: [],
    };
  });
  const engines = new Map(
    problem.engines.map((e) => [e.id, { boat: boatIds.get(e.boat)!, access: e.access, running: e.running ?? {} }]),
  );
  const accessIndex = problem.boats.map(() => new Map<string, number>());
  const accessMinutes: AccessMinutes = problem.boats.map(() => []);
  const runningMinutes: AccessMinutes = problem.boats.map(() => []);
  const tasks = problem.tasks.map((t, i): TaskModel => {
    const engine = engines.get(t.engine)!;
    boats[engine.boat]!.tasks.push(i);
    const access = [...new Set(t.access)].map((name) => {
      const of = accessIndex[engine.boat]!;
      const key = JSON.stringify([t.engine, name]);
      if (!of.has(key)) {
        of.set(key, of.size);
        accessMinutes[engine.boat]!.push(engine.access[name]!);
        runningMinutes[engine.boat]!.push(engine.running[name] ?? 0);
      }
      return of.get(key)!;
    });
    return {
      boat: engine.boat,
      hands: t.handsOn,
      running: t.running ?? 0,
      wait: t.wait,
      access,
      needsLift: t.needsLift,
      skip: t.skipCost,
      accessMinutes: access.reduce((sum, a) => sum + accessMinutes[engine.boat]![a]!, 0),
      runningMinutes: access.reduce((sum, a) => sum + runningMinutes[engine.boat]![a]!, 0),
      cost: Float64Array.from(t.dayCost, (c) => c ?? Infinity),
      parts: Object.entries(t.parts)
        .filter(([, quantity]) => quantity > 0)
        .map(([id, quantity]) => ({ part: partIds.get(id)!, quantity })),
      can: Uint8Array.from(problem.technicians, (tech) => (t.skills.every((s) => tech.skills.includes(s)) ? 1 : 0)),
    };
  });
  const supply = new Float64Array(problem.parts.length * days);
  problem.parts.forEach((p, i) => {
    let sum = 0;
    for (let d = 0; d < days; d++) supply[i * days + d] = sum += p.supply[d]!;
  });
  const lifts = new Int32Array(problem.bases.length * days);
  problem.bases.forEach((b, i) => {
    lifts.set(b.liftSlots, i * days);
  });
  const crew = problem.bases.map((_, b) =>
    Array.from({ length: days }, (__, d) => [...techs.keys()].filter((t) => techs[t]!.base[d] === b)),
  );
  // Several pins of one visit are one.
  for (const { boat, day, technician, tasks: ids } of problem.pinned) {
    if (ids.length === 0) continue;
    const pins = boats[boatIds.get(boat)!]!.pins;
    const tech = techIds.get(technician)!;
    const own = ids.map((id) => taskIds.get(id)!);
    const same = pins.find((p) => p.day === day && p.tech === tech);
    if (same) same.tasks.push(...own);
    else pins.push({ day, tech, tasks: own });
    for (const i of own) {
      const task = tasks[i]!;
      task.skip = Infinity;
      for (let d = 0; d < days; d++) if (d !== day) task.cost[d] = Infinity;
    }
  }
  const setup = problem.visit.setupMinutes;
  return { problem, days, setup, techs, boats, tasks, supply, lifts, crew, accessMinutes, runningMinutes };
}

/** Minutes of a visit with these tasks of one boat, by a technician of this pace; see `elapsedMinutes`. */
export function elapsedOf(model: FullModel, tasks: readonly number[], pace: number): number {
  let hands = model.setup;
  let running = 0;
  let longest = 0;
  const opened = new Set<number>();
  for (const i of tasks) {
    const t = model.tasks[i]!;
    hands += t.hands;
    running += t.running;
    for (const a of t.access) {
      if (opened.has(a)) continue;
      opened.add(a);
      hands += model.accessMinutes[t.boat]![a]!;
      running += model.runningMinutes[t.boat]![a]!;
    }
    longest = Math.max(longest, chainOf(model, t, pace));
  }
  return Math.max(pace * (hands - running) + running, longest);
}

/** Minutes one task takes by itself, set-up and wait included. */
export const chainOf = ({ setup }: Pick<FullModel, 'setup'>, t: TaskModel, pace: number): number =>
  pace * (setup + t.accessMinutes - t.runningMinutes + t.hands - t.running) + t.runningMinutes + t.running + t.wait;
