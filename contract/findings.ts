import { SYMPTOM_KEYS, WASTE_STREAMS, WEIGHTS } from '@diurna/core/findings';
import { z } from 'zod';
import { created, day, done, id, idParam, instant, pageOf, pageQuery, reason, version } from './common.ts';
import { position, taskKind } from './fleet.ts';
import { EVERYONE, route, SHELVES, STEER, WORK } from './route.ts';
import { readingKind, readingValue } from './visit.ts';

export const proposal = z.discriminatedUnion('kind', [
  z.object({
    kind: z.literal('follow-up'),
    task: taskKind,
    when: z.union([z.literal('now'), z.literal('after the one before'), z.number()]),
  }),
  z.object({ kind: z.literal('hold'), checks: z.array(taskKind) }),
  z.object({ kind: z.literal('shorten'), task: taskKind, percent: z.number() }),
  z.object({ kind: z.literal('order'), task: taskKind, what: z.string().optional() }),
]);
export const findingWeight = z.enum(WEIGHTS);
export const symptom = z.enum(SYMPTOM_KEYS);

export const finding = z.object({
  id,
  key: z.string().meta({ description: 'Engine and code: what a decision on the card names.' }),
  jobId: id,
  engineId: id,
  weight: findingWeight,
  seen: z.string(),
  means: z.string(),
  does: z.string(),
  proposals: z.array(proposal),
  state: z.enum(['open', 'taken', 'overridden', 'withdrawn']),
  by: z.string().nullable(),
  reason: z.string().nullable(),
  at: instant,
});
export type FindingRow = z.infer<typeof finding>;

export const hold = z.object({
  id,
  version,
  engineId: id,
  boatId: id,
  boatName: z.string(),
  position,
  why: z.string(),
  checks: z.array(taskKind),
  missing: z.array(taskKind).meta({ description: 'Checks not in the log since it was put on, in order.' }),
  at: instant,
  by: z.string().nullable(),
  released: z.object({ at: instant, by: z.string().nullable(), because: z.string() }).nullable(),
});
export type HoldRow = z.infer<typeof hold>;

export const followUpRow = z.object({
  id,
  engineId: id,
  task: taskKind,
  dueOn: day.nullable(),
  why: z.string(),
  at: instant,
  waitsFor: taskKind.nullable().meta({ description: 'The one that has to be done before.' }),
  jobId: id.nullable(),
});
export type FollowUpRow = z.infer<typeof followUpRow>;

/** One kind of reading over an engine's life, one line for each cylinder or part. */
export const trend = z.object({
  kind: readingKind,
  part: z.string().nullable(),
  points: z.array(z.object({ jobId: id, day, hours: z.number().nullable(), value: readingValue })),
});
export type Trend = z.infer<typeof trend>;

export const cause = z.object({
  key: z.string(),
  text: z.string(),
  weight: z.number(),
  evidence: z.array(z.string()),
  tasks: z.array(taskKind),
});

export const wasteTotals = z.array(
  z.object({
    baseId: id,
    baseName: z.string(),
    stream: z.enum(WASTE_STREAMS),
    quantity: z.number(),
    unit: z.enum(['mL', 'pieces']),
  }),
);

export const findingsRoutes = {
  engineCondition: route({
    method: 'get',
    path: '/api/findings/engines/:id',
    roles: EVERYONE,
    params: idParam,
    reply: z.object({
      trends: z.array(trend),
      twins: z.array(z.object({ engineId: id, position, trends: z.array(trend) })),
      findings: z.array(finding),
      holds: z.array(hold),
      followUps: z.array(followUpRow),
    }),
    summary: 'An engine’s condition: readings over time beside its twin’s, findings, holds, and work asked for.',
  }),
  listHolds: route({
    method: 'get',
    path: '/api/findings/holds',
    roles: EVERYONE,
    query: z.object({
      baseId: z.coerce.number().int().positive().optional(),
      state: z.enum(['open', 'all']).default('open'),
    }),
    reply: z.array(hold),
    summary: 'Engines that must not go out.',
  }),
  putHold: route({
    method: 'post',
    path: '/api/findings/holds',
    roles: WORK,
    reply: created,
    body: z.object({
      engineId: id,
      why: reason,
      checks: z.array(taskKind).max(10).meta({ description: 'Work that has to be in the log before it is let go.' }),
    }),
    summary: 'Hold an engine by hand, away from a card.',
  }),
  releaseHold: route({
    method: 'post',
    path: '/api/findings/holds/:id/release',
    roles: STEER,
    params: idParam,
    reply: created,
    body: z.object({ version, because: reason }),
    summary: 'Let a held engine go; refused while a check it names is not in the log.',
  }),
  callOffFollowUp: route({
    method: 'post',
    path: '/api/findings/follow-ups/:id/call-off',
    roles: STEER,
    params: idParam,
    reply: done,
    body: z.object({ reason }),
    summary: 'Call off work a finding asked for; the reason stays.',
  }),
  snagCauses: route({
    method: 'get',
    path: '/api/snags/:id/causes',
    roles: EVERYONE,
    params: idParam,
    reply: z.array(z.object({ engineId: id, position, causes: z.array(cause), visit: z.array(taskKind) })),
    summary:
      'Likely causes of a snag for each engine it may be, with the evidence of its own record, and the visit that would settle it.',
  }),
  listWaste: route({
    method: 'get',
    path: '/api/records/waste',
    roles: EVERYONE,
    query: pageQuery.extend({
      from: day.optional(),
      to: day.optional(),
      baseId: z.coerce.number().int().positive().optional(),
    }),
    reply: pageOf(
      z.object({
        id,
        day,
        baseName: z.string(),
        boatName: z.string().nullable(),
        jobId: id.nullable(),
        stream: z.enum(WASTE_STREAMS),
        quantity: z.number(),
        measured: z.boolean(),
        by: z.string().nullable(),
        note: z.string().nullable(),
      }),
    ).extend({
      totals: wasteTotals,
      store: wasteTotals.meta({
        description: 'What stands in the waste store now: all that came in less what was taken away.',
      }),
    }),
    summary: 'What was taken out, by stream, and what stands in the store.',
  }),
  takeWasteAway: route({
    method: 'post',
    path: '/api/records/waste',
    roles: SHELVES,
    reply: done,
    body: z.object({
      baseId: id,
      stream: z.enum(WASTE_STREAMS),
      quantity: z.number().positive('must be above 0').max(1_000_000),
      note: z.string().trim().min(3, 'wants a few words: who took it, which paper').max(300),
    }),
    summary: 'Write down waste that was collected.',
  }),
};
