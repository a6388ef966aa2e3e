import { CHANGE_KINDS } from '@diurna/core/changes';
import { z } from 'zod';
import { day, id, idParam } from './common.ts';
import { taskKind } from './fleet.ts';
import { PLAN, route, STEER } from './route.ts';

const cardStand = z.object({
  technicianId: id,
  day,
  startMinute: z.int().nullable(),
  pinned: z.boolean(),
  open: z.boolean(),
  remark: z.string().nullable(),
  insisted: z.object({ why: z.string(), against: z.array(z.string()) }).nullable(),
  tasks: z.array(
    z.object({ engineId: id, task: taskKind, state: z.enum(['open', 'done', 'left']), templateVersion: z.int() }),
  ),
});

/** What becomes of one card. */
export const cardChange = z.object({
  jobId: id.nullable().meta({ description: 'Null = a card that is not there yet.' }),
  boatId: id,
  boatName: z.string(),
  kind: z.enum(CHANGE_KINDS),
  before: cardStand.nullable(),
  after: cardStand,
  who: z.object({ before: z.string().nullable(), after: z.string() }).meta({ description: 'The people by name.' }),
});
export type CardChangeLine = z.infer<typeof cardChange>;

const head = z.object({
  id,
  kind: z.enum(['plan', 'slip', 'card', 'undo']),
  text: z.string(),
  at: z.string(),
  by: z.string().nullable(),
  takenBack: z.boolean(),
});

const changeReply = head.extend({
  cards: z.array(
    cardChange.extend({
      jobId: id,
      against: z
        .enum(['finished', 'worked on', 'changed since'])
        .nullable()
        .meta({ description: 'Why the card cannot be put back where it stood.' }),
    }),
  ),
});
export type ChangeReply = z.infer<typeof changeReply>;
const changeHead = head.extend({ cards: z.int() });
export type ChangeHead = z.infer<typeof changeHead>;

export const changesRoutes = {
  listChanges: route({
    method: 'get',
    path: '/api/changes',
    roles: PLAN,
    reply: z.array(changeHead),
    summary: 'What was decided about cards of late, newest first.',
  }),
  readChange: route({
    method: 'get',
    path: '/api/changes/:id',
    roles: PLAN,
    params: idParam,
    reply: changeReply,
    summary: 'A decision about cards: what it changed, and what stands against taking it back.',
  }),
  undoChange: route({
    method: 'post',
    path: '/api/changes/:id/undo',
    roles: STEER,
    params: idParam,
    reply: z.object({ id, cards: z.int() }),
    summary:
      'Put every card of a decision back where it stood, as a further decision; refused as `worked` once a card was worked on or changed.',
  }),
};
