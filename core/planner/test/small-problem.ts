import type { PlanBoat, PlanPart, PlanProblem, PlanTask, PlanTechnician } from '../problem/problem.ts';

/** A problem written in a few words, for tests: what is left out is plain. */
export function smallProblem(of: {
  days?: number;
  setup?: number;
  lifts?: number[];
  technicians?: (Partial<PlanTechnician> & { id: string })[];
  boats?: (Partial<PlanBoat> & { id: string })[];
  tasks?: (Partial<PlanTask> & { id: string; boat: string })[];
  parts?: PlanPart[];
  pinned?: PlanProblem['pinned'];
}): PlanProblem {
  const days = of.days ?? 2;
  const boats = of.boats ?? [{ id: 'tern' }];
  const every = <T>(value: T): T[] => Array.from({ length: days }, () => JSON.parse(JSON.stringify(value)) as T);
  return {
    format: 'diurna-plan-problem',
    version: 1,
    days,
    visit: { setupMinutes: of.setup ?? 15 },
    bases: [
      { id: 'quay', liftSlots: of.lifts ?? every(1) },
      { id: 'mole', liftSlots: every(1) },
    ],
    technicians: (of.technicians ?? [{ id: 'ines' }]).map((t) => ({
      base: 'quay',
      skills: [],
      shift: every({ from: 480, to: 960 }),
      overtime: every(0),
      ratePerHour: 60,
      overtimeFactor: 1.5,
      ...t,
    })),
    boats: boats.map((b) => ({ base: 'quay', free: every([{ from: 420, to: 1140, idleCost: 0 }]), ...b })),
    engines: boats.map((b) => ({
      id: `${b.id}/0`,
      boat: b.id,
      access: { cowl: 10, tilt: 5, 'lower unit': 45 },
      running: { cowl: 4 },
    })),
    tasks: (of.tasks ?? []).map(({ boat, ...t }) => ({
      engine: `${boat}/0`,
      kind: 'work',
      handsOn: 30,
      wait: 0,
      access: ['cowl'],
      running: 2,
      skills: [],
      needsLift: false,
      dayCost: every(0),
      skipCost: 200,
      parts: {},
      ...t,
    })),
    parts: of.parts ?? [],
    pinned: of.pinned ?? [],
  };
}
