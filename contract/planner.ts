import { problemFaults, type PlanProblem } from '@diurna/core/planner';
import type { ProblemFault } from '@diurna/core/problem';
import { z } from 'zod';
import { cardChange } from './changes.ts';
import { day, id as numberId, pathText, version } from './common.ts';
import { position, taskKind } from './fleet.ts';
import { PLAN, route, STEER } from './route.ts';
import { dueStateName } from './service.ts';

const amount = z.number().min(0, 'must be a number of 0 or more');
const id = z.string().min(1, 'must not be empty');
/** 1,500 boats over a season with all their tasks stay far below. */
const MOST = 100_000;
const span = z.object({ from: amount, to: amount });

/**
 * The plan problem as it is exchanged. Lists are as long as `days`; see `problemFaults` for what a shape cannot say.
 */
export const planProblem = z.object({
  format: z.literal('diurna-plan-problem', 'must be "diurna-plan-problem"'),
  version: z.union([z.literal(1), z.literal(2)], 'must be 1 or 2: this reader knows no other'),
  name: z.string().optional(),
  days: z.int().min(0).max(400),
  visit: z.object({ setupMinutes: amount }),
  bases: z.array(z.object({ id, liftSlots: z.array(z.int().min(0)) })).max(MOST),
  technicians: z
    .array(
      z.object({
        id,
        base: z.union([id, z.array(id.nullable())], 'must be the id of a base, or a list with one id or null a day'),
        skills: z.array(z.string()),
        shift: z.array(span.nullable()),
        overtime: z.array(amount),
        ratePerHour: amount,
        overtimeFactor: amount,
        pace: z.number().positive().optional(),
        break: z.array(span.extend({ minutes: amount }).nullable()).optional(),
      }),
    )
    .max(MOST),
  boats: z.array(z.object({ id, base: id, free: z.array(z.array(span.extend({ idleCost: amount }))) })).max(MOST),
  engines: z
    .array(
      z.object({
        id,
        boat: id,
        access: z.record(z.string(), amount),
        running: z.record(z.string(), amount).optional(),
      }),
    )
    .max(MOST),
  tasks: z
    .array(
      z.object({
        id,
        engine: id,
        kind: z.string(),
        handsOn: amount,
        running: amount.optional(),
        wait: amount,
        access: z.array(z.string()),
        skills: z.array(z.string()),
        needsLift: z.boolean(),
        dayCost: z.array(amount.nullable()),
        skipCost: amount,
        parts: z.record(z.string(), amount),
      }),
    )
    .max(MOST),
  parts: z.array(z.object({ id, supply: z.array(amount) })).max(MOST),
  pinned: z.array(z.object({ boat: id, day: z.int().min(0), technician: id, tasks: z.array(id) })).max(MOST),
});

/** Reads a problem from what a file held, or says each fault with its path. */
export function readProblem(
  value: unknown,
): { problem: PlanProblem; faults: null } | { problem: null; faults: ProblemFault[] } {
  const read = planProblem.safeParse(value);
  if (!read.success)
    return { problem: null, faults: read.error.issues.map((i) => ({ path: pathText(i.path), text: i.message })) };
  const faults = problemFaults(read.data);
  return faults.length > 0 ? { problem: null, faults } : { problem: read.data, faults: null };
}

/** May see plans and what they cost. */

export const plannedVisit = z.object({
  boat: id,
  day: z.int().min(0).max(400),
  technician: id,
  start: z.number().min(0).max(2880),
  elapsed: amount,
  tasks: z.array(z.string()).min(1).max(60),
  pause: span.optional().meta({ description: 'The technician’s break, where it lies inside the visit.' }),
});
const costs = z.object({
  total: z.number(),
  day: z.number(),
  skip: z.number(),
  labour: z.number(),
  overtime: z.number(),
  idle: z.number(),
});

/** What a person needs to know of a task on the board. */
export const boardTask = z.object({
  engineId: numberId,
  task: taskKind,
  position,
  modelId: numberId,
  state: dueStateName,
  text: z.string(),
  likely: day.nullable(),
  brings: z.array(taskKind).meta({ description: 'What is done with it and never alone.' }),
});

export const board = z.object({
  firstDay: day,
  today: day,
  days: z.int(),
  currency: z.string(),
  moveCost: z.number(),
  problem: planProblem,
  standing: z.array(plannedVisit.extend({ jobId: numberId, version, pinned: z.boolean(), started: z.boolean() })),
  accepted: z
    .object({
      id: numberId,
      at: z.string(),
      by: z.string().nullable(),
      firstDay: day,
      visits: z.array(plannedVisit),
      cost: costs,
    })
    .nullable(),
  boats: z.record(
    z.string(),
    z.object({
      name: z.string(),
      baseId: numberId,
      berth: z.string().nullable(),
      classKey: z.string().meta({ description: 'Boats with the same one stand in for each other.' }),
      held: z.array(z.string()).meta({ description: 'Why it does not go out; empty = nothing holds it.' }),
      hires: z
        .array(z.tuple([z.number(), z.number()]))
        .meta({ description: 'Out and back, in minutes from the first day’s midnight at the base.' }),
    }),
  ),
  people: z.record(z.string(), z.object({ name: z.string(), baseId: numberId.nullable() })),
  bases: z.record(z.string(), z.object({ name: z.string() })),
  tasks: z.record(z.string(), boardTask),
  parts: z.record(
    z.string(),
    z.object({ partId: numberId, number: z.string(), name: z.string(), unit: z.enum(['each', 'mL']) }),
  ),
});
export type BoardReply = z.infer<typeof board>;

