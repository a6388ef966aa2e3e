import { z } from 'zod';
import { done, instant, pageOf, pageQuery } from './common.ts';
import { route } from './route.ts';

/** Work nobody waits for, by kind. */
export const BACKGROUND_KINDS = ['feed', 'mail', 'morning', 'order', 'tidy'] as const;
export type BackgroundKind = (typeof BACKGROUND_KINDS)[number];

/** How a piece of work stands: it waits, is at work, waits for another try, or ended in one of three ways. */
export const BACKGROUND_STATES = ['waiting', 'at work', 'again', 'done', 'stopped', 'failed'] as const;
export type BackgroundState = (typeof BACKGROUND_STATES)[number];

export const backgroundRow = z.object({
  id: z.uuid(),
  kind: z.enum(BACKGROUND_KINDS),
  title: z.string().nullable().meta({ description: 'What it is about, such as the name of a calendar.' }),
  state: z.enum(BACKGROUND_STATES),
  tries: z.number().int().meta({ description: 'How often it was begun.' }),
  mostTries: z.number().int(),
  sent: instant,
  began: instant.nullable(),
  ended: instant.nullable(),
  next: instant.nullable().meta({ description: 'When it is tried again.' }),
  outcome: z.string().nullable().meta({ description: 'What came of it, or why it failed.' }),
});
export type BackgroundRow = z.infer<typeof backgroundRow>;

const ADMINISTRATOR = ['administrator'] as const;
const params = z.object({ id: z.uuid() });

export const backgroundRoutes = {
  listBackground: route({
    method: 'get',
    path: '/api/records/background',
    roles: ADMINISTRATOR,
    query: pageQuery.extend({ kind: z.enum(BACKGROUND_KINDS).optional(), state: z.enum(BACKGROUND_STATES).optional() }),
    reply: pageOf(backgroundRow).extend({ counts: z.record(z.enum(BACKGROUND_STATES), z.number().int()) }),
    summary: 'Work behind the scenes: what waits, is under way and ended within the last week; the newest first.',
  }),
  stopBackground: route({
    method: 'post',
    path: '/api/records/background/:id/stop',
    roles: ADMINISTRATOR,
    params,
    reply: done,
    summary: 'Stops work that waits or is under way.',
  }),
  repeatBackground: route({
    method: 'post',
    path: '/api/records/background/:id/repeat',
    roles: ADMINISTRATOR,
    params,
    reply: z.object({ id: z.uuid() }),
    summary: 'Does again what ended.',
  }),
};
