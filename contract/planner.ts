import { problemFaults, type PlanProblem, type ProblemFault } from '@diurna/core/planner';
import { z } from 'zod';

const amount = z.number().min(0, 'must be a number of 0 or more');
const id = z.string().min(1, 'must not be empty');
/** 1,500 boats over a season with all their tasks stay far below. */
const MOST = 100_000;
const span = z.object({ from: amount, to: amount });

/** The plan problem as it is exchanged. Lists are as long as `days`; see `problemFaults` for what a shape cannot say. */
export const planProblem = z.object({
  format: z.literal('diurna-plan-problem', 'must be "diurna-plan-problem"'),
  version: z.literal(1, 'must be 1: this reader knows version 1 only'),
  name: z.string().optional(),
  days: z.int().min(0).max(400),
  visit: z.object({ setupMinutes: amount }),
  bases: z.array(z.object({ id, liftSlots: z.array(z.int().min(0)) })).max(MOST),
  technicians: z.array(z.object({
    id, base: z.union([id, z.array(id.nullable())], 'must be the id of a base, or a list with one id or null a day'), skills: z.array(z.string()), shift: z.array(span.nullable()), overtime: z.array(amount),
    ratePerHour: amount, overtimeFactor: amount, pace: z.number().positive().optional(),
  })).max(MOST),
  boats: z.array(z.object({ id, base: id, free: z.array(z.array(span.extend({ idleCost: amount }))) })).max(MOST),
  engines: z.array(z.object({ id, boat: id, access: z.record(z.string(), amount) })).max(MOST),
  tasks: z.array(z.object({
    id, engine: id, kind: z.string(), handsOn: amount, wait: amount, access: z.array(z.string()), skills: z.array(z.string()), needsLift: z.boolean(),
    dayCost: z.array(amount.nullable()), skipCost: amount, parts: z.record(z.string(), amount),
  })).max(MOST),
  parts: z.array(z.object({ id, supply: z.array(amount) })).max(MOST),
  pinned: z.array(z.object({ boat: id, day: z.int().min(0), technician: id, tasks: z.array(id) })).max(MOST),
});

/** `tasks[3].dayCost[0]` */
const pathText = (path: readonly PropertyKey[]) => path.map((p, i) => (typeof p === 'number' ? `[${p}]` : i === 0 ? String(p) : `.${String(p)}`)).join('') || 'the problem';

/** Reads a problem from what a file held, or says each fault with its path. */
export function readProblem(value: unknown): { problem: PlanProblem; faults: null } | { problem: null; faults: ProblemFault[] } {
  const read = planProblem.safeParse(value);
  if (!read.success) return { problem: null, faults: read.error.issues.map((i) => ({ path: pathText(i.path), text: i.message })) };
  const faults = problemFaults(read.data);
  return faults.length > 0 ? { problem: null, faults } : { problem: read.data, faults: null };
}
