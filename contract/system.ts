import { z } from 'zod';
import { instant } from './common.ts';
import { route } from './route.ts';

const loop = z
  .object({ p50: z.number(), p99: z.number(), most: z.number() })
  .meta({ description: 'How late the process answers by itself, over the last minute (ms).' });

export const health = z.object({
  /** The process answers; whoever reads this knows. */
  alive: z.literal(true),
  ready: z.boolean().meta({ description: 'Whether it can serve; the status is 503 when it cannot.' }),
  why: z.array(z.string()).meta({ description: 'Why it is not ready, or what else does not go as it should.' }),
  version: z.string(),
  loop,
});
export type Health = z.infer<typeof health>;

/** What went on within an hour, in all processes together. */
const hourTold = z.object({
  hour: instant,
  requests: z.number().int(),
  failed: z.number().int().meta({ description: 'Answered with the server’s own fault (5xx, but for 503).' }),
  busy: z.number().int().meta({ description: 'Answered with "try again" (503).' }),
  p50: z.number().meta({ description: 'Half of the answers took no longer (ms), to the bound above.' }),
  p95: z.number(),
  p99: z.number(),
  loopP99: z.number().meta({ description: 'The latest that a process was at its own work (ms, 99th percentile).' }),
  memory: z.number().meta({ description: 'The most that a process used (MB).' }),
});
export type HourTold = z.infer<typeof hourTold>;

/** Something that took long: what, how long (ms), when. */
const slow = z.object({ what: z.string(), took: z.number(), at: instant });
export type Slow = z.infer<typeof slow>;

export const lastDay = z.object({
  version: z.string(),
  processes: z.number().int().meta({ description: 'Processes that told of themselves within ten minutes.' }),
  database: z.string().meta({ description: 'Version of PostgreSQL.' }),
  size: z.number().meta({ description: 'Of the book on the disk (MB).' }),
  hours: z.array(hourTold),
  requests: z.array(slow).meta({ description: 'Requests that took longest, by route.' }),
  statements: z.array(slow).meta({ description: 'Statements that took longest, without their values.' }),
});
export type LastDay = z.infer<typeof lastDay>;

export const systemRoutes = {
  health: route({
    method: 'get',
    path: '/api/health',
    roles: 'anyone',
    query: z.object({ only: z.literal('alive').optional() }),
    reply: health,
    summary: 'Whether the process is alive and can serve, and why not; only=alive does not ask the database.',
  }),
  lastDay: route({
    method: 'get',
    path: '/api/records/last-day',
    roles: ['administrator'],
    reply: lastDay,
    summary: 'How the app itself did within the last day, hour by hour.',
  }),
  openapi: route({
    method: 'get',
    path: '/api/openapi.json',
    roles: 'anyone',
    reply: z.unknown(),
    summary: 'This description.',
  }),
};
