import { z } from 'zod';
import { route } from './route.ts';

export const liveRoutes = {
  live: route({
    method: 'get',
    path: '/api/live',
    roles: 'signed in',
    gives: 'text/event-stream',
    reply: z.unknown(),
    summary: 'What changes in the book, as server-sent events: "job 12", "engine 7", "readings", "stock", "hires".',
  }),
};
