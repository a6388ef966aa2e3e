import { READING_KINDS } from '@diurna/core/findings';
import { TORQUES } from '@diurna/core/fleet';
import {
  FACT_KEYS,
  GATES,
  NEEDS,
  STANCES,
  TEMPLATE_KEYS,
  TOOL_SIZE_KEYS,
  TURNS,
  type Fact,
  type Need,
  type TemplateKey,
} from '@diurna/core/visit';
import { z } from 'zod';
import { created, id, idParam, instant, reason, remark } from './common.ts';
import { taskKind } from './fleet.ts';
import { EVERYONE, route, STEER, WORK } from './route.ts';
import { PICTURE_TYPES } from './snags.ts';

export const readingKind = z.enum(READING_KINDS);
export const readingValue = z.union([
  z.object({ choice: z.string().min(1).max(40) }),
  z.object({ value: z.number().min(0, 'cannot be below 0').max(100_000), unit: z.string().min(1).max(12) }),
  z.object({ not: reason }),
]);

const words = (most: number) => z.string().trim().max(most, `is longer than ${most} characters`);
const condition = z.record(
  z.string().max(40),
  z.union([z.string().max(40), z.number(), z.boolean(), z.array(z.union([z.string().max(40), z.number()])).max(10)]),
);

const fact = z.enum(FACT_KEYS as [Fact, ...Fact[]]);
const need = z.enum(NEEDS as [Need, ...Need[]]);

/** One step of a task's template. */
export const templateLine = z.object({
  key: z.string().trim().min(1, 'is missing').max(40),
  text: words(300).min(3, 'wants a few words'),
  detail: words(400).optional(),
  share: z.number().positive('must be above 0').max(480),
  wait: z.union([z.number().min(0).max(720), z.literal('task')]).optional(),
  after: z.array(z.string().max(80)).max(40).optional(),
  stance: z.enum(STANCES).optional(),
  warm: z.boolean().optional().meta({ description: 'Done soon after the warm run, before the engine cools.' }),
  when: condition.optional(),
  unless: z.array(taskKind).max(20).optional(),
  once: z.string().max(40).optional(),
  twoPeople: z.enum(['always', 'heavy unit']).optional(),
  gate: z.enum(GATES).optional(),
  caution: words(300).optional(),
  torque: z.enum(TORQUES).optional(),
  tools: z.array(words(80)).max(8).optional(),
  size: z.enum(TOOL_SIZE_KEYS).optional().meta({ description: 'The tool whose size is the model’s own.' }),
  readings: z.array(readingKind).max(8).optional(),
  parts: z.boolean().optional(),
  closing: z.boolean().optional().meta({ description: 'Closes up what was opened; only in the steps of an access.' }),
  opens: z.array(fact).max(8).optional().meta({ description: 'Open on the engine from its start, until closed.' }),
  closes: z.array(fact).max(8).optional().meta({ description: 'Whole again at its end.' }),
  needs: z.array(need).max(8).optional().meta({ description: 'What has to be whole, or open, while it is done.' }),
  turns: z
    .enum(TURNS)
    .optional()
    .meta({ description: 'It runs the engine before anything is opened or after everything is closed, or cranks it.' }),
});

export const templateKey = z
  .enum(TEMPLATE_KEYS as [TemplateKey, ...TemplateKey[]])
  .meta({ description: 'A task, an access, or every visit.' });

export const template = z.object({
  key: templateKey,
  version: z.int(),
  origin: z.enum(['shipped', 'own']),
  lines: z.array(templateLine),
  shipped: z.array(templateLine).meta({ description: 'As it comes with the book.' }),
  by: z.string().nullable(),
  at: instant,
  reason: z.string().nullable(),
  openCards: z.int().meta({ description: 'Open cards that keep an older version.' }),
});
export type TemplateReply = z.infer<typeof template>;