/** A line of the stream in which a plan is worked out on the server: a JSON text each, the last plan is the plan. */
export const planLine = z.discriminatedUnion('say', [
  z.object({ say: z.literal('progress'), cost: z.number(), bound: z.number().nullable(), seconds: z.number() }),
  z.object({ say: z.literal('plan'), visits: z.array(plannedVisit), cost: z.number(), bound: z.number().nullable() }),
  z.object({ say: z.literal('pins'), faults: z.array(z.string()) }).meta({ description: 'Pins that cannot be kept.' }),
  z.object({ say: z.literal('broken'), text: z.string() }).meta({ description: 'Nothing more comes.' }),
]);
export type PlanLine = z.infer<typeof planLine>;

export const planSettings = z.object({
  lateWeightPercent: z.int().min(0).max(1000),
  moveCostMinor: z.int().min(0).max(10_000_000),
  rateMinor: z.int().min(0).max(1_000_000),
  hireDayMinor: z.int().min(0).max(100_000_000),
});

const acceptBody = z.object({
  firstDay: day,
  days: z.int().min(1).max(70),
  baseId: numberId.nullable().default(null),
  kind: z
    .enum(['plan', 'slip'])
    .default('plan')
    .meta({ description: 'A plan, or the rest of a day arranged anew: people are told which.' }),
  basedOn: numberId
    .nullable()
    .meta({ description: 'The accepted plan this one was made from; refused when a newer one holds.' }),
  jobs: z
    .array(z.object({ id: numberId, version }))
    .max(5000)
    .meta({ description: 'Open cards as they were; refused when any has changed since.' }),
  visits: z
    .array(plannedVisit.omit({ elapsed: true }).extend({ pinned: z.boolean().default(false) }))
    .max(5000)
    .meta({ description: 'What they take and cost the book works out itself; a plan that breaks a rule is refused.' }),
});

export const plannerRoutes = {
  readBoard: route({
    method: 'get',
    path: '/api/plan',
    roles: PLAN,
    reply: board,
    query: z.object({
      from: day.optional(),
      days: z.coerce.number().int().min(1).max(70).default(42),
      baseId: z.coerce.number().int().positive().optional(),
    }),
    summary: 'The plan problem of the book, what stands already, and the names to show it by.',
  }),
  computePlan: route({
    method: 'post',
    path: '/api/plan/compute',
    roles: STEER,
    gives: 'application/x-ndjson',
    reply: planLine,
    body: z.object({
      firstDay: day,
      days: z.int().min(1).max(70),
      baseId: numberId.nullable().default(null),
      seconds: z.number().min(1).max(300),
      fresh: z.boolean(),
      standing: z.array(plannedVisit).max(20_000),
      pins: z.array(z.object({ boat: id, day: z.int(), technician: id, tasks: z.array(z.string()) })).max(20_000),
    }),
    quota: 'plan',
    summary:
      'Works a plan of a large fleet out on the server; answers a JSON text a line: progress, better plans, at last the plan. Hanging up calls it off.',
  }),
  lookAtPlan: route({
    method: 'post',
    path: '/api/plan/look',
    roles: STEER,
    body: acceptBody,
    reply: z.object({
      changes: z.array(cardChange),
      kept: z.int().meta({ description: 'Cards that stay with the same person on the same day.' }),
      cost: costs,
      told: z.array(z.object({ personId: numberId, name: z.string(), text: z.string() })),
    }),
    summary: 'What accepting a plan would change and who would be told; nothing is written.',
  }),
  acceptPlan: route({
    method: 'post',
    path: '/api/plan/accept',
    roles: STEER,
    body: acceptBody,
    reply: z.object({
      id: numberId,
      changeId: numberId
        .nullable()
        .meta({ description: 'The decision as it can be taken back; null = nothing changed.' }),
      added: z.int(),
      moved: z.int(),
      calledOff: z.int(),
      kept: z.int(),
    }),
    summary: 'Accept a plan: its visits become job cards, cards that moved are moved, people are told.',
  }),
  editPlanSettings: route({
    method: 'put',
    path: '/api/plan/settings',
    roles: STEER,
    body: planSettings.extend({ version }),
    reply: z.object({ version }),
    summary: 'What plans are weighed by.',
  }),
};
