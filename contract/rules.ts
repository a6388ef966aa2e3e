import { OVERRIDE_SCOPES, SCHOOL_KEYS } from '@diurna/core/service';
import { z } from 'zod';
import { created, day, done, id, idParam, instant, reason, version } from './common.ts';
import { position, rule, taskKind } from './fleet.ts';
import { EVERYONE, route, STEER } from './route.ts';
import { daySpread, dueStateName } from './service.ts';

export const schoolKey = z.enum(SCHOOL_KEYS);

export const schoolAnswer = z.object({
  school: schoolKey,
  answer: z.string(),
  by: z.string().nullable(),
  at: instant.nullable().meta({ description: 'When it was answered; null while it stands as usual.' }),
});
export type SchoolAnswer = z.infer<typeof schoolAnswer>;

const limits = {
  everyHours: z.number().positive('must be above 0').max(10_000).nullable(),
  everyMonths: z.int().positive('must be above 0').max(240).nullable(),
};

export const override = z.object({
  id,
  version,
  scope: z.enum(OVERRIDE_SCOPES),
  scopeId: id,
  scopeName: z.string(),
  task: taskKind,
  ...limits,
  reason: z.string(),
  by: z.string().nullable(),
  at: instant,
});
export type Override = z.infer<typeof override>;

export const overrideEdit = z
  .object({ scope: z.enum(OVERRIDE_SCOPES), scopeId: id, task: taskKind, ...limits, reason })
  .refine((r) => r.everyHours !== null || r.everyMonths !== null, {
    message: 'needs hours, months or both',
    path: ['everyHours'],
  });

/** A change that is only looked at. */
export const ruleChange = z.union([
  z.object({ school: schoolKey, answer: z.string() }),
  z.object({ override: overrideEdit }),
  z.object({ endOverride: id }),
  z.object({ programme: z.object({ modelId: id, rules: z.array(rule).max(20) }) }),
]);
export type RuleChange = z.output<typeof ruleChange>;

/** A year of services, on average of several: what comes round every other year counts half. */
const year = z.object({ services: z.number(), minutes: z.number(), partsMinor: z.int() });
export const rulePreview = z.object({
  engines: z.int().meta({ description: 'Engines with a task the change can touch.' }),
  moved: z.int().meta({ description: 'Tasks whose likely day moves.' }),
  earlier: z.int(),
  later: z.int(),
  newlyOver: z.int().meta({ description: 'Tasks that would be over at once.' }),
  noLongerOver: z.int(),
  unpriced: z
    .int()
    .meta({ description: 'Tasks of engines whose parts are not known or have no price; they are counted without.' }),
  issued: z.int().meta({ description: 'Open cards with such a task: they stay as they were issued.' }),
  otherParts: z.int().meta({ description: 'Tasks of engines that take other parts, this time or the next.' }),
  lastYear: z.object({ before: year, after: year }),
  comingYear: z.object({ before: year, after: year }),
  examples: z
    .array(
      z.object({
        engineId: id,
        boatName: z.string(),
        position,
        task: taskKind,
        before: z.object({ state: dueStateName, likely: day.nullable(), text: z.string() }),
        after: z.object({ state: dueStateName, likely: day.nullable(), text: z.string() }),
      }),
    )
    .meta({ description: 'Those that move furthest, those newly over first.' }),
});
export type RulePreview = z.infer<typeof rulePreview>;

export const comparison = z.array(
  z.object({
    answer: z.string(),
    tasks: z.array(
      z.object({
        task: taskKind,
        state: dueStateName,
        text: z.string(),
        limitHours: z.number().nullable(),
        limitDay: day.nullable(),
        on: daySpread.nullable(),
      }),
    ),
  }),
);
export type Comparison = z.infer<typeof comparison>;

export const rulesRoutes = {
  listSchools: route({
    method: 'get',
    path: '/api/rules/schools',
    roles: EVERYONE,
    reply: z.array(schoolAnswer),
    summary: 'How the book answers each question on which schools differ.',
  }),
  answerSchool: route({
    method: 'put',
    path: '/api/rules/schools/:school',
    roles: STEER,
    params: z.object({ school: schoolKey }),
    reply: done,
    body: z.object({
      answer: z.string(),
      was: z.string().meta({ description: 'The answer the person saw; another one by now is a conflict.' }),
      reason,
    }),
    summary: 'Answer a question for the whole fleet.',
  }),
  listOverrides: route({
    method: 'get',
    path: '/api/rules/overrides',
    roles: EVERYONE,
    reply: z.array(override),
    summary: 'Rules of their own for bases, boats and engines.',
  }),
  addOverride: route({
    method: 'post',
    path: '/api/rules/overrides',
    roles: STEER,
    body: overrideEdit,
    reply: created,
    summary: 'Give an engine, a boat or a base a rule of its own, with the reason.',
  }),
  endOverride: route({
    method: 'post',
    path: '/api/rules/overrides/:id/end',
    roles: STEER,
    params: idParam,
    body: z.object({ version }),
    reply: created,
    summary: 'End an override; it stays in the audit.',
  }),
  previewRules: route({
    method: 'post',
    path: '/api/rules/preview',
    roles: EVERYONE,
    body: ruleChange,
    reply: rulePreview,
    summary:
      'What a change would do to the whole fleet: due dates, and a year back and ahead in services, hours and parts.',
  }),
  compareSchool: route({
    method: 'get',
    path: '/api/rules/compare',
    roles: EVERYONE,
    query: z.object({ engineId: z.coerce.number().int().positive(), school: schoolKey }),
    reply: comparison,
    summary: 'One engine’s due dates under each answer, side by side.',
  }),
};
