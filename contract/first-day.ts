import { z } from 'zod';
import { route, STEER } from './route.ts';

const bookCounts = z.object({
  bases: z.int(),
  models: z.int(),
  boats: z.int(),
  boatsBare: z.int().meta({ description: 'Boats in use without an engine.' }),
  engines: z.int(),
  unread: z.int().meta({ description: 'Engines whose meter was never read.' }),
  meterless: z.int(),
  technicians: z.int(),
  lowerUnits: z.int().meta({ description: 'Technicians who may take a lower unit off.' }),
  hires: z.int().meta({ description: 'Hires that have not ended.' }),
  parts: z.int(),
});

export const firstDayRoutes = {
  firstDay: route({
    method: 'get',
    path: '/api/first-day',
    roles: STEER,
    reply: bookCounts,
    summary: 'What the book holds, as far as a yard that begins needs it.',
  }),
};