/** A step of a card, in working order. */
export const step = z.object({
  id: z.string(),
  engineId: id.nullable(),
  task: taskKind.nullable(),
  text: z.string(),
  detail: z.string().nullable(),
  minutes: z.number(),
  running: z.number(),
  wait: z.number(),
  after: z.array(z.string()),
  stance: z.enum(STANCES).nullable(),
  warm: z.boolean(),
  twoPeople: z.boolean(),
  gate: z.enum(GATES).nullable(),
  caution: z.string().nullable(),
  torque: z.enum(TORQUES).nullable(),
  tools: z.array(z.string()).readonly(),
  toolMm: z.number().nullable(),
  readings: z.array(readingKind).readonly(),
  parts: z.boolean(),
  opens: z.array(fact).readonly(),
  closes: z.array(fact).readonly(),
  needs: z.array(need).readonly(),
  turns: z.enum(TURNS).nullable(),
});
/** What a task takes on a model: the estimate, and what it has become by what was measured. */
const learnedMinutes = z.object({
  task: taskKind,
  modelId: id,
  modelName: z.string(),
  estimate: z.number(),
  minutes: z.number(),
  times: z.int(),
});
export type LearnedMinutes = z.infer<typeof learnedMinutes>;
export const timedStep = z.object({ step, start: z.number(), end: z.number(), move: z.enum(STANCES).nullable() });

const uuid = z.uuid('is no entry of ours');
/** What a person does on a card. */
export const cardAct = z.discriminatedUnion('kind', [
  z.object({
    kind: z.literal('tick'),
    step: z.string().min(1).max(120),
    done: z.boolean(),
    why: words(300)
      .optional()
      .meta({ description: 'Why it was done although something stood open that the step wants whole.' }),
  }),
  z.object({ kind: z.literal('read'), key: z.string().min(3).max(80), value: readingValue.nullable() }),
  z.object({ kind: z.literal('task'), engineId: id, task: taskKind, done: z.boolean() }),
  z.object({ kind: z.literal('pause'), on: z.boolean(), why: words(200).nullable() }),
  z.object({ kind: z.literal('remark'), text: remark }),
  z.object({ kind: z.literal('type'), field: z.string().min(3).max(60), text: z.string().max(500) }),
  z.object({ kind: z.literal('hold'), engineId: id, why: words(500).min(3, 'wants a few words') }),
  z.object({ kind: z.literal('photo'), step: z.string().max(120).nullable(), photoId: id.nullable() }),
  z.object({
    kind: z.literal('decide'),
    finding: z.string().min(3).max(80),
    take: z.boolean(),
    reason: words(500).nullable(),
    desk: z
      .boolean()
      .optional()
      .meta({
        description: 'Said by the server alone: it was decided at the desk. What a client sends here is not heard.',
      }),
  }),
  z.object({ kind: z.literal('undecide'), finding: z.string().min(3).max(80) }),
  z.object({
    kind: z.literal('skip'),
    step: z.string().min(1).max(120),
    why: words(300)
      .min(3, 'wants a few words')
      .nullable()
      .meta({ description: 'Why it is left out; null: it is not after all.' }),
  }),
  z.object({ kind: z.literal('say'), text: words(1000).min(1, 'is empty') }),
  z.object({ kind: z.literal('join'), personId: id, on: z.boolean() }),
  z.object({ kind: z.literal('settle'), entry: uuid, take: z.boolean() }),
]);

export const cardEntry = z.object({
  id: uuid,
  seq: z.int().nullable(),
  by: id,
  at: z.number().meta({ description: 'When it was done, by the phone: milliseconds since 1970.' }),
  act: cardAct,
  seen: z.int(),
  against: z
    .int()
    .nullable()
    .meta({ description: 'An entry of somebody else about the same thing; this one counts only when settled so.' }),
});

/** An entry as the phone sends it; a picture comes by itself, after its entry. */
export const sentEntry = cardEntry.pick({ id: true, at: true, act: true, seen: true });
export type SentEntry = z.infer<typeof sentEntry>;

export const entriesReply = z.object({
  kept: z.array(cardEntry).meta({ description: 'The entries sent, as they are kept.' }),
  refused: z
    .array(z.object({ id: z.string(), because: z.string() }))
    .meta({ description: 'Entries that cannot be kept, and why; the rest is kept.' }),
  lastSeq: z.int(),
});

