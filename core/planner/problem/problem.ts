import { checkProblem, type ProblemFault } from '../../problem/index.ts';

/**
 * The plan problem and the plan, as they are exchanged (`diurna-plan-problem` and `diurna-plan`). Version 2 knows breaks;
 * a problem of version 1 is one without.
 * Days are 0 .. `days`-1 from the plan's first day, times minutes after midnight at the base, money in units.
 */
export interface PlanProblem {
  format: 'diurna-plan-problem';
  version: 1 | 2;
  name?: string | undefined;
  days: number;
  visit: { setupMinutes: number };
  bases: PlanBase[];
  technicians: PlanTechnician[];
  boats: PlanBoat[];
  engines: PlanEngine[];
  tasks: PlanTask[];
  parts: PlanPart[];
  pinned: PlanPin[];
}

export interface PlanBase {
  id: string;
  /** How many visits that need the lift or stand the base can take on each day. */
  liftSlots: number[];
}

export interface Span {
  from: number;
  to: number;
}

/** A pause of so many minutes in one piece, begun at `from` at the earliest and over by `to`. */
export interface PlanBreak extends Span {
  minutes: number;
}

export interface PlanTechnician {
  id: string;
  /** The base, or one a day; null = at none that day. */
  base: string | (string | null)[];
  skills: string[];
  shift: (Span | null)[];
  /** Minutes allowed after the shift's end, each day. */
  overtime: number[];
  ratePerHour: number;
  /** 1.5 = half as much again. */
  overtimeFactor: number;
  /** 1 = estimates hold, 1.2 = a fifth slower. */
  pace?: number | undefined;
  /** The pause of each day with visits; null = none. Left out = none on any day. */
  break?: (PlanBreak | null)[] | undefined;
}

/**
 * While the boat lies at its base and is not on hire; `idleCost` = hire income expected to be lost when a visit takes
 * it.
 */
export interface FreeWindow extends Span {
  idleCost: number;
}

export interface PlanBoat {
  id: string;
  base: string;
  free: FreeWindow[][];
}

export interface PlanEngine {
  id: string;
  boat: string;
  /** Minutes to open and close, by access. */
  access: Record<string, number>;
  /** Of those, minutes the engine runs, by access: as long whoever stands beside it. Left out = none. */
  running?: Record<string, number> | undefined;
}

export interface PlanTask {
  id: string;
  engine: string;
  kind: string;
  handsOn: number;
  /** Of those, minutes the engine runs: as long whoever stands beside it. Left out = none. */
  running?: number | undefined;
  /** Unattended minutes, such as draining. */
  wait: number;
  access: string[];
  skills: string[];
  needsLift: boolean;
  /** Cost of doing it on each day; null = not allowed. */
  dayCost: (number | null)[];
  /** Cost of leaving it out of this plan. */
  skipCost: number;
  parts: Record<string, number>;
}

export interface PlanPart {
  id: string;
  /** What becomes available on each day; day 0 = free stock now. */
  supply: number[];
}

/** These tasks must stand in that visit; more may join it. */
export interface PlanPin {
  boat: string;
  day: number;
  technician: string;
  tasks: string[];
}

export interface PlannedVisit {
  boat: string;
  day: number;
  technician: string;
  start: number;
  /** From start to end, with the pause where that lies inside. */
  elapsed: number;
  tasks: string[];
  /** The technician’s pause, where it lies inside the visit. */
  pause?: Span | undefined;
}

export interface PlanCost {
  total: number;
  day: number;
  skip: number;
  labour: number;
  overtime: number;
  idle: number;
}

export interface Plan {
  format: 'diurna-plan';
  version: 1 | 2;
  visits: PlannedVisit[];
  /** Version 2: when each technician pauses on a day with visits. */
  pauses?: { technician: string; day: number; start: number }[];
  unplanned: { task: string; reasons: string[] }[];
  cost: PlanCost;
  /** A proven lower bound of the total; null = none was worked out. */
  bound: number | null;
  /** The total is within PROVEN of the bound. */
  proven: boolean;
}

/** How near the total must come to the bound to be called proven, as a share of the total. */
export const PROVEN = 1e-3;

/**
 * What a schema cannot see: names that stand twice or point nowhere, lists that are not as long as the plan,
 * windows that overlap or end before they begin. Shapes and signs are taken as checked.
 */
export function problemFaults(problem: PlanProblem): ProblemFault[] {
  const { days } = problem;
  const { faults, say, names, long, known } = checkProblem(days, 'plan');
  const span = ({ from, to }: Span, path: string) => {
    if (to < from) say(path, `ends (${to}) before it begins (${from})`);
  };
  const bases = names(problem.bases, 'bases');
  const technicians = names(problem.technicians, 'technicians');
  const boats = names(problem.boats, 'boats');
  const engines = names(problem.engines, 'engines');
  const tasks = names(problem.tasks, 'tasks');
  const parts = names(problem.parts, 'parts');
  problem.bases.forEach((b, i) => {
    long(b.liftSlots, `bases[${i}].liftSlots`);
  });
  problem.technicians.forEach((t, i) => {
    const path = `technicians[${i}]`;
    if (typeof t.base === 'string') known(t.base, bases, `${path}.base`, 'base');
    else {
      long(t.base, `${path}.base`);
      t.base.forEach((b, d) => {
        if (b !== null) known(b, bases, `${path}.base[${d}]`, 'base');
      });
    }
    long(t.shift, `${path}.shift`);
    t.shift.forEach((s, d) => {
      if (s) span(s, `${path}.shift[${d}]`);
    });
    long(t.overtime, `${path}.overtime`);
    if (t.break && problem.version === 1) say(`${path}.break`, 'is known from version 2 on');
    if (t.break) long(t.break, `${path}.break`);
    t.break?.forEach((b, d) => {
      if (b && b.from + b.minutes > b.to) say(`${path}.break[${d}]`, 'is longer than the stretch it may lie in');
    });
  });
  problem.boats.forEach((b, i) => {
    known(b.base, bases, `boats[${i}].base`, 'base');
    long(b.free, `boats[${i}].free`);
    b.free.forEach((windows, d) => {
      const inOrder = [...windows].sort((x, y) => x.from - y.from);
      windows.forEach((w, k) => {
        span(w, `boats[${i}].free[${d}][${k}]`);
      });
      if (inOrder.some((w, k) => k > 0 && w.from < inOrder[k - 1]!.to))
        say(`boats[${i}].free[${d}]`, 'has windows that overlap');
    });
  });
  const boatOf = new Map(problem.engines.map((e) => [e.id, e.boat]));
  problem.engines.forEach((e, i) => {
    known(e.boat, boats, `engines[${i}].boat`, 'boat');
    for (const [name, minutes] of Object.entries(e.running ?? {}))
      if (minutes > (e.access[name] ?? 0))
        say(`engines[${i}].running.${name}`, 'is more than the minutes of this access');
  });
  const accessOf = new Map(problem.engines.map((e) => [e.id, e.access]));
  problem.tasks.forEach((t, i) => {
    const path = `tasks[${i}]`;
    known(t.engine, engines, `${path}.engine`, 'engine');
    long(t.dayCost, `${path}.dayCost`);
    if ((t.running ?? 0) > t.handsOn) say(`${path}.running`, 'is more than its hands');
    const access = accessOf.get(t.engine);
    t.access.forEach((a, k) => {
      if (access && access[a] === undefined) say(`${path}.access[${k}]`, `engine “${t.engine}” has no access “${a}”`);
    });
    for (const p of Object.keys(t.parts)) known(p, parts, `${path}.parts.${p}`, 'part');
  });
  problem.parts.forEach((p, i) => {
    long(p.supply, `parts[${i}].supply`);
  });
  const engineOf = new Map(problem.tasks.map((t) => [t.id, t.engine]));
  problem.pinned.forEach((pin, i) => {
    const path = `pinned[${i}]`;
    known(pin.boat, boats, `${path}.boat`, 'boat');
    known(pin.technician, technicians, `${path}.technician`, 'technician');
    if (pin.day >= days) say(`${path}.day`, `lies after the plan’s last day, ${days - 1}`);
    pin.tasks.forEach((t, k) => {
      known(t, tasks, `${path}.tasks[${k}]`, 'task');
      const of = boatOf.get(engineOf.get(t) ?? '');
      if (tasks.has(t) && of !== pin.boat) say(`${path}.tasks[${k}]`, `“${t}” is not on boat “${pin.boat}”`);
    });
  });
  const pinnedAt = new Map<string, number>();
  problem.pinned.forEach((pin, i) =>
    pin.tasks.forEach((t, k) => {
      if (pinnedAt.has(t)) say(`pinned[${i}].tasks[${k}]`, `“${t}” is pinned twice`);
      pinnedAt.set(t, i);
    }),
  );
  return faults;
}