/** The largest picture a card takes; phones make them smaller before. */
export const MOST_PICTURE_BYTES = 12_000_000;
/** How much of a picture goes in one request. */
export const PICTURE_PIECE_BYTES = 256 * 1024;
export const pictureKept = z.object({
  received: z.int().meta({ description: 'So many bytes are there, from the beginning.' }),
  photoId: id.nullable().meta({ description: 'The picture, once it is whole.' }),
});
export type PictureKept = z.infer<typeof pictureKept>;

export const visitRoutes = {
  listTemplates: route({
    method: 'get',
    path: '/api/visit/templates',
    roles: EVERYONE,
    reply: z.array(template),
    summary: 'The steps of every task, as new cards are issued with them.',
  }),
  templateVersions: route({
    method: 'get',
    path: '/api/visit/templates/:key/versions',
    roles: EVERYONE,
    params: z.object({ key: templateKey }),
    reply: z.array(
      z.object({
        version: z.int(),
        origin: z.enum(['shipped', 'own']),
        by: z.string().nullable(),
        at: instant,
        reason: z.string().nullable(),
        lines: z.array(templateLine),
      }),
    ),
    summary: 'Every version of a task’s steps, newest first.',
  }),
  editTemplate: route({
    method: 'put',
    path: '/api/visit/templates/:key',
    roles: STEER,
    params: z.object({ key: templateKey }),
    reply: z.object({ version: z.int() }),
    body: z.object({
      version: z.int().meta({ description: 'The version the change is made from.' }),
      lines: z.array(templateLine).min(1, 'has no step').max(60, 'has more than 60 steps'),
      reason,
    }),
    summary: 'Write the yard’s own steps of a task; cards already issued keep theirs.',
  }),
  keepEntries: route({
    method: 'post',
    path: '/api/jobs/:id/entries',
    roles: WORK,
    params: idParam,
    reply: entriesReply,
    body: z.object({ entries: z.array(sentEntry).min(1).max(200) }),
    summary: 'Keep what was done on a card, in the order it was done; sent twice, it is kept once.',
  }),
  sendPicture: route({
    method: 'put',
    path: '/api/jobs/pictures/:entry',
    roles: WORK,
    params: z.object({ entry: uuid }),
    query: z.object({
      from: z.coerce.number().int().min(0).meta({ description: 'Where in the picture the piece belongs (bytes).' }),
      size: z.coerce
        .number()
        .int()
        .min(1)
        .max(MOST_PICTURE_BYTES, 'is more than a picture may have')
        .meta({ description: 'Of the whole picture (bytes).' }),
      type: z.enum(PICTURE_TYPES),
    }),
    takes: 'application/octet-stream',
    body: z.custom<Uint8Array>((v) => v instanceof Uint8Array && v.length > 0, 'is missing'),
    reply: pictureKept,
    quota: 'picture',
    summary:
      'A piece of an entry’s picture. One that is not next is left alone: the answer says where to go on. Sent twice, it is kept once.',
  }),
  jobPhoto: route({
    method: 'get',
    path: '/api/jobs/photos/:id',
    roles: EVERYONE,
    params: idParam,
    gives: 'image/*',
    reply: z.unknown(),
    summary: 'A picture of a card.',
  }),
  handOver: route({
    method: 'post',
    path: '/api/jobs/:id/hand-over',
    roles: WORK,
    params: idParam,
    reply: created.extend({ changeId: id.nullable().meta({ description: 'The decision, as it can be taken back.' }) }),
    body: z.object({
      version: z.int().positive(),
      technicianId: id,
      note: words(500).nullable(),
      insist: reason
        .optional()
        .meta({
          description: 'Why it is handed over although something is against it; refused as `questioned` without.',
        }),
    }),
    summary: 'Hand an open card to a colleague, as it stands.',
  }),
  minutes: route({
    method: 'get',
    path: '/api/visit/minutes',
    roles: EVERYONE,
    reply: z.object({
      people: z.array(
        z.object({
          personId: id,
          version: z.int(),
          name: z.string(),
          pace: z.number(),
          learned: z.number(),
          times: z.int(),
        }),
      ),
      works: z.array(learnedMinutes),
      drains: z.array(learnedMinutes),
    }),
    summary: 'Minutes learned from cards, by task, model and technician, with what they rest on.',
  }),
};
